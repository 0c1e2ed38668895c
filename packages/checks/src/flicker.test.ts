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
