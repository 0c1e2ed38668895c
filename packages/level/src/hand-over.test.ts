/** A level that another thread has read is the same level: rays, colours and places. */

import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { makeHit, type Vec3 } from '@foreshore/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LevelModel } from './model.ts';
import { readLevel } from './read.ts';

const FILE = fileURLToPath(new URL('../../../demo/low-water.glb', import.meta.url));

describe('a level that is handed over', () => {
  it('gives the same hits for the same rays, at rest and while its nodes move (property)', async () => {
    const model = await readLevel(new Uint8Array(readFileSync(FILE)), { metresPerUnit: 1, upAxis: 'y' });
    // As a worker's message does it: a copy, with the buffers moved.
    const { parts, trees } = structuredClone({ parts: model.parts, trees: model.trees });
    const copy = new LevelModel(parts, trees);
    const [a, b] = [makeHit(), makeHit()];
    const place = fc.double({ min: -60, max: 60, noNaN: true });
    const turn = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.tuple(place, place, place),
        fc.tuple(turn, turn, turn),
        fc.double({ min: 0, max: 20, noNaN: true }),
        (from, way, timeS) => {
          const length = Math.hypot(...way);
          fc.pre(length > 0.01);
          const direction = way.map((v) => v / length) as Vec3;
          const times = model.clipDurationsS.map((long) => (long > 0 ? timeS % long : 0));
          model.poses(times);
          copy.poses(times);
          const met = model.castRay(from, direction, 200, a);
          expect(copy.castRay(from, direction, 200, b)).toBe(met);
          if (met) expect(b).toEqual(a);
          expect(copy.colourAt(from, direction, [0, 0, 0])).toEqual(model.colourAt(from, direction, [0, 0, 0]));
        },
      ),
      { numRuns: 400 },
    );
    expect([...copy.worldMatrices]).toEqual([...model.worldMatrices]);
  });
});
