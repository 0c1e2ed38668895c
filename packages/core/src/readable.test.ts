/** Readability against what can be reckoned by hand. */
import {
  type Document,
  type Element,
  type Group,
  insideOf,
  type Label,
  makeDocument,
  makeGauge,
  makeGroup,
  makeLabel,
  makePage,
  makeText,
  makeToggle,
  onGlass,
} from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { explain } from './explain/explain.ts';
import type { Level } from './level.ts';
import { measureReadable, placeShortfalls } from './readable.ts';
import { fixedText as text } from './sample.ts';
import { levelOf } from './sample-level.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { lookingPose, type Pose } from './spaces/pose.ts';
import { Verdict } from './steps/names.ts';

const HEAD: Pose = { position: [0, 1.65, 0], rotation: [0, 0, 0, 1] };
/** A level that is one colour wherever one looks. */
const coloured = (rgb: [number, number, number]): Level => ({
  ...levelOf([]),
  colourAt: (_o, _d, out) => {
    rgb.forEach((v, k) => {
      out[k as 0] = v;
    });
    return out;
  },
});
function scene(elements: Record<string, Element>, edit: (d: Document) => void = () => {}): Document {
  const made = makeDocument('Low Water');
  made.anchors.spot = { kind: 'surface', name: 'Spot', order: 'a0', node: null, position: [0, 1.65, -10], normal: [0, 0, 1] };
  made.elements = elements;
  edit(made);
  return made;
}
function solved(d: Document, level: Level | null = null, head = HEAD, viewer = 'desk', timeS = 0): Solver {
  const solver = makeSolver(arrange(compile(d, level), d.viewers[viewer] as never, text));
  solve(solver, { timeS, head, depthOrder: true });
  return solver;
}
const label = (edit: Partial<Label> = {}, paint: Partial<Label['paint']> = {}): Label => {
  const made = makeLabel('spot', 'Spot', 'a0');
  return { ...made, ...edit, paint: { ...made.paint, plate: null, ...paint } };
};

describe('what is measured once', () => {
  it('a text that is painted otherwise while it is pointed at has the contrast of then, and its own again after it', () => {
    const plate = { colour: '#FFFFFF', padEm: [0.4, 0.2] as [number, number], radiusEm: 0 };
    const pointer = { takes: 'acts' as const, action: null, padPx: 0, pointed: { text: '#FFFFFF' }, pressed: {} };
    const button = { ...makeText(onGlass([0.5, 0.5]), 'Ring', 'a0'), pointer };
    const d = scene({ button: { ...button, paint: { ...button.paint, colour: '#000000', outline: null, plate } } as Element });
    const solver = makeSolver(arrange(compile(d, null), d.viewers.desk as never, text));
    // Black on white is 21 : 1, white on white 1 : 1 (WCAG 2.2).
    const contrasts = [null, 'button', null].map((pointed, k) => {
      solve(solver, { timeS: k, head: HEAD, depthOrder: true, pointed });
      return measureReadable(solver, 0).contrast;
    });
    expect(contrasts.map((one) => Math.round(one * 1e6) / 1e6)).toEqual([21, 1, 21]);
  });

  it('what lies over a text counts while it is there: a plate covers it, letters lie on it', () => {
    const plate = { colour: '#FFFFFF', padEm: [0, 0] as [number, number], radiusEm: 0 };
    const put = (order: string, over: boolean): Element => {
      const made = makeText(onGlass([0.5, 0.5]), 'Low at seven', order);
      return { ...made, paint: { ...made.paint, plate: over ? plate : null } } as Element;
    };
    for (const plated of [true, false]) {
      const d = scene({ under: put('a0', false), over: put('a1', plated) });
      const solver = makeSolver(arrange(compile(d, null), d.viewers.desk as never, text));
      const row = solver.c.ids.indexOf('under');
      // All other frames have it hidden; each is looked at.
      const found = [0, 1, 2, 3].map((k) => {
        solve(solver, { timeS: k, head: HEAD, depthOrder: true, forced: k % 2 ? {} : { over: 'hidden' } });
        return measureReadable(solver, row).faults.map(({ kind }) => kind);
      });
      const kind = plated ? 'covered' : 'overlaps';
      expect(found).toEqual([[], [kind], [], [kind]]);
    }
  });

  it('of a group all but what its texts tell of themselves', () => {
    const group = makeGroup(onGlass([0, 0.5], [-100, 0]), 'Tides', 'free', 'a0');
    const faint = makeText(insideOf('group', [0.5, 0.5]), 'Low at seven', 'a0');
    const d = scene({
      group,
      faint: { ...faint, size: { rule: 'screen', emPx: 6 }, paint: { ...faint.paint, colour: '#777777' } } as Element,
    });
    const solver = solved(d, coloured([120, 120, 120]));
    const kinds = (asks: object) => measureReadable(solver, 0, asks).faults.map(({ kind }) => kind);
    // 6 px are too small, and nearly the same grey has no contrast; the group stands out of the frame by itself.
    expect(kinds({})).toEqual(['small', 'contrast', 'cut']);
    expect(kinds({ texts: false })).toEqual(['cut']);
  });
});

describe('what covers a group', () => {
  // 1000 by 100 px without a plate, a text of 100 by 25 at each end; a plate of 300 px over its middle, or over the left text.
  const covered = (x: number, of: readonly string[] = ['left', 'right']): number => {
    const group = makeGroup(onGlass([0.5, 0.5]), 'Tides', 'free', 'a0');
    const member = (pin: [number, number], order: string): Element => {
      const made = makeText(insideOf('tides', pin), 'Low', order);
      const place = { ...made.place, ownPoint: [pin[0], 0.5] as [number, number] };
      return { ...made, place, paint: { ...made.paint, plate: null }, size: { rule: 'screen', emPx: 25, hideBelowPx: 0, leavePx: 0 } };
    };
    const lid = makeGroup(onGlass([0.5, 0.5], [x, 0]), 'Lid', 'free', 'b0');
    const solver = solved(
      scene({
        tides: { ...group, paint: { ...group.paint, plate: null }, layout: { ...group.layout, widthPx: 1000, heightPx: 100 } },
        ...Object.fromEntries(of.map((id, k) => [id, member([id === 'left' ? 0 : 1, 0.5], `a${k + 1}`)])),
        lid: {
          ...lid,
          layout: { ...lid.layout, widthPx: 300, heightPx: 100 },
          paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 },
        },
      }),
    );
    return measureReadable(solver, solver.c.ids.indexOf('tides')).covered;
  };
  it('without a plate is what lies on its members, not on the air between them', () => {
    expect(covered(0)).toBe(0);
    expect(covered(-400)).toBe(0.5);
    expect(covered(-400, [])).toBe(0);
  });
});

describe('what cuts a group off', () => {
  // 1000 by 100 px; its right edge lies 400 px beyond that of the safe area, which is 3 % of 1920 px inside of the screen's. A text of 100 by 25
  // at its left or its right.
  const cut = (at: 'left' | 'right', plate: Group['paint']['plate'], edit: (group: Group) => Group = (group) => group) => {
    const group = makeGroup(onGlass([1, 0.5], [400, 0]), 'Tides', 'free', 'a0');
    const pin: [number, number] = [at === 'left' ? 0 : 1, 0.5];
    const made = makeText(insideOf('tides', pin), 'Low', 'a1');
    const solver = solved(
      scene({
        tides: edit({
          ...group,
          place: { ...group.place, ownPoint: [1, 0.5], stay: 'free' },
          paint: { ...group.paint, plate },
          layout: { ...group.layout, widthPx: 1000, heightPx: 100, padPx: [0, 0, 0, 0] },
        }),
        low: {
          ...{ ...made, place: { ...made.place, ownPoint: pin }, paint: { ...made.paint, plate: null } },
          size: { rule: 'screen', emPx: 25, hideBelowPx: 0, leavePx: 0 },
        },
      }),
    );
    return placeShortfalls(solver, solver.c.ids.indexOf('tides'));
  };
  const board = { colour: '#15233B', radiusPx: 0, border: null };
  it('is its own edge where it has a plate, and that of a member where it has none', () => {
    const beyond = [{ kind: 'cut', at: 'screen', value: expect.closeTo(400 - 57.6, 6) }];
    expect(cut('left', board)).toEqual(beyond);
    expect(cut('left', null)).toEqual([]);
    expect(cut('right', null)).toEqual(beyond);
  });
  it('is never what it scrolls: a list is where it is seen', () => {
    const scrolls = (group: Group): Group => ({
      ...group,
      layout: { ...group.layout, clip: true, scroll: { thumb: '#15233B', thumbPx: 4 } },
    });
    expect(cut('left', null, scrolls)).toMatchObject([{ at: 'screen', value: expect.closeTo(400 - 57.6, 6) }]);
  });
});

describe('a panel smaller than what it shows', () => {
  // 100 by 50 px of its own. A text is as large as its letters; what else there is takes the panel's size, whatever its own is.
  const mount = {
    ...{ kind: 'standing', anchor: 'spot', sizeM: [0.1, 0.05], pxPerM: 1000, readM: 2, sides: 'both', facing: 'fixed' },
    ...{ turnDeg: 0, tiltDeg: 0, liftM: 0 },
  } as const;
  const carried = { mount, place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null } } as never;
  it.each<[string, Element, number]>([
    // The stub writes every text 4 em wide; 100 px of em and half as much of padding at each side.
    ['text', { ...makeText(carried, 'Low tide', 'a0'), size: { rule: 'screen', emPx: 100, hideBelowPx: 0, leavePx: 0 } } as Element, 300],
    ['empty group', makeGroup(carried, 'Board', 'free', 'a0'), 0],
    ['gauge', makeGauge(carried, 'Tide', null, { kind: 'bar', widthPx: 400, heightPx: 90, vertical: false } as never, 'a0'), 0],
    ['toggle', { ...makeToggle(carried, 'Lamp', null, 'a0'), widthPx: 400, heightPx: 90 }, 0],
  ])('is cut off where it is a text: %s', (_, element, least) => {
    const solver = solved(scene({ a: element }), null, { ...HEAD, position: [0, 1.65, -9] });
    const cut = placeShortfalls(solver, 0).filter((one) => one.kind === 'cut' && one.at === 'textBox') as { value: number }[];
    if (least === 0) expect(cut).toEqual([]);
    else expect(cut[0]?.value).toBeGreaterThanOrEqual(least);
  });
});

describe('character height', () => {
  it('is cap height over pixels a degree, and asks for 16 arcmin and 9 px', () => {
    // The stub's capitals are 0.7 em high; 28 px of em at the desk are 19.6 px.
    const found = measureReadable(solved(scene({ a: label() })), 0);
    expect(found.capPx).toBeCloseTo(19.6, 9);
    // 27 in of 1920 x 1080 are 3211 px a metre; a degree at 0.6 m is 33.6 px.
    const perDegree = (2 * 0.6 * Math.tan(Math.PI / 360) * Math.hypot(1920, 1080)) / (27 * 0.0254);
    // Seen aslant in the corners of its box, a little under that; in the middle of the screen just that.
    expect(found.capArcmin).toBeLessThan((19.6 / perDegree) * 60);
    expect(found.capArcmin).toBeGreaterThan((19.6 / perDegree) * 60 * 0.985);
    const small = measureReadable(solved(scene({ a: label({ size: { rule: 'screen', emPx: 12, hideBelowPx: 0, leavePx: 0 } }) })), 0);
    expect(small.faults[0]).toMatchObject({
      kind: 'small',
      unit: 'arcmin',
      value: expect.closeTo(((12 * 0.7) / perDegree) * 60, 0),
      bound: 16,
    });
  });
  it('has its bounds in the document', () => {
    const d = scene({ a: label() }, (made) => {
      made.readability = { leastArcmin: 40 };
    });
    expect(measureReadable(solved(d), 0).faults[0]).toMatchObject({ kind: 'small', bound: 40 });
  });
});

describe('contrast', () => {
  it('is that of the letters with the level really behind them', () => {
    // Black on a grey of 127.5: relative luminance 0.2140, so (0.2140 + 0.05) / 0.05 = 5.28.
    const dark = measureReadable(solved(scene({ a: label({}, { colour: '#000000' }) }), coloured([127.5, 127.5, 127.5])), 0);
    expect(dark.contrast).toBeCloseTo(5.28, 2);
    expect(dark.faults).toEqual([]);
    // The same letters on near black: 1.1 : 1 and refused.
    const night = measureReadable(solved(scene({ a: label({}, { colour: '#000000' }) }), coloured([20, 20, 20])), 0);
    expect(night.contrast).toBeLessThan(1.2);
    expect(night.faults[0]).toMatchObject({ kind: 'contrast', value: night.contrast, bound: 3 });
  });
  it('is with the plate laid over the level, by its opacity', () => {
    const plate = { colour: '#FFFFFF80', padEm: [0.2, 0.2] as [number, number], radiusEm: 0 };
    const found = measureReadable(solved(scene({ a: label({}, { colour: '#000000', plate }) }), coloured([0, 0, 0])), 0);
    // White at 128/255 over black: sRGB 0.502, luminance 0.2159: 5.32.
    expect(found.contrast).toBeCloseTo((0.2159 + 0.05) / 0.05, 1);
  });
});

describe('cover, cut and speed', () => {
  it('counts the share that what is painted later lies over', () => {
    const under = label({ place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null } });
    const d = scene({
      a: under,
      // On the glass in the middle of the screen, over its right half: 4 em of 28 px wide each.
      lid: {
        ...makeText(
          { ...onGlass([0.5, 0.5], [56, 0]), mount: { kind: 'glass', within: 'screen', pin: [0.5, 0.5], stretch: [false, false] } },
          'Lid',
          'a1',
        ),
        paint: { ...label().paint, plate: { colour: '#FBF8F0', padEm: [0, 0], radiusEm: 0 } },
      },
    });
    const found = measureReadable(solved(d), 0);
    expect(found.covered).toBeCloseTo(0.5, 1);
    expect(found.faults).toContainEqual({ kind: 'covered', value: found.covered, bound: 0.1, by: 'lid' });
  });
  it('says how far it is cut off, and how fast it sweeps by while the head turns', () => {
    const out = label({ place: { ownPoint: [0.5, 0.5], offsetPx: [960, 0], stay: 'free', leader: null } });
    // 4 em of 28 px, of which half lies beyond the edge.
    expect(measureReadable(solved(scene({ a: out })), 0).faults[0]).toMatchObject({ kind: 'cut', at: 'screen', value: 56 });
    const solver = solved(scene({ a: label() }));
    // A turn of 1 degree in a thirtieth of a second: 30 degrees a second of the world; the screen shows 60 degrees in 32 at the eye.
    solve(solver, { timeS: 1 / 30, head: lookingPose([0, 1.65, 0], 1, 0), depthOrder: true });
    const found = measureReadable(solver, 0);
    const px = (960 / (Math.tan(Math.PI / 6) * (16 / 9))) * Math.tan(Math.PI / 180);
    // From the screen's middle, as far as the tangent says: the eye is 0.6 m before 3212.16 px a metre.
    expect(found.degPerS).toBeCloseTo(((Math.atan(px / (0.6 * 3212.16)) * 180) / Math.PI) * 30, 3);
    expect(found.faults.some(({ kind }) => kind === 'speed')).toBe(found.degPerS > 15);
  });
});

describe('what cannot be seen of it', () => {
  const empty = (text: string) => scene({ a: label({ text }) });
  it('an empty text, or one of spaces, has nothing to read: no larger size would help', () => {
    for (const text of ['', '   ']) {
      const { faults } = measureReadable(solved(empty(text)), 0);
      expect(faults).toEqual([{ kind: 'empty' }]);
    }
    expect(measureReadable(solved(empty('Ebb')), 0).faults).toEqual([]);
  });

  it('an opacity that lets nothing through refuses at Paint, one of its group too; what is all but clear falls short by its contrast', () => {
    const of = (own: number, around: number) => {
      const card = { ...makeGroup(onGlass([0.5, 0.5]), 'Card', 'row', 'a0'), paint: { plate: null, opacity: around } };
      const words = makeText(insideOf('card'), 'Ebb', 'a1');
      const solver = solved(scene({ card, words: { ...words, paint: { ...words.paint, opacity: own } } }), coloured([20, 20, 20]));
      const row = solver.c.ids.indexOf('words');
      return { failed: solver.f.failed[row], faults: measureReadable(solver, row).faults.map(({ kind }) => kind) };
    };
    expect(of(1, 1).failed).toBe(Verdict.Shown);
    expect(of(0, 1).failed).toBe(Verdict.Paint);
    expect(of(1, 0).failed).toBe(Verdict.Paint);
    expect(of(0.01, 1)).toMatchObject({ failed: Verdict.Shown, faults: ['contrast'] });
    expect(of(1, 0.01)).toMatchObject({ failed: Verdict.Shown, faults: ['contrast'] });
  });

  it('a member outside of a group that clips is refused by Place, one half outside is cut there', () => {
    const at = (offsetY: number) => {
      const made = makeGroup(onGlass([0.5, 0.5]), 'Card', 'free', 'a0');
      const card = {
        ...made,
        layout: { ...made.layout, widthPx: 300, heightPx: 100, padPx: [0, 0, 0, 0] as [number, number, number, number], clip: true },
      };
      const solver = solved(scene({ card, words: makeText(insideOf('card', [0, 0], [10, offsetY]), 'Ebb', 'a1') }), coloured([20, 20, 20]));
      const row = solver.c.ids.indexOf('words');
      return { failed: solver.f.failed[row], links: explain(solver, row), faults: measureReadable(solver, row).faults };
    };
    expect(at(20)).toMatchObject({ failed: Verdict.Shown, faults: [] });
    const away = at(150);
    expect(away.failed).toBe(Verdict.Place);
    expect(away.links.find(({ state }) => state === 'no')?.step).toBe('place');
    // The text is 28 px x 1.25 = 35 px high; from 82.5 on, half of it lies below 100.
    const half = at(82.5);
    expect(half.failed).toBe(Verdict.Shown);
    expect(half.faults).toContainEqual({ kind: 'cut', at: 'group', by: 'card', value: 17.5 });
  });

  it('letters towards the edge of a flat screen are smaller at the eye, by where they stand before it', () => {
    const at = (pin: [number, number]) =>
      measureReadable(
        solved(
          scene({
            a: {
              ...makeText({ ...onGlass(pin), mount: { kind: 'glass', within: 'screen', pin, stretch: [false, false] } }, 'Ebb', 'a0'),
            },
          }),
          coloured([20, 20, 20]),
        ),
        0,
      ).capArcmin;
    const [middle, corner] = [at([0.5, 0.5]), at([1, 1])];
    // 1920 x 1080 on 27 in: 3212.16 px a metre, the eye 0.6 m before the middle. The farthest corner of the text's box.
    const pxPerM = Math.hypot(1920, 1080) / (27 * 0.0254);
    const far: [number, number] = [960 / pxPerM, 540 / pxPerM];
    const capM = 19.6 / pxPerM;
    const slant = Math.hypot(...far, 0.6);
    // A small upright length dy there: its part across the line of sight over the distance.
    const across = Math.sqrt(1 - (far[1] / slant) ** 2);
    const expected = (((capM * across) / slant) * 180 * 60) / Math.PI;
    expect(corner).toBeGreaterThan(expected * 0.97);
    expect(corner).toBeLessThan(expected * 1.03);
    expect(corner).toBeLessThan(middle * 0.9);
  });
});

describe('the step', () => {
  it('refuses nothing: what falls short is shown, and marked as that', () => {
    const solver = solved(scene({ a: label({ size: { rule: 'screen', emPx: 6, hideBelowPx: 0, leavePx: 0 } }) }), null, HEAD, 'phone');
    const links = explain(solver, 0);
    expect(links.some(({ state }) => state === 'no')).toBe(false);
    expect(links.at(-1)).toMatchObject({ step: 'readable', state: 'short' });
  });
});

describe('a page', () => {
  const HASH = 'a'.repeat(64);
  /** A page of 400 x 300 px, in the middle of the HUD. */
  const paged = (caps: number | undefined, widthPx: number, heightPx: number, around: Record<string, Element> = {}) => {
    const d = scene({ page: makePage(onGlass([0.5, 0.5]), 'Tide table', 'table', widthPx, heightPx, 'a0'), ...around });
    d.pictures = { table: { name: 'Tide table', order: 'a0', hash: HASH, type: 'text/html', widthPx: 400, heightPx: 300 } };
    const solver = makeSolver(
      arrange(compile(d, null), d.viewers.desk as never, { ...text, pageCapPx: (page) => (page === HASH ? caps : undefined) }),
    );
    solve(solver, { timeS: 0, head: HEAD, depthOrder: true });
    return solver;
  };
  it('is judged by the height of its letters as large as it lies in its box', () => {
    // 1000 x 600 take 400 x 300 twice as large: 8 px of capitals are 16 px.
    expect(measureReadable(paged(8, 1000, 600), 0)).toMatchObject({ capPx: 16, smallest: 0 });
    expect(measureReadable(paged(3, 1000, 600), 0).faults).toContainEqual(expect.objectContaining({ kind: 'small' }));
    expect(measureReadable(paged(Number.POSITIVE_INFINITY, 400, 300), 0)).toMatchObject({ capPx: Number.POSITIVE_INFINITY, faults: [] });
  });
  it('whose letters nobody has measured falls short of that, in a group too', () => {
    expect(measureReadable(paged(undefined, 400, 300), 0).faults).toEqual([{ kind: 'unmeasured', row: 'page' }]);
    expect(explain(paged(undefined, 400, 300), 0).find(({ step }) => step === 'readable')?.state).toBe('short');
    const group = makeGroup(onGlass([0, 0]), 'Board', 'row', 'a1');
    const inside = paged(undefined, 400, 300, { board: group, page: makePage(insideOf('board'), 'Tide table', 'table', 400, 300, 'a0') });
    expect(measureReadable(inside, inside.c.ids.indexOf('board')).faults).toContainEqual({ kind: 'unmeasured', row: 'page' });
  });
});
