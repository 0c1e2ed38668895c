import { makeHit, type Vec3 } from '@foreshore/core';
import type { Node } from '@gltf-transform/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { LevelModel } from './model.ts';
import { readLevel } from './read.ts';
import { addBox, newLevel, toBinary } from './sample.ts';

const METRES = { metresPerUnit: 1, upAxis: 'y' } as const;
const NODES = 6;
const CLIPS = 3;
interface Scene {
  /** The node above each, before it in the list; −1 for none. */
  parents: number[];
  /** Of each clip, the nodes that it moves. */
  moved: number[][];
}
/** Each clip moves things of its own, with what is on them. */
const APART: Scene = { parents: [-1, 0, -1, 2, -1, 4], moved: [[0], [2, 3], [5]] };
/** One clip moves what stands on that of another. */
const NESTED: Scene = { parents: [-1, 0, 1, -1, -1, -1], moved: [[0], [1], [3]] };
const any: fc.Arbitrary<Scene> = fc.record({
  parents: fc.tuple(...Array.from({ length: NODES }, (_, i) => fc.integer({ min: -1, max: i - 1 }))),
  moved: fc.array(fc.uniqueArray(fc.nat(NODES - 1), { minLength: 1, maxLength: 3 }), { minLength: CLIPS, maxLength: CLIPS }),
});
const scene = fc.oneof(any, fc.constant(APART), fc.constant(NESTED));
const timesS = fc.array(fc.constantFrom(0, 0.3, 0.7, 1), { minLength: CLIPS, maxLength: CLIPS });

/** Boxes on boxes; each clip turns and shifts its own in one second. */
async function levelOf({ parents, moved }: Scene): Promise<LevelModel> {
  const document = newLevel();
  const nodes: Node[] = [];
  for (const [i, parent] of parents.entries()) nodes.push(addBox(document, `Box ${i}`, 0.5, [i, 0, -i], nodes[parent] ?? null));
  const buffer = document.getRoot().listBuffers()[0] ?? null;
  const input = document.createAccessor().setType('SCALAR').setArray(Float32Array.of(0, 1)).setBuffer(buffer);
  for (const [c, of] of moved.entries()) {
    const animation = document.createAnimation(`Clip ${c}`);
    for (const k of of)
      for (const [path, type, keys] of [
        ['translation', 'VEC3', [k, 0, -k, k + c + 1, 2, -k]],
        ['rotation', 'VEC4', [0, 0, 0, 1, 0, 0.6, 0, 0.8]],
      ] as const) {
        const output = document.createAccessor().setType(type).setArray(Float32Array.from(keys)).setBuffer(buffer);
        const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
        const channel = document
          .createAnimationChannel()
          .setTargetNode(nodes[k] as Node)
          .setTargetPath(path)
          .setSampler(sampler);
        animation.addSampler(sampler).addChannel(channel);
      }
  }
  return readLevel(await toBinary(document), METRES);
}

/** Where the boxes stand by another library's own matrices, one box after another: of clips that share one, the last has it. */
function plainly({ parents, moved }: Scene, times: readonly number[]): number[][] {
  const document = newLevel();
  const nodes: Node[] = [];
  for (const [i, parent] of parents.entries()) nodes.push(addBox(document, `Box ${i}`, 0.5, [i, 0, -i], nodes[parent] ?? null));
  for (const [c, of] of moved.entries())
    for (const k of of) {
      const u = times[c] as number;
      const half = u * Math.asin(0.6);
      nodes[k]?.setTranslation([k + u * (c + 1), 2 * u, -k]).setRotation([0, Math.sin(half), 0, Math.cos(half)]);
    }
  return nodes.map((node) => [...node.getWorldMatrix()]);
}

/** What rays from above meet. */
function metFrom(level: LevelModel): unknown[] {
  const hit = makeHit();
  return Array.from({ length: 24 }, (_, k) => {
    const from: Vec3 = [(k % 6) * 1.7 - 2, 20, -Math.floor(k / 6) * 1.9];
    return level.castRay(from, [0, -1, 0], 100, hit) ? [hit.node, hit.distanceM] : null;
  });
}

describe('a level that moves', () => {
  it('stands where one would that was never placed before, whatever moved last, and when it is put back (property)', async () => {
    await fc.assert(
      fc.asyncProperty(scene, fc.array(fc.tuple(timesS, fc.boolean()), { minLength: 2, maxLength: 6 }), async (of, steps) => {
        const level = await levelOf(of);
        const kept: { matrices: number[]; met: unknown[]; placed: Float64Array }[] = [];
        for (const [times, isBack] of steps) {
          const fresh = await levelOf(of);
          fresh.poses(times);
          level.poses(times);
          const [matrices, met] = [[...fresh.worldMatrices], metFrom(fresh)];
          for (const [i, matrix] of plainly(of, times).entries()) {
            const at = level.nodeIndex(`Box ${i}`) * 16;
            for (const [k, v] of matrix.entries()) expect(matrices[at + k]).toBeCloseTo(v, 5);
          }
          expect([...level.worldMatrices]).toEqual(matrices);
          expect(metFrom(level)).toEqual(met);
          kept.push({ matrices, met, placed: level.placed() });
          const before = kept[0];
          if (!isBack || !before) continue;
          level.putBack(before.placed);
          expect([...level.worldMatrices]).toEqual(before.matrices);
          expect(metFrom(level)).toEqual(before.met);
        }
      }),
      { numRuns: 40 },
    );
  });
});
