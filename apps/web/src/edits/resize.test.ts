import { extentOf } from '@foreshore/core';
import { barForm, type Element, insideOf, makeGauge, makeGroup, makePicture, makeText, onGlass, ringForm } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Handle, handlesOf, resizedBy } from './resize.ts';

const side = fc.constantFrom(-1, 0, 1) as fc.Arbitrary<-1 | 0 | 1>;
const handle = fc.tuple(side, side).filter(([x, y]) => x !== 0 || y !== 0) as fc.Arbitrary<Handle>;
const share = fc.constantFrom(0, 0.25, 0.5, 1);

/** Edges from the pin at 0, 0: left, top, right, bottom. */
function edges(element: Element): [number, number, number, number] {
  const [w, h] = extentOf(element);
  const { ownPoint, offsetPx } = element.place;
  const [left, top] = [offsetPx[0] - ownPoint[0] * w, offsetPx[1] - ownPoint[1] * h];
  return [left, top, left + w, top + h];
}

describe('resizing by a handle', () => {
  it('moves the dragged edges by the drag and leaves the opposite ones where they are (property)', () => {
    fc.assert(
      fc.property(
        handle,
        fc.tuple(share, share),
        fc.integer({ min: -90, max: 400 }),
        fc.integer({ min: -90, max: 400 }),
        (by, ownPoint, dx, dy) => {
          const made = makePicture(onGlass([0, 0]), 'Chart', null, 100, 100, 'a0');
          const before = {
            ...made,
            place: { ...made.place, ownPoint: ownPoint as [number, number], offsetPx: [40, 30] as [number, number] },
          };
          const after = resizedBy(before, [100, 100], by, [by[0] * dx, by[1] * dy], true);
          const [from, to] = [edges(before), edges(after)];
          for (const k of [0, 1] as const) {
            const grown = by[k] === 0 ? 0 : k === 0 ? dx : dy;
            expect((to[k] as number) - (from[k] as number)).toBeCloseTo(by[k] < 0 ? -grown : 0, 2);
            expect((to[k + 2] as number) - (from[k + 2] as number)).toBeCloseTo(by[k] > 0 ? grown : 0, 2);
          }
        },
      ),
    );
  });
  it('follows a turned element along its own axes', () => {
    const made = { ...makeGauge(onGlass([0, 0]), 'Warmth', null, barForm(), 'a0'), turnDeg: 90 };
    const [w, h] = extentOf(made);
    // Turned by a quarter clockwise, its right edge points down.
    expect(extentOf(resizedBy(made, [w, h], [1, 0], [0, 60], true))).toEqual([w + 60, h]);
  });
  it('keeps a ring round, and gives a group only the length that is dragged', () => {
    const ring = makeGauge(onGlass([0, 0]), 'Lamp', null, ringForm(), 'a0');
    const [d] = extentOf(ring);
    const wider = resizedBy(ring, [d, d], [1, 1], [30, 10], true);
    expect(extentOf(wider)).toEqual([d + 30, d + 30]);
    const group = makeGroup(insideOf('row'), 'Board', 'column', 'a0');
    const after = resizedBy({ ...group, layout: { ...group.layout, widthPx: null, heightPx: null } }, [200, 80], [1, 0], [25, 99], false);
    expect(after.kind === 'group' && [after.layout.widthPx, after.layout.heightPx]).toEqual([225, null]);
    expect(after.place).toEqual(group.place);
  });
  it('has the handles that mean something', () => {
    const text = makeText(onGlass([0, 0]), 'Tide', 'a0');
    expect(handlesOf(text)).toEqual([]);
    expect(handlesOf({ ...text, room: { widthPx: 200, lines: 2, over: 'cut', leastShare: 0.5 } })).toEqual([
      [1, 0],
      [-1, 0],
    ]);
    expect(handlesOf(makePicture(onGlass([0, 0]), 'Chart', null, 9, 9, 'a0'))).toHaveLength(8);
  });
});
