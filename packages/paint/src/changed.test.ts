/** What two draw lists differ in, against the pixels in which pictures of them differ. */
import type { DrawItem, DrawList } from '@foreshore/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changedBox, within } from './changed.ts';

const [WIDTH, HEIGHT] = [80, 60];
const listOf = (items: DrawItem[]): DrawList => ({ space: 'screen', widthPx: 2 * WIDTH, heightPx: 2 * HEIGHT, items });
const plate = (x: number, y: number, width: number, height: number, colour: string): DrawItem => ({
  kind: 'plate',
  element: 'board',
  x,
  y,
  width,
  height,
  radius: 0,
  colour,
  opacity: 1,
});

/** A picture of plates at half size: the colour of the front-most at the middle of each pixel. */
function painted({ items }: DrawList): string[] {
  return Array.from({ length: WIDTH * HEIGHT }, (_, at) => {
    const [x, y] = [((at % WIDTH) + 0.5) * 2, (Math.floor(at / WIDTH) + 0.5) * 2];
    const front = items.findLast(
      (one) => one.kind === 'plate' && x >= one.x && x < one.x + one.width && y >= one.y && y < one.y + one.height,
    );
    return front?.kind === 'plate' ? front.colour : '';
  });
}

const item = fc
  .tuple(
    fc.integer({ min: -20, max: 150 }),
    fc.integer({ min: -20, max: 110 }),
    fc.integer({ min: 1, max: 60 }),
    fc.integer({ min: 1, max: 40 }),
    fc.constantFrom('#111111', '#222222', '#333333'),
  )
  .map(([x, y, w, h, colour]) => plate(x, y, w, h, colour));

describe('what is painted anew', () => {
  it('holds every pixel that is another, and painting only what is in it gives the same picture (property)', () => {
    fc.assert(
      fc.property(
        fc.array(item, { maxLength: 12 }),
        fc.array(fc.tuple(fc.nat(), fc.constantFrom('change', 'drop', 'add'), item), { maxLength: 3 }),
        (first, edits) => {
          const second = [...first];
          for (const [at, how, other] of edits) {
            const k = second.length > 0 ? at % second.length : 0;
            if (how === 'add') second.splice(k, 0, other);
            else if (how === 'drop') second.splice(k, 1);
            else if (second.length > 0) second[k] = other;
          }
          const [before, after] = [listOf(first), listOf(second.map((one) => ({ ...one })))];
          const box = changedBox(before, after, 0.5, WIDTH, HEIGHT);
          if (!box) throw new Error('Plates have bounds.');
          const part = within(after, box, 0.5);
          if (!part) throw new Error('Plates have bounds.');
          const [was, is, again] = [painted(before), painted(after), painted(part)];
          const wrong = is.findIndex((colour, at) => {
            const [x, y] = [at % WIDTH, Math.floor(at / WIDTH)];
            const inside = x >= box.x && x < box.x + box.width && y >= box.y && y < box.y + box.height;
            return (inside ? again[at] : was[at]) !== colour;
          });
          expect(wrong).toBe(-1);
        },
      ),
      { numRuns: 300 },
    );
  });
  it('is nowhere where nothing is another, and not told where something is moved or cut as a whole', () => {
    const list = listOf([plate(0, 0, 10, 10, '#111111')]);
    expect(changedBox(list, listOf([plate(0, 0, 10, 10, '#111111')]), 1, WIDTH, HEIGHT)).toEqual({ x: 0, y: 0, width: 0, height: 0 });
    const clip: DrawItem = { kind: 'clip', element: 'board', x: 0, y: 0, width: 5, height: 5, radius: 0 };
    expect(changedBox(list, listOf([...list.items, clip]), 1, WIDTH, HEIGHT)).toBeNull();
    expect(within(listOf([clip, ...list.items]), { x: 0, y: 0, width: 9, height: 9 }, 1)).toBeNull();
  });
});
