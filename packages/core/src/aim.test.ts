/** What lies in the middle of the view, and patterns of names. */
import type { FeedSource } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { aimedAt, aimedValue, facing } from './aim.ts';
import type { Level } from './level.ts';
import { isOfPattern } from './match.ts';
import { lookingPose } from './spaces/pose.ts';

/** Walls across the view at x = 0: each a node of its own, at its z; `Board` hangs below `Sluice 1`. */
const WALLS = [
  { id: 'Sluice 1', parent: -1, z: null, properties: {} },
  { id: 'Board', parent: 0, z: -4, properties: { of: 'pump' } },
  { id: 'Mast', parent: -1, z: -9, properties: {} },
] as const;
const made: Partial<Level> = {
  nodeIds: WALLS.map(({ id }) => id),
  parentOf: Int32Array.from(WALLS, ({ parent }) => parent),
  nodeProperties: WALLS.map(({ properties }) => properties),
  castRay: (origin, direction, mostM, hit) => {
    let nearest: number = mostM;
    let node = -1;
    WALLS.forEach(({ z }, k) => {
      const t = z === null ? Number.NaN : (z - origin[2]) / direction[2];
      if (t > 0 && t < nearest) [nearest, node] = [t, k];
    });
    if (node < 0) return false;
    Object.assign(hit, { node, distanceM: nearest, position: origin.map((v, k) => v + nearest * (direction[k] as number)) });
    return true;
  },
};
const level = made as Level;
const source = (part: Partial<Extract<FeedSource, { kind: 'aimed' }>> = {}) =>
  ({ kind: 'aimed', mostM: 50, pattern: '*', property: null, gives: 'distance', ...part }) as const;

describe('what is aimed at', () => {
  it('lies along the way that the pose was made to look (property)', () => {
    fc.assert(
      fc.property(fc.double({ min: -180, max: 180, noNaN: true }), fc.double({ min: -89, max: 89, noNaN: true }), (yawDeg, pitchDeg) => {
        const [yaw, pitch] = [(yawDeg * Math.PI) / 180, (pitchDeg * Math.PI) / 180];
        // To the north is −z; a positive yaw turns to the left, a positive pitch up.
        const [x, y, z] = facing(lookingPose([0, 0, 0], yawDeg, pitchDeg));
        expect(x).toBeCloseTo(-Math.sin(yaw) * Math.cos(pitch), 9);
        expect(y).toBeCloseTo(Math.sin(pitch), 9);
        expect(z).toBeCloseTo(-Math.cos(yaw) * Math.cos(pitch), 9);
      }),
    );
  });

  it('is the nearest within reach: as a flag, a text, a distance and a place', () => {
    // 60 degrees to the left: twice as far as straight ahead.
    const head = lookingPose([1, 1.6, 0], 60, 0);
    const met = aimedAt(level, head, 50);
    expect(met?.node).toBe(1);
    expect(met?.distanceM).toBeCloseTo(8, 9);
    expect(aimedValue(level, head, source(), false)).toBe(true);
    expect(aimedValue(level, head, source(), '')).toBe('Board');
    expect(aimedValue(level, head, source(), 0)).toBeCloseTo(8, 9);
    expect(aimedValue(level, head, source({ gives: 'x' }), 0)).toBeCloseTo(1 - 8 * Math.sin(Math.PI / 3), 9);
    expect(aimedValue(level, head, source({ gives: 'y' }), 0)).toBeCloseTo(1.6, 9);
    expect(aimedValue(null, head, source(), false)).toBeUndefined();
    // Too far, and away from everything: nothing.
    for (const [at, of, mostM] of [
      [head, level, 7.9],
      [lookingPose([0, 1.6, 0], 180, 0), level, 50],
    ] as const) {
      expect(aimedValue(of, at, source({ mostM }), false)).toBe(false);
      expect(aimedValue(of, at, source({ mostM }), '')).toBe('');
      expect(aimedValue(of, at, source({ mostM }), 0)).toBe(mostM);
    }
  });

  it('counts where it is of a node that is meant, or of one below it; what stands before it hides it', () => {
    const head = lookingPose([0, 1.6, 0], 0, 0);
    expect(aimedValue(level, head, source({ pattern: 'sluice*' }), '')).toBe('Sluice 1');
    expect(aimedValue(level, head, source({ property: 'of=pump' }), '')).toBe('Board');
    expect(aimedValue(level, head, source({ property: 'of=lamp' }), false)).toBe(false);
    // The board stands before the mast.
    expect(aimedValue(level, head, source({ pattern: 'Mast' }), 0)).toBe(50);
    expect(aimedValue(level, lookingPose([0, 1.6, -5], 0, 0), source({ pattern: 'Mast' }), 0)).toBeCloseTo(4, 9);
  });
});

describe('a pattern', () => {
  it('is matched as trying everything does (property)', () => {
    /** By the definition, for short ones. */
    const slowly = (p: string, n: string): boolean =>
      p === ''
        ? n === ''
        : p[0] === '*'
          ? slowly(p.slice(1), n) || (n !== '' && slowly(p, n.slice(1)))
          : n !== '' && (p[0] === '?' || p[0] === n[0]) && slowly(p.slice(1), n.slice(1));
    const of = (letters: string, maxLength: number) => fc.array(fc.constantFrom(...letters), { maxLength }).map((l) => l.join(''));
    fc.assert(
      fc.property(of('ab*?', 8), of('ab', 10), (pattern, name) => {
        expect(isOfPattern(pattern, name)).toBe(slowly(pattern, name));
      }),
      { numRuns: 2000 },
    );
  });
  it('of a hundred stars, over a long name, is settled at once', () => {
    expect(isOfPattern(`${'*a'.repeat(100)}b`, 'a'.repeat(255))).toBe(false);
    expect(isOfPattern(`${'*a'.repeat(100)}`, 'a'.repeat(255))).toBe(true);
  });
});
