/** Conventions: against matrices written out, and there and back between all of them. */
import { lookingPose, type Quat, rotate, type Vec3 } from '@foreshore/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Axis,
  angleIn,
  angleOut,
  CONVENTIONS,
  type Convention,
  ConventionError,
  directionOut,
  fovIn,
  fovOut,
  isRightHanded,
  OWN,
  pointIn,
  pointOut,
  readConvention,
  rotationIn,
  rotationOut,
  screenIn,
  screenOut,
} from './convention.ts';

const AXES: Axis[] = ['+x', '-x', '+y', '-y', '+z', '-z'];
const every: Convention[] = AXES.flatMap((right) =>
  AXES.flatMap((up) =>
    AXES.flatMap((forward): Convention[] =>
      new Set([right[1], up[1], forward[1]]).size < 3
        ? []
        : [
            {
              ...OWN,
              right,
              up,
              forward,
              unitsPerMetre: 100,
              fov: 'horizontal',
              quaternion: 'wxyz',
              screenOrigin: 'centre',
              screenY: 'up',
            },
            { ...OWN, right, up, forward, fov: 'diagonal', angles: 'radians', screenOrigin: 'bottomLeft', screenY: 'up' },
          ],
    ),
  ),
);
const point = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -1000, max: 1000, noNaN: true }))) as fc.Arbitrary<Vec3>;
const rotation = fc
  .tuple(fc.double({ min: -180, max: 180, noNaN: true }), fc.double({ min: -89, max: 89, noNaN: true }))
  .map(([yaw, pitch]) => lookingPose([0, 0, 0], yaw, pitch).rotation);

describe('conventions', () => {
  it('by hand: Z up, left-handed, X ahead, centimetres', () => {
    const theirs = CONVENTIONS[3] as Convention;
    // Ours: 1 m to the right, 2 m up, 3 m ahead (−z).
    expect(pointOut(theirs, [1, 2, -3])).toEqual([300, 100, 200]);
    expect(isRightHanded(theirs)).toBe(false);
    // Turned to the left by 90 degrees: ahead is our −x, their −y.
    const left = lookingPose([0, 0, 0], 90, 0).rotation;
    expect(directionOut(theirs, rotate(left, [0, 0, -1])).map((v) => Math.round(v))).toEqual([0, -1, 0]);
    // tan(30°)·16/9 = 1.0264: 2·atan = 91.49 degrees.
    expect(fovOut(theirs, 60, 16 / 9)).toBeCloseTo(91.4928, 3);
    expect(CONVENTIONS.map(isRightHanded)).toEqual([true, true, false, false, true]);
  });

  it('turn points as they turn the world: rotating first and then leaving is leaving first and then rotating (property)', () => {
    /** v turned by q, by the matrix of q written out; the same for either hand. */
    const turned = ([x, y, z, w]: readonly number[] & { length: 4 }, [a, b, c]: Vec3): Vec3 => {
      const [X, Y, Z, W] = [x, y, z, w] as [number, number, number, number];
      return [
        (1 - 2 * (Y * Y + Z * Z)) * a + 2 * (X * Y - Z * W) * b + 2 * (X * Z + Y * W) * c,
        2 * (X * Y + Z * W) * a + (1 - 2 * (X * X + Z * Z)) * b + 2 * (Y * Z - X * W) * c,
        2 * (X * Z - Y * W) * a + 2 * (Y * Z + X * W) * b + (1 - 2 * (X * X + Y * Y)) * c,
      ];
    };
    fc.assert(
      fc.property(fc.constantFrom(...every), rotation, point, (theirs, q, p) => {
        const out = rotationOut({ ...theirs, quaternion: 'xyzw' }, q);
        const [a, b] = [pointOut(theirs, rotate(q, p)), turned(out as never, pointOut(theirs, p))];
        for (let k = 0; k < 3; k++) expect(a[k]).toBeCloseTo(b[k] as number, 6);
      }),
      { numRuns: 300 },
    );
  });

  it('go there and back, from every one to every other, within 1e-9 (property)', () => {
    fc.assert(
      fc.property(fc.constantFrom(...every), fc.constantFrom(...every), point, rotation, (from, to, p, q) => {
        const moved = pointOut(from, pointIn(to, pointOut(to, pointIn(from, p))));
        moved.forEach((v, k) => {
          expect(Math.abs(v - (p[k] as number))).toBeLessThan(1e-9 * Math.max(1, Math.abs(p[k] as number)));
        });
        const spun: Quat = rotationIn(to, rotationOut(to, rotationIn(from, rotationOut(from, q))));
        spun.forEach((v, k) => {
          expect(v).toBeCloseTo(q[k] as number, 12);
        });
        const [x, y] = screenIn(to, screenOut(to, [p[0], p[1]], 1920, 1080), 1920, 1080);
        expect(Math.hypot(x - p[0], y - p[1])).toBeLessThan(1e-9);
        const deg = 20 + Math.abs(p[2] % 100);
        expect(fovIn(to, fovOut(to, deg, 1.6), 1.6)).toBeCloseTo(deg, 9);
        expect(angleIn(to, angleOut(to, deg))).toBeCloseTo(deg, 12);
      }),
      { numRuns: 500 },
    );
  });

  it('are read with what is wrong with them, and where', () => {
    expect(readConvention(JSON.stringify(CONVENTIONS[1]))).toEqual(CONVENTIONS[1]);
    for (const [text, where] of [
      ['{', 'no JSON'],
      [JSON.stringify({ ...OWN, up: '+x' }), '/forward'],
      [JSON.stringify({ ...OWN, unitsPerMetre: 0 }), '/unitsPerMetre'],
      [JSON.stringify({ ...OWN, screenOrigin: 'bottomLeft' }), '/screenY'],
      [JSON.stringify({ ...OWN, depth: 'reversed' }), 'depth'],
    ] as const)
      expect(() => readConvention(text)).toThrow(where);
    expect(() => readConvention('[]')).toThrow(ConventionError);
  });
});
