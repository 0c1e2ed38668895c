/** A feed with a value for each object: what stands at a node reads that node's. */
import {
  barForm,
  type Document,
  type FeedValue,
  findFaults,
  type Gauge,
  makeDocument,
  makeGauge,
  makeGroup,
  makeLabel,
  makeText,
  makeToggle,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { withHudOnPanel } from './headset.ts';
import { compile, valueIndex } from './index.ts';
import type { Level } from './level.ts';
import { valueSet } from './pointer.ts';
import { react } from './reactions.ts';
import { plainText } from './sample.ts';
import { makeSolver, solve } from './solve.ts';
import type { Pose } from './spaces/pose.ts';
import { gameValues, readValues, valuesFor } from './values.ts';

const HEAD: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
const STILL = { speedMps: 0, fallenM: 0 };

/** Stakes 2 m apart, 10 m ahead; the first carries how much it leans, the second something of another kind. */
const worldMatrices = Float64Array.from([-2, 0, 2, 4].flatMap((x) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, 0, -10, 1]));
const level = {
  nodeIds: ['Stake 1', 'Stake 2', 'Stake@3', 'Lamp'],
  nodeProperties: [{ Lean: 7 }, { Lean: 'much' }, {}, {}],
  nodeMoves: new Uint8Array(4),
  nodeIndex: (id: string) => ['Stake 1', 'Stake 2', 'Stake@3', 'Lamp'].indexOf(id),
  clipDurationsS: [],
  clipNames: [],
  worldMatrices,
  parentOf: new Int32Array([-1, -1, -1, -1]),
  poses: () => worldMatrices,
  surfaceOf: () => null,
  nearestShare: () => 1,
  castRay: () => false,
  sightline: () => -1,
  colourAt: (_o: unknown, _d: unknown, out: never) => out,
} as unknown as Level;

/** At each stake a gauge, a text, a toggle and a label that shows only where it leans by more than 20; one gauge on the HUD, one at the lamp. */
function stakes(): Document {
  const document = makeDocument('Low Water');
  const feed = { order: 'a0', kind: 'number', unit: 'deg', initial: 2, range: [0, 45] as [number, number], each: true } as const;
  document.feeds.lean = { ...feed, name: 'Lean' };
  document.feeds.tied = { name: 'Tied', order: 'a1', kind: 'flag', unit: '', initial: true, each: true };
  document.anchors.stakes = { kind: 'nodes', name: 'Stakes', order: 'a0', pattern: 'Stake*', property: null, offset: [0, 2, 0] };
  document.anchors.lamp = { kind: 'node', name: 'Lamp', order: 'a1', node: 'Lamp', offset: [0, 2, 0] };
  const place = { ownPoint: [0, 0] as [number, number], offsetPx: [0, 0] as [number, number], stay: 'free' as const, leader: null };
  document.elements.stake = makeGroup({ mount: { kind: 'floating', anchor: 'stakes' }, place }, 'Stake', 'column', 'a0');
  const inside = { mount: { kind: 'inside', group: 'stake', pin: [0, 0], stretch: [false, false] }, place } as never;
  const lean = { empty: 0, full: 45 };
  document.elements.bar = { ...makeGauge(inside, 'Lean', 'lean', barForm(), 'a0'), ...lean };
  document.elements.says = makeText(inside, '{lean}', 'a1');
  document.elements.tie = makeToggle(inside, 'Tied', 'tied', 'a2');
  document.elements.warns = {
    ...makeText(inside, 'leans', 'a3'),
    show: { phases: {}, need: 'all', lingerS: 0, conditions: [{ kind: 'compare', feed: 'lean', is: 'above', value: 20, leave: 0 }] },
  };
  document.elements.lampLean = makeLabel('lamp', '{lean}', 'a4');
  const glass = { mount: { kind: 'glass', within: 'safe', pin: [0, 0], stretch: [false, false] }, place } as never;
  document.elements.ofAll = { ...makeGauge(glass, 'All', 'lean', barForm(), 'a5'), ...lean };
  return document;
}
const given = (document: Document, said: Readonly<Record<string, FeedValue>>) => {
  const solver = makeSolver(arrange(compile(document, level), document.viewers.desk as never, plainText));
  const { c } = solver;
  solve(solver, { timeS: 0, head: HEAD, depthOrder: false, values: gameValues(c, said, 0, HEAD, {}, STILL), stands: true });
  return solver;
};
const row = (solver: ReturnType<typeof given>, id: string): number => solver.c.ids.indexOf(id);
const text = (solver: ReturnType<typeof given>, id: string) => solver.a.blocks[row(solver, id)]?.lines.map((line) => line.text).join();

describe('a feed with a value for each object', () => {
  it('has one for each node that something stands at which reads it, and one of its own for what stands at none', () => {
    const document = stakes();
    expect(findFaults(document)).toEqual([]);
    const c = compile(document, level);
    expect(c.feedIds).toEqual([
      ...['lean', 'tied'],
      // In the order of the level, not of rows.
      ...['lean@Stake 1', 'lean@Stake 2', 'lean@Stake@3', 'lean@Lamp'],
      ...['tied@Stake 1', 'tied@Stake 2', 'tied@Stake@3'],
    ]);
    const at = (id: string) => c.feedIds[valueIndex(c, 'lean', c.ids.indexOf(id))];
    expect(at('bar@Stake 2')).toBe('lean@Stake 2');
    expect(at('says@Stake@3')).toBe('lean@Stake@3');
    expect(at('lampLean')).toBe('lean@Lamp');
    expect(at('ofAll')).toBe('lean');
    // What lies on the HUD and is about something reads that one's.
    const about = compile({ ...document, elements: { it: { ...(document.elements.ofAll as Gauge), about: 'lamp' } } }, level);
    expect(about.feedIds[about.gaugeFeed[0] as number]).toBe('lean@Lamp');
    // The group draws nothing of it; what is not read has no value.
    expect(compile({ ...document, elements: { stake: document.elements.stake as never } }, level).feedIds).toEqual(['lean', 'tied']);
    expect(compile(document, null).feedIds).toEqual(['lean', 'tied']);
  });

  it('shows in gauges, texts and conditions what is said of that object, and of no other', () => {
    const solver = given(stakes(), { 'lean@Stake 2': 30, lean: 9 });
    const shares = [...solver.c.gauges].map((of, g) => [solver.c.ids[of], solver.f.gaugeShare[g]]);
    expect(shares).toEqual([
      ['bar@Stake 1', 9 / 45],
      ['bar@Stake 2', 30 / 45],
      ['bar@Stake@3', 9 / 45],
      ['ofAll', 9 / 45],
    ]);
    expect(text(solver, 'says@Stake 2')).toBe('30');
    expect(text(solver, 'says@Stake 1')).toBe('9');
    expect([1, 2].map((k) => solver.f.hidden[row(solver, `warns@Stake ${k}`)])).toEqual([1, 0]);
  });

  it('goes to rows of a changed document by name: an element that is left alone, or reads no more, changes no place of others', () => {
    const document = stakes();
    const c = compile(document, level);
    const values = gameValues(c, { lean: 1, 'lean@Stake 2': 30, 'lean@Lamp': 8, 'tied@Stake 1': false }, 0, HEAD, {}, STILL);
    const alone = compile({ ...document, elements: { lampLean: document.elements.lampLean as never } }, level);
    expect(alone.feedIds).toEqual(['lean', 'tied', 'lean@Lamp']);
    expect(valuesFor(alone, c, values)).toEqual([1, undefined, 8]);
    // What the others never had is as its feed is.
    const back = valuesFor(c, alone, [1, true, 8]);
    expect(Object.fromEntries(c.feedIds.map((key, k) => [key, back[k]]))).toMatchObject({
      'lean@Stake 2': 1,
      'lean@Lamp': 8,
      'tied@Stake 1': true,
    });
    expect(valuesFor(c, c, values)).toBe(values);
    // In a headset the HUD is a panel: other rows, the same values.
    expect(withHudOnPanel(c).feedIds).toEqual(c.feedIds);
  });

  it('is empty in a game until the game says it, whatever nodes carry', () => {
    const solver = given(stakes(), {});
    expect(solver.f.values).toEqual(new Array(9).fill(undefined));
    expect(solver.f.gaugeShare[0]).toBe(0);
  });

  it('is what the node carries before anybody says it, where that is of its kind; else what the feed is', () => {
    const document = stakes();
    const c = compile(document, level);
    const read = (held: Record<string, FeedValue> = {}, timeS = 0, feeds: Document['routes'][string]['feeds'] = []) => {
      const route = { name: 'Out', order: 'a0', poses: [{ timeS: 0, ...HEAD }], feeds, phases: [] } as never;
      return Object.fromEntries(readValues(c, route, timeS, HEAD, held).map((value, k) => [c.feedIds[k], value]));
    };
    expect(read()).toMatchObject({ 'lean@Stake 1': 7, 'lean@Stake 2': 2, 'lean@Stake@3': 2, lean: 2, 'tied@Stake 1': true });
    // By hand: of one goes before of all, of all before what is carried and what was recorded.
    expect(read({ lean: 11, 'lean@Stake 2': 12 })).toMatchObject({ 'lean@Stake 1': 11, 'lean@Stake 2': 12, 'lean@Lamp': 11 });
    // Recorded: of that object, then of all.
    const recorded = [
      { timeS: 1, feed: 'lean', object: 'Stake@3', value: 20 },
      { timeS: 2, feed: 'lean', value: 4 },
      { timeS: 3, feed: 'lean', object: 'Stake@3', value: 21 },
    ];
    expect(read({}, 1.5, recorded)).toMatchObject({ 'lean@Stake 1': 7, 'lean@Stake@3': 20, 'lean@Stake 2': 2 });
    expect(read({}, 2.5, recorded)).toMatchObject({ 'lean@Stake 1': 4, 'lean@Stake@3': 20, 'lean@Stake 2': 4 });
    expect(read({}, 3, recorded)['lean@Stake@3']).toBe(21);
    // A source that runs is of all.
    document.feeds.lean = { ...(document.feeds.lean as never as object), source: { kind: 'ramp', from: 0, to: 10, periodS: 10 } } as never;
    const running = compile(document, level);
    expect(readValues(running, null, 5, HEAD, {})[running.feedIds.indexOf('lean@Stake 1')]).toBe(5);
  });

  it('is set of the object at which something is pressed, and no other changes', () => {
    const document = stakes();
    document.actions = {
      push: {
        name: 'Push',
        order: 'a0',
        reactions: [{ kind: 'add', when: [{ kind: 'compare', feed: 'lean', is: 'below', value: 40, leave: 0 }], feed: 'lean', by: 5 }],
      },
    };
    const solver = given(document, { lean: 1, 'lean@Stake 2': 38, tied: true });
    expect(valueSet(solver, row(solver, 'tie@Stake 2'), 0, 0)).toEqual({ feed: 'tied@Stake 2', value: false });
    const now = Object.fromEntries(solver.c.feedIds.map((key, k) => [key, solver.f.values[k]]));
    const push = (target: string | null, more = {}) => react(document, 'push', { ...now, ...more }, undefined, target).values;
    expect(push('Stake 2')).toEqual({ 'lean@Stake 2': 43 });
    expect(push('Stake 2', { 'lean@Stake 2': 43 })).toEqual({});
    // What has no value of its own, and nothing at all: the value of all.
    expect(push('Gate')).toEqual({ lean: 6 });
    expect(push(null)).toEqual({ lean: 6 });
  });

  it('has nothing for events, keys, and what the viewer tells', () => {
    const faults = (feed: object) => {
      const document = stakes();
      document.feeds.lean = { ...(document.feeds.lean as object), ...feed } as never;
      return findFaults(document).map(({ message }) => message);
    };
    expect(faults({ source: { kind: 'height' } }).join()).toContain('neither an event nor what a key or the viewer tells');
    expect(faults({ source: { kind: 'sine', middle: 1, reach: 1, periodS: 2, startDeg: 0 } })).toEqual([]);
  });

  it('is the value that a route recorded last, however many there are (property)', () => {
    const c = compile(stakes(), level);
    const k = c.feedIds.indexOf('lean@Stake 1');
    const entry = fc.record({ at: fc.integer({ min: 0, max: 50 }), value: fc.integer(), mine: fc.boolean() });
    fc.assert(
      fc.property(fc.array(entry, { maxLength: 60 }), fc.integer({ min: 0, max: 51 }), (entries, timeS) => {
        const feeds = entries
          .sort((a, b) => a.at - b.at)
          .map(({ at, value, mine }) => ({ timeS: at, feed: 'lean', object: mine ? 'Stake 1' : 'Stake@3', value }));
        const route = { name: 'Out', order: 'a0', poses: [{ timeS: 0, ...HEAD }], feeds, phases: [] } as never;
        let expected: unknown = 7;
        for (const one of feeds) if (one.object === 'Stake 1' && one.timeS <= timeS) expected = one.value;
        expect(readValues(c, route, timeS, HEAD, {})[k]).toBe(expected);
      }),
    );
  });
});
