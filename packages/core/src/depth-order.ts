/**
 * Painter's order: the farthest first, ties by row, so that the same frame always paints the same way.
 *
 * Depths become 32-bit keys that sort as unsigned integers (the bits of a positive float rise with its value);
 * three passes of a least-significant-digit radix sort, 11 bits each, put them in order without comparing.
 */
import { At } from './frame.ts';

const floats = new Float32Array(1);
const bits = new Uint32Array(floats.buffer);
const DIGITS = 2048;
const histogram = new Uint32Array(DIGITS);

export interface DepthSorter {
  keys: Uint32Array;
  spare: Uint32Array;
  spareKeys: Uint32Array;
}
export const makeDepthSorter = (count: number): DepthSorter => ({
  keys: new Uint32Array(count),
  spare: new Uint32Array(count),
  spareKeys: new Uint32Array(count),
});

function pass(from: Uint32Array, fromKeys: Uint32Array, to: Uint32Array, toKeys: Uint32Array, n: number, shift: number): void {
  histogram.fill(0);
  for (let k = 0; k < n; k++) {
    const digit = ((fromKeys[k] as number) >>> shift) & (DIGITS - 1);
    histogram[digit] = (histogram[digit] as number) + 1;
  }
  let sum = 0;
  for (let d = 0; d < DIGITS; d++) {
    const here = histogram[d] as number;
    histogram[d] = sum;
    sum += here;
  }
  for (let k = 0; k < n; k++) {
    const key = fromKeys[k] as number;
    const digit = (key >>> shift) & (DIGITS - 1);
    const slot = histogram[digit] as number;
    histogram[digit] = slot + 1;
    to[slot] = from[k] as number;
    toKeys[slot] = key;
  }
}

/** Below this a plain insertion is quicker than three passes over the histogram. */
const FEW = 64;

/** Sorts the elements listed in `order[0..n)` by falling depth. */
export function sortFarthestFirst(order: Uint32Array, n: number, places: Float64Array, sorter: DepthSorter): void {
  const { keys, spare, spareKeys } = sorter;
  for (let k = 0; k < n; k++) {
    floats[0] = places[(order[k] as number) * At.Stride + At.DepthM] as number;
    keys[k] = ~(bits[0] as number);
  }
  if (n <= FEW) {
    for (let k = 1; k < n; k++) {
      const row = order[k] as number;
      const key = keys[k] as number;
      let j = k - 1;
      for (; j >= 0 && (keys[j] as number) > key; j--) {
        order[j + 1] = order[j] as number;
        keys[j + 1] = keys[j] as number;
      }
      order[j + 1] = row;
      keys[j + 1] = key;
    }
    return;
  }
  pass(order, keys, spare, spareKeys, n, 0);
  pass(spare, spareKeys, order, keys, n, 11);
  pass(order, keys, spare, spareKeys, n, 22);
  for (let k = 0; k < n; k++) order[k] = spare[k] as number;
}
