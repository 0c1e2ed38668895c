/** A picture on a panel, in triangles: its grid as it is seen, each half of a cell by the plain map of its three corners. */
import type { PictureItem } from '@foreshore/core';

type Point = readonly [number, number];

export interface MeshTriangle {
  corners: readonly [Point, Point, Point];
  /** From the picture's own pixels to the screen: x' = a x + c y + e, y' = b x + d y + f. */
  matrix: [a: number, b: number, c: number, d: number, e: number, f: number];
}

/** The corner of each half of a cell at its right angle, and those along x and along y. */
const HALVES = [
  [0, 0, 1, 0, 0, 1],
  [1, 1, 0, 1, 1, 0],
] as const;

/** @param kx, ky pixels of the picture as it was decoded for one of those that `from` is given in. */
export function meshTriangles({ from, mesh }: Pick<PictureItem, 'from' | 'mesh'>, kx = 1, ky = 1): MeshTriangle[] {
  if (!mesh) return [];
  const { columns, rows, points } = mesh;
  const [sx, sy, sw, sh] = from;
  const at = (i: number, j: number): Point => {
    const k = (j * (columns + 1) + i) * 2;
    return [points[k] as number, points[k + 1] as number];
  };
  const out: MeshTriangle[] = [];
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++)
      for (const [di, dj, ei, ej, fi, fj] of HALVES) {
        const [p, q, r] = [at(i + di, j + dj), at(i + ei, j + ej), at(i + fi, j + fj)];
        const [u, v] = [(sx + (sw * (i + di)) / columns) * kx, (sy + (sh * (j + dj)) / rows) * ky];
        const [su, sv] = [((ei - di) * sw * kx) / columns, ((fj - dj) * sh * ky) / rows];
        const [a, b, c, d] = [(q[0] - p[0]) / su, (q[1] - p[1]) / su, (r[0] - p[0]) / sv, (r[1] - p[1]) / sv];
        out.push({ corners: [p, q, r], matrix: [a, b, c, d, p[0] - a * u - c * v, p[1] - b * u - d * v] });
      }
  return out;
}
