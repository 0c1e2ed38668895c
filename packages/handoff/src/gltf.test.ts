/** Anchors in a level's file: what another reader makes of it, what another program does to it, and what comes back. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { compile } from '@foreshore/core';
import { type Anchor, type Document, makeDocument, makeLabel, readDocument } from '@foreshore/document';
import { type LevelModel, type Mark, marksOf, openBinary, readLevel, withMarks, writeBinary } from '@foreshore/level';
import { nodeDecoders } from '@foreshore/level/check';
import { shippedShaper } from '@foreshore/text/node';
import { Document as GltfDocument, type Node, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { gltfWith, readAnchors } from './index.ts';

const validator = createRequire(import.meta.url)('gltf-validator') as {
  validateBytes(bytes: Uint8Array, options: object): Promise<{ issues: { numErrors: number; numWarnings: number } }>;
};
const text = shippedShaper();
const file = (name: string) => new Uint8Array(readFileSync(new URL(`../../../demo/${name}`, import.meta.url)));
const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
let demo: Document;
let demoBytes: Uint8Array;
let demoLevel: LevelModel;
beforeAll(async () => {
  demo = readDocument(new TextDecoder().decode(file('low-water.json')));
  demoBytes = file('low-water.glb');
  demoLevel = await readLevel(demoBytes, { metresPerUnit: 1, upAxis: 'y', decoders: await nodeDecoders() });
});

/** A yard: a slab, and a gate on it that is turned and three times as large. */
async function yard(): Promise<Uint8Array> {
  const document = new GltfDocument();
  const buffer = document.createBuffer();
  const corners = document
    .createAccessor()
    .setType('VEC3')
    .setArray(Float32Array.of(-5, 0, 5, 5, 0, 5, 5, 0, -5))
    .setBuffer(buffer);
  const mesh = document.createMesh('slab').addPrimitive(document.createPrimitive().setAttribute('POSITION', corners));
  const gate = document.createNode('Gate').setTranslation([2, 0, 1]).setRotation([0, Math.SQRT1_2, 0, Math.SQRT1_2]).setScale([3, 3, 3]);
  const slab = document.createNode('Slab').setMesh(mesh).addChild(gate);
  document.createScene('yard').addChild(document.createNode('')).addChild(slab).addChild(document.createNode(''));
  return io.writeBinary(document);
}
const opened = async (bytes: Uint8Array, document: Document): Promise<LevelModel> =>
  readLevel(bytes, document.level as { metresPerUnit: number; upAxis: 'y' | 'z' });
function project(anchors: Record<string, Anchor>, metresPerUnit = 1, upAxis: 'y' | 'z' = 'y'): Document {
  const document = makeDocument('Yard');
  document.level = { hash: null, file: 'yard.glb', metresPerUnit, upAxis, clips: {} };
  document.anchors = anchors;
  return document;
}
const surface = (
  name: string,
  position: [number, number, number],
  normal: [number, number, number] = [0, 1, 0],
  node: string | null = null,
) => ({ kind: 'surface', name, order: 'a0', node, position, normal }) as const;
const named = (document: GltfDocument, name: string): Node =>
  document
    .getRoot()
    .listNodes()
    .find((node) => node.getName() === name) as Node;

describe("Low Water's level with its anchors", () => {
  it('gives the same anchors, has no fault, and is the same level', async () => {
    const bytes = gltfWith(demo, demoLevel, demoBytes, text);
    const read = readAnchors(bytes, demo);
    expect(read.anchors).toEqual(demo.anchors);
    expect([read.changes, read.missing, read.faults]).toEqual([[], [], []]);
    // From a project that has none of them they come whole.
    expect(readAnchors(bytes, { ...demo, anchors: {} }).anchors).toEqual(
      Object.fromEntries(Object.entries(demo.anchors).filter(([, { kind }]) => kind !== 'event')),
    );
    const { issues } = await validator.validateBytes(bytes, { maxIssues: 100 });
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    const again = await readLevel(bytes, { metresPerUnit: 1, upAxis: 'y', decoders: await nodeDecoders() });
    expect(again.nodeIds).toEqual(demoLevel.nodeIds);
    // Put into what it gave, it gives the same bytes.
    expect(Buffer.from(gltfWith(demo, again, bytes, text)).equals(Buffer.from(bytes))).toBe(true);
    expect(Buffer.from(openBinary(bytes).bin).equals(Buffer.from(openBinary(demoBytes).bin))).toBe(true);
  });

  it('has every anchor where another reader of glTF finds it', async () => {
    const other = await io.registerDependencies(await nodeDecoders()).readBinary(gltfWith(demo, demoLevel, demoBytes, text));
    const c = compile(demo, demoLevel);
    let compared = 0;
    for (const [id, anchor] of Object.entries(demo.anchors)) {
      const row = c.anchorIds.indexOf(id);
      if (row < 0 || anchor.kind === 'event' || c.anchorFault[row]) continue;
      const at = named(other, `anchor ${anchor.name}`).getWorldTranslation();
      // Nodes that a clip moves stand in the file as they were built, and in the project as the clip begins.
      if (c.moving.includes(row)) continue;
      compared++;
      for (let k = 0; k < 3; k++) expect(at[k]).toBeCloseTo(c.anchorWorld[row * 3 + k] as number, 5);
    }
    expect(compared).toBeGreaterThan(10);
  });
});

describe('a level in centimetres with z up', () => {
  it('has them in its own unit and axes', async () => {
    const anchors: Record<string, Anchor> = {
      // One metre east, two up, three south.
      lamp: surface('Lamp', [1, 2, 3], [0, 1, 0]),
      wall: surface('Wall', [0, 1, 0], [0, 0, 1]),
      hinge: { kind: 'node', name: 'Hinge', order: 'a0', node: 'Gate', offset: [0, 10, 0] },
      half: { kind: 'midpoint', name: 'Half way', order: 'a0', first: 'lamp', second: 'wall' },
    };
    const document = project(anchors, 0.01, 'z');
    const level = await opened(await yard(), document);
    const bytes = gltfWith(document, level, await yard(), text);
    const marks = new Map(marksOf(bytes).map((mark) => [mark.name, mark]));
    // x stays, the file's y is minus the world's z, its z is the world's y; a hundred units a metre.
    const near = (name: string, to: number[]) =>
      marks.get(name)?.translation.forEach((v, k) => {
        expect(v).toBeCloseTo(to[k] as number, 9);
      });
    near('anchor Lamp', [100, -300, 200]);
    near('anchor Half way', [50, -150, 150]);
    near('anchor Hinge', [0, 10, 0]);
    expect(marks.get('anchor Hinge')?.node).toBe('Gate');
    // A normal to the south lies along minus y: up is turned a half about x or z.
    const [x, y, z, w] = (marks.get('anchor Wall') as Mark).rotation;
    expect([2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)].map((v) => Math.round(v * 1e9) / 1e9 + 0)).toEqual([
      0, -1, 0,
    ]);
    expect(readAnchors(bytes, document).anchors).toEqual(anchors);
  });

  it('gives any anchor back (property)', async () => {
    const bytes = await yard();
    const level = await opened(bytes, project({}));
    const number = fc.double({ min: -500, max: 500, noNaN: true });
    const vec3 = fc.tuple(number, number, number);
    const normal = vec3.filter((v) => Math.hypot(...v) > 1).map((v) => v.map((one) => one / Math.hypot(...v)) as [number, number, number]);
    fc.assert(
      fc.property(
        vec3,
        normal,
        fc.constantFrom(null, 'Gate', 'Slab', 'node 1', 'node 4'),
        fc.constantFrom(0.01, 0.0254, 1, 3),
        fc.constantFrom('y' as const, 'z' as const),
        vec3,
        (position, up, node, unit, axis, moved) => {
          const document = project({ one: surface('One', position, up, node) }, unit, axis);
          const out = gltfWith(document, level, bytes, text);
          expect(readAnchors(out, document).anchors).toEqual(document.anchors);
          // Without what was known of it, all is of the node's place.
          const [mark] = marksOf(out) as [Mark];
          const there = readAnchors(withMarks(bytes, [{ ...mark, carries: null }]), project({}, unit, axis)).anchors.one as Anchor;
          expect(there.kind === 'surface' && there.node).toBe(node);
          if (there.kind !== 'surface') return;
          for (let k = 0; k < 3; k++) {
            expect(Math.abs((there.position[k] as number) - (position[k] as number))).toBeLessThan(1e-9 * 500);
            expect(Math.abs((there.normal[k] as number) - (up[k] as number))).toBeLessThan(1e-7);
          }
          const elsewhere = readAnchors(withMarks(out, [{ ...mark, translation: moved }]), document);
          expect(elsewhere.changes.length).toBeLessThanOrEqual(1);
        },
      ),
      { seed: 1, numRuns: 60 },
    );
  });
});

describe('a standing panel', () => {
  // The file is made from the origin, which is behind it: one of two sides leaves as its front is, too.
  it.each(['front', 'both'])('is where it stands, turned as it is, in metres: %s', async (sides) => {
    // On a wall that looks east, turned by 30 degrees; its own point is its lower left corner.
    const document = project({ wall: surface('Wall', [4, 1, -2], [1, 0, 0]) }, 0.01, 'y');
    const board = makeLabel('wall', 'Board', 'a0');
    board.mount = {
      ...{ kind: 'standing', anchor: 'wall', sizeM: [2, 1], pxPerM: 100, facing: 'fixed', turnDeg: 0, tiltDeg: 0, liftM: 0.1 },
      ...{ sides, through: false },
    } as never;
    board.place = { ...board.place, ownPoint: [0, 1], offsetPx: [0, 0], leader: null };
    document.elements.board = board;
    const level = await opened(await yard(), document);
    const bytes = gltfWith(document, level, await yard(), text);
    const other = await io.readBinary(bytes);
    const node = named(other, `panel ${board.name}`);
    // Whoever stands before it looks west: its right is north, minus z. From the corner half a width north, half a height up.
    const m = node.getWorldMatrix();
    [4.1, 1.5, -3].forEach((v, k) => {
      expect((m[12 + k] as number) * 0.01).toBeCloseTo(v, 5);
    });
    const axis = (k: number) => [m[k * 4], m[k * 4 + 1], m[k * 4 + 2]].map((v) => (v as number) * 0.01);
    [
      [0, 0, -1],
      [0, 1, 0],
      [1, 0, 0],
    ].forEach((to, k) => {
      to.forEach((v, c) => {
        expect(axis(k)[c]).toBeCloseTo(v, 6);
      });
    });
    expect(node.getExtras().foreshore).toMatchObject({ panel: 'board', widthM: 2, heightM: 1, pxPerM: 100, facing: 'fixed' });
    const { issues } = await validator.validateBytes(bytes, { maxIssues: 100 });
    expect(issues.numErrors).toBe(0);
  });
});

describe('what another program did', () => {
  const anchors: Record<string, Anchor> = {
    lamp: surface('Lamp', [1, 2, 3]),
    gate: surface('Gate post', [0.1, 0.2, 0.3], [0, 0, 1], 'Gate'),
    hinge: { kind: 'node', name: 'Hinge', order: 'a1', node: 'Gate', offset: [0, 1, 0] },
    stakes: { kind: 'nodes', name: 'Stakes', order: 'a2', pattern: '*a*', property: null, offset: [0, 0.5, 0] },
  };
  /** Through a writer that keeps single precision and knows nothing of marks. */
  async function changed(edit: (document: GltfDocument) => void): Promise<ReturnType<typeof readAnchors>> {
    const document = project(anchors);
    const bytes = await yard();
    const other = await io.readBinary(gltfWith(document, await opened(bytes, document), bytes, text));
    edit(other);
    return readAnchors(await io.writeBinary(other), document);
  }

  it('changes nothing where it only wrote the file again', async () => {
    const read = await changed(() => {});
    expect(read.anchors).toEqual(anchors);
    expect(read.changes).toEqual([]);
  });

  it('moves, turns, copies, adds and hangs elsewhere', async () => {
    const read = await changed((other) => {
      named(other, 'anchor Lamp').setTranslation([1, 2, 4.5]);
      named(other, 'anchor Gate post').setRotation([0, 0, 0, 1]);
      const slab = named(other, 'Slab');
      const hinge = named(other, 'anchor Hinge');
      named(other, 'Gate').removeChild(hinge);
      slab.addChild(hinge);
      slab.addChild(other.createNode('anchor Rope end').setTranslation([7, 0, 0]));
      const copy = other.createNode('anchor Lamp.001').setTranslation([9, 0, 0]).setExtras(named(other, 'anchor Lamp').getExtras());
      other.getRoot().listScenes()[0]?.addChild(copy);
    });
    expect(read.anchors.lamp).toEqual({ ...anchors.lamp, position: [1, 2, 4.5] });
    expect(read.anchors.gate).toEqual({ ...anchors.gate, normal: [0, 1, 0] });
    expect(read.anchors.hinge).toEqual({ ...anchors.hinge, node: 'Slab' });
    expect(read.anchors.stakes).toEqual(anchors.stakes);
    expect(read.anchors['rope-end']).toMatchObject({ kind: 'surface', name: 'Rope end', node: 'Slab', position: [7, 0, 0] });
    expect(read.anchors['lamp-001']).toMatchObject({ kind: 'surface', name: 'Lamp.001', node: null, position: [9, 0, 0] });
    expect(read.changes.map(({ id, how, by }) => [id, how, by])).toEqual(
      [
        ['lamp', 'moved', 1.5],
        ['gate', 'changed', 0],
        ['hinge', 'changed', 0],
        ['rope-end', 'new', 0],
        ['lamp-001', 'new', 0],
      ].sort((a, b) => read.changes.findIndex(({ id }) => id === a[0]) - read.changes.findIndex(({ id }) => id === b[0])),
    );
  });

  it('takes some away: they stay, and are named; one taken off its node keeps its place in the world', async () => {
    const read = await changed((other) => {
      named(other, 'anchor Lamp').dispose();
      const hinge = named(other, 'anchor Hinge');
      named(other, 'Gate').removeChild(hinge);
      other
        .getRoot()
        .listScenes()[0]
        ?.addChild(hinge.setTranslation([5, 0, 0]));
    });
    expect(read.missing).toEqual(['lamp']);
    expect(read.anchors.lamp).toEqual(anchors.lamp);
    expect(read.anchors.hinge).toMatchObject({ kind: 'surface', name: 'Hinge', node: null, position: [5, 0, 0], normal: [0, 1, 0] });
  });

  it('keeps what it hung on a mark: that is a node of the level from then on', async () => {
    const document = project(anchors);
    const bytes = await yard();
    const other = await io.readBinary(gltfWith(document, await opened(bytes, document), bytes, text));
    const mark = named(other, 'anchor Lamp');
    mark.addChild(other.createNode('Lantern').setTranslation([0, 1, 0]));
    const out = await io.writeBinary(other);
    const level = await opened(out, document);
    const lantern = level.nodeIndex('Lantern');
    expect([...level.worldMatrices.subarray(lantern * 16 + 12, lantern * 16 + 15)]).toEqual([1, 3, 3]);
    const again = await opened(gltfWith(document, level, out, text), document);
    expect(again.nodeIds).toEqual(level.nodeIds);
  });
});

describe('faulty files', () => {
  const read = async (edit: (mark: Mark) => Mark) => {
    const bytes = await yard();
    const mark: Mark = {
      ...{ node: null, name: 'anchor Lamp', translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: 1 },
      carries: { anchor: 'lamp', ...surface('Lamp', [0, 0, 0]) },
    };
    return readAnchors(withMarks(bytes, [edit(mark)]), project({}));
  };

  it('are told by the name of the node, and take nothing over', async () => {
    for (const carries of [
      { anchor: '__proto__', ...surface('Lamp', [0, 0, 0]) },
      { ...surface('Lamp', [0, 0, 0]) },
      { anchor: 'lamp', kind: 'surface' },
      { anchor: 'lamp', kind: 'nowhere' },
      { anchor: 7, kind: 'surface' },
    ]) {
      const { anchors, faults } = await read((mark) => ({ ...mark, carries }));
      expect(anchors).toEqual({});
      expect(faults).toHaveLength(1);
      expect(faults[0]).toContain('"anchor Lamp" carries no anchor');
    }
    // A point between two of which one is not there.
    const between = await read((mark) => ({
      ...mark,
      carries: { anchor: 'half', kind: 'midpoint', name: 'Half', order: 'a0', first: 'here', second: 'there' },
    }));
    expect(between.anchors).toEqual({});
    expect(between.faults[0]).toContain('"here" is not there');
  });

  it('that are no level, or have too many marks, are refused', async () => {
    expect(() => readAnchors(new Uint8Array(40), project({}))).toThrow(/is not a glTF binary/);
    const { json, bin } = openBinary(await yard());
    const nodes = [...(json.nodes ?? [])];
    for (let k = 0; k < 20_001; k++) nodes.push({ name: 'anchor x', extras: { foreshore: { kind: 'surface' } } } as never);
    const scenes = [{ nodes: [...(json.scenes?.[0]?.nodes ?? []), ...nodes.map((_, k) => k).slice(json.nodes?.length)] }];
    expect(() => readAnchors(writeBinary({ ...json, nodes, scenes, scene: 0 }, bin), project({}))).toThrow(/at most 20000 are read/);
  });

  it('numbers that are none count as nothing', async () => {
    const { json, bin } = openBinary(await yard());
    const nodes = [...(json.nodes ?? []), { name: 'anchor Odd', translation: ['a', 1, 2], rotation: [0, 0, 0, 0], scale: 'x' } as never];
    const scenes = [{ nodes: [...(json.scenes?.[0]?.nodes ?? []), nodes.length - 1] }];
    const { anchors } = readAnchors(writeBinary({ ...json, nodes, scenes, scene: 0 }, bin), project({}));
    expect(anchors.odd).toMatchObject({ position: [0, 0, 0], normal: [0, 1, 0] });
  });

  it('a project without a level leaves nothing', () => {
    expect(() => gltfWith(makeDocument('Yard'), null, null, text)).toThrow(/has no level/);
  });
});
