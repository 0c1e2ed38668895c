/** Every offer holds when it is solved again by itself, is no larger than needed, and there is one wherever a single change exists. */
import { arrange, compile, factIn, type Inputs, lookingPose, makeSolver, type Pose, type StepName, solve, Verdict } from '@foreshore/core';
import {
  type Comparison,
  type Condition,
  type Document,
  type Element,
  type FeedValue,
  insideOf,
  makeDocument,
  makeGroup,
  makeLabel,
  makePrompt,
  makeText,
  onGlass,
  type Show,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { type Box, levelOf } from '../../core/src/sample-level.ts';
import type { Offer, SettingOffer } from './offers.ts';
import { refusalOf, withTarget, wouldShow } from './would-show.ts';

const GROUND: Box = { name: 'Ground', least: [-30, -1, -30], greatest: [30, 0, 30] };
const WHEEL: Box = { name: 'Wheel', least: [-0.1, 1.5, -5.1], greatest: [0.1, 1.7, -4.9] };
const BOXES = [WHEEL, GROUND];
const NEAR: Pose = { position: [0, 1.65, -2.9], rotation: [0, 0, 0, 1] };

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
const inputsAt = (head: Pose, phase = 'roaming', values?: FeedValue[], forced?: Inputs['forced']): Inputs => ({
  timeS: 0,
  head,
  depthOrder: false,
  phase,
  ...(values && { values }),
  ...(forced && { forced }),
});
interface Where {
  boxes?: readonly Box[];
  head?: Pose;
  phase?: string;
  row?: string;
  forced?: NonNullable<Inputs['forced']>;
}
const arranged = (d: Document, boxes: readonly Box[]) => arrange(compile(d, levelOf(boxes)), d.viewers.desk as never, text);
const ask = (d: Document, { boxes = BOXES, head = NEAR, phase, row = 'turn', forced }: Where = {}): Offer[] =>
  wouldShow({ arranged: arranged(d, boxes), inputs: inputsAt(head, phase, undefined, forced), row });

/** Solved with nothing but the offer taken. */
function isTrue(d: Document, offer: Offer, { boxes = BOXES, head = NEAR, phase, row = 'turn', forced }: Where = {}): boolean {
  const changed = offer.kind === 'setting' ? withTarget(d, offer.target) : d;
  const compiled = compile(changed, levelOf(boxes));
  const solver = makeSolver(arrange(compiled, d.viewers.desk as never, text));
  const state: Partial<{ feed: string; value: FeedValue; phase: string; released: string }> = offer.kind === 'state' ? offer.state : {};
  const values = compiled.feedIds.map((id, k) =>
    state.feed === id && state.value !== undefined ? state.value : (d.feeds[compiled.feedOf[k] as string]?.initial as FeedValue),
  );
  const still = state.released ? Object.fromEntries(Object.entries(forced ?? {}).filter(([id]) => id !== state.released)) : forced;
  solve(solver, inputsAt('pose' in offer ? offer.pose : head, state.phase ?? phase, values, still));
  return solver.f.failed[solver.c.ids.indexOf(row)] === Verdict.Shown;
}
const settings = (offers: readonly Offer[]) => offers.flatMap((o) => (o.kind === 'setting' ? [o.setting] : []));
const states = (offers: readonly Offer[]) => offers.flatMap((o) => (o.kind === 'state' ? [o.state] : []));

describe('would show', () => {
  it('offers the way that is left to go, a larger range, or a turn', () => {
    const d = scene();
    const far: Pose = { position: [0, 1.65, -1.2], rotation: [0, 0, 0, 1] };
    // By hand: 3.8 m to the wheel, less its zone of 0.3, less the range of 2.5: a metre.
    const [first, ...others] = ask(d, { head: far });
    expect(first).toMatchObject({ kind: 'place', distanceM: expect.closeTo(1, 1), wayDeg: expect.closeTo(0, 6) });
    expect(settings(others)).toEqual([{ field: 'enterM', value: 3.5 }]);
    const turn = ask(d, { head: lookingPose([0, 1.65, -3], 40, 0) }).find((o) => o.kind === 'turn');
    // The cone is 25 degrees: 15 are missing, to the right.
    expect(turn).toMatchObject({ leftDeg: expect.closeTo(-15, 0) });
  });
  it('finds the way round what blocks', () => {
    const pier: Box = { name: 'Pier', least: [-0.4, 0, -4], greatest: [3, 3, -3.8] };
    const [first] = ask(scene(), { boxes: [WHEEL, GROUND, pier] });
    expect(first?.kind).toBe('place');
    // To the left, which is where the pier ends.
    expect(first?.kind === 'place' ? first.wayDeg : 0).toBeLessThan(0);
    expect(first?.kind === 'place' ? first.distanceM : 9).toBeLessThan(1);
  });
  it('changes the value of that object alone, where each has its own', () => {
    const d = scene((e) => ({
      ...e,
      show: {
        phases: {},
        need: 'all',
        conditions: [{ kind: 'compare', feed: 'greased', is: 'equals', value: true, leave: 0 }],
        lingerS: 0,
      },
    }));
    d.feeds.greased = { name: 'Greased', order: 'a0', kind: 'flag', unit: '', initial: false, each: true };
    const offers = ask(d);
    expect(states(offers)).toEqual([{ feed: 'greased@Wheel', value: true }]);
    for (const offer of offers) expect(isTrue(d, offer)).toBe(true);
  });
  it('says nothing where no single change does, and offers the phase where that alone is it', () => {
    const d = scene((e) => ({ ...e, show: { phases: { paused: 'hidden' }, need: 'all', conditions: [], lingerS: 0 } }));
    expect(ask(d, { head: { position: [0, 1.65, 20], rotation: [0, 0, 0, 1] }, phase: 'paused' })).toEqual([]);
    const offers = ask(d, { phase: 'paused' });
    expect(states(offers)).toEqual([{ phase: 'roaming' }]);
    expect(settings(offers)).toEqual([{ field: 'phase', phase: 'paused' }]);
  });

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
  it.each<[string, Partial<Show>, object[], object[]]>([
    // A fiftieth of the range of 3 m, as a power of ten: 0.01 m.
    ['above a bound', { conditions: [compared('tide', 'above', 1.2)] }, [{ feed: 'tide', value: 1.21 }], [{ field: 'bound', value: 0.39 }]],
    [
      'from a bound on',
      { conditions: [compared('tide', 'atLeast', 1.2)] },
      [{ feed: 'tide', value: 1.2 }],
      [{ field: 'bound', value: 0.4 }],
    ],
    ['what is counted', { conditions: [compared('samples', 'above', 4)] }, [{ feed: 'samples', value: 5 }], [{ field: 'bound', value: 1 }]],
    ['a flag', { conditions: [compared('lamp', 'equals', true)] }, [{ feed: 'lamp', value: true }], [{ field: 'bound', value: false }]],
    [
      'none of them',
      { need: 'none', conditions: [compared('tide', 'below', 1)] },
      [{ feed: 'tide', value: 1 }],
      [{ field: 'bound', value: 0.4 }],
    ],
    [
      'what is joined, to any depth',
      { conditions: [{ kind: 'group', need: 'all', conditions: [compared('tide', 'above', 1.2)] }] },
      [{ feed: 'tide', value: 1.21 }],
      [{ field: 'bound', value: 0.39 }],
    ],
    ['a change', { conditions: [{ kind: 'changed', feed: 'tide', withinS: 2 }] }, [], []],
    // Both fail: neither alone shows it.
    ['two at once', { conditions: [compared('tide', 'above', 1.2), compared('lamp', 'equals', true)] }, [], []],
  ])('offers the value of a feed, or the bound, that meets the conditions: %s', (name, show, values, bounds) => {
    const d = withFeeds(show);
    const offers = ask(d);
    expect(states(offers)).toEqual(values);
    expect(settings(offers).filter(({ field }) => field === 'bound')).toEqual(bounds.map((bound) => expect.objectContaining(bound)));
    // To leave a condition out is a change, too, unless another one fails besides.
    expect(settings(offers).some(({ field }) => field === 'condition')).toBe(name !== 'two at once');
    for (const offer of offers) expect(isTrue(d, offer), JSON.stringify(offer)).toBe(true);
  });

  it('changes the group that refuses, not the member that is asked about', () => {
    const d = scene((e) => ({ ...e, show: { phases: { roaming: 'hidden' }, need: 'all', conditions: [], lingerS: 0 } }));
    const offers = ask(d, { row: 'turn-text' });
    const setting = offers.find((o): o is SettingOffer => o.kind === 'setting');
    expect(setting?.target).toMatchObject({ in: 'elements', id: 'turn', part: { show: { phases: {} } } });
    for (const offer of offers) expect(isTrue(d, offer, { row: 'turn-text' })).toBe(true);
  });
  it('lets go of what a reaction hid', () => {
    const where: Where = { forced: { turn: 'hidden' } };
    const offers = ask(scene(), where);
    expect(states(offers)).toEqual([{ released: 'turn' }]);
    expect(isTrue(scene(), offers.find((o) => o.kind === 'state') as Offer, where)).toBe(true);
  });
  it('offers the node whose name is most like the one that is missing', () => {
    const d = scene();
    d.anchors.wheel = {
      ...(d.anchors.wheel as never as { zone: never }),
      kind: 'node',
      name: 'Wheel',
      order: 'a0',
      node: 'Wheell',
      offset: [0, 0, 0],
    };
    const [first] = ask(d);
    expect(first).toMatchObject({ kind: 'setting', setting: { field: 'node', node: 'Wheel' }, target: { in: 'anchors', id: 'wheel' } });
    expect(isTrue(d, first as Offer)).toBe(true);
  });
  it('offers the priority that the scores ask for, as if nobody held the key', () => {
    const d = scene();
    d.anchors.gauge = { kind: 'surface', name: 'Gauge', order: 'a1', node: null, position: [0.6, 1.65, -4.6], normal: [0, 0, 1] };
    const other = makePrompt(d.elements, 'gauge', 'Read', 'turn');
    d.elements = { ...d.elements, ...other.made };
    const priority = 0.8;
    d.elements.read = { ...(d.elements.read as Element), claim: { priority, bonus: 0.15, dwellS: 0.3 } };
    const offer = ask(d).find((o): o is SettingOffer => o.kind === 'setting');
    // By hand, in cones of 25 degrees and ranges of 2.9 m.
    const deg = (tan: number) => (Math.atan(tan) * 180) / Math.PI;
    const own = deg(0.05 / 2.1) / 25 + (Math.hypot(2.1, 0) - 0.3) / 2.9;
    const rival = deg(0.6 / 1.7) / 25 + Math.hypot(0.6, 1.7) / 2.9 - priority;
    expect(own).toBeGreaterThan(rival);
    expect(offer?.setting).toEqual({ field: 'priority', value: Math.ceil((own - rival) / 0.05) * 0.05 });
    expect(isTrue(d, offer as Offer)).toBe(true);
  });

  const clipped = (layout: object, at: [number, number]): Document => {
    const made = makeDocument('Low Water');
    const box = makeGroup(onGlass([0.5, 0.5]), 'Box', 'free', 'a0');
    made.elements.box = { ...box, layout: { ...box.layout, widthPx: 100, heightPx: 40, ...layout } };
    made.elements.turn = { ...makeText(insideOf('box', [0, 0], at), 'Turn', 'a1') };
    return made;
  };
  it('of what a group clips away offers the group, and what has been moved out of it', () => {
    const d = clipped({ clip: true }, [400, 0]);
    const offers = ask(d);
    expect(settings(offers).map(({ field }) => field)).toEqual(['offset', 'hug', 'clip']);
    for (const offer of offers) expect(isTrue(d, offer)).toBe(true);
  });
  it('of what is transparent offers to make it opaque, itself or the group around it', () => {
    for (const id of ['box', 'turn']) {
      const d = clipped({}, [0, 0]);
      const element = d.elements[id] as Element;
      d.elements[id] = { ...element, paint: { ...element.paint, opacity: 0 } } as Element;
      const offers = ask(d);
      expect(offers).toMatchObject([{ kind: 'setting', setting: { field: 'opacity' }, target: { id, part: { paint: { opacity: 1 } } } }]);
      expect(isTrue(d, offers[0] as Offer)).toBe(true);
    }
  });
});

/** The setting with nine tenths of its change, where it is a number that runs from one value to another. */
function tenthLess(d: Document, { setting, target }: SettingOffer): { offer: SettingOffer; step: number; change: number } | null {
  if (!('value' in setting) || typeof setting.value !== 'number' || target.in !== 'elements') return null;
  const before = d.elements[target.id] as Element;
  const { range, look, view, size, sightline, claim } = before;
  const rules: Record<string, { was: number; step: number; part: (value: number) => Partial<Element> } | undefined> = {
    enterM: range && {
      was: range.enterM,
      step: 0.1,
      part: (enterM) => ({ range: { ...range, enterM, leaveM: Math.max(range.leaveM, enterM) } }),
    },
    halfDeg:
      look?.by === 'cone' ? { was: look.halfDeg, step: 1, part: (halfDeg) => ({ look: { ...look, halfDeg, leaveDeg: 180 } }) } : undefined,
    reachM: look?.by === 'aim' ? { was: look.reachM, step: 0.1, part: (reachM) => ({ look: { ...look, reachM } }) } : undefined,
    outsidePx: { was: view.outsidePx, step: 1, part: (outsidePx) => ({ view: { ...view, outsidePx } }) },
    hideBelowPx: {
      was: size.hideBelowPx,
      step: 0.1,
      part: (hideBelowPx) => ({ size: { ...size, hideBelowPx, leavePx: 0 } as Element['size'] }),
    },
    share: sightline && { was: sightline.share, step: 0.01, part: (share) => ({ sightline: { ...sightline, share, leaveShare: 0 } }) },
    priority: claim && { was: claim.priority, step: 0.05, part: (priority) => ({ claim: { ...claim, priority } }) },
  };
  const rule = rules[setting.field];
  if (!rule) return null;
  const change = setting.value - rule.was;
  const part = rule.part(rule.was + change * 0.9);
  return { offer: { kind: 'setting', cost: 0, step: 'range', setting, target: { ...target, part } }, step: rule.step, change };
}

describe('over random scenes', () => {
  const number = (min: number, max: number) => fc.noBias(fc.integer({ min: min * 1000, max: max * 1000 }).map((v) => v / 1000));
  const random = fc.record({
    x: number(-4, 4),
    z: number(-8, 4),
    yaw: number(-70, 70),
    wall: number(-3, 8),
    width: number(0.2, 3),
    enterM: number(1, 5),
    halfDeg: number(15, 60),
    share: number(0.1, 1),
    floor: number(0, 20),
    aim: fc.boolean(),
    offset: fc.constantFrom(0, 0, 0, 2500),
    opacity: fc.constantFrom(1, 1, 1, 0),
    tide: fc.constantFrom(0.4, 0.4, 1.6),
    mount: fc.constantFrom('floating' as const, 'floating' as const, 'glass' as const),
  });
  type Random = typeof random extends fc.Arbitrary<infer T> ? T : never;
  /** Where everything is well. */
  const WELL: Random = {
    x: 0,
    z: -2.9,
    yaw: 0,
    wall: 20,
    width: 1,
    enterM: 5,
    halfDeg: 40,
    share: 0.3,
    floor: 0,
    aim: false,
    offset: 0,
    opacity: 1,
    tide: 0.4,
    mount: 'floating',
  };
  const FAULTS: (keyof Random)[][] = [
    ['x', 'z', 'enterM'],
    ['yaw', 'halfDeg'],
    ['yaw', 'aim'],
    ['wall', 'width', 'share'],
    ['floor', 'z'],
    ['offset'],
    ['opacity'],
    ['tide'],
  ];
  /** All at random, or all well but for one thing and the mount. */
  const scenes = fc
    .tuple(random, fc.constantFrom(null, ...FAULTS))
    .map(([r, keys]): Random => (keys === null ? r : { ...WELL, mount: r.mount, ...Object.fromEntries(keys.map((key) => [key, r[key]])) }));
  function sceneOf(r: Random): { d: Document; where: Where } {
    const boxes: Box[] = [WHEEL, GROUND, { name: 'Wall', least: [r.wall, 0, -3.6], greatest: [r.wall + r.width, 3, -3.4] }];
    const d = scene((e) => {
      const changed: Element = {
        ...e,
        range: { from: 'body', enterM: r.enterM, leaveM: r.enterM + 0.4, dwellS: 0.3 },
        look: r.aim ? { by: 'aim', reachM: r.enterM, dwellS: 0 } : { by: 'cone', halfDeg: r.halfDeg, leaveDeg: r.halfDeg + 5, dwellS: 0.3 },
        sightline: { to: 'zone', samples: 12, share: r.share, leaveShare: r.share / 2, answer: 'hide', dwellS: 0.3 },
        show: { phases: {}, need: 'all', conditions: [{ kind: 'compare', feed: 'tide', is: 'below', value: 1, leave: 0 }], lingerS: 0 },
        place: { ...e.place, offsetPx: [r.offset, 0] },
        paint: { ...e.paint, opacity: r.opacity },
      } as Element;
      if (r.mount === 'glass') return { ...changed, ...onGlass([0.5, 0.5], [r.offset, 0]), about: 'wheel', size: e.size };
      return { ...changed, size: { rule: 'world', emM: 0.005, leastPx: 0, greatestPx: 9, hideBelowPx: r.floor / 20, leavePx: 0 } };
    });
    d.feeds = { tide: { name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: r.tide, range: [-1, 2] } };
    if (r.mount === 'glass') {
      const turn = d.elements.turn as Element;
      d.elements.turn = { ...turn, size: { rule: 'screen', emPx: 1, hideBelowPx: 0, leavePx: 0 } };
    }
    return { d, where: { boxes, head: lookingPose([r.x, 1.65, r.z], r.yaw, 0) } };
  }

  it('every offer holds; with nine tenths of its change, place, turn or setting do not, within a rounding step (property)', () => {
    let [offered, lessened] = [0, 0];
    fc.assert(
      fc.property(scenes, (r) => {
        const { d, where } = sceneOf(r);
        const head = where.head as Pose;
        for (const offer of ask(d, where)) {
          offered++;
          expect(isTrue(d, offer, where)).toBe(true);
          if (offer.kind === 'setting') {
            const less = tenthLess(d, offer);
            if (!less || Math.abs(less.change) * 0.1 <= less.step) continue;
            lessened++;
            expect(isTrue(d, less.offer, where), JSON.stringify(offer.setting)).toBe(false);
          } else if (offer.kind === 'turn' && Math.hypot(offer.leftDeg, offer.upDeg) > 1) {
            const part = lookingPose([...head.position], r.yaw + offer.leftDeg * 0.9, offer.upDeg * 0.9);
            expect(isTrue(d, { ...offer, pose: part }, where)).toBe(false);
          } else if (offer.kind === 'place' && offer.distanceM > 0.5) {
            const part = head.position.map((v, k) => v + ((offer.pose.position[k] as number) - v) * 0.9) as Pose['position'];
            expect(isTrue(d, { ...offer, pose: { ...offer.pose, position: part } }, where)).toBe(false);
          }
        }
      }),
      { numRuns: 120 },
    );
    expect(offered).toBeGreaterThan(60);
    expect(lessened).toBeGreaterThan(5);
  });

  /** Settings in a grid: whether any one of a step's alone shows the element. */
  function bruteForce(d: Document, step: StepName, where: Where): boolean {
    const e = d.elements.turn as Element;
    const grid: Partial<Record<StepName, Partial<Element>[]>> = {
      phase: [-2, 0, 1.61, 3].flatMap((value) => {
        const show = e.show as Show;
        const [condition] = show.conditions;
        return [{ show: { ...show, conditions: [{ ...condition, value } as Condition] } }, { show: { ...show, conditions: [] } }];
      }),
      range: [1, 2, 4, 8, 16, 40].map((enterM) => ({ range: { from: 'body', enterM, leaveM: enterM, dwellS: 0 } })),
      view: [
        ...[10, 30, 60, 90, 180].map((halfDeg) => ({ look: { by: 'cone', halfDeg, leaveDeg: halfDeg, dwellS: 0 } }) as Partial<Element>),
        ...[0, 200, 1000, 5000].map((outsidePx) => ({ view: { ...e.view, outsidePx } })),
      ],
      size: [0].map((hideBelowPx) => ({ size: { ...e.size, hideBelowPx, leavePx: 0 } as Element['size'] })),
      sightline: [0.01, 0.1, 0.3]
        .map((share) => ({ sightline: { ...e.sightline, share, leaveShare: 0 } as Element['sightline'] }))
        .concat([{ sightline: { ...e.sightline, answer: 'through' } as Element['sightline'] }]) as Partial<Element>[],
      place: [{ place: { ...e.place, stay: 'inside' } }, { place: { ...e.place, offsetPx: [0, 0] } }],
      paint: [{ paint: { ...e.paint, opacity: 1 } as never }],
    };
    return (grid[step] ?? []).some((part) =>
      isTrue(d, { kind: 'setting', cost: 0, step, setting: { field: 'stay' }, target: { in: 'elements', id: 'turn', part } }, where),
    );
  }

  it('nine in ten of the cases of each step that a single setting would show get an offer (table)', () => {
    const table = new Map<StepName, { cases: number; offered: number }>();
    for (const r of fc.sample(scenes, { numRuns: 500, seed: 12 })) {
      const { d, where } = sceneOf(r);
      const solver = makeSolver(arranged(d, where.boxes ?? BOXES));
      solve(solver, inputsAt(where.head as Pose));
      const row = solver.c.ids.indexOf('turn');
      const no = refusalOf(solver, row);
      if (!no || !bruteForce(d, no.step, where)) continue;
      const entry = table.get(no.step) ?? { cases: 0, offered: 0 };
      table.set(no.step, entry);
      entry.cases++;
      if (ask(d, where).some((o) => o.kind === 'setting')) entry.offered++;
    }
    process.stdout.write(`offers by step: ${[...table].map(([step, { cases, offered }]) => `${step} ${offered}/${cases}`).join(', ')}\n`);
    expect(table.size).toBeGreaterThanOrEqual(5);
    for (const [step, { cases, offered }] of table) expect(offered / cases, step).toBeGreaterThanOrEqual(0.9);
  });

  it('names exactly what is found, however far away', () => {
    const d = scene();
    const solver = makeSolver(arranged(d, BOXES));
    solve(solver, inputsAt({ position: [0, 1.65, 1707.4], rotation: [0, 0, 0, 1] }));
    const fact = factIn(refusalOf(solver, 0)?.facts ?? [], 'distance');
    expect(fact?.distanceM).toBeCloseTo(Math.hypot(1712.4, 0) - 0.3, 6);
    const plain = makeLabel('wheel', 'Wheel', 'a0');
    const far: Document = { ...d, elements: { turn: { ...plain, range: { from: 'eye', enterM: 5, leaveM: 6, dwellS: 0 } } as Element } };
    const where: Where = { head: { position: [0, 1.65, 1707.4], rotation: [0, 0, 0, 1] } };
    const offer = ask(far, where).find((o) => o.kind === 'setting');
    expect(offer).toMatchObject({ setting: { field: 'enterM', value: 1712.2 } });
    expect(isTrue(far, offer as Offer, where)).toBe(true);
  });
});
