/**
 * What of a level lies in the pyramid from an eye to a parallelogram, as far as that needs to know: how near to the eye anything
 * comes in it. Exact: triangles are cut at the pyramid's sides.
 *
 * With the eye E, the corner O of the parallelogram as seen from E, and its two edges R and D, every point is
 * `E + s·O + a·R + b·D`. In (s, a, b) the pyramid is 0 ≤ a ≤ s, 0 ≤ b ≤ s: s is the share of the way to the parallelogram.
 */
/** Three functionals of a point, s, a and b, four numbers each: `c·p + k`. */
export type Functionals = Float64Array;

/** @param corners top left, top right and bottom left of the parallelogram, nine numbers. False where the pyramid has no volume. */
export function pyramidInto(out: Functionals, ex: number, ey: number, ez: number, corners: ArrayLike<number>): boolean {
  const of = (k: number) => corners[k] as number;
  const [ox, oy, oz] = [of(0) - ex, of(1) - ey, of(2) - ez];
  const [rx, ry, rz] = [of(3) - of(0), of(4) - of(1), of(5) - of(2)];
  const [dx, dy, dz] = [of(6) - of(0), of(7) - of(1), of(8) - of(2)];
  // The rows of the inverse of the matrix with the columns O, R, D are cross products over its determinant.
  out[0] = ry * dz - rz * dy;
  out[1] = rz * dx - rx * dz;
  out[2] = rx * dy - ry * dx;
  out[4] = dy * oz - dz * oy;
  out[5] = dz * ox - dx * oz;
  out[6] = dx * oy - dy * ox;
  out[8] = oy * rz - oz * ry;
  out[9] = oz * rx - ox * rz;
  out[10] = ox * ry - oy * rx;
  const det = ox * (out[0] as number) + oy * (out[1] as number) + oz * (out[2] as number);
  if (!(Math.abs(det) > 1e-30)) return false;
  for (let k = 0; k < 11; k++) out[k] = (out[k] as number) / det;
  for (let f = 0; f < 3; f++)
    out[f * 4 + 3] = -((out[f * 4] as number) * ex + (out[f * 4 + 1] as number) * ey + (out[f * 4 + 2] as number) * ez);
  return true;
}

/** The same functionals for points in the space of a node, by its matrix to the world. */
export function intoNode(out: Functionals, from: Functionals, m: ArrayLike<number>, at: number): void {
  const e = (k: number) => m[at + k] as number;
  for (let f = 0; f < 12; f += 4) {
    const [x, y, z, w] = [from[f] as number, from[f + 1] as number, from[f + 2] as number, from[f + 3] as number];
    for (let k = 0; k < 3; k++) out[f + k] = x * e(k * 4) + y * e(k * 4 + 1) + z * e(k * 4 + 2);
    out[f + 3] = w + x * e(12) + y * e(13) + z * e(14);
  }
}

/** The greatest and the least value of α·s + β·a + γ·b over a box, of which `most` tells which. */
function bound(f: Functionals, alpha: number, beta: number, gamma: number, box: Float32Array, at: number, most: boolean): number {
  let sum = alpha * (f[3] as number) + beta * (f[7] as number) + gamma * (f[11] as number);
  for (let k = 0; k < 3; k++) {
    const c = alpha * (f[k] as number) + beta * (f[4 + k] as number) + gamma * (f[8 + k] as number);
    sum += c * (box[at + (c > 0 === most ? 3 : 0) + k] as number);
  }
  return sum;
}

/** Whether a box may hold a point of the pyramid with an s below `best`. */
export const mayHold = (f: Functionals, box: Float32Array, at: number, best: number): boolean =>
  bound(f, 0, 1, 0, box, at, true) >= 0 &&
  bound(f, 1, -1, 0, box, at, true) >= 0 &&
  bound(f, 0, 0, 1, box, at, true) >= 0 &&
  bound(f, 1, 0, -1, box, at, true) >= 0 &&
  bound(f, 1, 0, 0, box, at, true) >= 0 &&
  bound(f, 1, 0, 0, box, at, false) < best;

let now = new Float64Array(3 * 16);
let next = new Float64Array(3 * 16);
let count = 0;

/** Keeps what lies where α·s + β·a + γ·b ≥ 0 (Sutherland and Hodgman 1974). */
function keep(alpha: number, beta: number, gamma: number): void {
  let n = 0;
  for (let i = 0; i < count; i++) {
    const p = i * 3;
    const q = ((i + 1) % count) * 3;
    const d0 = alpha * (now[p] as number) + beta * (now[p + 1] as number) + gamma * (now[p + 2] as number);
    const d1 = alpha * (now[q] as number) + beta * (now[q + 1] as number) + gamma * (now[q + 2] as number);
    if (d0 >= 0) {
      for (let k = 0; k < 3; k++) next[n * 3 + k] = now[p + k] as number;
      n++;
    }
    if (d0 >= 0 === d1 >= 0) continue;
    const t = d0 / (d0 - d1);
    for (let k = 0; k < 3; k++) next[n * 3 + k] = (now[p + k] as number) + ((now[q + k] as number) - (now[p + k] as number)) * t;
    n++;
  }
  [now, next] = [next, now];
  count = n;
}

/** The least s of what of a triangle lies in the pyramid; infinite where nothing does. @param c where its nine numbers begin. */
export function leastOf(f: Functionals, corners: Float32Array, c: number): number {
  for (let i = 0; i < 3; i++)
    for (let k = 0; k < 3; k++)
      now[i * 3 + k] =
        (f[k * 4] as number) * (corners[c + i * 3] as number) +
        (f[k * 4 + 1] as number) * (corners[c + i * 3 + 1] as number) +
        (f[k * 4 + 2] as number) * (corners[c + i * 3 + 2] as number) +
        (f[k * 4 + 3] as number);
  count = 3;
  keep(0, 1, 0);
  if (count > 0) keep(1, -1, 0);
  if (count > 0) keep(0, 0, 1);
  if (count > 0) keep(1, 0, -1);
  let least = Number.POSITIVE_INFINITY;
  for (let i = 0; i < count; i++) least = Math.min(least, now[i * 3] as number);
  return least;
}
