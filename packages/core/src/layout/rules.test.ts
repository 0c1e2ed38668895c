/** The rules of layout that `tree.ts` states, each at a corner where two of them meet. Boxes are worked out by hand. */
import {
  type Document,
  type Element,
  type Group,
  insideOf,
  makeDocument,
  makeGauge,
  makeGroup,
  makeSlider,
  makeToggle,
  onGlass,
} from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange.ts';
import { compile } from '../compile.ts';
import { placeOf } from '../frame.ts';
import { plainText as text } from '../sample.ts';
import { makeSolver, type Solver, solve } from '../solve.ts';

function solved(elements: Record<string, Element>): Solver {
  const document: Document = { ...makeDocument('Low Water'), elements };
  const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
  solve(solver, { timeS: 0, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true });
  return solver;
}
const rectOf = (solver: Solver, id: string) => placeOf(solver.f, solver.c.ids.indexOf(id)).rect.map((v) => Math.round(v * 1e6) / 1e6);

const box = (group: string, widthPx: number, heightPx: number, order: string, stretch: [boolean, boolean] = [false, false]): Element => ({
  ...makeGauge(insideOf(group), 'Box', null, { kind: 'bar', widthPx, heightPx, towards: 'right', radiusPx: 0 }, order),
  mount: { kind: 'inside', group, pin: [0, 0], stretch },
});
const group = (into: string | null, direction: Group['layout']['direction'], layout: Partial<Group['layout']> = {}): Group => {
  const made = makeGroup(into === null ? onGlass([0, 0]) : insideOf(into), 'Tray', direction, 'a0');
  return {
    ...made,
    ...(into === null && { mount: { kind: 'glass', within: 'screen', pin: [0, 0], stretch: [false, false] } }),
    layout: { ...made.layout, padPx: [0, 0, 0, 0], gapPx: 5, align: 'start', ...layout },
  };
};
const boxes = (into: string, sizes: [number, number][]): Record<string, Element> =>
  Object.fromEntries(sizes.map(([w, h], k) => [`m${k + 1}`, box(into, w, h, `b${k}`)]));
const PADDED: [number, number, number, number] = [10, 20, 30, 40];

describe('equal lengths in a row that wraps', () => {
  it('are those of the longest member of all lines', () => {
    // Inside: 170 − 40 = 130 px; two of 60 with a gap of 5 fit.
    const tray = group(null, 'row', { padPx: PADDED, widthPx: 170, wrap: true, equal: true });
    const solver = solved({
      tray,
      ...boxes('tray', [
        [40, 10],
        [60, 10],
        [20, 10],
        [30, 10],
      ]),
    });
    expect(['m1', 'm2', 'm3', 'm4'].map((id) => rectOf(solver, id))).toEqual([
      [10, 20, 60, 10],
      [75, 20, 60, 10],
      [10, 35, 60, 10],
      [75, 35, 60, 10],
    ]);
    expect(rectOf(solver, 'tray')).toEqual([0, 0, 170, 20 + 10 + 5 + 10 + 40]);
  });
});

describe('a row that wraps', () => {
  it('is as high as its lines need where a column stretches it to less than it wanted', () => {
    const solver = solved({
      tray: group(null, 'column', { widthPx: 150, align: 'stretch' }),
      line: group('tray', 'row', { wrap: true }),
      below: box('tray', 10, 10, 'c0'),
      ...boxes('line', [
        [60, 10],
        [60, 10],
        [60, 10],
      ]),
    });
    // 190 px in one line; in 150 px two and one.
    expect(rectOf(solver, 'line')).toEqual([0, 0, 150, 25]);
    expect(rectOf(solver, 'm3')).toEqual([0, 15, 60, 10]);
    expect(rectOf(solver, 'below').slice(0, 2)).toEqual([0, 30]);
    expect(rectOf(solver, 'tray')).toEqual([0, 0, 150, 40]);
  });

  it('breaks by its least size where that is more than its fixed one', () => {
    // A column of 100 px, whatever its fixed 50 say: inside 40, so two of 15 with a gap of 5, and the third beside them.
    const tray = group(null, 'column', { padPx: PADDED, heightPx: 50, leastPx: [0, 100], wrap: true });
    const solver = solved({
      tray,
      ...boxes('tray', [
        [30, 15],
        [30, 15],
        [30, 15],
      ]),
    });
    expect(rectOf(solver, 'tray')).toEqual([0, 0, 10 + 30 + 5 + 30 + 30, 100]);
    expect(rectOf(solver, 'm3')).toEqual([45, 20, 30, 15]);
  });
});

describe('sizes', () => {
  it('of what is inside are never negative, however much padding there is', () => {
    const tray = group(null, 'row', { padPx: PADDED, widthPx: 20, heightPx: 20, align: 'stretch' });
    const solver = solved({ tray, m1: box('tray', 50, 10, 'b0', [true, true]) });
    expect(rectOf(solver, 'tray')).toEqual([0, 0, 20, 20]);
    // Along the row it keeps what it needs; across there is nothing to stretch over.
    expect(rectOf(solver, 'm1').slice(2)).toEqual([50, 0]);
  });

  it.each([
    ['toggle', (order: string) => makeToggle(onGlass([0, 0]), 'Lamp', null, order)],
    ['slider', (order: string) => makeSlider(onGlass([0, 0]), 'Wind', null, order)],
  ] as const)('of a %s on the HUD go by its own size', (_, make) => {
    const at = (emPx: number) =>
      rectOf(solved({ it: { ...make('a0'), size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 } } as Element }), 'it').slice(2);
    const [w, h] = at(1) as [number, number];
    expect(w).toBeGreaterThan(10);
    expect(at(2)).toEqual([2 * w, 2 * h]);
    expect(at(0.5)).toEqual([w / 2, h / 2]);
  });

  it('keep to the greatest size where they are stretched, at the alignment', () => {
    const inside = (align: Group['layout']['align']) => {
      const solver = solved({
        tray: group(null, 'column', { widthPx: 200, align }),
        card: group('tray', 'row', { greatestPx: [80, 1000] }),
        m1: box('card', 30, 10, 'b0'),
      });
      return rectOf(solver, 'card');
    };
    expect(inside('stretch')).toEqual([0, 0, 80, 10]);
    expect(inside('end')).toEqual([170, 0, 30, 10]);
  });
});

describe('a free group without a size', () => {
  it('leaves a stretched member its offset at both sides, and a pinned one at one', () => {
    const tray = group(null, 'free', { padPx: PADDED, widthPx: null, heightPx: null });
    const one = { ...box('tray', 40, 10, 'b0', [true, false]) };
    const m1 = { ...one, place: { ...one.place, offsetPx: [12, 6] as [number, number] } } as Element;
    const solver = solved({ tray, m1 });
    expect(rectOf(solver, 'tray')).toEqual([0, 0, 10 + 12 + 40 + 12 + 30, 20 + 6 + 10 + 40]);
    expect(rectOf(solver, 'm1')).toEqual([22, 26, 40, 10]);
  });
});
