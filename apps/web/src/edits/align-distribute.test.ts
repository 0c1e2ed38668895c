import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { alignBoxes, SIDES, type Side, spreadBoxes } from './align-distribute.ts';
import { nearestPin, type Rect, snap } from './snap.ts';

const box = fc
  .tuple(
    fc.integer({ min: -500, max: 500 }),
    fc.integer({ min: -500, max: 500 }),
    fc.integer({ min: 1, max: 200 }),
    fc.integer({ min: 1, max: 200 }),
  )
  .map(([left, top, w, h]): Rect => ({ left, top, right: left + w, bottom: top + h }));
const boxes = fc.array(box, { minLength: 2, maxLength: 8 });
const moved = ({ left, top, right, bottom }: Rect, [dx, dy]: [number, number]): Rect => ({
  left: left + dx,
  top: top + dy,
  right: right + dx,
  bottom: bottom + dy,
});

describe('several boxes', () => {
  it('put in line, have that side where the first has it, and move no other way', () => {
    fc.assert(
      fc.property(boxes, fc.constantFrom(...(Object.keys(SIDES) as Side[])), (all, side) => {
        const read: Record<Side, (b: Rect) => number> = {
          left: (b) => b.left,
          right: (b) => b.right,
          centre: (b) => (b.left + b.right) / 2,
          top: (b) => b.top,
          bottom: (b) => b.bottom,
          middle: (b) => (b.top + b.bottom) / 2,
        };
        const moves = alignBoxes(all, side);
        expect(moves[0]).toEqual([0, 0]);
        all.forEach((one, k) => {
          expect(read[side](moved(one, moves[k] as [number, number]))).toBeCloseTo(read[side](all[0] as Rect), 9);
          expect(moves[k]?.[['left', 'centre', 'right'].includes(side) ? 1 : 0]).toBe(0);
        });
      }),
    );
  });
  it('spread, have as much room between each and the next, the outermost staying', () => {
    fc.assert(
      fc.property(fc.array(box, { minLength: 3, maxLength: 8 }), fc.boolean(), (all, across) => {
        const moves = spreadBoxes(all, across);
        const [from, to] = across ? (['left', 'right'] as const) : (['top', 'bottom'] as const);
        const after = all.map((one, k) => moved(one, moves[k] as [number, number]));
        const middle = (b: Rect) => b[from] + b[to];
        const order = all.map((_, k) => k).sort((a, b) => middle(all[a] as Rect) - middle(all[b] as Rect));
        expect(moves[order[0] as number]).toEqual([0, 0]);
        expect(moves[order.at(-1) as number]).toEqual([0, 0]);
        const gaps = order.slice(1).map((k, i) => (after[k] as Rect)[from] - (after[order[i] as number] as Rect)[to]);
        for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0] as number, 6);
      }),
    );
  });
  it('of two there is nothing to spread', () => {
    expect(
      spreadBoxes(
        [
          { left: 0, top: 0, right: 1, bottom: 1 },
          { left: 9, top: 9, right: 10, bottom: 10 },
        ],
        true,
      ),
    ).toEqual([
      [0, 0],
      [0, 0],
    ]);
  });
});

describe('a dragged box', () => {
  it('comes to lie on a line within reach, and stays where none is', () => {
    const target = { left: 100, top: 100, right: 200, bottom: 200 };
    expect(snap({ left: 203, top: 300, right: 233, bottom: 330 }, [target], 6)).toEqual({
      dx: -3,
      dy: 0,
      guides: [{ axis: 'x', at: 200 }],
    });
    expect(snap({ left: 260, top: 300, right: 290, bottom: 330 }, [target], 6)).toEqual({ dx: 0, dy: 0, guides: [] });
    // Centre upon centre.
    expect(snap({ left: 138, top: 300, right: 158, bottom: 330 }, [target], 6)).toMatchObject({ dx: 2, guides: [{ axis: 'x', at: 150 }] });
  });
  it('never moves farther than its reach, and never to a line farther than another', () => {
    fc.assert(
      fc.property(box, boxes, fc.integer({ min: 1, max: 30 }), (one, targets, reach) => {
        const { dx, dy, guides } = snap(one, targets, reach);
        expect(Math.abs(dx)).toBeLessThanOrEqual(reach);
        expect(Math.abs(dy)).toBeLessThanOrEqual(reach);
        const offs = targets.flatMap((t) =>
          [t.left, (t.left + t.right) / 2, t.right].flatMap((at) =>
            [one.left, (one.left + one.right) / 2, one.right].map((own) => at - own),
          ),
        );
        const nearest = Math.min(...offs.map(Math.abs));
        if (guides.some(({ axis }) => axis === 'x')) expect(Math.abs(dx)).toBeCloseTo(nearest, 9);
        else expect(nearest).toBeGreaterThan(reach);
      }),
    );
  });
  it('is nearest to one of nine pins', () => {
    expect([nearestPin(0.1, 0.9), nearestPin(0.5, 0.5), nearestPin(0.7, 0.2)]).toEqual([
      [0, 1],
      [0.5, 0.5],
      [1, 0],
    ]);
  });
});
