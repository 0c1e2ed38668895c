/** Every offer holds when it is solved again by itself. */
import { arrange, compile, type Inputs, lookingPose, makeSolver, type Pose, solve, Verdict } from '@foreshore/core';
import {
  type Comparison,
  type Condition,
  type Document,
  type Element,
  type FeedValue,
  makeDocument,
  makePrompt,
  type Show,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { type Box, levelOf } from '../../core/src/sample-level.ts';
import { type Offer, wouldShow } from './would-show.ts';

const GROUND: Box = { name: 'Ground', least: [-30, -1, -30], greatest: [30, 0, 30] };
const WHEEL: Box = { name: 'Wheel', least: [-0.1, 1.5, -5.1], greatest: [0.1, 1.7, -4.9] };

function scene(edit: (e: Element) => Element = (e) => e): Document {
  const made = makeDocument('Low Water');
  made.anchors.wheel = {
    kind: 'node',
    name: 'Wheel',
    order: 'a0',
    node: 'Wheel',
    offset: [0, 0, 0],
    zone: { kind: 'sphere', radiusM: 0.3 },
  };
  made.actions = { turn: { name: 'Turn', order: 'a0', reactions: [] } };
  made.phases.paused = { name: 'Paused', order: 'a1' };
  const prompt = makePrompt({}, 'wheel', 'Turn', 'turn');
  made.elements = { ...prompt.made, turn: edit(prompt.made.turn as Element) };
  return made;
}
const inputsAt = (head: Pose, phase = 'roaming', values?: FeedValue[]): Inputs => ({
  timeS: 0,
  head,
  views: [],
  depthOrder: false,
  phase,
  ...(values && { values }),
});
const ask = (d: Document, boxes: readonly Box[], head: Pose, phase?: string): Offer[] =>
  wouldShow({
    arranged: arrange(compile(d, levelOf(boxes)), d.viewers.desk as never, text),
    inputs: inputsAt(head, phase),
    row: 'turn',
    text,
  });

/** Solved with nothing but the offer taken. */
function isTrue(d: Document, boxes: readonly Box[], head: Pose, offer: Offer, phase?: string): boolean {
  const changed =
    offer.kind === 'setting' ? { ...d, elements: { ...d.elements, turn: { ...d.elements.turn, ...offer.part } as Element } } : d;
  const compiled = compile(changed, levelOf(boxes));
  const solver = makeSolver(arrange(compiled, d.viewers.desk as never, text));
  const state = offer.kind === 'state' ? offer.state : { phase };
  const values = compiled.feedIds.map((id) => ('feed' in state && state.feed === id ? state.value : (d.feeds[id]?.initial as FeedValue)));
  solve(solver, inputsAt('pose' in offer ? offer.pose : head, 'phase' in state ? state.phase : phase, values));
  return solver.f.failed[solver.c.ids.indexOf('turn')] === Verdict.Shown;
}

describe('would show', () => {
  it('offers the way that is left to go, a larger range, or a turn', () => {
    const boxes = [WHEEL, GROUND];
    const d = scene();
    const far: Pose = { position: [0, 1.65, -1.2], rotation: [0, 0, 0, 1] };
    // By hand: 3.8 m to the wheel, less its zone of 0.3, less the range of 2.5: a metre.
    const [first, ...others] = ask(d, boxes, far);
    expect(first).toMatchObject({ kind: 'place', says: '1.0 m ahead' });
    expect(others.map((o) => o.says)).toContain('within 3.6 m');
    const aside = ask(d, boxes, lookingPose([0, 1.65, -3], 40, 0));
    // The cone is 25 degrees: 15 are missing.
    expect(aside.find((o) => o.kind === 'turn')?.says).toMatch(/^1[4-6] deg to the right$/);
  });
  it('finds the way round what blocks', () => {
    const pier: Box = { name: 'Pier', least: [-0.4, 0, -4], greatest: [3, 3, -3.8] };
    const boxes = [WHEEL, GROUND, pier];
    const d = scene();
    const offers = ask(d, boxes, { position: [0, 1.65, -2.9], rotation: [0, 0, 0, 1] });
    expect(offers[0]?.kind).toBe('place');
    expect(offers[0]?.says).toMatch(/^0\.\d m (left|left and ahead|left and back)$/);
  });
  it('says nothing where no single change does', () => {
    const boxes = [WHEEL, GROUND];
    const d = scene((e) => ({ ...e, show: { phases: { paused: 'hidden' }, need: 'all', conditions: [], lingerS: 0 } }));
    expect(ask(d, boxes, { position: [0, 1.65, 20], rotation: [0, 0, 0, 1] }, 'paused')).toEqual([]);
    // In the phase alone, the phase is offered.
    expect(ask(d, boxes, { position: [0, 1.65, -2.9], rotation: [0, 0, 0, 1] }, 'paused')).toMatchObject([
      { kind: 'state', says: 'in Roaming', state: { phase: 'roaming' } },
      { kind: 'setting', says: 'shown in Paused' },
    ]);
  });
  const NEAR: Pose = { position: [0, 1.65, -2.9], rotation: [0, 0, 0, 1] };
  const withFeeds = (show: Partial<Show>): Document => ({
    ...scene((e) => ({ ...e, show: { phases: {}, need: 'all', conditions: [], lingerS: 0, ...show } })),
    feeds: {
      tide: { name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0.4, range: [-1, 2] },
      samples: { name: 'Samples', order: 'a1', kind: 'number', unit: '', initial: 2 },
      lamp: { name: 'Lamp lit', order: 'a2', kind: 'flag', unit: '', initial: false },
    },
  });
  const compared = (feed: string, is: Comparison['is'], value: number | boolean): Condition => ({
    kind: 'compare',
    feed,
    is,
    value,
    leave: 0,
  });
  it.each<[string, Partial<Show>, string[]]>([
    // A thirtieth of the range of 3 m, as a power of ten: 0.01 m.
    ['above a bound', { conditions: [compared('tide', 'above', 1.2)] }, ['Tide 1.21 m', 'Tide above 0.39 m']],
    ['from a bound on', { conditions: [compared('tide', 'atLeast', 1.2)] }, ['Tide 1.2 m', 'Tide from 0.4 m']],
    ['what is counted', { conditions: [compared('samples', 'above', 4)] }, ['Samples 5', 'Samples above 1']],
    ['a flag', { conditions: [compared('lamp', 'equals', true)] }, ['Lamp lit yes']],
    ['none of them', { need: 'none', conditions: [compared('tide', 'below', 1)] }, ['Tide 1 m', 'Tide below 0.4 m']],
    [
      'one of two',
      { need: 'any', conditions: [compared('tide', 'below', 0), compared('lamp', 'equals', true)] },
      ['Tide -0.01 m', 'Lamp lit yes', 'Tide below 0.41 m'],
    ],
    // Both fail: neither alone shows it.
    ['two at once', { conditions: [compared('tide', 'above', 1.2), compared('lamp', 'equals', true)] }, []],
  ])('offers the value of a feed, or the bound, that meets the conditions: %s', (_, show, says) => {
    const d = withFeeds(show);
    const offers = ask(d, [WHEEL, GROUND], NEAR);
    expect(offers.map((o) => o.says)).toEqual(says);
    for (const offer of offers) expect(isTrue(d, [WHEEL, GROUND], NEAR, offer), offer.says).toBe(true);
  });
  it('offers only what holds, over random walls, settings and poses (property)', () => {
    let offered = 0;
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(
        fc.record({
          x: number(-4, 4),
          z: number(-8, 4),
          yaw: number(-70, 70),
          wall: number(-3, 8),
          width: number(0.2, 3),
          enterM: number(1, 5),
          halfDeg: number(15, 60),
          share: number(0.1, 1),
          floor: number(0, 20),
        }),
        ({ x, z, yaw, wall, width, enterM, halfDeg, share, floor }) => {
          const boxes: Box[] = [WHEEL, GROUND, { name: 'Wall', least: [wall, 0, -3.6], greatest: [wall + width, 3, -3.4] }];
          const d = scene((e) => ({
            ...e,
            range: { from: 'body', enterM, leaveM: enterM + 0.4, dwellS: 0.3 },
            look: { by: 'cone', halfDeg, leaveDeg: halfDeg + 5, dwellS: 0.3 },
            sightline: { to: 'zone', samples: 12, share, leaveShare: share / 2, answer: 'hide', dwellS: 0.3 },
            size: { rule: 'world', emM: 0.005, leastPx: 0, greatestPx: 9, hideBelowPx: floor / 20, leavePx: 0 },
          }));
          const head = lookingPose([x, 1.65, z], yaw, 0);
          for (const offer of ask(d, boxes, head)) {
            offered++;
            expect(isTrue(d, boxes, head, offer)).toBe(true);
          }
        },
      ),
      { numRuns: 40 },
    );
    expect(offered).toBeGreaterThan(20);
  });
});
