/** What stands for an instance is what stands for it once it is detached; joined conditions; what the viewer's going says. */
import {
  type Condition,
  type Document,
  detach,
  type Element,
  type Feed,
  findFaults,
  insideOf,
  makeDocument,
  makeGauge,
  makeGroup,
  makeInstance,
  makePicture,
  makeText,
  onGlass,
  type Route,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { stageOf } from './draw-gauge.ts';
import type { DrawItem, PictureItem } from './draw-items.ts';
import { drawList } from './draw-list.ts';
import { contained, covering, drawPicture } from './draw-picture.ts';
import { explain } from './explain/explain.ts';
import { plainText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { Verdict } from './steps/names.ts';
import { goingOn, readValues } from './values.ts';

const HEAD = { position: [0, 1.6, 0] as [number, number, number], rotation: [0, 0, 0, 1] as [number, number, number, number] };
const feed = (order: string, kind: Feed['kind'], initial: Feed['initial']): Feed => ({ name: order, order, kind, unit: '', initial });
function solved(document: Document, values?: (number | boolean | string)[], language?: string): Solver {
  const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text, undefined, language));
  solve(solver, { timeS: 0, head: HEAD, depthOrder: true, ...(values && { values }) });
  return solver;
}
/** What is painted, whoever it belongs to. */
const painted = (document: Document) => drawList(solved(document)).items.map(({ element: _, ...rest }) => rest);

describe('an instance', () => {
  const tree = (parents: number[], texts: string[]): Record<string, Element> => {
    const board = makeGroup(onGlass([0, 0]), 'Board', 'column', 'a0');
    const elements: Record<string, Element> = {
      board: {
        ...board,
        template: {
          parameters: {
            title: { kind: 'text', initial: 'Tide' },
            reading: { kind: 'feed', initial: 'tide' },
            most: { kind: 'number', initial: 4 },
          },
          only: true,
        },
      },
    };
    parents.forEach((p, k) => {
      const groups = Object.entries(elements).flatMap(([id, e]) => (e.kind === 'group' ? [id] : []));
      const into = insideOf(groups[p % groups.length] as string);
      const order = `a1${'V'.repeat(k)}V`;
      if (k % 3 === 0) elements[`g${k}`] = makeGroup(into, `Group ${k}`, p % 2 ? 'row' : 'column', order);
      else if (k % 3 === 1)
        elements[`t${k}`] = { ...makeText(into, texts[k % texts.length] ?? '', order), ...(p % 2 ? { uses: { text: 'title' } } : {}) };
      else
        elements[`b${k}`] = {
          ...makeGauge(into, `Bar ${k}`, null, { kind: 'bar', widthPx: 90, heightPx: 9, towards: 'right', radiusPx: 0 }, order),
          uses: { source: 'reading', full: 'most' },
        };
    });
    return elements;
  };
  it('is painted as it is once it is detached, whatever its template and its values', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(), { minLength: 1, maxLength: 16 }),
        fc.constantFrom<Record<string, string | number>>(
          {},
          { title: 'Oil' },
          { title: 'Water over the causeway', reading: 'oil', most: 9 },
        ),
        (parents, values) => {
          const document: Document = {
            ...makeDocument('Low Water'),
            elements: {
              ...tree(parents, ['Post', 'Stake 14', 'A lamp']),
              use: { ...makeInstance(onGlass([0.5, 0.5], [10, 20]), 'board', 'Use', 'a9'), values },
            },
            feeds: { tide: feed('a0', 'number', 1), oil: feed('a1', 'number', 6) },
          };
          const made = detach(document, 'use')?.document as Document;
          expect(findFaults(made).filter(({ code }) => code !== 'shape')).toEqual([]);
          expect(painted(made)).toEqual(painted(document));
        },
      ),
      { numRuns: 60 },
    );
  });
  it('puts its parameters into messages: a text as it is, a feed by its value', () => {
    const document: Document = {
      ...makeDocument('Low Water'),
      elements: {
        board: {
          ...makeGroup(onGlass([0, 0]), 'Board', 'row', 'a0'),
          template: { parameters: { title: { kind: 'text', initial: 'Tide' }, reading: { kind: 'feed', initial: 'tide' } }, only: true },
        },
        words: makeText(insideOf('board'), '{title}: {reading}', 'a1'),
        one: makeInstance(onGlass([0, 0]), 'board', 'One', 'a2'),
        two: { ...makeInstance(onGlass([0, 1]), 'board', 'Two', 'a3'), values: { title: 'Oil in store', reading: 'oil' } },
      },
      feeds: { tide: feed('a0', 'number', 1.5), oil: feed('a1', 'number', 6) },
    };
    // Half an em a character.
    const widths = (values?: number[]) => {
      const solver = solved(document, values);
      return ['one.words', 'two.words'].map((id) => (solver.a.blocks[solver.c.ids.indexOf(id)]?.widthEm ?? 0) * 2);
    };
    expect(widths()).toEqual(['Tide: 1.5'.length, 'Oil in store: 6'.length]);
    expect(widths([1, 12.75])).toEqual(['Tide: 1'.length, 'Oil in store: 12.75'.length]);
  });
});

describe('a text that a template is given', () => {
  const parameters = { verb: { kind: 'text' as const, initial: 'Use', translations: { de: 'Benutzen' } } };
  const document: Document = {
    ...makeDocument('Low Water'),
    languages: ['de', 'ar'],
    elements: {
      prompt: { ...makeGroup(onGlass([0, 0]), 'Prompt', 'row', 'a0'), template: { parameters, only: true } },
      // What the label itself was translated to belongs to its own text, which the parameter's replaces.
      whole: { ...makeText(insideOf('prompt'), 'Verb', 'a1'), translations: { de: 'Verb' }, uses: { text: 'verb' } },
      part: makeText(insideOf('prompt'), '{verb}!', 'a2'),
      plain: makeInstance(onGlass([0, 0]), 'prompt', 'Plain', 'a3'),
      wheel: {
        ...makeInstance(onGlass([0, 1]), 'prompt', 'Wheel', 'a4'),
        values: { verb: 'Lift the gate' },
        translations: { verb: { de: 'Schütz heben' } },
      },
      door: { ...makeInstance(onGlass([1, 1]), 'prompt', 'Door', 'a5'), values: { verb: 'Open' } },
    },
  };
  const said = (language: string, id: string) => {
    const solver = solved(document, [], language);
    return ['whole', 'part'].map((member) => (solver.a.blocks[solver.c.ids.indexOf(`${id}.${member}`)]?.widthEm ?? 0) * 2);
  };
  it.each([
    ['de', 'plain', 'Benutzen'],
    ['de-AT', 'plain', 'Benutzen'],
    ['ar', 'plain', 'Use'],
    ['de', 'wheel', 'Schütz heben'],
    ['en', 'wheel', 'Lift the gate'],
    // The template's translation is of the template's text.
    ['de', 'door', 'Open'],
  ])('in %s, %s says "%s"', (language, id, words) => {
    expect(said(language, id)).toEqual([words.length, words.length + 1]);
  });
  it('keeps its translations when the instance is detached', () => {
    const made = detach(document, 'wheel')?.document as Document;
    expect(Object.values(made.elements).find((e) => e.kind === 'label' && e.text === 'Lift the gate')).toMatchObject({
      translations: { de: 'Schütz heben' },
    });
    expect(findFaults(made).filter(({ code }) => code !== 'shape')).toEqual([]);
  });
});

describe('joined conditions', () => {
  const FEEDS = ['a', 'b', 'c', 'd'];
  const leaf = fc.record({
    kind: fc.constant('compare' as const),
    feed: fc.constantFrom(...FEEDS),
    is: fc.constant('equals' as const),
    value: fc.boolean(),
    leave: fc.constant(0),
  });
  const { condition } = fc.letrec<{ condition: Condition }>((tie) => ({
    condition: fc.oneof(
      { maxDepth: 4 },
      leaf,
      fc.record({
        kind: fc.constant('group' as const),
        need: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
        conditions: fc.array(tie('condition'), { maxLength: 4 }),
      }),
    ),
  }));
  /** The rule, stated plainly. */
  const holds = (c: Condition, values: boolean[]): boolean => {
    if (c.kind === 'changed') return false;
    if (c.kind === 'compare') return values[FEEDS.indexOf(c.feed)] === c.value;
    const each = c.conditions.map((one) => holds(one, values));
    return c.need === 'all' ? each.every(Boolean) : c.need === 'any' ? each.length === 0 || each.some(Boolean) : !each.some(Boolean);
  };
  it('come to what the rule says, to any depth, and the chain says no just where they do not hold', () => {
    fc.assert(
      fc.property(
        fc.array(condition, { maxLength: 4 }),
        fc.constantFrom('all' as const, 'any' as const, 'none' as const),
        fc.array(fc.boolean(), { minLength: 4, maxLength: 4 }),
        (conditions, need, values) => {
          const card: Element = { ...makeGroup(onGlass([0, 0]), 'Card', 'row', 'a0'), show: { phases: {}, need, conditions, lingerS: 0 } };
          const document: Document = {
            ...makeDocument('Low Water'),
            elements: { card },
            feeds: Object.fromEntries(FEEDS.map((id, k) => [id, feed(`a${k}`, 'flag', false)])),
          };
          const solver = solved(document, values);
          const expected = holds({ kind: 'group', need, conditions }, values);
          expect(solver.f.failed[0] === Verdict.Shown).toBe(expected);
          const link = explain(solver, 0).find(({ step }) => step === 'phase');
          expect(link?.state).toBe(expected ? 'yes' : 'no');
          if (!expected) expect(link?.facts[0]?.kind).toBe('conditionFails');
        },
      ),
    );
  });
});

describe("the viewer's going", () => {
  const route = (heights: number[]): Route => ({
    name: 'Down',
    order: 'a0',
    poses: heights.map((y, k) => ({ timeS: k, position: [k * 3, y, 0], rotation: [0, 0, 0, 1] })),
    feeds: [],
    phases: [],
  });
  it('is as fast as the way is long, and as far down as since it last went up or level', () => {
    const way = route([2, 2, 5, 4, 1, 1]);
    // Along x 3 m a second and one metre down.
    expect(goingOn(way, 2.5).speedMps).toBeCloseTo(Math.hypot(3, 1), 6);
    expect(goingOn(way, 0).speedMps).toBe(0);
    expect(goingOn(way, 1.5).fallenM).toBeCloseTo(0, 6);
    expect(goingOn(way, 3.5).fallenM).toBeCloseTo(1 + 1.5, 1);
    expect(goingOn(way, 4.9).fallenM).toBeCloseTo(0, 6);
  });
  it('is what feeds say that come from it; a key is up until it is pressed; an anchor is where it is', () => {
    const document: Document = {
      ...makeDocument('Low Water'),
      anchors: { post: { kind: 'surface', name: 'Post', order: 'a0', node: null, position: [3, 4, 5], normal: [0, 1, 0] } },
      feeds: {
        fast: { ...feed('a0', 'number', 0), source: { kind: 'speed' } },
        down: { ...feed('a1', 'number', 0), source: { kind: 'fallen' } },
        torch: { ...feed('a2', 'flag', false), source: { kind: 'key', code: 'KeyG', how: 'turns' } },
        east: { ...feed('a3', 'number', 0), source: { kind: 'place', anchor: 'post', axis: 'x' } },
        height: { ...feed('a4', 'number', 0), source: { kind: 'place', anchor: 'post', axis: 'y' } },
      },
    };
    const compiled = compile(document, null);
    expect(readValues(compiled, null, 0, HEAD, { torch: true }, undefined, { speedMps: 2, fallenM: 7 })).toEqual([2, 7, true, 3, 4]);
    expect(readValues(compiled, null, 0, HEAD, {})).toEqual([0, 0, false, 3, 4]);
  });
});

describe('a picture in its box', () => {
  const file = (widthPx: number, heightPx: number) => ({
    name: 'Frame',
    order: 'a0',
    hash: 'f'.repeat(64),
    type: 'image/png' as const,
    widthPx,
    heightPx,
  });
  const side = fc.integer({ min: 1, max: 400 });
  it('whole, keeps its shape inside; filling it, shows a part of the shape of the box', () => {
    fc.assert(
      fc.property(side, side, side, side, (pw, ph, w, h) => {
        const [x, y, cw, ch] = contained(pw, ph, [10, 20, w, h]);
        expect(cw / ch).toBeCloseTo(pw / ph, 6);
        expect(Math.max(cw / w, ch / h)).toBeCloseTo(1, 9);
        expect([x + cw / 2, y + ch / 2]).toEqual([expect.closeTo(10 + w / 2, 6), expect.closeTo(20 + h / 2, 6)]);
        const [sx, sy, sw, sh] = covering(pw, ph, w, h);
        expect(sw / sh).toBeCloseTo(w / h, 6);
        expect(Math.min(pw - sw, ph - sh)).toBeCloseTo(0, 6);
        expect(sx + sw / 2).toBeCloseTo(pw / 2, 6);
        expect(sy).toBeGreaterThanOrEqual(-1e-9);
      }),
    );
  });
  it('in nine parts, covers all of the box and takes all of the picture, with no gap and nothing twice', () => {
    fc.assert(
      fc.property(side, side, side, side, fc.tuple(fc.nat(60), fc.nat(60), fc.nat(60), fc.nat(60)), (pw, ph, w, h, corners) => {
        const items: DrawItem[] = [];
        const picture = { ...makePicture(onGlass([0, 0]), 'Frame', 'frame', w, h, 'a0'), fill: 'nine' as const, cornersPx: corners };
        drawPicture(items, 'frame', picture, file(pw, ph), [5, 6, w, h], 1, 1);
        const parts = items as PictureItem[];
        const area = (of: (item: PictureItem) => number) => parts.reduce((sum, item) => sum + of(item), 0);
        // Parts of no width or height, on one side or the other, are left out; what is left may cover less of the picture, never more.
        expect(area((i) => i.width * i.height)).toBeLessThanOrEqual(w * h + 1e-6);
        expect(area((i) => i.from[2] * i.from[3])).toBeLessThanOrEqual(pw * ph + 1e-6);
        if (corners[0] + corners[2] < Math.min(w, pw) && corners[1] + corners[3] < Math.min(h, ph)) {
          expect(area((i) => i.width * i.height)).toBeCloseTo(w * h, 4);
          expect(area((i) => i.from[2] * i.from[3])).toBeCloseTo(pw * ph, 4);
          const first = parts[0] as PictureItem;
          if (corners[0] > 0 && corners[1] > 0) expect([first.width, first.height]).toEqual([corners[0], corners[1]]);
        }
      }),
    );
  });
  it('is a crossed frame where there is none, never nothing', () => {
    const items: DrawItem[] = [];
    drawPicture(items, 'gone', makePicture(onGlass([0, 0]), 'Gone', null, 9, 9, 'a0'), undefined, [0, 0, 9, 9], 1, 1);
    expect(items.map(({ kind }) => kind)).toEqual(['plate', 'line', 'line']);
  });
});

describe('stages', () => {
  it.each([
    [0, 4, 0],
    [0.2499, 4, 0],
    [0.25, 4, 1],
    [0.5, 4, 2],
    [0.9999, 4, 3],
    [1, 4, 3],
    [1 / 3, 3, 1],
    [0.7, 1, 0],
  ])('a share of %d among %d is the stage %d: a bound belongs to what is above', (share, count, stage) => {
    expect(stageOf(share, count)).toBe(stage);
  });
});
