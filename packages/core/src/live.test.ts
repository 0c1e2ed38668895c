/** Feeds, gauges and phases in time. */
import {
  barForm,
  type Document,
  type Element,
  type FeedSource,
  insideOf,
  makeDocument,
  makeGauge,
  makeGroup,
  makeLabel,
  makeText,
  onGlass,
  type Show,
  withoutFeed,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { drawList, opacityOf } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import { GaugeState, gaugeColour } from './gauges.ts';
import { isUnsettled } from './motions.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import type { Pose } from './spaces/pose.ts';
import { Verdict } from './steps/names.ts';
import { readValues, type Values } from './values.ts';

const HEAD: Pose = { position: [0, 1.65, 0], rotation: [0, 0, 0, 1] };

function document(elements: Record<string, Element>, source: FeedSource = { kind: 'fixed' }): Document {
  const made = makeDocument('Low Water');
  made.feeds.warmth = { name: 'Warmth', order: 'a0', kind: 'number', unit: '%', initial: 80, source };
  made.phases.paused = { name: 'Paused', order: 'a1' };
  made.elements = elements;
  return made;
}
const solverOf = (d: Document): Solver => makeSolver(arrange(compile(d, null), d.viewers.desk as never, text));
const step = (solver: Solver, timeS: number, values?: Values, phase: string | null = 'roaming') =>
  solve(solver, { timeS, head: HEAD, depthOrder: true, ...(values ? { values } : {}), phase });

const gauge = (edit: Partial<ReturnType<typeof makeGauge>> = {}) => ({
  ...makeGauge(onGlass([0, 1]), 'Warmth', 'warmth', barForm(), 'a0'),
  smoothS: 0,
  ...edit,
});

describe('an event', () => {
  const surging = (): Document => {
    const made = document({
      surge: {
        ...makeLabel('spot', 'Surge {surge}', 'a0'),
        show: { phases: {}, need: 'all', conditions: [{ kind: 'changed', feed: 'surge', withinS: 2 }], lingerS: 0 },
      },
      always: makeLabel('spot', 'Here', 'a1'),
    });
    made.feeds.surge = {
      name: 'Surge',
      order: 'a1',
      kind: 'event',
      unit: '',
      initial: { number: 0, place: [0, 0, 0] },
      source: {
        kind: 'events',
        places: [
          [1, 0, -8],
          [-2, 1, -20],
        ],
        everyS: 5,
      },
    };
    made.anchors.spot = { kind: 'event', name: 'Spot', order: 'a0', feed: 'surge', offset: [0, 0.5, 0] };
    return made;
  };

  it('is a place in the world once it has happened, and another at the next', () => {
    const solver = solverOf(surging());
    const at = (t: number) => {
      step(solver, t, readValues(solver.c, null, t, HEAD, {}));
      return [...solver.f.failed].map((v) => v as Verdict);
    };
    const row = solver.c.ids.indexOf('always');
    expect(at(0)[row]).toBe(Verdict.Attach);
    expect(explain(solver, row)[0]?.facts).toEqual([{ kind: 'notYet', feed: 'surge' }]);
    expect(at(5)[row]).toBe(Verdict.Shown);
    // By hand: 8 m ahead and 1 m to the right, 1.15 m below the eye.
    expect([...solver.c.anchorWorld.slice(0, 3)]).toEqual([1, 0.5, -8]);
    at(10);
    expect([...solver.c.anchorWorld.slice(0, 3)]).toEqual([-2, 1.5, -20]);
    at(15);
    expect([...solver.c.anchorWorld.slice(0, 3)]).toEqual([1, 0.5, -8]);
  });

  it('makes what waits for it appear and leave again, and counts in texts', () => {
    const solver = solverOf(surging());
    const row = solver.c.ids.indexOf('surge');
    const shownAt = [];
    for (let tick = 0; tick <= 120; tick++) {
      step(solver, tick / 10, readValues(solver.c, null, tick / 10, HEAD, {}));
      if (solver.f.failed[row] === Verdict.Shown) shownAt.push(tick);
    }
    // Events at 5 and 10 s, each for 2 s, both ends counted.
    expect(shownAt).toEqual([...Array(21).keys()].map((k) => 50 + k).concat([...Array(21).keys()].map((k) => 100 + k)));
  });

  it('that is removed leaves its anchor unwired', () => {
    const left = withoutFeed(surging(), 'surge');
    expect(left.anchors.spot).toMatchObject({ kind: 'event', feed: null });
    const solver = solverOf(left);
    step(solver, 6, []);
    expect(explain(solver, solver.c.ids.indexOf('always'))[0]).toMatchObject({
      state: 'no',
      facts: [{ kind: 'lost', fault: { kind: 'noEvent' } }],
    });
  });
});

describe('a gauge', () => {
  it('stands at its value at once with empty memory, and follows an even change as the closed form says', () => {
    const solver = solverOf(document({ bar: gauge({ smoothS: 0.5 }) }));
    step(solver, 0, [80]);
    expect(solver.f.gaugeShare[0]).toBe(0.8);
    // From 0.8 falling at 0.2 a second: behind by v·τ·(1 − e^(−t/τ)), whatever the steps.
    for (const t of [0.1, 0.3, 0.35, 1, 1.7]) {
      step(solver, t, [80 - 20 * t]);
      expect(solver.f.gaugeShare[0]).toBeCloseTo(0.8 - 0.2 * t + 0.2 * 0.5 * (1 - Math.exp(-t / 0.5)), 9);
    }
  });

  it('is the same at 30, 60 and 144 Hz where its value runs straight (property)', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.02, max: 2, noNaN: true }), fc.double({ min: -40, max: 15, noNaN: true }), (tau, perS) => {
        const at = (hz: number) => {
          const solver = solverOf(document({ bar: gauge({ smoothS: tau }) }));
          for (let k = 0; k <= hz; k++) step(solver, k / hz, [80 + (perS * k) / hz]);
          return solver.f.gaugeShare[0] as number;
        };
        // The bar is 320 px long: half a pixel is a share of 0.0016.
        expect(Math.abs(at(30) - at(144)) * 320).toBeLessThan(0.5);
        expect(Math.abs(at(60) - at(144)) * 320).toBeLessThan(0.5);
      }),
      { numRuns: 40 },
    );
  });

  it('keeps a ghost of what was lost: held, then running off, never less than what is shown', () => {
    const solver = solverOf(document({ bar: gauge({ ghost: { colour: '#BF3F2B', holdS: 0.5, perS: 0.4 } }) }));
    const at = (timeS: number, value: number) => {
      step(solver, timeS, [value]);
      return solver.f.gaugeGhost[0];
    };
    expect(at(0, 80)).toBeCloseTo(0.8, 9);
    expect(at(0.1, 30)).toBeCloseTo(0.8, 9);
    expect(at(0.5, 30)).toBeCloseTo(0.8, 9);
    // The hold ends at 0.6 s; from then on 0.4 of the whole a second.
    expect(at(1.1, 30)).toBeCloseTo(0.8 - 0.2, 9);
    expect(at(3, 30)).toBeCloseTo(0.3, 9);
    expect(at(3.1, 90)).toBeCloseTo(0.9, 9);
  });

  it.each([
    ['a value that nobody supplies', undefined, GaugeState.Missing],
    ['a text', 'cold', GaugeState.NotNumber],
    ['a value below its empty end', -3, GaugeState.Under],
    ['a value above its full end', 104, GaugeState.Over],
    ['its empty end', 0, GaugeState.Fine],
    ['its full end', 100, GaugeState.Fine],
  ])('tells %s from others', (_, value, state) => {
    const solver = solverOf(document({ bar: gauge() }));
    step(solver, 0, [value]);
    expect(solver.f.gaugeState[0]).toBe(state);
    const kinds = drawList(solver).items.map((item) => item.kind);
    // Struck through where there is no number.
    expect(kinds.includes('line')).toBe(state === GaugeState.Missing || state === GaugeState.NotNumber);
  });

  it('takes the paint of the first threshold it is below; a value at a bound belongs to what is above', () => {
    const with2 = gauge({
      thresholds: [
        { below: 20, colour: '#BF3F2B' },
        { below: 50, colour: '#A66D0C' },
      ],
    });
    expect([0, 19.99, 20, 49.9, 50, 100].map((v) => gaugeColour(with2, v))).toEqual([
      '#BF3F2B',
      '#BF3F2B',
      '#A66D0C',
      '#A66D0C',
      '#E5B45C',
      '#E5B45C',
    ]);
  });

  it('fills the share of its box that its value says, from the side it grows from', () => {
    for (const [towards, expected] of [
      ['right', [0, 0, 0.3, 1]],
      ['left', [0.7, 0, 0.3, 1]],
      ['down', [0, 0, 1, 0.3]],
      ['up', [0, 0.7, 1, 0.3]],
    ] as const) {
      const solver = solverOf(document({ bar: gauge({ form: { kind: 'bar', widthPx: 200, heightPx: 100, towards, radiusPx: 0 } }) }));
      step(solver, 0, [30]);
      const items = drawList(solver).items.filter((item) => item.kind === 'plate');
      const [track, fill] = items;
      const share = [
        ((fill?.x ?? 0) - (track?.x ?? 0)) / 200,
        ((fill?.y ?? 0) - (track?.y ?? 0)) / 100,
        (fill?.width ?? 0) / 200,
        (fill?.height ?? 0) / 100,
      ];
      expect(share).toEqual(expected.map((v) => expect.closeTo(v, 9)));
    }
  });
});

describe('the Phase step', () => {
  const show = (edit: Partial<Show>): Show => ({ phases: {}, need: 'all', conditions: [], lingerS: 0, ...edit });
  const failedAt = (solver: Solver, id = 'bar') => solver.f.failed[solver.c.ids.indexOf(id)];

  it('hides and dims by the phase, a group with all that is inside', () => {
    const tray = { ...makeGroup(onGlass([0, 0]), 'Tray', 'row', 'a0'), show: show({ phases: { paused: 'hidden' } }) };
    const bar = { ...gauge(), ...insideOf('tray'), show: show({ phases: { roaming: 'dimmed' } }) };
    const solver = solverOf(document({ tray, bar }));
    step(solver, 0, [80], 'roaming');
    expect(failedAt(solver)).toBe(Verdict.Shown);
    expect(opacityOf(solver, solver.c.ids.indexOf('bar'))).toBeCloseTo(0.35, 9);
    step(solver, 0.1, [80], 'paused');
    expect(failedAt(solver)).toBe(Verdict.Phase);
    const link = explain(solver, solver.c.ids.indexOf('bar')).find((l) => l.state === 'no');
    expect(link).toMatchObject({ step: 'phase', from: 'tray', facts: [{ kind: 'phase', phase: 'paused', does: 'hides' }] });
  });

  it('lets go of dimming with the phase: what is inside is dimmed once with its group, and bright again after', () => {
    const tray = { ...makeGroup(onGlass([0, 0]), 'Tray', 'row', 'a0'), show: show({ phases: { paused: 'dimmed' } }) };
    const solver = solverOf(document({ tray, bar: { ...gauge(), ...insideOf('tray') } }));
    const opacities = ['roaming', 'paused', 'roaming'].map((phase, k) => {
      step(solver, k, [80], phase);
      return opacityOf(solver, solver.c.ids.indexOf('bar'));
    });
    expect(opacities).toEqual([1, 0.35, 1]);
  });

  it('needs its conditions, with a leave value, and says what fails in numbers', () => {
    const when = show({ conditions: [{ kind: 'compare', feed: 'warmth', is: 'below', value: 35, leave: 5 }] });
    const solver = solverOf(document({ bar: gauge({ show: when }) }));
    const at = (timeS: number, value: number) => {
      step(solver, timeS, [value]);
      return failedAt(solver);
    };
    expect(at(0, 36)).toBe(Verdict.Phase);
    expect(explain(solver, 0)[1]).toMatchObject({
      state: 'no',
      facts: [{ kind: 'conditionFails', condition: { kind: 'compare', condition: { is: 'below', value: 35 }, value: 36, never: false } }],
    });
    expect(at(0.1, 34)).toBe(Verdict.Shown);
    expect(at(0.2, 39)).toBe(Verdict.Shown);
    expect(at(0.3, 40)).toBe(Verdict.Phase);
    expect(at(0.4, 39)).toBe(Verdict.Phase);
  });

  it('shows for a while after a change, and lingers', () => {
    const when = show({ conditions: [{ kind: 'changed', feed: 'warmth', withinS: 1 }], lingerS: 0.5 });
    const solver = solverOf(document({ bar: gauge({ show: when }) }));
    const at = (timeS: number, value: number) => {
      step(solver, timeS, [value]);
      return failedAt(solver) === Verdict.Shown;
    };
    expect([at(0, 80), at(1, 80), at(2, 79), at(3, 79), at(3.4, 79), at(3.6, 79)]).toEqual([false, false, true, true, true, false]);
  });

  it('joins conditions by all, any, none', () => {
    const conditions: Show['conditions'] = [
      { kind: 'compare', feed: 'warmth', is: 'atLeast', value: 20, leave: 0 },
      { kind: 'compare', feed: 'warmth', is: 'atMost', value: 60, leave: 0 },
    ];
    const shown = (need: Show['need'], value: number) => {
      const solver = solverOf(document({ bar: gauge({ show: show({ need, conditions }) }) }));
      step(solver, 0, [value]);
      return failedAt(solver) === Verdict.Shown;
    };
    expect([10, 40, 80].map((v) => shown('all', v))).toEqual([false, true, false]);
    expect([10, 40, 80].map((v) => shown('any', v))).toEqual([true, true, true]);
    expect([10, 40, 80].map((v) => shown('none', v))).toEqual([false, false, false]);
  });
});

describe('a condition that stops holding without time going on', () => {
  it('hides at once without lingering, and lingers where it is to, telling so in the chain', () => {
    const at = (lingerS: number) => {
      const label: Element = {
        ...makeText(onGlass([0, 0]), 'Open', 'a0'),
        show: { phases: {}, need: 'all', conditions: [{ kind: 'compare', feed: 'open', is: 'equals', value: true, leave: 0 }], lingerS },
      };
      const told: Document = {
        ...makeDocument('Low Water'),
        elements: { label },
        feeds: { open: { name: 'Open', order: 'a0', kind: 'flag', unit: '', initial: false } },
      };
      const solver = makeSolver(arrange(compile(told, null), told.viewers.desk as never, text));
      const step = (value: boolean) =>
        solve(solver, { timeS: 2, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true, values: [value] });
      step(true);
      step(false);
      return [solver.f.failed[0] === Verdict.Shown, isUnsettled(solver), explain(solver, 0).find((l) => l.step === 'phase')?.state];
    };
    expect(at(0)).toEqual([false, false, 'no']);
    expect(at(1)).toEqual([true, true, 'yes']);
  });
});

describe('feeds', () => {
  const feedAt = (source: FeedSource, timeS: number, held = {}) =>
    readValues(compile(document({}, source), null), null, timeS, HEAD, held)[0];
  it('have the values that their source says at a time', () => {
    expect(feedAt({ kind: 'ramp', from: 10, to: 20, periodS: 4 }, 5)).toBe(12.5);
    expect(feedAt({ kind: 'sine', middle: 1, reach: 0.5, periodS: 8, startDeg: 0 }, 2)).toBeCloseTo(1.5, 12);
    expect(feedAt({ kind: 'steps', values: [3, 7], everyS: 2 }, 2.5)).toBe(7);
    expect(feedAt({ kind: 'height' }, 0)).toBe(1.65);
    expect(feedAt({ kind: 'fixed' }, 9)).toBe(80);
    expect(feedAt({ kind: 'time' }, 9, { warmth: 3 })).toBe(3);
  });

  it('wander the same for the same seed, within their bounds, however a time is come to (property)', () => {
    fc.assert(
      fc.property(fc.nat(1e6), fc.double({ min: 0, max: 60, noNaN: true }), (seed, timeS) => {
        const source = (): FeedSource => ({ kind: 'wander', from: 20, to: 90, perS: 30, seed });
        const late = feedAt(source(), timeS) as number;
        const walked = source();
        for (let t = 0; t < timeS; t += 7) feedAt(walked, t);
        expect(feedAt(walked, timeS)).toBe(late);
        expect(late).toBeGreaterThanOrEqual(20);
        expect(late).toBeLessThanOrEqual(90);
      }),
      { numRuns: 60 },
    );
  });

  it('take what a route recorded before what a source says', () => {
    const d = document({ bar: makeText(onGlass([0, 0]), 'x', 'a0') }, { kind: 'time' });
    const route = {
      name: 'Out',
      order: 'a0',
      poses: [],
      feeds: [
        { timeS: 1, feed: 'warmth', value: 60 },
        { timeS: 3, feed: 'warmth', value: 20 },
      ],
      phases: [],
    };
    const at = (t: number) => readValues(compile(d, null), route, t, HEAD, {})[0];
    expect([at(0.5), at(1), at(2.9), at(3)]).toEqual([0.5, 60, 60, 20]);
  });
});
