/** Column-major 4x4 matrices in flat arrays. */
export function multiplyInto(out: Float64Array, o: number, a: ArrayLike<number>, ao: number, b: ArrayLike<number>, bo: number): void {
  for (let column = 0; column < 4; column++) {
    const b0 = b[bo + column * 4] as number;
    const b1 = b[bo + column * 4 + 1] as number;
    const b2 = b[bo + column * 4 + 2] as number;
    const b3 = b[bo + column * 4 + 3] as number;
    for (let row = 0; row < 4; row++)
      out[o + column * 4 + row] =
        (a[ao + row] as number) * b0 +
        (a[ao + 4 + row] as number) * b1 +
        (a[ao + 8 + row] as number) * b2 +
        (a[ao + 12 + row] as number) * b3;
  }
}

/** Translation · rotation · scale (glTF 2.0, section 3.5.3). `trs` holds 3 + 4 + 3 numbers from `t`. */
export function composeInto(out: Float64Array, o: number, trs: Float64Array, t: number): void {
  const x = trs[t + 3] as number;
  const y = trs[t + 4] as number;
  const z = trs[t + 5] as number;
  const w = trs[t + 6] as number;
  const sx = trs[t + 7] as number;
  const sy = trs[t + 8] as number;
  const sz = trs[t + 9] as number;
  out[o] = (1 - 2 * (y * y + z * z)) * sx;
  out[o + 1] = 2 * (x * y + z * w) * sx;
  out[o + 2] = 2 * (x * z - y * w) * sx;
  out[o + 3] = 0;
  out[o + 4] = 2 * (x * y - z * w) * sy;
  out[o + 5] = (1 - 2 * (x * x + z * z)) * sy;
  out[o + 6] = 2 * (y * z + x * w) * sy;
  out[o + 7] = 0;
  out[o + 8] = 2 * (x * z + y * w) * sz;
  out[o + 9] = 2 * (y * z - x * w) * sz;
  out[o + 10] = (1 - 2 * (x * x + y * y)) * sz;
  out[o + 11] = 0;
  out[o + 12] = trs[t] as number;
  out[o + 13] = trs[t + 1] as number;
  out[o + 14] = trs[t + 2] as number;
  out[o + 15] = 1;
}

/** The inverse of an affine matrix; false where it has none. */
export function invertAffine(out: Float64Array, m: ArrayLike<number>, at: number): boolean {
  const e = (i: number) => m[at + i] as number;
  const [a, b, c, d, f, g, h, i, j] = [e(0), e(4), e(8), e(1), e(5), e(9), e(2), e(6), e(10)];
  const det = a * (f * j - g * i) - b * (d * j - g * h) + c * (d * i - f * h);
  if (!(Math.abs(det) > 1e-30)) return false;
  const n = 1 / det;
  const r = [
    (f * j - g * i) * n,
    (g * h - d * j) * n,
    (d * i - f * h) * n,
    (c * i - b * j) * n,
    (a * j - c * h) * n,
    (b * h - a * i) * n,
    (b * g - c * f) * n,
    (c * d - a * g) * n,
    (a * f - b * d) * n,
  ] as const;
  out.set([r[0], r[1], r[2], 0, r[3], r[4], r[5], 0, r[6], r[7], r[8], 0]);
  out[12] = -(r[0] * e(12) + r[3] * e(13) + r[6] * e(14));
  out[13] = -(r[1] * e(12) + r[4] * e(13) + r[7] * e(14));
  out[14] = -(r[2] * e(12) + r[5] * e(13) + r[8] * e(14));
  out[15] = 1;
  return true;
}

/** From a level's file, in its unit and with its axis upwards, to the world: metres, y up. */
export function rootMatrix({ metresPerUnit: s, upAxis }: { metresPerUnit: number; upAxis: 'y' | 'z' }): Float64Array {
  // Z up to Y up: x stays, y is the old z, z is minus the old y.
  return upAxis === 'y'
    ? Float64Array.of(s, 0, 0, 0, 0, s, 0, 0, 0, 0, s, 0, 0, 0, 0, 1)
    : Float64Array.of(s, 0, 0, 0, 0, 0, -s, 0, 0, s, 0, 0, 0, 0, 0, 1);
}
