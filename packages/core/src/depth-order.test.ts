/** The painter's order, against a plain stable sort. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeDepthSorter, sortFarthestFirst } from './depth-order.ts';
import { sameValue } from './feed-value.ts';
import { At } from './frame.ts';

describe('depth order', () => {
  it('is by falling depth, ties by row, for few and for many (property)', () => {
    // Whole numbers of eighths: many ties, and the same in single precision.
    const depths = fc.array(fc.integer({ min: 1, max: 400 }), { minLength: 1, maxLength: 300 });
    fc.assert(
      fc.property(depths, (all) => {
        const places = new Float64Array(all.length * At.Stride);
        all.forEach((depth, k) => {
          places[k * At.Stride + At.DepthM] = depth / 8;
        });
        const order = Uint32Array.from(all, (_, k) => k);
        sortFarthestFirst(order, all.length, places, makeDepthSorter(all.length));
        const plain = all.map((_, k) => k).sort((a, b) => (all[b] as number) - (all[a] as number) || a - b);
        expect([...order]).toEqual(plain);
      }),
    );
  });
});

describe('values of feeds', () => {
  it('are the same where a game would say so', () => {
    expect(sameValue(['a', 'b'], ['a', 'b'])).toBe(true);
    expect(sameValue(['a'], ['a', 'b'])).toBe(false);
    expect(sameValue({ number: 1, place: [0, 0, 0] }, { number: 1, place: [0, 0, 0] })).toBe(true);
    expect(sameValue({ number: 1, place: [0, 0, 0] }, { number: 2, place: [0, 0, 0] })).toBe(false);
    expect(sameValue(0, false)).toBe(false);
  });
});
