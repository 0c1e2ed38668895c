/** How near anything comes in a pyramid: against points spread densely over every triangle; and flat faces as rectangles. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TriangleTree } from './bvh.ts';
import { faceAt } from './face.ts';
import { pyramidInto } from './pyramid.ts';

// Levels are of single precision, and so are their trees.
const coordinate = fc.double({ min: -3, max: 3, noNaN: true }).map(Math.fround);
const point = fc.tuple(coordinate, coordinate, coordinate);
type P = readonly [number, number, number];

describe('the nearest in a pyramid', () => {
  it('is that of points spread over the triangles (property)', () => {
    let met = 0;
    fc.assert(
      fc.property(fc.array(fc.tuple(point, point, point), { minLength: 1, maxLength: 8 }), point, (triangles, at) => {
        const eye: P = [0, 0, 4];
        // A base of 2 x 1.4 m about a point before the eye.
        const [mx, my, mz] = [at[0] / 2, at[1] / 2, -1 + at[2] / 3];
        const corners = [mx - 1, my + 0.7, mz, mx + 1, my + 0.7, mz, mx - 1, my - 0.7, mz];
        const f = new Float64Array(12);
        expect(pyramidInto(f, ...eye, corners)).toBe(true);
        const mine = TriangleTree.build(Float32Array.from(triangles.flat(2))).nearestIn(f, 1);
        /** By the depth along the axis and the ray to the base: no functionals. */
        const shareAt = (x: number, y: number, z: number): number => {
          const s = (eye[2] - z) / (eye[2] - mz);
          return s > 0 && s < 1 && Math.abs(x / s - mx) <= 1 && Math.abs(y / s - my) <= 0.7 ? s : 1;
        };
        let theirs = 1;
        const N = 40;
        for (const [a, b, c] of triangles)
          for (let i = 0; i <= N; i++)
            for (let j = 0; i + j <= N; j++) {
              const [u, v] = [i / N, j / N];
              const of = (k: 0 | 1 | 2) => a[k] * (1 - u - v) + b[k] * u + c[k] * v;
              theirs = Math.min(theirs, shareAt(of(0), of(1), of(2)));
            }
        // Nothing sampled lies nearer than what was found; and what was found is not far from a sample.
        expect(mine).toBeLessThanOrEqual(theirs + 1e-7);
        if (theirs < 1) {
          expect(theirs - mine).toBeLessThan(0.15);
          met++;
        }
      }),
      { numRuns: 300 },
    );
    expect(met).toBeGreaterThan(60);
  });
});

describe('a flat face', () => {
  /** A rectangle of two triangles in the plane z = 1, seen from +z, turned counter-clockwise about its middle. */
  const rectangle = (cx: number, cy: number, w: number, h: number, turn: number): number[] => {
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
    const at = (u: number, v: number): P => [cx + u * w * cos - v * h * sin, cy + u * w * sin + v * h * cos, 1];
    const [a, b, c, d] = [at(-0.5, -0.5), at(0.5, -0.5), at(0.5, 0.5), at(-0.5, 0.5)];
    return [...a, ...b, ...c, ...a, ...c, ...d];
  };
  it('is found with its size, its middle and its turn, whatever lies beside it', () => {
    const turn = 0.2;
    const all = [
      ...rectangle(0.5, 1, 1.2, 0.8, turn),
      // In the same plane, and apart from it; and in another plane.
      ...rectangle(5, 1, 1, 1, 0),
      ...rectangle(0.5, 1, 4, 4, 0).map((v, k) => (k % 3 === 2 ? 0.5 : v)),
    ];
    const face = faceAt(all, [0.6, 1.1, 1], [0, 0, 1]);
    expect(face).toMatchObject({
      widthM: expect.closeTo(1.2, 9),
      heightM: expect.closeTo(0.8, 9),
      turnDeg: expect.closeTo((-turn * 180) / Math.PI, 2),
    });
    expect(face?.centre).toEqual([expect.closeTo(0.5, 9), expect.closeTo(1, 9), 1]);
  });
  it('is one from behind, too; and none where what is flat is no rectangle, or was missed', () => {
    const triangle = [0, 0, 1, 2, 0, 1, 0, 2, 1];
    expect(faceAt(triangle, [0.3, 0.3, 1], [0, 0, 1])).toBeNull();
    expect(faceAt(rectangle(0, 0, 1, 1, 0), [0, 0, 1], [0, 0, -1])).toMatchObject({ widthM: expect.closeTo(1, 9) });
    expect(faceAt(rectangle(0, 0, 1, 1, 0), [3, 0, 1], [0, 0, 1])).toBeNull();
  });
});
