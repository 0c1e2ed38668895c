import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { clockTimes, makeHit, type Vec3 } from '@foreshore/core';
import { EXTMeshoptCompression, KHRDracoMeshCompression } from '@gltf-transform/extensions';
import fc from 'fast-check';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { beforeAll, describe, expect, it } from 'vitest';
import { TriangleTree } from './bvh.ts';
import { checkLevel } from './check.ts';
import { type GltfJson, openBinary, packLevel, writeBinary } from './container.ts';
import { LevelError } from './faults.ts';
import type { LevelModel } from './model.ts';
import { readLevel } from './read.ts';
import { addBox, newLevel, toBinary } from './sample.ts';

const require = createRequire(import.meta.url);
const METRES = { metresPerUnit: 1, upAxis: 'y' } as const;
const simple = async (): Promise<Uint8Array> => {
  const document = newLevel();
  addBox(document, 'Pier', 1, [0, 1, -10]);
  return toBinary(document);
};
/** The same file with its JSON edited. */
async function edited(edit: (json: GltfJson) => void): Promise<Uint8Array> {
  const { json, bin } = openBinary(await simple());
  edit(json);
  return writeBinary(json, bin);
}
const faultsOf = async (bytes: Uint8Array): Promise<LevelError> => {
  const error = await checkLevel(bytes).then(
    () => null,
    (e: unknown) => e,
  );
  expect(error).toBeInstanceOf(LevelError);
  return error as LevelError;
};

describe('rays', () => {
  // Levels are of single precision, and so are their trees.
  const coordinate = fc.double({ min: -10, max: 10, noNaN: true }).map(Math.fround);
  const point = fc.tuple(coordinate, coordinate, coordinate);
  it('find the nearest triangle, as trying every one does (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(point, point, point), { minLength: 1, maxLength: 120 }), point, point, (triangles, from, to) => {
        const d = to.map((v, k) => v - (from[k] as number)) as Vec3;
        if (Math.hypot(...d) < 1e-3) return;
        const tree = TriangleTree.build(Float32Array.from(triangles.flat(2)));
        let nearest = Number.POSITIVE_INFINITY;
        for (const [a, b, c] of triangles) {
          const t = planeHit(a, b, c, from, d);
          if (t !== null && t > 0 && t < nearest) nearest = t;
        }
        const met = tree.cast(...from, ...d, 1e9, false);
        if (nearest === Number.POSITIVE_INFINITY) return;
        // Edges may fall to either side by rounding; what is found must be as near.
        expect(met).toBe(true);
        expect(tree.hitT).toBeLessThanOrEqual(nearest * (1 + 1e-6) + 1e-6);
      }),
      { numRuns: 300 },
    );
  });
});

/** Plane equation and same-side tests: another method than the tree's own. Only hits well inside count. */
function planeHit(a: Vec3, b: Vec3, c: Vec3, o: Vec3, d: Vec3): number | null {
  const minus = (p: Vec3, q: Vec3): Vec3 => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
  const cross = (p: Vec3, q: Vec3): Vec3 => [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]];
  const dot = (p: Vec3, q: Vec3) => p[0] * q[0] + p[1] * q[1] + p[2] * q[2];
  const n = cross(minus(b, a), minus(c, a));
  const slope = dot(n, d);
  const size = Math.hypot(...n);
  if (size < 1e-3 || Math.abs(slope) < 1e-6 * size * Math.hypot(...d)) return null;
  const t = dot(n, minus(a, o)) / slope;
  const p: Vec3 = [o[0] + d[0] * t, o[1] + d[1] * t, o[2] + d[2] * t];
  const sides = [dot(cross(minus(b, a), minus(p, a)), n), dot(cross(minus(c, b), minus(p, b)), n), dot(cross(minus(a, c), minus(p, c)), n)];
  return sides.every((s) => s > 1e-7 * size * size) ? t : null;
}

describe('a level', () => {
  it('has its surfaces where its nodes stand, through a hierarchy and a negative scale', async () => {
    const document = newLevel();
    const base = document.createNode('Base').setTranslation([5, 0, 0]).setScale([-2, 2, 2]);
    document.createScene().addChild(base);
    addBox(document, 'Box', 1, [1, 0, 0], base);
    const { model } = await checkLevel(await toBinary(document));
    // -2·1 + 5 = 3; the box reaches 2 m to each side: its near face is at z = 2.
    const hit = makeHit();
    expect(model.castRay([3, 0, 50], [0, 0, -1], 100, hit)).toBe(true);
    expect(hit.distanceM).toBeCloseTo(48, 9);
    expect(hit.normal).toEqual([0, 0, 1].map((v) => expect.closeTo(v, 9)));
    expect(model.nodeIds[hit.node]).toBe('Box');
    expect(model.castRay([5.5, 0, 50], [0, 0, -1], 100, hit)).toBe(false);
  });

  it('is brought to metres and +Y up', async () => {
    const bytes = await simple();
    const model = await readLevel(bytes, { metresPerUnit: 0.01, upAxis: 'z' });
    // (0, 1, -10) in centimetres with +Z up is 10 cm down and 1 cm towards -z.
    const b = model.bounds();
    expect(b?.least).toEqual([-0.01, -0.11, -0.02].map((v) => expect.closeTo(v, 7)));
    expect(b?.greatest).toEqual([0.01, -0.09, 0].map((v) => expect.closeTo(v, 7)));
  });

  it('gives nodes of one name ids of their own', async () => {
    const document = newLevel();
    for (let i = 0; i < 3; i++) addBox(document, 'Stake', 1, [i * 4, 0, 0]);
    const { model } = await checkLevel(await toBinary(document));
    expect(model.nodeIds).toEqual(['Stake', 'Stake (2)', 'Stake (3)']);
  });

  it('moves its nodes, and with them rays and sight lines', async () => {
    const document = newLevel();
    const door = addBox(document, 'Door', 1, [0, 0, -5]);
    const buffer = document.getRoot().listBuffers()[0] ?? null;
    const input = document.createAccessor().setType('SCALAR').setArray(Float32Array.of(0, 2)).setBuffer(buffer);
    const output = document
      .createAccessor()
      .setType('VEC3')
      .setArray(Float32Array.of(0, 0, -5, 8, 0, -5))
      .setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
    document
      .createAnimation('Open')
      .addSampler(sampler)
      .addChannel(document.createAnimationChannel().setTargetNode(door).setTargetPath('translation').setSampler(sampler));
    const { model } = await checkLevel(await toBinary(document));
    expect(model.sightline(0, 0, 0, 0, 0, -10)).toBe(0);
    const hit = makeHit();
    const ahead = (reachM = 20) => (model.castRay([0, 0, 0], [0, 0, -1], reachM, hit) ? hit.distanceM : null);
    // The same ray is remembered, for its reach and for what is met by others in between.
    expect([ahead(), ahead(), ahead(3), ahead()]).toEqual([4, 4, null, 4]);
    const shut = model.placed();
    model.poses(clockTimes(model, 1));
    expect(model.worldMatrices[12]).toBeCloseTo(4, 6);
    expect(model.sightline(0, 0, 0, 0, 0, -10)).toBe(-1);
    expect(ahead()).toBe(null);
    model.putBack(shut);
    expect(ahead()).toBe(4);
    model.poses(clockTimes(model, 1));
    expect(model.castRay([4, 0, 0], [0, 0, -1], 20, hit)).toBe(true);
    expect(hit.distanceM).toBeCloseTo(4, 6);
  });

  it('ends a sight line 2 cm before its end', async () => {
    const { model } = await checkLevel(await simple());
    expect(model.sightline(0, 1, 0, 0, 1, -9.01)).toBe(-1);
    expect(model.sightline(0, 1, 0, 0, 1, -9.03)).toBe(0);
  });

  it('stands in its rest pose where it is skinned, and with the weights of its shapes', async () => {
    const document = newLevel();
    const node = addBox(document, 'Flag', 1, [0, 0, 0]);
    const primitive = node.getMesh()?.listPrimitives()[0];
    const buffer = document.getRoot().listBuffers()[0] ?? null;
    const eight = (values: number[]) => Array.from({ length: 8 }, () => values).flat();
    primitive?.setAttribute(
      'JOINTS_0',
      document
        .createAccessor()
        .setType('VEC4')
        .setArray(Uint8Array.from(eight([0, 0, 0, 0])))
        .setBuffer(buffer),
    );
    primitive?.setAttribute(
      'WEIGHTS_0',
      document
        .createAccessor()
        .setType('VEC4')
        .setArray(Float32Array.from(eight([1, 0, 0, 0])))
        .setBuffer(buffer),
    );
    primitive?.addTarget(
      document.createPrimitiveTarget().setAttribute(
        'POSITION',
        document
          .createAccessor()
          .setType('VEC3')
          .setArray(Float32Array.from(eight([0, 4, 0])))
          .setBuffer(buffer),
      ),
    );
    node.getMesh()?.setWeights([0.5]);
    const joint = document.createNode('Joint').setTranslation([10, 0, 0]);
    document.getRoot().listScenes()[0]?.addChild(joint);
    node.setSkin(document.createSkin().addJoint(joint));
    const { model } = await checkLevel(await toBinary(document));
    // The shape lifts by 0.5·4 m, the joint carries it 10 m along x.
    expect(model.bounds()).toEqual({
      least: [9, 1, -1].map((v) => expect.closeTo(v, 5)),
      greatest: [11, 3, 1].map((v) => expect.closeTo(v, 5)),
    });
  });

  it('keeps its cameras of both kinds', async () => {
    const document = newLevel();
    addBox(document, 'Pier', 1, [0, 0, 0]);
    const scene = document.getRoot().listScenes()[0];
    scene?.addChild(
      document.createNode('Eye').setCamera(
        document
          .createCamera()
          .setType('perspective')
          .setYFov(Math.PI / 3)
          .setZNear(0.2),
      ),
    );
    scene?.addChild(
      document
        .createNode('Chart')
        .setCamera(document.createCamera().setType('orthographic').setXMag(8).setYMag(6).setZNear(0.1).setZFar(50)),
    );
    const { model } = await checkLevel(await toBinary(document));
    expect(
      model.parts.cameras.map(({ name, kind, fovDeg, halfHeightM }) => [
        name,
        kind,
        kind === 'perspective' ? Math.round(fovDeg) : halfHeightM,
      ]),
    ).toEqual([
      ['Eye', 'perspective', 60],
      ['Chart', 'orthographic', 6],
    ]);
  });
});

describe('packing', () => {
  it('takes a .gltf with its buffer beside it, in a folder, or in a data URI', async () => {
    const { json, bin } = openBinary(await simple());
    const text = (uri: string) => new TextEncoder().encode(JSON.stringify({ ...json, buffers: [{ uri, byteLength: bin.byteLength }] }));
    const data = `data:application/octet-stream;base64,${Buffer.from(bin).toString('base64')}`;
    for (const files of [
      [
        { name: 'level/pier.gltf', bytes: text('parts/pier%20one.bin') },
        { name: 'level/parts/pier one.bin', bytes: bin },
      ],
      [
        { name: 'pier.gltf', bytes: text('pier.bin') },
        { name: 'pier.bin', bytes: bin },
      ],
      [{ name: 'pier.gltf', bytes: text(data) }],
    ]) {
      const packed = packLevel(files);
      expect(packed.name).toBe('pier.glb');
      expect((await checkLevel(packed.bytes)).triangles).toBe(12);
    }
  });
  it('says which file is missing, and which lies outside', async () => {
    const { json, bin } = openBinary(await simple());
    const main = (uri: string) => ({
      name: 'pier.gltf',
      bytes: new TextEncoder().encode(JSON.stringify({ ...json, buffers: [{ uri, byteLength: bin.byteLength }] })),
    });
    expect(() => packLevel([main('pier.bin')])).toThrow(/"pier.bin", which was not among/);
    expect(() => packLevel([main('https://example.org/x.bin')])).toThrow(/outside the dropped files/);
    expect(() => packLevel([{ name: 'notes.txt', bytes: bin }])).toThrow(/no .glb or .gltf/);
  });
});

describe('compression', () => {
  beforeAll(async () => {
    await Promise.all([MeshoptEncoder.ready, MeshoptDecoder.ready]);
  });
  const wide = async () => {
    const document = newLevel();
    for (let i = 0; i < 4; i++) addBox(document, `Pier ${i}`, 1, [i * 5, 1, -10]);
    return document;
  };
  const expectPiers = async (bytes: Uint8Array) => {
    const { model, bytes: kept } = await checkLevel(bytes);
    const hit = makeHit();
    for (let i = 0; i < 4; i++) {
      expect(model.castRay([i * 5, 1, 0], [0, 0, -1], 20, hit)).toBe(true);
      expect(hit.distanceM).toBeCloseTo(9, 2);
    }
    expect(openBinary(kept).json.extensionsRequired ?? []).not.toContain('KHR_draco_mesh_compression');
  };
  it('Draco is read', async () => {
    const document = await wide();
    document.createExtension(KHRDracoMeshCompression).setRequired(true);
    const draco = require('draco3dgltf') as { createEncoderModule(): Promise<unknown>; createDecoderModule(): Promise<unknown> };
    const bytes = await toBinary(document, {
      'draco3d.encoder': await draco.createEncoderModule(),
      'draco3d.decoder': await draco.createDecoderModule(),
    });
    expect(openBinary(bytes).json.extensionsRequired).toContain('KHR_draco_mesh_compression');
    await expectPiers(bytes);
  });
  it('meshopt is read', async () => {
    const document = await wide();
    document
      .createExtension(EXTMeshoptCompression)
      .setRequired(true)
      .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
    const bytes = await toBinary(document, { 'meshopt.encoder': MeshoptEncoder, 'meshopt.decoder': MeshoptDecoder });
    expect(openBinary(bytes).json.extensionsRequired).toContain('EXT_meshopt_compression');
    await expectPiers(bytes);
  });
});

describe('a broken level is refused with its place', () => {
  it('cut short at any byte', async () => {
    const bytes = await simple();
    for (let cut = 0; cut < bytes.length; cut += 41)
      expect((await faultsOf(bytes.subarray(0, cut))).message).toMatch(/cut short|not a glTF binary/);
  });
  it.each([
    ['a cycle of nodes', (j: GltfJson) => void (j.nodes = [{ children: [1] }, { children: [0] }]), /^\/nodes\/\d/, /ancestor/],
    ['a node with two parents', (j: GltfJson) => void (j.nodes = [{ children: [2] }, { children: [2] }, {}]), '/nodes/2', /two parents/],
    ['a child that is not there', (j: GltfJson) => void (j.nodes = [{ children: [7] }]), '/nodes/0/children', /names node 7/],
    [
      'a required extension that is not read',
      (j: GltfJson) => void (j.extensionsRequired = ['ACME_tide']),
      '/extensionsRequired',
      /ACME_tide/,
    ],
    ['glTF 1', (j: GltfJson) => void (j.asset = { version: '1.0' }), '/asset/version', /glTF 2.0/],
    [
      'an accessor beyond its buffer',
      (j: GltfJson) => void Object.assign(j.accessors?.[0] ?? {}, { count: 100000 }),
      /^\/accessors\/0/,
      /./,
    ],
    [
      'a buffer view beyond its buffer',
      (j: GltfJson) => void Object.assign(j.bufferViews?.[0] ?? {}, { byteLength: 1e6 }),
      /^\/bufferViews\/0/,
      /./,
    ],
    ['no surface', (j: GltfJson) => void (j.nodes = [{ name: 'Empty' }]), '', /no surface/],
  ])('%s', async (_, edit, pointer, message) => {
    const { faults } = await faultsOf(await edited(edit));
    const found = faults.find((f) => (typeof pointer === 'string' ? f.pointer === pointer : pointer.test(f.pointer)));
    expect(found?.message).toMatch(message);
  });
  it('points and lines only are taken, with a warning that says what can be done', async () => {
    const document = newLevel();
    const position = document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array([0, 0, 0, 4, 2, 0]))
      .setBuffer(document.createBuffer());
    const mesh = document.createMesh('Mooring line').addPrimitive(document.createPrimitive().setAttribute('POSITION', position).setMode(1));
    document.createScene().addChild(document.createNode('Mooring line').setMesh(mesh));
    const checked = await checkLevel(await toBinary(document));
    expect(checked.triangles).toBe(0);
    expect(checked.warnings).toContainEqual({
      code: 'NO_TRIANGLES',
      pointer: '/meshes',
      message: expect.stringMatching(/points or lines only/),
    });
  });
  it('JSON that is none', async () => {
    const bytes = new Uint8Array(await simple());
    bytes[21] = 0x21;
    expect((await faultsOf(bytes)).message).toMatch(/JSON cannot be read/);
  });
  it('an index beyond the vertices', async () => {
    const { json, bin } = openBinary(await simple());
    const view = json.bufferViews?.[json.accessors?.findIndex((a) => a.type === 'SCALAR') ?? 0];
    new DataView(bin.buffer, bin.byteOffset).setUint16(view?.byteOffset ?? 0, 999, true);
    expect((await faultsOf(writeBinary(json, bin))).faults.length).toBeGreaterThan(0);
  });
  it('bytes of any kind never bring it down (property)', async () => {
    const bytes = await simple();
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { minLength: 1, maxLength: 12 }), async (changes) => {
        const hurt = bytes.slice();
        for (const [at, value] of changes) hurt[at] = value;
        await checkLevel(hurt).catch((error: unknown) => expect(error).toBeInstanceOf(LevelError));
      }),
      { numRuns: 150 },
    );
  });
});

describe('faults that do no harm are warnings', () => {
  it('wrong stated bounds', async () => {
    const bytes = await edited((j) => void Object.assign(j.accessors?.find((a) => a.type === 'VEC3') ?? {}, { min: [0, 0, 0] }));
    const { warnings, triangles } = await checkLevel(bytes);
    expect(triangles).toBe(12);
    expect(warnings.map((w) => w.pointer).join()).toMatch(/\/accessors\//);
  });
  it('a broken part that nothing uses', async () => {
    const bytes = await edited((j) => void j.accessors?.push({ bufferView: 0, componentType: 5126, count: 100000, type: 'VEC3' }));
    const { warnings, triangles } = await checkLevel(bytes);
    expect(triangles).toBe(12);
    expect(warnings.some((w) => /Nothing uses it/.test(w.message))).toBe(true);
  });
});

describe('the validator in a thread of its own', () => {
  it('comes to the same, whatever is wrong', async () => {
    const sound = await simple();
    const levels = [
      sound,
      await edited((j) => void Object.assign(j.accessors?.find((a) => a.type === 'VEC3') ?? {}, { min: [0, 0, 0] })),
      await edited((j) => void j.accessors?.push({ bufferView: 0, componentType: 5126, count: 100000, type: 'VEC3' })),
      await edited((j) => void Object.assign(j.accessors?.[0] ?? {}, { count: 100000 })),
      // One byte another, all through the file.
      ...Array.from({ length: 20 }, (_, k) => sound.map((byte, at) => (at === Math.floor((k / 20) * sound.length) ? byte ^ 0x55 : byte))),
    ];
    const told = (bytes: Uint8Array, aside: boolean) =>
      checkLevel(bytes, { aside }).then(
        ({ warnings, triangles, size, bytes: kept, model }) => ({ warnings, triangles, size, kept, parts: model.parts.parts }),
        (error: unknown) => error,
      );
    const outcomes = await Promise.all(levels.map((bytes) => told(bytes, false)));
    expect(outcomes.some((one) => one instanceof LevelError && one.faults.length > 0)).toBe(true);
    expect(outcomes.filter((one) => !(one instanceof LevelError)).length).toBeGreaterThan(3);
    for (const [k, bytes] of levels.entries()) expect(await told(bytes, true)).toEqual(outcomes[k]);
  });
});

describe('the size of a level', () => {
  it('asks for the unit where it is not that of a place', async () => {
    for (const [half, asks] of [
      [0.4, true],
      [20, false],
      [4000, true],
    ] as const) {
      const document = newLevel();
      addBox(document, 'Pier', half, [0, 0, 0]);
      expect((await checkLevel(await toBinary(document))).asksUnit).toBe(asks);
    }
  });
});

describe('the level of Low Water', () => {
  let model: LevelModel;
  let size = 0;
  beforeAll(async () => {
    const bytes = new Uint8Array(readFileSync(new URL('../../../demo/low-water.glb', import.meta.url)));
    size = bytes.length;
    const checked = await checkLevel(bytes, METRES);
    expect(checked.warnings).toEqual([]);
    model = checked.model;
  });
  it('is under 4 MB and has what the game tells of', () => {
    expect(size).toBeLessThan(4e6);
    for (const name of [
      'Causeway',
      'Pump house',
      'Pump house door',
      'Control board',
      'Sluice 1 wheel',
      'Sluice 3 wheel',
      'Lamp mast',
      'Boat shed',
      'Slipway',
      'Tide board',
      'Mooring posts 4',
      'Stake 40',
      'Dinghy',
      'Water',
      'Wader 1',
    ])
      expect(model.nodeIndex(name)).toBeGreaterThanOrEqual(0);
  });
  it('moves dinghy, birds, door, wheels and water', () => {
    for (const name of ['Dinghy', 'Wader 1', 'Gull 1', 'Pump house door', 'Sluice 2 wheel', 'Water'])
      expect(model.nodeMoves[model.nodeIndex(name)]).toBe(1);
    expect(model.nodeMoves[model.nodeIndex('Causeway')]).toBe(0);
  });
  it('has ground under every foot of the causeway, and colours along every ray', () => {
    const hit = makeHit();
    for (let k = 0; k < 40; k++) {
      const [x, z] = [-40 + 2 * k, 40 - 2 * k];
      expect(model.castRay([x, 30, z], [0, -1, 0], 60, hit)).toBe(true);
      for (const v of model.colourAt([x, 30, z], [0, -1, 0], [0, 0, 0])) expect(v >= 0 && v <= 255).toBe(true);
    }
  });
});
