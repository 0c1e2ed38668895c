/** What is kept beside a level: the same level, in few pieces, with coarser forms that are as near as they say. */
import { makeHit, type Vec3 } from '@foreshore/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TriangleTree } from './bvh.ts';
import { drawnPieces } from './drawn.ts';
import { LevelError } from './faults.ts';
import type { LevelModel } from './model.ts';
import type { DrawnPiece } from './parts.ts';
import { openPrepared, prepareLevel } from './prepared.ts';
import { readLevel } from './read.ts';
import { addBox, newLevel, toBinary } from './sample.ts';
import { simplifier } from './simplify.ts';

const OPTIONS = { metresPerUnit: 1, upAxis: 'y' } as const;

/** Boxes about the origin: one turned inside out by its node, one that swings. */
async function yard(): Promise<LevelModel> {
  const document = newLevel();
  for (let k = 0; k < 12; k++) addBox(document, `Crate ${k}`, 0.5, [(k % 4) * 3 - 5, 0.5, -Math.floor(k / 4) * 3 - 4]);
  addBox(document, 'Mirrored', 0.5, [6, 0.5, -4]).setScale([-1, 1, 1]);
  const gate = addBox(document, 'Gate', 0.5, [0, 2, -12]);
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const accessor = (type: 'SCALAR' | 'VEC3', values: number[]) =>
    document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer);
  const sampler = document
    .createAnimationSampler()
    .setInput(accessor('SCALAR', [0, 2]))
    .setOutput(accessor('VEC3', [0, 2, -12, 4, 2, -12]));
  document
    .createAnimation('Swing')
    .addSampler(sampler)
    .addChannel(document.createAnimationChannel().setTargetNode(gate).setTargetPath('translation').setSampler(sampler));
  return readLevel(await toBinary(document), OPTIONS);
}

/** A rough field of `side` x `side` squares in one mesh, 20 m wide. */
async function field(side: number): Promise<LevelModel> {
  const across = side + 1;
  const positions = new Float32Array(across * across * 3);
  for (let j = 0; j < across; j++)
    for (let i = 0; i < across; i++) {
      const [u, v] = [i / side, j / side];
      positions.set([20 * u - 10, Math.sin(7 * u) * Math.cos(5 * v) + 0.02 * Math.sin(90 * u + 70 * v), 20 * v - 10], (j * across + i) * 3);
    }
  const indices = new Uint32Array(side * side * 6);
  for (let j = 0, k = 0; j < side; j++)
    for (let i = 0; i < side; i++, k += 6) {
      const a = j * across + i;
      indices.set([a, a + across, a + 1, a + 1, a + across, a + across + 1], k);
    }
  return meshOf(newLevel(), 'Field', positions, indices);
}

/** A rough wall of so many shingles each way, 8 m wide: no two of them share a corner. */
async function shingles(side: number): Promise<LevelModel> {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j < side; j++)
    for (let i = 0; i < side; i++) {
      const [x, y, z] = [(8 * i) / side - 4, (8 * j) / side, 0.05 * Math.sin(3 * i + 5 * j)];
      const first = positions.length / 3;
      const size = 7.2 / side;
      positions.push(x, y, z, x + size, y, z, x, y + size, z, x + size, y + size, z);
      indices.push(first, first + 1, first + 2, first + 2, first + 1, first + 3);
    }
  return meshOf(newLevel(), 'Wall', Float32Array.from(positions), Uint32Array.from(indices));
}

async function meshOf(
  document: ReturnType<typeof newLevel>,
  name: string,
  positions: Float32Array,
  indices: Uint32Array,
): Promise<LevelModel> {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer))
    .setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer));
  document.createScene().addChild(document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)));
  return readLevel(await toBinary(document), OPTIONS);
}

const again = (model: LevelModel): LevelModel => openPrepared(prepareLevel(model, drawnPieces(model)).buffer as ArrayBuffer);

/** The corners of a form's triangles in its own space. */
function cornersOf({ positions, indices, details }: DrawnPiece, form = 0): Float32Array {
  const { start, count } = details[form] as DrawnPiece['details'][number];
  return Float32Array.from([...indices.subarray(start, start + count)].flatMap((i) => [...positions.subarray(i * 3, i * 3 + 3)]));
}
/** Each form has far fewer triangles than the one before, and every corner of the whole is as near to it as it says. */
function expectNear(piece: DrawnPiece): void {
  const { details, positions } = piece;
  for (let form = 1; form < details.length; form++) {
    const { count, errorM } = details[form] as DrawnPiece['details'][number];
    expect(count).toBeLessThan(0.7 * (details[form - 1]?.count ?? 0));
    // Every corner of the whole, by its distance to the coarser surface.
    const tree = TriangleTree.build(cornersOf(piece, form));
    let most = 0;
    for (let k = 0; k < positions.length; k += 3)
      most = Math.max(most, tree.distance(positions[k] as number, positions[k + 1] as number, positions[k + 2] as number));
    expect(most).toBeGreaterThan(0);
    expect(most / errorM).toBeLessThan(1);
  }
}

/** Six times the volume that triangles enclose, positive where they are seen anticlockwise from outside. */
const volume = (k: ArrayLike<number>): number => {
  let sum = 0;
  for (let t = 0; t + 8 < k.length; t += 9) {
    const at = (i: number) => k[t + i] as number;
    sum += at(0) * (at(4) * at(8) - at(5) * at(7)) + at(1) * (at(5) * at(6) - at(3) * at(8)) + at(2) * (at(3) * at(7) - at(4) * at(6));
  }
  return sum;
};

describe('a level that was prepared', () => {
  it('gives the same hits, colours and poses as the one it was made of (property)', async () => {
    const model = await yard();
    const kept = again(model);
    expect(kept.nodeIds).toEqual(model.nodeIds);
    expect(kept.bounds()).toEqual(model.bounds());
    const coordinate = fc.double({ min: -9, max: 9, noNaN: true });
    // Near a crate, the mirrored one, or where the gate swings.
    const near = fc.double({ min: -0.8, max: 0.8, noNaN: true });
    const target = fc
      .tuple(fc.constantFrom<Vec3>([-5, 0.5, -4], [1, 0.5, -7], [4, 0.5, -10], [6, 0.5, -4], [0, 2, -12], [2, 2, -12]), near, near, near)
      .map(([at, x, y, z]): Vec3 => [at[0] + x, at[1] + y, at[2] + z]);
    let met = 0;
    fc.assert(
      fc.property(fc.tuple(coordinate, coordinate, coordinate), target, fc.double({ min: 0, max: 2, noNaN: true }), (from, to, timeS) => {
        const d = to.map((v, k) => v - (from[k] as number));
        const length = Math.hypot(...d);
        if (length < 0.1) return;
        const direction = d.map((v) => v / length) as Vec3;
        for (const one of [model, kept]) one.poses([timeS]);
        const [a, b] = [makeHit(), makeHit()];
        expect(kept.castRay(from, direction, 50, b)).toBe(model.castRay(from, direction, 50, a));
        expect(b).toEqual(a);
        if (a.node >= 0) met++;
        expect(kept.colourAt(from, direction, [0, 0, 0])).toEqual(model.colourAt(from, direction, [0, 0, 0]));
      }),
      { numRuns: 300 },
    );
    expect(met).toBeGreaterThan(50);
  });

  it('that is cut off, altered in its head, or of another version is told of and not used', async () => {
    const bytes = prepareLevel(await yard(), []);
    expect(() => openPrepared(bytes.slice(0, bytes.length - 8).buffer)).toThrow(LevelError);
    expect(() => openPrepared(new ArrayBuffer(3))).toThrow(LevelError);
    const other = bytes.slice();
    new DataView(other.buffer).setUint32(4, 99, true);
    expect(() => openPrepared(other.buffer)).toThrow(LevelError);
  });
});

describe('the pieces a level is drawn in', () => {
  it('are one for what stands still and has one material, and one for what moves; what is mirrored is turned the right way round', async () => {
    const model = await yard();
    const pieces = drawnPieces(model);
    expect(pieces.map(({ node }) => model.nodeIds[node] ?? 'the world').sort()).toEqual(['Gate', 'the world']);
    const still = pieces.find(({ node }) => node < 0) as DrawnPiece;
    expect(still.indices).toBeInstanceOf(Uint16Array);
    expect(still.details).toEqual([{ start: 0, count: 13 * 36, errorM: 0 }]);
    // The sample's boxes run one way round; thirteen of 1 cubic metre, the mirrored one with them.
    const one = volume(cornersOf(pieces.find(({ node }) => node >= 0) as DrawnPiece));
    expect(Math.abs(one)).toBeCloseTo(6, 4);
    expect(volume(cornersOf(still))).toBeCloseTo(13 * one, 2);
  });

  it('hold every corner in their sphere', async () => {
    for (const { positions, centre, radiusM } of drawnPieces(await yard()))
      for (let k = 0; k < positions.length; k += 3)
        expect(Math.hypot(...centre.map((c, i) => (positions[k + i] as number) - c))).toBeLessThanOrEqual(radiusM + 1e-5);
  });

  it('have coarser forms with far fewer triangles, as near to the whole as they say', async () => {
    const [piece] = drawnPieces(await field(100), await simplifier());
    expect((piece as DrawnPiece).details.length).toBe(5);
    expectNear(piece as DrawnPiece);
  });

  it('are made in bounded time where nothing hangs together: what is left over is drawn whole', async () => {
    // Four corners for each of 90,000 shingles, several times: more than are measured of one level.
    const pieces = drawnPieces(await shingles(300), await simplifier());
    expect(pieces.length).toBeGreaterThan(2);
    expect(pieces.some(({ details }) => details.length > 1)).toBe(true);
    expect(pieces.some(({ details }) => details.length === 1)).toBe(true);
  });

  it('have them also where nothing hangs together, and no edge can be taken away', async () => {
    const [piece, ...others] = drawnPieces(await shingles(40), await simplifier());
    expect(others).toEqual([]);
    expect((piece as DrawnPiece).details.length).toBeGreaterThan(1);
    expectNear(piece as DrawnPiece);
  });
});
