/** Every mend clears what it says, and makes nothing worse, when it is solved again by itself. */
import { arrange, compile, type Inputs, type Level, makeSolver, measureReadable, type Readability, solve, Verdict } from '@foreshore/core';
import {
  type Anchor,
  type Document,
  type Element,
  insideOf,
  type Label,
  makeDocument,
  makeGroup,
  makeLabel,
  makePage,
  makeText,
  onGlass,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { levelOf } from '../../core/src/sample-level.ts';
import { type Mend, mends, tryMends, withMend } from './mends.ts';

const grey = (shade: number): Level => ({
  ...levelOf([]),
  colourAt: (_o, _d, out) => {
    out[0] = out[1] = out[2] = shade;
    return out;
  },
});
function scene(elements: Record<string, Element>, at: [number, number, number] = [0, 1.65, -10]): Document {
  const made = makeDocument('Low Water');
  made.anchors.spot = { kind: 'surface', name: 'Spot', order: 'a0', node: null, position: at, normal: [0, 0, 1] };
  made.elements = elements;
  return made;
}
const label = (size: Label['size'], paint: Partial<Label['paint']> = {}): Label => {
  const made = makeLabel('spot', 'Spot', 'a0');
  return {
    ...made,
    size,
    paint: { ...made.paint, plate: { colour: '#15233B', padEm: [0.2, 0.1], radiusEm: 0 }, colour: '#FBF8F0', ...paint },
  };
};
const screen = (emPx: number): Label['size'] => ({ rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 });
const inputs: Inputs = { timeS: 0, head: { position: [0, 1.65, 0], rotation: [0, 0, 0, 1] }, depthOrder: true };
const arrangedFor = (d: Document, viewers: readonly string[], level: Level | null) =>
  Object.fromEntries(viewers.map((id) => [id, arrange(compile(d, level), d.viewers[id] as never, text)]));
const ask = (d: Document, row: string, viewers: readonly string[] = Object.keys(d.viewers), level: Level | null = null): Mend[] =>
  mends({ arranged: arrangedFor(d, viewers, level), inputs, row });
const taken = (d: Document, mend: Mend): Document => withMend(d, mend);
function readAt(d: Document, viewer: string, row: string, level: Level | null = null): Readability | null {
  const solver = makeSolver(arrange(compile(d, level), d.viewers[viewer] as never, text));
  solve(solver, inputs);
  const i = solver.c.ids.indexOf(row);
  return solver.f.failed[i] === Verdict.Shown ? measureReadable(solver, i) : null;
}

/** The em in design pixels that a viewer needs for 16 arcmin and 9 px of capitals 0.7 em high; worked out from the screens themselves. */
function emNeeded({ viewers }: Document, id: string): number {
  const { widthPx, heightPx, diagonalIn, distanceM } = viewers[id] as Extract<Document['viewers'][string], { kind: 'screen' }>;
  const perDegree = (2 * distanceM * Math.tan(Math.PI / 360) * Math.hypot(widthPx, heightPx)) / (diagonalIn * 0.0254);
  const fit = Math.min(widthPx / 1920, heightPx / 1080);
  return Math.max((16 / 60) * perDegree, 9) / 0.7 / fit;
}
const halves = (v: number) => Math.ceil(v * 2 - 1e-9) / 2;

describe('a change that does not do', () => {
  it('is told with what is left of it', () => {
    // 2400 px wide on a screen of 1920, and beside its pin.
    const wide: Label = { ...makeText(onGlass([0.5, 0.5], [200, 0]), 'Spot', 'a0'), size: screen(600) };
    const d = scene({ wide });
    const cutOf = (one: Document) => readAt(one, 'desk', 'wide')?.faults.find(({ kind }) => kind === 'cut');
    const { refused } = tryMends({ arranged: arrangedFor(d, ['desk'], null), inputs, row: 'wide' });
    const inside = scene({ wide: { ...wide, place: { ...wide.place, stay: 'inside' } } });
    const told = refused.find(({ change }) => change.kind === 'stayInside');
    expect(told?.obstacle).toEqual({ element: 'wide', viewer: 'desk', stays: true, shortfall: cutOf(inside) });
    expect(cutOf(inside)).not.toEqual(cutOf(d));
  });

  it('is told with what it hides, or covers', () => {
    const small: Label = { ...makeText(onGlass([0.5, 0.5]), 'Spot', 'a0'), size: screen(8) };
    const near = makeText(onGlass([0.5, 0.5], [0, 27]), 'Spot', 'a1');
    const plate = { colour: '#15233B', padEm: [0.2, 0.1], radiusEm: 0 } as Label['paint']['plate'];
    const d = scene({ small, near: { ...near, paint: { ...near.paint, plate } } });
    const { mends: found, refused } = tryMends({ arranged: arrangedFor(d, ['desk'], null), inputs, row: 'small' });
    // As large as can be read it has room; larger it has not.
    expect(found.filter(({ kind }) => kind === 'small').map(({ change }) => change.kind)).toEqual(['px']);
    const larger = refused.find(({ kind, change }) => kind === 'small' && change.kind === 'everyScreen');
    const under = { kind: 'covered', by: 'near' };
    expect(larger?.obstacle).toMatchObject({ element: 'small', viewer: 'desk', stays: false, shortfall: under });
  });
});

describe('a page', () => {
  const paged = (capPx: number | undefined) => {
    const d = scene({ page: makePage(onGlass([0.5, 0.5]), 'Tide table', 'table', 400, 300, 'a0') });
    d.pictures = { table: { name: 'Tide table', order: 'a0', hash: 'a'.repeat(64), type: 'text/html', widthPx: 400, heightPx: 300 } };
    const own = { ...text, pageCapPx: () => capPx };
    const arranged = (of: Document) => ({ desk: arrange(compile(of, null), of.viewers.desk as never, own) });
    return { d, arranged, found: mends({ arranged: arranged(d), inputs, row: 'page' }) };
  };
  it('with small letters is made larger, as they are measured', () => {
    const { d, arranged, found } = paged(7);
    expect(found.length).toBeGreaterThan(0);
    for (const mend of found) {
      const solver = makeSolver(arranged(taken(d, mend)).desk);
      solve(solver, inputs);
      expect(measureReadable(solver, 0).faults).toEqual([]);
    }
  });
  it('that nobody has measured is offered nothing', () => {
    expect(paged(undefined).found).toEqual([]);
  });
});

describe('letters that are too small', () => {
  it('are made as large as the screen that needs it most asks, and as each other one does', () => {
    const d = scene({ spot: label(screen(6)) });
    const needed = Object.keys(d.viewers).map((id) => emNeeded(d, id));
    const [everywhere, ...offered] = ask(d, 'spot');
    expect(everywhere).toMatchObject({ kind: 'small', change: { kind: 'everyScreen', arcmin: 20 }, clears: Object.keys(d.viewers) });
    for (const viewer of Object.keys(d.viewers)) {
      const read = readAt(taken(d, everywhere as Mend), viewer, 'spot');
      // 9 px of capitals are more than that on the screen with the fewest pixels a degree.
      expect(read?.capArcmin).toBeGreaterThan(20 - 1e-9);
      expect(read?.capPx).toBeGreaterThan(9 - 1e-9);
      expect(read?.capArcmin).toBeLessThan(22);
    }
    expect(offered[0]).toMatchObject({
      kind: 'small',
      change: { kind: 'px', of: 'letters', value: halves(Math.max(...needed)) },
      clears: Object.keys(d.viewers),
    });
    for (const mend of offered) {
      const { size } = mend.part as Label;
      if (size.rule !== 'screen') continue;
      expect(needed.map(halves)).toContain(size.emPx);
      // It clears just those that need no more.
      expect(mend.clears).toEqual(Object.keys(d.viewers).filter((_, k) => (needed[k] as number) <= size.emPx));
    }
  });
  it('go to another side of their anchor where, larger, they would lie over something else', () => {
    const d = scene({ spot: label(screen(10)), above: { ...label(screen(40)), mount: { kind: 'floating', anchor: 'above' } } });
    // So little above that there is room between them now, and none for 20 arcmin.
    d.anchors.above = { ...(d.anchors.spot as Anchor), position: [0, 1.78, -9.9] } as Anchor;
    const offered = ask(d, 'spot', ['desk']).filter(({ kind }) => kind === 'small');
    expect(offered.length).toBeGreaterThan(0);
    for (const mend of offered) {
      expect(mend.change).toHaveProperty('side');
      const after = taken(d, mend);
      expect(readAt(after, 'desk', 'spot')?.faults).toEqual([]);
      expect(readAt(after, 'desk', 'above')?.faults).toEqual(readAt(d, 'desk', 'above')?.faults);
    }
  });
  it('that are all but clear are made opaque, where it is their group that is, too', () => {
    const faint = scene({ spot: label(screen(28), { opacity: 0.01 }) });
    expect(ask(faint, 'spot', ['desk'], grey(20))[0]).toMatchObject({ change: { kind: 'opaque' }, element: 'spot' });
    const card = {
      ...makeGroup({ ...label(screen(28)), mount: { kind: 'floating', anchor: 'spot' } }, 'Card', 'row', 'a0'),
      paint: { plate: null, opacity: 0.02 },
    };
    const d = scene({
      card: { ...card, size: { rule: 'screen', emPx: 1, hideBelowPx: 0, leavePx: 0 } },
      words: makeText(insideOf('card'), 'Ebb', 'a1'),
    });
    const [first] = ask(d, 'words', ['desk'], grey(20));
    expect(first).toMatchObject({ change: { kind: 'opaque' }, element: 'card', part: { paint: { opacity: 1 } } });
  });
  it('keep a least size where they shrink with the world', () => {
    const d = scene({ spot: label({ rule: 'world', emM: 0.05, leastPx: 2, greatestPx: 10, hideBelowPx: 0, leavePx: 0 }) });
    const [mend] = ask(d, 'spot', ['desk']);
    expect(mend?.change).toEqual({ kind: 'neverUnder', of: 'letters', value: halves(emNeeded(d, 'desk')) });
    expect(mend?.part).toMatchObject({ size: { rule: 'world', leastPx: 13, greatestPx: 13 } });
  });
  it('are of the text itself where it stands in a group on the glass', () => {
    const d = scene({
      box: makeGroup(onGlass([0.5, 0.5]), 'Box', 'row', 'a0'),
      small: { ...makeText(insideOf('box'), 'Ebb', 'a1'), size: screen(8) },
      large: { ...makeText(insideOf('box'), 'Tide', 'a2'), size: screen(40) },
    });
    expect(ask(d, 'box', ['desk']).find(({ change }) => change.kind === 'px')).toMatchObject({ element: 'small', change: { value: 13 } });
  });
});

describe('other shortfalls', () => {
  it('of contrast are mended by an outline or a plate of the other brightness', () => {
    const pale = scene({ spot: label(screen(40), { plate: null, outline: null, colour: '#FBF8F0' }) });
    const offered = ask(pale, 'spot', ['desk'], grey(235));
    expect(offered.map(({ change }) => change)).toEqual([
      { kind: 'outline', tone: 'dark' },
      { kind: 'plate', tone: 'dark' },
    ]);
    const dark = scene({ spot: label(screen(40), { plate: null, outline: null, colour: '#15233B' }) });
    expect(ask(dark, 'spot', ['desk'], grey(30)).map(({ change }) => change)).toEqual([
      { kind: 'outline', tone: 'light' },
      { kind: 'plate', tone: 'light' },
    ]);
    for (const mend of offered) expect(readAt(taken(pale, mend), 'desk', 'spot', grey(235))?.faults).toEqual([]);
  });
  it('of what is cut off, by keeping it inside', () => {
    const d = scene({ spot: label(screen(40)) }, [10.2, 1.65, -10]);
    expect(ask(d, 'spot', ['desk'])).toMatchObject([{ kind: 'cut', change: { kind: 'stayInside' }, clears: ['desk'] }]);
  });
  it('of what lies under others are mended by making room, or by the shortest way out', () => {
    const d = scene({
      under: { ...label(screen(40)), name: 'Under' },
      lid: { ...label(screen(44)), order: 'a1', name: 'Lid' },
    });
    const covered = ['under', 'lid'].find((id) => readAt(d, 'desk', id)?.faults.some(({ kind }) => kind === 'covered')) as string;
    const offered = ask(d, covered, ['desk']);
    expect(offered.map(({ change }) => change.kind)).toEqual(['allApart', 'moved', 'moved', 'moved', 'moved']);
    for (const mend of offered) expect(readAt(taken(d, mend), 'desk', covered)?.faults).toEqual([]);
    // The shortest is first.
    const ways = offered.flatMap(({ change }) => (change.kind === 'moved' ? [change.byPx] : []));
    const lengths = ways.map(([x, y]) => Math.abs(x) + Math.abs(y));
    expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
    const apart = taken(d, offered[0] as Mend);
    expect(apart.labels).toEqual({ apart: true });
    // Where labels keep apart already, one that does not makes room, too.
    const does = (id: string, how: 'free' | 'stays') => {
      const one = d.elements[id] as Element;
      return { [id]: { ...one, place: { ...one.place, apart: how } } as Element };
    };
    const free = { ...apart, elements: { ...does(covered, 'free'), ...does(covered === 'lid' ? 'under' : 'lid', 'stays') } };
    expect(readAt(free, 'desk', covered)?.faults.map(({ kind }) => kind)).toEqual(['covered']);
    const [room] = ask(free, covered, ['desk']) as [Mend];
    expect(room.change).toEqual({ kind: 'makesRoom' });
    expect(readAt(taken(free, room), 'desk', covered)?.faults).toEqual([]);
    // On the HUD nothing makes room by itself.
    const tide = { ...makeText(onGlass([0.5, 0.5]), 'Ebb', 'a0'), size: screen(40) };
    const hud = scene({ tide, flood: { ...tide, order: 'a1', text: 'Flood' } });
    const moved = ask(hud, 'tide', ['desk']);
    expect(moved.map(({ change }) => change.kind)).toEqual(['moved', 'moved', 'moved', 'moved']);
    expect(moved[0]?.kind).toBe('overlaps');
    for (const mend of moved) for (const id of ['tide', 'flood']) expect(readAt(taken(hud, mend), 'desk', id)?.faults).toEqual([]);
  });
  it('have no mend where no setting is at fault', () => {
    const empty = scene({ spot: { ...label(screen(40)), text: '' } });
    expect(readAt(empty, 'desk', 'spot')?.faults.map(({ kind }) => kind)).toContain('empty');
    expect(ask(empty, 'spot', ['desk'])).toEqual([]);
    expect(ask(scene({ spot: label(screen(40)) }), 'spot', ['desk'])).toEqual([]);
  });
});

it('every mend clears what it says and makes nothing worse, over random labels and grounds (property)', () => {
  let offered = 0;
  const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  fc.assert(
    fc.property(
      fc.record({
        x: number(-9, 9),
        y: number(-2, 6),
        em: number(4, 40),
        rule: fc.constantFrom('screen', 'angle', 'world'),
        shade: fc.integer({ min: 0, max: 255 }),
        colour: fc.constantFrom('#FBF8F0', '#15233B', '#808080'),
      }),
      ({ x, y, em, rule, shade, colour }) => {
        const floor = { hideBelowPx: 0, leavePx: 0 };
        const size: Label['size'] =
          rule === 'screen'
            ? screen(em)
            : rule === 'angle'
              ? { rule: 'angle', emArcmin: em, ...floor }
              : { rule: 'world', emM: em / 100, leastPx: 3, greatestPx: 80, ...floor };
        const d = scene({ spot: label(size, { plate: null, outline: null, colour }) }, [x, y, -10]);
        const level = grey(shade);
        for (const mend of ask(d, 'spot', undefined, level)) {
          offered++;
          const after = taken(d, mend);
          for (const viewer of Object.keys(d.viewers)) {
            const [was, is] = [readAt(d, viewer, 'spot', level), readAt(after, viewer, 'spot', level)];
            if (!was) continue;
            const kinds = was.faults.map(({ kind }) => kind);
            expect(is?.faults.every(({ kind }) => kinds.includes(kind))).toBe(true);
            if (mend.clears.includes(viewer)) expect(is?.faults.map(({ kind }) => kind)).not.toContain(mend.kind);
          }
        }
      },
    ),
    { numRuns: 60 },
  );
  expect(offered).toBeGreaterThan(40);
});
