/** The edges that show the shape of a mesh. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sharpEdges } from './surface.ts';

type V = [number, number, number];
/** Two triangles from four corners in turn. */
const quad = (a: V, b: V, c: V, d: V): number[] => [a, b, c, a, c, d].flat();
const lengthOf = (edges: Float64Array): number => {
  let sum = 0;
  for (let k = 0; k < edges.length; k += 6)
    sum += Math.hypot(
      (edges[k + 3] as number) - (edges[k] as number),
      (edges[k + 4] as number) - (edges[k + 1] as number),
      (edges[k + 5] as number) - (edges[k + 2] as number),
    );
  return sum;
};

/** A box about the origin, each side cut into n by n squares. */
function box([a, b, c]: V, n: number): Float32Array {
  const out: number[] = [];
  const half: V = [a / 2, b / 2, c / 2];
  for (const axis of [0, 1, 2])
    for (const side of [-1, 1])
      for (let i = 0; i < n; i++)
        for (let j = 0; j < n; j++) {
          const at = (u: number, v: number): V => {
            const p: V = [0, 0, 0];
            p[axis] = side * (half[axis] as number);
            p[(axis + 1) % 3] = ((2 * (i + u)) / n - 1) * (half[(axis + 1) % 3] as number);
            p[(axis + 2) % 3] = ((2 * (j + v)) / n - 1) * (half[(axis + 2) % 3] as number);
            return p;
          };
          // Outwards, whichever the side.
          const ring: [V, V, V, V] = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
          out.push(...(side > 0 ? quad(...ring) : quad(ring[0], ring[3], ring[2], ring[1])));
        }
  return Float32Array.from(out);
}

describe('sharp edges', () => {
  it('of a box, however finely it is cut, are its twelve edges (property)', () => {
    const side = fc.double({ min: 0.1, max: 20, noNaN: true });
    fc.assert(
      fc.property(side, side, side, fc.integer({ min: 1, max: 4 }), (a, b, c, n) => {
        const edges = sharpEdges(box([a, b, c], n));
        expect(edges.length / 6).toBe(12 * n);
        expect(lengthOf(edges)).toBeCloseTo(4 * (a + b + c), 4);
      }),
      { numRuns: 60 },
    );
  });
  it('of a smooth dome are its rim alone', () => {
    const out: number[] = [];
    const at = (ring: number, k: number): V => {
      const [up, round] = [(ring * Math.PI) / 16, (k * Math.PI) / 12];
      return [Math.sin(up) * Math.cos(round), Math.cos(up), Math.sin(up) * Math.sin(round)];
    };
    for (let ring = 0; ring < 8; ring++)
      for (let k = 0; k < 24; k++) out.push(...quad(at(ring, k), at(ring + 1, k), at(ring + 1, k + 1), at(ring, k + 1)));
    const edges = sharpEdges(Float32Array.from(out));
    // A polygon of 24 sides in a circle of radius 1.
    expect(lengthOf(edges)).toBeCloseTo(48 * Math.sin(Math.PI / 24), 6);
    for (let k = 1; k < edges.length; k += 3) expect(edges[k]).toBeCloseTo(0, 9);
  });
  it('of a single triangle are its sides; of one without area there are none', () => {
    expect(sharpEdges(Float32Array.from([0, 0, 0, 3, 0, 0, 0, 4, 0])).length / 6).toBe(3);
    expect(sharpEdges(Float32Array.from([0, 0, 0, 1, 0, 0, 2, 0, 0])).length).toBe(0);
  });
});
