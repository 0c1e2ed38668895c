/** Where a dragged box comes to rest, against trying every pair of lines. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nearestPin, type Rect, snap } from './snap.ts';

const at = fc.integer({ min: 0, max: 400 });
const rect: fc.Arbitrary<Rect> = fc
  .tuple(at, at, fc.integer({ min: 1, max: 120 }), fc.integer({ min: 1, max: 120 }))
  .map(([left, top, w, h]) => ({ left, top, right: left + w, bottom: top + h }));

describe('snapping', () => {
  it('moves a box by the least way to a line of another, and not beyond the reach (property)', () => {
    fc.assert(
      fc.property(rect, fc.array(rect, { maxLength: 4 }), fc.integer({ min: 0, max: 12 }), (box, others, within) => {
        const { dx, dy, guides } = snap(box, others, within);
        const ways = (from: 'left' | 'top', to: 'right' | 'bottom') => {
          const lines = (r: Rect) => [r[from], (r[from] + r[to]) / 2, r[to]];
          return others.flatMap((other) => lines(other).flatMap((line) => lines(box).map((own) => line - own)));
        };
        for (const [move, all, axis] of [
          [dx, ways('left', 'right'), 'x'],
          [dy, ways('top', 'bottom'), 'y'],
        ] as const) {
          const reachable = all.filter((way) => Math.abs(way) <= within).map(Math.abs);
          if (reachable.length === 0) {
            expect(move).toBe(0);
            expect(guides.some((guide) => guide.axis === axis)).toBe(false);
          } else {
            expect(Math.abs(move)).toBe(Math.min(...reachable));
            // The guide is a line of another that a line of the moved box now lies on.
            const guide = guides.find((g) => g.axis === axis);
            const moved =
              axis === 'x' ? [box.left, (box.left + box.right) / 2, box.right] : [box.top, (box.top + box.bottom) / 2, box.bottom];
            expect(moved.map((v) => v + move)).toContain(guide?.at);
          }
        }
      }),
    );
  });
  it.each([
    [0.1, 0.9, [0, 1]],
    [0.5, 0.5, [0.5, 0.5]],
    [0.34, 0.66, [0.5, 0.5]],
    [0.33, 0.67, [0, 1]],
  ])('the pin nearest to %s, %s is of the nine', (u, v, pin) => {
    expect(nearestPin(u, v)).toEqual(pin);
  });
});
