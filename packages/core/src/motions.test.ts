/** Coming and going: a function of the time since, whatever the frame rate; seen while it leaves; screen paint that falls. */
import {
  type Document,
  type Element,
  insideOf,
  type Motion,
  makeDocument,
  makeGroup,
  makeLabel,
  makeMovement,
  makeScreenPaint,
  makeText,
  onGlass,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { drawList } from './draw-list.ts';
import { ease, isUnsettled, playMotion } from './motions.ts';
import { actingRow, rowUnder } from './pointer.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';

const HEAD = { position: [0, 1.6, 0] as [number, number, number], rotation: [0, 0, 0, 1] as [number, number, number, number] };
const PHASES = { roaming: { name: 'Roaming', order: 'a0' }, paused: { name: 'Paused', order: 'a1' } };
const hiddenWhen = (phase: string): Element['show'] => ({ phases: { [phase]: 'hidden' }, need: 'all', conditions: [], lingerS: 0 });
const motion = (edit: Partial<Motion> = {}): Motion => ({
  enter: { ...makeMovement('fade'), timeS: 0.4 },
  leave: { ...makeMovement('fade'), timeS: 0.2 },
  betweenS: 0,
  ...edit,
});
const card = (edit: Partial<Motion> = {}) => ({
  ...makeGroup(onGlass([0, 0]), 'Card', 'column', 'a0'),
  show: hiddenWhen('roaming'),
  motion: motion(edit),
});
const documentOf = (elements: Record<string, Element>): Document => ({ ...makeDocument('Low Water'), elements, phases: PHASES });
const solverOf = (document: Document) => makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
const step = (solver: Solver, timeS: number, phase: string, values?: number[]) =>
  solve(solver, { timeS, head: HEAD, depthOrder: true, phase, ...(values && { values }) });

it('nothing is on its way while time stands: it is there at once, and gone at once', () => {
  const solver = solverOf(documentOf({ card: card() }));
  const stand = (phase: string) => solve(solver, { timeS: 4, head: HEAD, depthOrder: true, phase, stands: true }).presence[0];
  expect([stand('roaming'), stand('paused'), stand('roaming')]).toEqual([0, 1, 0]);
  expect(isUnsettled(solver)).toBe(false);
  // Time that goes on takes its time again.
  step(solver, 4, 'paused');
  expect(step(solver, 4.2, 'paused').presence[0]).toBeCloseTo(0.5, 6);
});

describe('easing', () => {
  it('begins at 0, ends at 1, and the smooth and the stepped never go back', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(share, share, (a, b) => {
        for (const easing of ['smooth', 'springy', 'stepped'] as const) {
          expect(ease(easing, 0)).toBe(0);
          expect(ease(easing, 1)).toBe(1);
        }
        const [first, last] = [Math.min(a, b), Math.max(a, b)];
        for (const easing of ['smooth', 'stepped'] as const) expect(ease(easing, first)).toBeLessThanOrEqual(ease(easing, last));
        expect(Math.abs(ease('springy', a))).toBeLessThan(1.2);
      }),
    );
  });
  it('goes in six steps', () => {
    const levels = new Set(Array.from({ length: 1001 }, (_, k) => ease('stepped', k / 1000).toFixed(6)));
    expect(levels.size).toBe(7);
  });
});

describe('an element that comes and goes', () => {
  it('is there in full from the first frame on: nothing is seen arriving that was there before', () => {
    const solver = solverOf(documentOf({ card: card() }));
    step(solver, 5, 'paused');
    expect(solver.f.presence[0]).toBe(1);
  });
  it('has come as far at 30, 60 and 144 Hz and at uneven steps', () => {
    const presenceAt = (times: number[]) => {
      const solver = solverOf(documentOf({ card: card() }));
      const out: Record<string, number> = {};
      for (const t of times) {
        step(solver, t, t >= 1 ? 'paused' : 'roaming');
        out[t.toFixed(6)] = solver.f.presence[0] as number;
      }
      return out;
    };
    const ticks = (hz: number) => Array.from({ length: hz * 2 + 1 }, (_, k) => k / hz);
    const reference = presenceAt(ticks(30));
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 2, noNaN: true }), { maxLength: 40 }), (more) => {
        const uneven = [...new Set([...ticks(2), ...more])].sort((a, b) => a - b);
        for (const [t, presence] of Object.entries(presenceAt(uneven)))
          if (reference[t] !== undefined) expect(presence).toBeCloseTo(reference[t], 9);
      }),
      { numRuns: 40 },
    );
    for (const hz of [60, 144])
      for (const [t, presence] of Object.entries(presenceAt(ticks(hz))))
        if (reference[t] !== undefined) expect(presence).toBeCloseTo(reference[t], 9);
    // Half of 0.4 s: the smooth curve is at its middle.
    expect(presenceAt([0, 1, 1.2])['1.200000']).toBeCloseTo(0.5, 9);
  });
  it('is painted while it leaves and gone afterwards, with all that is inside', () => {
    const solver = solverOf(documentOf({ card: card(), word: makeText(insideOf('card'), 'Paused', 'a1') }));
    const texts = () => drawList(solver).items.filter((item) => item.kind === 'text');
    step(solver, 0, 'paused');
    expect(texts()[0]).toMatchObject({ opacity: 1 });
    step(solver, 1, 'roaming');
    step(solver, 1.1, 'roaming');
    expect(texts()[0]).toMatchObject({ opacity: expect.closeTo(0.5, 9) });
    expect(isUnsettled(solver)).toBe(true);
    step(solver, 1.21, 'roaming');
    expect(texts()).toEqual([]);
    expect(isUnsettled(solver)).toBe(false);
  });
  it('goes on from where it was when it is called back', () => {
    const solver = solverOf(documentOf({ card: card() }));
    step(solver, 0, 'paused');
    step(solver, 1, 'roaming');
    step(solver, 1.1, 'roaming');
    const before = solver.f.presence[0] as number;
    step(solver, 1.1, 'paused');
    expect(solver.f.presence[0]).toBeCloseTo(before, 9);
    step(solver, 1.3, 'paused');
    expect(solver.f.presence[0]).toBeCloseTo(before + (1 - before) * 0.5, 9);
  });
  it('floating, keeps its place in the world while it goes', () => {
    const document: Document = {
      ...documentOf({ sign: { ...makeLabel('post', 'Sluice', 'a0'), show: hiddenWhen('paused'), motion: motion() } }),
      anchors: { post: { kind: 'surface', name: 'Post', order: 'a0', node: null, position: [0, 1.6, -10], normal: [0, 0, 1] } },
    };
    const solver = solverOf(document);
    step(solver, 0, 'roaming');
    const place = drawList(solver).items.find((item) => item.kind === 'plate');
    step(solver, 1, 'paused');
    step(solver, 1.05, 'paused');
    const going = drawList(solver).items.find((item) => item.kind === 'plate');
    expect(going).toMatchObject({ x: (place as { x: number }).x, y: (place as { y: number }).y });
    expect((going as { opacity: number }).opacity).toBeLessThan(1);
  });
  it('plays once more when it is asked to', () => {
    const solver = solverOf(documentOf({ card: card() }));
    step(solver, 0, 'paused');
    playMotion(solver, 0);
    step(solver, 0.2, 'paused');
    expect(solver.f.presence[0]).toBeCloseTo(0.5, 9);
  });
  it('moves as its kind says: from its edge, from its middle, about its edge', () => {
    const matrixOf = (kind: 'slide' | 'grow' | 'unfold', edge: 'left' | 'top') => {
      const solver = solverOf(documentOf({ card: card({ enter: { ...makeMovement(kind), edge, timeS: 0.4 } }) }));
      step(solver, 0, 'roaming');
      step(solver, 1, 'paused');
      step(solver, 1.2, 'paused');
      const push = drawList(solver).items.find((item) => item.kind === 'push');
      const { f } = solver;
      return {
        matrix: push?.kind === 'push' ? push.matrix : [],
        x: f.places[4] as number,
        y: f.places[5] as number,
        w: f.places[6] as number,
        h: f.places[7] as number,
      };
    };
    const slid = matrixOf('slide', 'left');
    expect(slid.matrix).toEqual([1, 0, 0, 1, expect.closeTo(-slid.w / 2, 6), 0]);
    const grown = matrixOf('grow', 'left');
    expect(grown.matrix.slice(0, 4)).toEqual([expect.closeTo(0.5, 9), 0, 0, expect.closeTo(0.5, 9)]);
    expect(grown.matrix[4]).toBeCloseTo((grown.x + grown.w / 2) / 2, 6);
    const unfolded = matrixOf('unfold', 'top');
    expect(unfolded.matrix.slice(0, 4)).toEqual([1, 0, 0, expect.closeTo(0.5, 9)]);
    expect(unfolded.matrix[5]).toBeCloseTo(unfolded.y / 2, 6);
  });
  it('acts once it has arrived, blocks on its way, and is not there while it waits', () => {
    const acts = { takes: 'acts' as const, action: null, padPx: 0, pointed: {}, pressed: {} };
    const solver = solverOf(
      documentOf({ card: { ...card({ enter: { ...makeMovement('fade'), timeS: 0.4, delayS: 0.2 } }), pointer: acts } }),
    );
    step(solver, 0, 'roaming');
    const under = (timeS: number) => {
      step(solver, timeS, 'paused');
      const { f } = solver;
      const row = rowUnder(solver, (f.places[4] as number) + 2, (f.places[5] as number) + 2);
      return [row, row < 0 ? -1 : actingRow(solver, row)];
    };
    expect(under(1)).toEqual([-1, -1]);
    expect(under(1.1)).toEqual([-1, -1]);
    expect(under(1.4)).toEqual([0, -1]);
    expect(under(1.61)).toEqual([0, 0]);
  });
  it('comes one after the other in a group that says so', () => {
    const members = Object.fromEntries(
      ['a', 'b', 'c'].map((id, k) => [id, { ...makeText(insideOf('card'), id, `b${k}`), motion: motion() }]),
    );
    const solver = solverOf(documentOf({ card: card({ enter: null, leave: null, betweenS: 0.1 }), ...members }));
    step(solver, 0, 'roaming');
    step(solver, 1, 'paused');
    step(solver, 1.2, 'paused');
    const at = (id: string) => solver.f.presence[solver.c.motions.indexOf(solver.c.ids.indexOf(id))] as number;
    const smooth = (t: number) => t * t * (3 - 2 * t);
    expect(at('a')).toBeCloseTo(smooth(0.5), 9);
    expect(at('b')).toBeCloseTo(smooth(0.25), 9);
    expect(at('c')).toBe(0);
  });
});

describe('screen paint', () => {
  const cold = (fallPerS: number | null) => ({ ...makeScreenPaint('desaturate', 'Cold', 'cold', 'a0'), fallPerS });
  const documentWith = (fallPerS: number | null): Document => ({
    ...documentOf({ cold: cold(fallPerS) }),
    feeds: { cold: { name: 'Cold', order: 'a0', kind: 'number', unit: '', initial: 0 } },
  });
  const amount = (solver: Solver) => {
    const item = drawList(solver).items.find((one) => one.kind === 'screen');
    return item?.kind === 'screen' ? item.amount : 0;
  };
  it('is as strong as its feed says, lies under everything, and lets the pointer pass', () => {
    const solver = solverOf(documentWith(null));
    step(solver, 0, 'roaming', [0.25]);
    expect(amount(solver)).toBeCloseTo(0.25, 9);
    step(solver, 0.1, 'roaming', [0]);
    expect(amount(solver)).toBe(0);
  });
  it('rises at once and falls at its pace', () => {
    const solver = solverOf(documentWith(0.5));
    step(solver, 0, 'roaming', [0]);
    step(solver, 0.1, 'roaming', [0.8]);
    expect(amount(solver)).toBeCloseTo(0.8, 9);
    step(solver, 0.7, 'roaming', [0]);
    expect(amount(solver)).toBeCloseTo(0.8 - 0.5 * 0.6, 9);
    step(solver, 3, 'roaming', [0]);
    expect(amount(solver)).toBe(0);
  });
});
