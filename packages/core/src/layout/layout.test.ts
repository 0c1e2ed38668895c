/** Layout of the glass: fixed cases by hand, and what must hold of any tree on any screen. */
import {
  type Document,
  type Element,
  type Group,
  insideOf,
  makeDocument,
  makeGauge,
  makeGroup,
  makeText,
  onGlass,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange, refresh } from '../arrange.ts';
import { compile } from '../compile.ts';
import { placeOf } from '../frame.ts';
import { plainText as text } from '../sample.ts';
import { makeSolver, type Solver, solve } from '../solve.ts';

type Elements = Record<string, Element>;
const of = (elements: Elements, edit: (d: Document) => void = () => {}): Document => {
  const document = makeDocument('Low Water');
  document.elements = elements;
  edit(document);
  return document;
};
function solved(document: Document, viewer = 'desk'): Solver {
  const solver = makeSolver(arrange(compile(document, null), document.viewers[viewer] as never, text));
  solve(solver, { timeS: 0, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true });
  return solver;
}
const rectOf = (solver: Solver, id: string) => placeOf(solver.f, solver.c.ids.indexOf(id)).rect;

/** A gauge of a given size in design pixels, as a plain box. */
const box = (group: string, widthPx: number, heightPx: number, order: string) =>
  makeGauge(insideOf(group), 'Box', null, { kind: 'bar', widthPx, heightPx, towards: 'right', radiusPx: 0 }, order);
const group = (direction: Group['layout']['direction'], layout: Partial<Group['layout']> = {}): Group => {
  const made = makeGroup(onGlass([0, 0]), 'Tray', direction, 'a0');
  return {
    ...made,
    mount: { kind: 'glass', within: 'screen', pin: [0, 0], stretch: [false, false] },
    layout: { ...made.layout, padPx: [10, 20, 30, 40], gapPx: 5, align: 'start', ...layout },
  };
};

describe('on the glass', () => {
  it('an element puts its own point on its pin of the safe area, plus its offset, and grows away from it', () => {
    // The desk's safe area leaves out 3 % at each side: 57.6 px and 32.4 px. Text of 4 characters at 28 px: 56 x 35 px.
    const at = (message: string) => {
      const label = { ...makeText(onGlass([1, 0], [-8, 6]), message, 'a0') };
      return rectOf(solved(of({ readout: label })), 'readout');
    };
    expect(at('warm')).toEqual([1920 - 57.6 - 8 - 56, 32.4 + 6, 56, 35].map((v) => expect.closeTo(v, 9)));
    const [x, , w] = at('warmer than before');
    expect(x + w).toBeCloseTo(1920 - 57.6 - 8, 9);
  });

  it('is stretched over its parent where it is told to, less the offset at both sides', () => {
    const veil = group('free');
    veil.mount = { kind: 'glass', within: 'screen', pin: [0, 0], stretch: [true, true] };
    veil.place = { ...veil.place, offsetPx: [30, 0] };
    expect(rectOf(solved(of({ veil })), 'veil')).toEqual([30, 0, 1860, 1080]);
    // Ultrawide: 3440 x 1440; the fit is the smaller ratio, 4/3.
    expect(rectOf(solved(of({ veil }), 'ultrawide'), 'veil')).toEqual([40, 0, 3360, 1440]);
  });

  it('does not depend on the camera or the lens', () => {
    const elements = { readout: makeText(onGlass([0.5, 1]), 'tide', 'a0') };
    const wide = of(elements, (d) => Object.assign(d.viewers.desk?.lens ?? {}, { fovDeg: 110 }));
    expect(rectOf(solved(wide), 'readout')).toEqual(rectOf(solved(of(elements)), 'readout'));
  });
});

describe('a row', () => {
  it('puts members one after the other inside its padding, as large as they need', () => {
    const solver = solved(of({ tray: group('row'), a: box('tray', 40, 10, 'a1'), b: box('tray', 60, 30, 'a2') }));
    expect(rectOf(solver, 'tray')).toEqual([0, 0, 10 + 40 + 5 + 60 + 30, 20 + 30 + 40]);
    expect(rectOf(solver, 'a')).toEqual([10, 20, 40, 10]);
    expect(rectOf(solver, 'b')).toEqual([55, 20, 60, 30]);
  });
  it.each([
    ['start', [10, 55]],
    ['centre', [35, 80]],
    ['end', [60, 105]],
    ['between', [10, 105]],
  ] as const)('spreads what room is left: %s', (spread, xs) => {
    const solver = solved(of({ tray: group('row', { widthPx: 195, spread }), a: box('tray', 40, 10, 'a1'), b: box('tray', 60, 30, 'a2') }));
    expect([rectOf(solver, 'a')[0], rectOf(solver, 'b')[0]]).toEqual(xs);
  });
  it('makes members equally long, and gives a stretching one what is left', () => {
    const equal = solved(of({ tray: group('row', { equal: true }), a: box('tray', 40, 10, 'a1'), b: box('tray', 60, 30, 'a2') }));
    expect(rectOf(equal, 'a')[2]).toBe(60);
    const b = box('tray', 60, 30, 'a2');
    b.mount = { kind: 'inside', group: 'tray', pin: [0, 0], stretch: [true, false] };
    const grown = solved(of({ tray: group('row', { widthPx: 195 }), a: box('tray', 40, 10, 'a1'), b }));
    expect(rectOf(grown, 'b')).toEqual([55, 20, 110, 30]);
  });
  it('begins another line where the next member does not fit', () => {
    const members = Object.fromEntries([1, 2, 3, 4].map((k) => [`m${k}`, box('tray', 40, 10, `a${k}`)]));
    // Inside: 130 − 40 = 90 px; two of 40 with a gap of 5 fit.
    const solver = solved(of({ tray: group('row', { widthPx: 130, wrap: true }), ...members }));
    expect(['m1', 'm2', 'm3', 'm4'].map((id) => rectOf(solver, id).slice(0, 2))).toEqual([
      [10, 20],
      [55, 20],
      [10, 35],
      [55, 35],
    ]);
    expect(rectOf(solver, 'tray')[3]).toBe(20 + 10 + 5 + 10 + 40);
  });
});

describe('any tree on any screen (property)', () => {
  const layout = fc.record({
    direction: fc.constantFrom('row' as const, 'column' as const),
    gapPx: fc.integer({ min: 0, max: 30 }),
    align: fc.constantFrom('start' as const, 'centre' as const, 'end' as const, 'stretch' as const),
    spread: fc.constantFrom('start' as const, 'centre' as const, 'end' as const, 'between' as const),
    equal: fc.boolean(),
    padPx: fc.tuple(fc.nat(40), fc.nat(40), fc.nat(40), fc.nat(40)) as fc.Arbitrary<[number, number, number, number]>,
  });
  /** Up to 12 elements; each group takes some of those after it. */
  const tree = fc.tuple(
    fc.array(fc.tuple(layout, fc.nat(6)), { minLength: 1, maxLength: 4 }),
    fc.array(fc.tuple(fc.integer({ min: 4, max: 200 }), fc.integer({ min: 4, max: 90 }), fc.nat(3)), { maxLength: 8 }),
  );
  const screen = fc.record({ widthPx: fc.integer({ min: 320, max: 5000 }), heightPx: fc.integer({ min: 240, max: 4000 }) });
  const pin = fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }));
  const build = ([groups, leaves]: [[Partial<Group['layout']>, number][], [number, number, number][]], at: [number, number]): Document => {
    const elements: Elements = {};
    groups.forEach(([own, under], k) => {
      const carried = k === 0 ? onGlass(at) : insideOf(`g${under % k}`);
      const made = makeGroup(carried, `Group ${k}`, own.direction ?? 'row', `a${k}`);
      elements[`g${k}`] = { ...made, layout: { ...made.layout, ...own } };
    });
    leaves.forEach(([w, h, under], k) => {
      elements[`m${k}`] = box(`g${under % groups.length}`, w, h, `b${k}`);
    });
    return of(elements);
  };
  const inDesign = (solver: Solver, id: string) => rectOf(solver, id).map((v) => v / solver.a.fit) as [number, number, number, number];

  it('keeps members within the padding and apart by the gap, equal ones equal, centred ones centred', () => {
    fc.assert(
      fc.property(tree, screen, (given, size) => {
        const document = build(given, [0, 0]);
        Object.assign(document.viewers.desk ?? {}, size);
        const solver = solved(document);
        for (const [id, element] of Object.entries(document.elements)) {
          if (element.kind !== 'group') continue;
          const [x, y, w, h] = inDesign(solver, id);
          const { padPx, gapPx, direction, equal, align } = element.layout;
          const members = solver.c.members[solver.c.ids.indexOf(id)]?.map((row) => inDesign(solver, solver.c.ids[row] as string)) ?? [];
          const [along, across] = direction === 'row' ? [0, 1] : [1, 0];
          const natural = (row: number) => solver.a.tree.natural[row * 2 + across] as number;
          members.forEach((m, k) => {
            expect(m[0]).toBeGreaterThanOrEqual(x + padPx[0] - 1e-6);
            expect(m[1]).toBeGreaterThanOrEqual(y + padPx[1] - 1e-6);
            expect(m[0] + m[2]).toBeLessThanOrEqual(x + w - padPx[2] + 1e-6);
            expect(m[1] + m[3]).toBeLessThanOrEqual(y + h - padPx[3] + 1e-6);
            const before = members[k - 1];
            if (before)
              expect((m[along] as number) - (before[along] as number) - (before[along + 2] as number)).toBeGreaterThanOrEqual(gapPx - 1e-6);
            if (equal) expect(m[along + 2]).toBeCloseTo(members[0]?.[along + 2] as number, 6);
            const row = solver.c.members[solver.c.ids.indexOf(id)]?.[k] as number;
            if (align === 'centre' && natural(row) > 0) {
              const inner = across === 0 ? [x + padPx[0], x + w - padPx[2]] : [y + padPx[1], y + h - padPx[3]];
              expect((m[across] as number) + (m[across + 2] as number) / 2).toBeCloseTo(
                ((inner[0] as number) + (inner[1] as number)) / 2,
                6,
              );
            }
          });
        }
      }),
      { numRuns: 150 },
    );
  });

  it('is scaled exactly by the fit, and never moves its own point as it grows', () => {
    fc.assert(
      fc.property(tree, pin, fc.double({ min: 0.2, max: 6, noNaN: true }), (given, at, scale) => {
        const document = build(given, at);
        document.glass = { ...document.glass, fit: 'width' };
        const desk = document.viewers.desk;
        if (!desk) return;
        desk.safeArea = { left: 0, top: 0, right: 0, bottom: 0 };
        const small = solved(document);
        // A screen of the same shape: fractions of pixels are left out by scaling the design instead of the screen.
        document.glass = { ...document.glass, widthPx: 1920 / scale, heightPx: 1080 / scale };
        const large = solved(document);
        const [x, y, w, h] = rectOf(small, 'g0');
        const [X, Y, W, H] = rectOf(large, 'g0');
        expect([W, H]).toEqual([expect.closeTo(w * scale, 6), expect.closeTo(h * scale, 6)]);
        expect(X + at[0] * W).toBeCloseTo(x + at[0] * w, 6);
        expect(Y + at[1] * H).toBeCloseTo(y + at[1] * h, 6);
        expect(x + at[0] * w).toBeCloseTo(1920 * at[0], 6);
      }),
      { numRuns: 100 },
    );
  });
});

describe('live values', () => {
  it('lay out anew only the tree whose text changed its size', () => {
    const document = of(
      {
        tray: group('row'),
        readout: { ...makeText(insideOf('tray'), '{tide} m', 'a1') },
        other: makeText(onGlass([1, 1]), '{samples}', 'a2'),
        still: makeText(onGlass([0, 1]), 'Low Water', 'a3'),
      },
      (d) => {
        for (const id of ['tide', 'samples']) d.feeds[id] = { name: id, order: 'a0', kind: 'number', unit: '', initial: 10 };
      },
    );
    const a = arrange(compile(document, null), document.viewers.desk as never, text);
    const began = { ...a.made };
    const at = (id: string) => a.compiled.feedIds.indexOf(id);
    const values = [...a.seen];
    refresh(a, values);
    expect(a.made).toEqual(began);
    values[at('tide')] = 12;
    refresh(a, values);
    expect(a.made).toEqual({ texts: began.texts + 1, trees: began.trees });
    values[at('tide')] = 100.25;
    refresh(a, values);
    expect(a.made).toEqual({ texts: began.texts + 2, trees: began.trees + 1 });
    // 8 characters: "100.25 m", half an em of 28 px each.
    expect(a.boxes[a.compiled.ids.indexOf('readout') * 4 + 2]).toBe(8 * 14);
  });
});
