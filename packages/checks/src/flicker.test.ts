/** Flicker is found where it is, and what cures it does. */
import { arrange, compile, lookingPose, Verdict } from '@foreshore/core';
import { type Document, type Element, makeDocument, makeLabel, type Route } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { type Box, levelOf } from '../../core/src/sample-level.ts';
import { bands, type Stretch } from './bands.ts';
import { cureOf, flickers } from './flicker.ts';

const stretch = (fromS: number, toS: number, verdict: number): Stretch => ({ fromS, toS, verdict, short: null });

describe('flicker', () => {
  it('is a band that goes there and back within two seconds, by the step that did it', () => {
    const band = [
      stretch(0, 4, Verdict.Range),
      stretch(4, 5, Verdict.Shown),
      { ...stretch(5, 5.5, Verdict.Shown), short: 'small' as const },
      stretch(5.5, 8, Verdict.View),
      stretch(8, 12, Verdict.Shown),
      stretch(12, 13.9, Verdict.Sightline),
      stretch(13.9, 20, Verdict.Shown),
      stretch(20, 20.5, Verdict.Range),
    ];
    // Readable or not, 4 to 5.5 s is one time of being shown; the end of the route has no way back.
    expect(flickers(band)).toEqual([
      { fromS: 4, toS: 5.5, step: Verdict.View, shown: true },
      { fromS: 12, toS: 13.9, step: Verdict.Sightline, shown: false },
    ]);
    expect(flickers([stretch(0, 1, Verdict.Shown), stretch(1, 3, Verdict.View), stretch(3, 4, Verdict.Shown)])).toEqual([]);
  });

  /** A walk straight towards the crates at z = -5 and off again: at these times so far from them, metres. */
  const walk = (name: string, ...points: [timeS: number, farM: number][]): Route => ({
    name,
    order: 'a0',
    poses: points.map(([timeS, farM]) => ({ timeS, ...lookingPose([0, 1.65, farM - 5], 0, 0) })),
    feeds: [],
    phases: [],
  });
  /** At 2.4 m, back to 2.95 m for a second, and near again. */
  const toAndFro = walk('To and fro', [0, 2.4], [3, 2.4], [3.5, 2.95], [4.5, 2.95], [5, 2.4], [9, 2.4]);
  const crate = (name: string, x: number): Box => ({ name, least: [x - 0.1, 1.55, -5.1], greatest: [x + 0.1, 1.75, -4.9] });
  /** A label at the crates that comes in within 2.5 m and goes out beyond 2.6 m, or as a part of it says. */
  const arranged = (boxes: readonly Box[], part: Partial<Element> = {}) => {
    const made: Document = makeDocument('Low Water');
    made.anchors.crates = { kind: 'nodes', name: 'Crates', order: 'a0', pattern: 'Crate *', property: null, offset: [0, 0, 0] };
    made.elements.crate = {
      ...makeLabel('crates', 'Crate', 'a0'),
      range: { from: 'eye', enterM: 2.5, leaveM: 2.6, dwellS: 0 },
      ...part,
    } as Element;
    return arrange(compile(made, levelOf(boxes)), made.viewers.desk as never, text);
  };
  const flickersOf = (boxes: readonly Box[], route: Route, part: Partial<Element> = {}) =>
    flickers(bands(arranged(boxes, part), route)[0] ?? []);

  it.each<[string, Box[], Route, boolean, number]>([
    // 2.95 m was gone to: a tenth more, rounded up to tenths.
    ['that is away for a moment', [crate('Crate 1', 0)], toAndFro, false, 3.1],
    // The first one is 30 m off all the time.
    ['of one of many', [crate('Crate 1', -30), crate('Crate 2', 0)], toAndFro, false, 3.1],
    // At 1.6 m/s it comes in at 3.94 s; 2.1 s later it is at 2.4 + 0.5 (6.04 - 4.2) = 3.32 m. A tenth more, rounded up.
    ['that shows for a moment', [crate('Crate 1', 0)], walk('Off again', [0, 4], [3, 4], [4, 2.4], [4.2, 2.4], [10, 5.3]), true, 3.5],
  ])('%s is cured by the leave distance that was gone to, solved again', (_, boxes, route, shown, leaveM) => {
    const found = flickersOf(boxes, route);
    expect(found).toMatchObject([{ step: Verdict.Range, shown }]);
    const cure = cureOf(arranged(boxes), route, 'crate', found[0] as never, (part) => arranged(boxes, part));
    expect(cure).toMatchObject({ field: 'leaveM', value: leaveM, part: { range: { leaveM } } });
    expect(flickersOf(boxes, route, cure?.part)).toEqual([]);
  });
});

describe('each step that can flicker has a cure of its own, which solved again is one', () => {
  type Turn = [timeS: number, yawDeg: number, farM: number, sideM?: number];
  /** Looking along -z from so far off the label, turned by so much and so far to the side. */
  const route = (turns: Turn[], feeds: Route['feeds'] = []): Route => ({
    name: 'To and fro',
    order: 'a0',
    poses: turns.map(([timeS, yawDeg, farM, sideM = 0]) => ({ timeS, ...lookingPose([sideM, 1.65, farM - 5], yawDeg, 0) })),
    feeds,
    phases: [],
  });
  /** A post that hides the label from whoever stands straight behind it. */
  const POST: Box = { name: 'Post', least: [-0.3, 0, -3.6], greatest: [0.3, 3, -3.4] };
  const arranged = (part: Partial<Element>, boxes: readonly Box[] = []) => {
    const made: Document = makeDocument('Low Water');
    made.feeds.lit = { name: 'Lit', order: 'a0', kind: 'flag', unit: '', initial: true };
    made.anchors.spot = {
      kind: 'surface',
      name: 'Spot',
      order: 'a0',
      node: null,
      position: [0, 1.65, -5],
      normal: [0, 0, 1],
      zone: { kind: 'sphere', radiusM: 0.2 },
    };
    made.elements.spot = { ...makeLabel('spot', 'Spot', 'a0'), ...part } as Element;
    // Urgent while the flag is down.
    if (part.claim) {
      made.actions = { turn: { name: 'Turn', order: 'a0', reactions: [] } };
      const down = [{ kind: 'compare' as const, feed: 'lit', is: 'equals' as const, value: false, leave: 0 }];
      made.elements.urgent = {
        ...made.elements.spot,
        claim: { priority: 5, bonus: 0, dwellS: 0 },
        show: { phases: {}, need: 'all', conditions: down, lingerS: 0 },
      } as Element;
    }
    return arrange(compile(made, levelOf(boxes)), made.viewers.desk as never, text);
  };
  const label = makeLabel('spot', 'Spot', 'a0');

  it.each<[string, Partial<Element>, Route, readonly Box[], number, string[]]>([
    [
      'a turn of the head takes it out of the frame for a second',
      { view: { ...label.view, leavePx: 0 } },
      route([
        [0, 0, 4],
        [3, 0, 4],
        [3.4, 47, 4],
        [4.2, 47, 4],
        [4.6, 0, 4],
        [9, 0, 4],
      ]),
      [],
      Verdict.View,
      ['leavePx'],
    ],
    [
      'a turn of the head takes it out of the cone for a second',
      { look: { by: 'cone', halfDeg: 20, leaveDeg: 22, dwellS: 0 } },
      route([
        [0, 0, 4],
        [3, 0, 4],
        [3.4, 28, 4],
        [4.2, 28, 4],
        [4.6, 0, 4],
        [9, 0, 4],
      ]),
      [],
      Verdict.View,
      ['leaveDeg'],
    ],
    [
      'the ray of the view leaves its zone for a second',
      { look: { by: 'aim', reachM: 6, dwellS: 0 } },
      route([
        [0, 0, 4],
        [3, 0, 4],
        [3.4, 10, 4],
        [4.2, 10, 4],
        [4.6, 0, 4],
        [9, 0, 4],
      ]),
      [],
      Verdict.View,
      ['reachDwellS'],
    ],
    [
      'another, more urgent one takes its key for a second',
      { claim: { priority: 0, bonus: 0, dwellS: 0 }, press: { action: 'turn', how: 'press', holdS: 1, times: 2 } },
      route(
        [
          [0, 0, 4],
          [9, 0, 4],
        ],
        [
          { timeS: 0, feed: 'lit', value: true },
          { timeS: 3, feed: 'lit', value: false },
          { timeS: 4, feed: 'lit', value: true },
        ],
      ),
      [],
      Verdict.Claim,
      ['claimDwellS'],
    ],
    [
      // Before the middle 0.08 m of post at 2.5 m hide 0.128 m at 4 m: some of the zone of 0.2 m stays free.
      'a thin post passes before it for a second',
      { sightline: { to: 'zone', samples: 32, share: 0.7, leaveShare: 0.7, answer: 'hide', dwellS: 0 } },
      route([
        [0, 0, 4, -0.7],
        [3, 0, 4, -0.7],
        [4.4, 0, 4, 0.7],
        [9, 0, 4, 0.7],
      ]),
      [{ name: 'Thin post', least: [-0.08, 0, -3.6], greatest: [0.08, 3, -3.4] }],
      Verdict.Sightline,
      ['leaveShare'],
    ],
    [
      'it is too small for a second',
      { size: { rule: 'world', emM: 0.1, leastPx: 0, greatestPx: 1000, hideBelowPx: 20, leavePx: 0 } },
      route([
        [0, 0, 4],
        [3, 0, 4],
        [3.5, 0, 5],
        [4.3, 0, 5],
        [4.8, 0, 4],
        [9, 0, 4],
      ]),
      [],
      Verdict.Size,
      ['sizeLeavePx'],
    ],
    [
      'a flag lets go for a second',
      {
        show: { phases: {}, need: 'all', conditions: [{ kind: 'compare', feed: 'lit', is: 'equals', value: true, leave: 0 }], lingerS: 0 },
      },
      route(
        [
          [0, 0, 4],
          [9, 0, 4],
        ],
        [
          { timeS: 0, feed: 'lit', value: true },
          { timeS: 3, feed: 'lit', value: false },
          { timeS: 4, feed: 'lit', value: true },
        ],
      ),
      [],
      Verdict.Phase,
      ['lingerS'],
    ],
    [
      'a post passes before it for a second',
      { sightline: { to: 'zone', samples: 8, share: 0.5, leaveShare: 0.5, answer: 'hide', dwellS: 0 } },
      route([
        [0, 0, 4, -3],
        [3, 0, 4, -3],
        [4.2, 0, 4, 3],
        [9, 0, 4, 3],
      ]),
      [POST],
      Verdict.Sightline,
      ['sightDwellS'],
    ],
  ])('%s', (_, part, way, boxes, step, fields) => {
    const found = flickers(bands(arranged(part, boxes), way)[0] ?? []);
    expect(found).toMatchObject([{ step, shown: false }]);
    const cure = cureOf(arranged(part, boxes), way, 'spot', found[0] as never, (more) =>
      arranged({ ...part, ...more } as Partial<Element>, boxes),
    );
    expect(fields).toContain(cure?.field);
    expect(flickers(bands(arranged({ ...part, ...cure?.part } as Partial<Element>, boxes), way)[0] ?? [])).toEqual([]);
  });
});
