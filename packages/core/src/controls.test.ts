/** Toggles, sliders, what is off, what scrolls, what is turned. Boxes are worked out by hand on a screen of the design's own size. */
import {
  type Document,
  type Element,
  type Feed,
  insideOf,
  makeDocument,
  makeGroup,
  makeInstance,
  makePicture,
  makeSlider,
  makeText,
  makeToggle,
  onGlass,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { drawList } from './draw-list.ts';
import { placeOf } from './frame.ts';
import { actingRow, isOff, rowUnder, scrollingRow, scrollTo, stepped, turnedBack, valueSet, valueStepped } from './pointer.ts';
import { fixedText as text } from './sample.ts';
import { type Inputs, makeSolver, type Solver, solve } from './solve.ts';
import { Verdict } from './steps/names.ts';

const feed = (kind: Feed['kind'], initial: Feed['initial']): Feed => ({ name: 'Feed', order: 'a0', kind, unit: '', initial });
const documentOf = (elements: Record<string, Element>, feeds: Record<string, Feed> = {}): Document => ({
  ...makeDocument('Low Water'),
  elements,
  feeds,
});
function solved(document: Document, inputs: Partial<Inputs> = {}): Solver {
  const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
  solve(solver, { timeS: 0, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true, ...inputs });
  return solver;
}
const row = (solver: Solver, id: string) => solver.c.ids.indexOf(id);
const rect = (solver: Solver, id: string) => placeOf(solver.f, row(solver, id)).rect;

describe('a slider', () => {
  // 280 x 36 px at 100, 100: the knob's centre goes from 118 to 362, which stand for 0 and 100.
  const slider = (edit: Partial<ReturnType<typeof makeSlider>> = {}) =>
    documentOf(
      {
        wind: {
          ...makeSlider(onGlass([0, 0], [100, 100]), 'Wind', 'wind', 'a0'),
          mount: { kind: 'glass', within: 'screen', pin: [0, 0], stretch: [false, false] },
          ...edit,
        },
      },
      { wind: feed('number', 40) },
    );
  it.each([
    [118, 0],
    [240, 50],
    [362, 100],
    [100, 0],
    [900, 100],
    // 244 px for 100: at 179 px it is 25.
    [179, 25],
    [181, 25],
  ])('takes %d px as %d', (x, value) => {
    const solver = solved(slider());
    expect(valueSet(solver, 0, x, 118)).toEqual({ feed: 'wind', value });
  });
  it('counts from its foot where it is upright, and backwards where its ends are', () => {
    const upright = solved(slider({ vertical: true, widthPx: 36, heightPx: 280 }));
    expect(valueSet(upright, 0, 118, 362)?.value).toBe(0);
    expect(valueSet(upright, 0, 118, 118)?.value).toBe(100);
    const backwards = solved(slider({ empty: 100, full: 0 }));
    expect(valueSet(backwards, 0, 118, 118)?.value).toBe(100);
    expect(valueStepped(backwards, 0, 1)?.value).toBe(35);
  });
  it('stays on its steps and between its ends, and is nowhere farther from what was asked than half a step', () => {
    const bound = fc.double({ min: -500, max: 500, noNaN: true });
    fc.assert(
      fc.property(bound, bound, fc.double({ min: 0.01, max: 50, noNaN: true }), bound, (empty, full, step, asked) => {
        fc.pre(Math.abs(full - empty) > step);
        const [low, high] = [Math.min(empty, full), Math.max(empty, full)];
        const value = stepped({ empty, full, step }, asked);
        expect(value).toBeGreaterThanOrEqual(low - 1e-9);
        expect(value).toBeLessThanOrEqual(high + 1e-9);
        const steps = (value - low) / step;
        const onStep = Math.abs(steps - Math.round(steps)) < 1e-6;
        expect(onStep || Math.abs(value - high) < 1e-9).toBe(true);
        if (asked >= low && asked <= high) expect(Math.abs(value - asked)).toBeLessThanOrEqual(step / 2 + 1e-6);
      }),
    );
  });
  it('paints its knob where its value is, and is struck through where there is none', () => {
    const items = drawList(solved(slider())).items;
    const knob = items.find((item) => item.kind === 'plate' && item.width === 36 && item.height === 36);
    // 40 of 100: 118 + 0.4 · 244 − 18.
    expect(knob).toMatchObject({ x: expect.closeTo(197.6, 9), y: 100 });
    const none = drawList(solved(slider({ source: null }))).items;
    expect(none.some((item) => item.kind === 'line')).toBe(true);
    expect(none.some((item) => item.kind === 'plate' && item.width === 36)).toBe(false);
  });
});

describe('a toggle', () => {
  const toggle = (source: string | null, initial: Feed['initial'] = false) =>
    documentOf({ hints: makeToggle(onGlass([0, 0]), 'Hints', source, 'a0') }, { hints: feed('flag', initial) });
  it('turns its flag over, acts by itself, and sets nothing without one', () => {
    const solver = solved(toggle('hints'));
    expect(actingRow(solver, 0)).toBe(0);
    expect(valueSet(solver, 0, 0, 0)).toEqual({ feed: 'hints', value: true });
    expect(valueSet(solved(toggle('hints', true)), 0, 0, 0)).toEqual({ feed: 'hints', value: false });
    expect(valueSet(solved(toggle(null)), 0, 0, 0)).toBeNull();
  });
  it('shows on and off by where its knob is', () => {
    const knobAt = (initial: boolean) => {
      const [left] = rect(solved(toggle('hints', initial)), 'hints');
      const knob = drawList(solved(toggle('hints', initial))).items.filter(
        (item) => item.kind === 'plate' && item.strokePx === undefined,
      )[1];
      return knob?.kind === 'plate' ? knob.x - left : Number.NaN;
    };
    // 64 x 36: the knob is 27.36 px, 4.32 from the ends.
    expect(knobAt(false)).toBeCloseTo(4.32, 9);
    expect(knobAt(true)).toBeCloseTo(64 - 4.32 - 27.36, 9);
  });
});

describe('what is off', () => {
  const off = {
    takes: 'acts' as const,
    action: null,
    padPx: 0,
    pointed: { plate: '#FFFFFF' },
    pressed: {},
    off: { plate: '#888888', text: '#444444' },
  };
  const document = documentOf(
    {
      card: {
        ...makeGroup(onGlass([0, 0]), 'Card', 'row', 'a0'),
        pointer: { ...off, offWhen: [{ kind: 'compare', feed: 'jars', is: 'below', value: 1, leave: 0 }] },
      },
      word: { ...makeText(insideOf('card'), 'Take', 'a1'), pointer: { takes: 'passes', action: null, padPx: 0, pointed: {}, pressed: {} } },
    },
    { jars: feed('number', 0) },
  );
  it('acts on nothing, keeps the pointer from what is behind, and looks like it, pointed at or not', () => {
    const solver = solved(document, { pointed: 'card' });
    const [x, y] = rect(solver, 'card');
    expect(isOff(solver, row(solver, 'word'))).toBe(true);
    expect(rowUnder(solver, x + 4, y + 4)).toBe(row(solver, 'card'));
    expect(actingRow(solver, row(solver, 'word'))).toBe(-1);
    const items = drawList(solver).items;
    expect(items.find((item) => item.kind === 'plate')).toMatchObject({ colour: '#888888' });
    expect(items.find((item) => item.kind === 'text')).toMatchObject({ colour: '#444444' });
  });
  it('acts again once its condition is gone', () => {
    const solver = solved(document, { values: [3] });
    expect(actingRow(solver, row(solver, 'word'))).toBe(row(solver, 'card'));
  });
  it('takes its time over a change of looks, and mixes on the way', () => {
    const slow = structuredClone(document);
    (slow.elements.card as { pointer: { changeS: number } }).pointer.changeS = 0.2;
    const solver = solved(slow, { values: [3], timeS: 1 });
    const plateAt = (timeS: number, pointed: string | null) => {
      solve(solver, { timeS, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true, values: [3], pointed });
      const item = drawList(solver).items.find((one) => one.kind === 'plate');
      return item?.kind === 'plate' ? item.colour : null;
    };
    // From #15233BCC to #FFFFFF; half way, each channel is half way.
    expect(plateAt(1, 'card')?.slice(0, 7)).toBe('#15233B');
    expect(plateAt(1.1, 'card')).toBe('#8A919DE6');
    expect(plateAt(1.25, 'card')).toBe('#FFFFFF');
  });
});

describe('what scrolls', () => {
  // Six texts of 4 em x 1.25 em at 28 px: 112 x 35 px, 10 px apart, in a box of 200 x 100 without padding.
  const texts = Object.fromEntries(['a', 'b', 'c', 'd', 'e', 'f'].map((id, k) => [id, makeText(insideOf('list'), id, `b${k}`)]));
  const group = makeGroup(onGlass([0, 0]), 'List', 'column', 'a0');
  const document = documentOf({
    list: {
      ...group,
      mount: { kind: 'glass', within: 'screen', pin: [0, 0], stretch: [false, false] },
      place: { ...group.place, offsetPx: [0, 0] },
      layout: { ...group.layout, widthPx: 200, heightPx: 100, padPx: [0, 0, 0, 0], gapPx: 10, scroll: { thumb: '#FFFFFF', thumbPx: 8 } },
    },
    ...texts,
  });
  it('moves its members by as much as asked, and no farther than they reach', () => {
    // 6 · 35 + 5 · 10 − 100 = 160.
    const at = (px: number) => {
      const solver = solved(document, { scrolled: { list: px } });
      return [rect(solver, 'a')[1], solver.f.scrolled[0]];
    };
    expect(at(0)).toEqual([0, 0]);
    expect(at(60)).toEqual([-60, 60]);
    expect(at(9999)).toEqual([-160, 160]);
    expect(at(-5)).toEqual([0, 0]);
  });
  it('gives neither sight nor pointer to what is scrolled away, and both to what has come', () => {
    const solver = solved(document, { scrolled: { list: 160 } });
    expect(solver.f.failed[row(solver, 'a')]).toBe(Verdict.Place);
    expect(solver.f.failed[row(solver, 'f')]).toBe(Verdict.Shown);
    expect(rowUnder(solver, 50, 80)).toBe(row(solver, 'f'));
    // Below the box nothing is hit, although a member of an unscrolled list would lie there.
    expect(rowUnder(solved(document), 50, 150)).toBe(-1);
    expect(rowUnder(solved(document), 50, 95)).toBe(row(solved(document), 'c'));
  });
  it('is found from what is inside, and brings that into its box', () => {
    const solver = solved(document);
    const list = scrollingRow(solver, row(solver, 'e'));
    expect(list).toBe(row(solver, 'list'));
    // The fifth lies from 180 to 215: 115 px beyond the foot.
    expect(scrollTo(solver, list, row(solver, 'e'))).toBe(115);
    const after = solved(document, { scrolled: { list: 160 } });
    expect(scrollTo(after, list, row(after, 'b'))).toBe(45);
  });
  it('has a thumb as long as the share that is seen', () => {
    const thumb = drawList(solved(document, { scrolled: { list: 80 } })).items.find((item) => item.kind === 'plate' && item.width === 8);
    // 100 of 260 are seen, from 80 on.
    expect(thumb).toMatchObject({ height: expect.closeTo((100 * 100) / 260, 9), y: expect.closeTo((80 * 100) / 260, 9), x: 192 });
  });
});

describe('what is turned', () => {
  it('takes the pointer where it is painted', () => {
    const picture = makePicture(onGlass([0.5, 0.5]), 'Needle', null, 200, 40, 'a0');
    const document = documentOf({
      needle: { ...picture, turnDeg: 90, pointer: { takes: 'acts', action: null, padPx: 0, pointed: {}, pressed: {} } },
    });
    const solver = solved(document);
    const [x, y, w, h] = rect(solver, 'needle');
    const [cx, cy] = [x + w / 2, y + h / 2];
    expect(rowUnder(solver, cx, cy + 90)).toBe(0);
    expect(rowUnder(solver, cx + 90, cy)).toBe(-1);
  });
  it('is turned back by the same angle: a corner comes to lie on the unturned corner', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -360, max: 360 }),
        fc.double({ min: -300, max: 300, noNaN: true }),
        fc.double({ min: -300, max: 300, noNaN: true }),
        (turnDeg, dx, dy) => {
          const solver = solved(documentOf({ needle: { ...makePicture(onGlass([0.5, 0.5]), 'Needle', null, 200, 40, 'a0'), turnDeg } }));
          const [x, y, w, h] = rect(solver, 'needle');
          const [cx, cy] = [x + w / 2, y + h / 2];
          const angle = (turnDeg * Math.PI) / 180;
          const turned = [cx + dx * Math.cos(angle) - dy * Math.sin(angle), cy + dx * Math.sin(angle) + dy * Math.cos(angle)] as const;
          const back = turnedBack(solver, 0, ...turned);
          expect(back[0]).toBeCloseTo(cx + dx, 6);
          expect(back[1]).toBeCloseTo(cy + dy, 6);
        },
      ),
    );
  });
});

describe('an element with a fit of its own', () => {
  it('is scaled by it, and all that is inside', () => {
    const group = makeGroup(onGlass([0, 0]), 'Card', 'row', 'a0');
    const document = documentOf({ card: { ...group, fit: 'height' }, word: makeText(insideOf('card'), 'Tide', 'a1') });
    const solver = makeSolver(arrange(compile(document, null), document.viewers.phone as never, text));
    solve(solver, { timeS: 0, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true });
    // 2532 px high for 1080: 2.344; the text is 4 em of 28 design pixels wide.
    expect(rect(solver, 'word')[2]).toBeCloseTo((4 * 28 * 2532) / 1080, 6);
    const plain = makeSolver(
      arrange(compile({ ...document, elements: { ...document.elements, card: group } }, null), document.viewers.phone as never, text),
    );
    solve(plain, { timeS: 0, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true });
    expect(rect(plain, 'word')[2]).toBeCloseTo((4 * 28 * 1170) / 1920, 6);
  });
});

describe('a template', () => {
  const board = makeGroup(onGlass([0, 0]), 'Board', 'column', 'a0');
  const document: Document = {
    ...documentOf(
      {
        board: {
          ...board,
          template: { parameters: { title: { kind: 'text', initial: 'Tide' }, reading: { kind: 'feed', initial: 'tide' } }, only: true },
        },
        title: makeText(insideOf('board'), '{title}: {reading}', 'a1'),
        one: { ...makeInstance(onGlass([0, 0]), 'board', 'One', 'b0') },
        two: { ...makeInstance(onGlass([1, 1]), 'board', 'Two', 'b1'), values: { title: 'Oil', reading: 'oil' } },
      },
      { tide: feed('number', 1), oil: feed('number', 9) },
    ),
  };
  it('stands where its instances are, and nowhere itself', () => {
    const solver = solved(document);
    expect(solver.c.ids).toEqual(['one', 'one.title', 'two', 'two.title']);
    expect(solver.c.sources).toEqual(['one', 'one', 'two', 'two']);
    expect(solver.c.elements[0]).toMatchObject({ kind: 'group', name: 'One' });
  });
});
