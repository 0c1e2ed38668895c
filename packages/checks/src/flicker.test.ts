/** Flicker is found where it is, and what cures it does. */
import { arrange, compile, lookingPose, Verdict } from '@foreshore/core';
import { type Document, type Element, makeDocument, makeLabel, type Route } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { levelOf } from '../../core/src/sample-level.ts';
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

  it('by a range is cured by the leave distance that was gone to, solved again', () => {
    const route: Route = {
      name: 'To and fro',
      order: 'a0',
      // At 2.4 m, back to 2.95 m for a second, and near again.
      poses: [
        [0, 2.4],
        [3, 2.4],
        [3.5, 2.95],
        [4.5, 2.95],
        [5, 2.4],
        [9, 2.4],
      ].map(([timeS, z]) => ({ timeS: timeS as number, ...lookingPose([0, 1.65, (z as number) - 5], 0, 0) })),
      feeds: [],
      phases: [],
    };
    const made: Document = makeDocument('Low Water');
    made.anchors.crate = { kind: 'surface', name: 'Crate', order: 'a0', node: null, position: [0, 1.65, -5], normal: [0, 0, 1] };
    const label = (part: Partial<Element> = {}): Element =>
      ({ ...makeLabel('crate', 'Crate', 'a0'), range: { from: 'eye', enterM: 2.5, leaveM: 2.6, dwellS: 0 }, ...part }) as Element;
    made.elements.crate = label();
    const arranged = (element: Element) =>
      arrange(compile({ ...made, elements: { crate: element } }, null), made.viewers.desk as never, text);
    const before = arranged(label());
    const found = flickers(bands(before, route)[0] ?? []);
    expect(found).toHaveLength(1);
    const cure = cureOf(before, route, 'crate', found[0] as never, (part) => arranged(label(part)));
    expect(cure?.says).toBe('goes out beyond 3.1 m');
    expect(flickers(bands(arranged(label(cure?.part)), route)[0] ?? [])).toEqual([]);
  });
  it('of what shows for a moment only is cured by a leave value that keeps it for two seconds', () => {
    // Backwards past the crate: within 2.5 m for a second, then going off at 0.5 m/s.
    const route: Route = {
      name: 'Off again',
      order: 'a0',
      poses: [
        [0, 4],
        [3, 4],
        [4, 2.4],
        [4.2, 2.4],
        [10, 5.3],
      ].map(([timeS, z]) => ({ timeS: timeS as number, ...lookingPose([0, 1.65, (z as number) - 5], 0, 0) })),
      feeds: [],
      phases: [],
    };
    const made: Document = makeDocument('Low Water');
    made.anchors.crate = { kind: 'surface', name: 'Crate', order: 'a0', node: null, position: [0, 1.65, -5], normal: [0, 0, 1] };
    const label = (part: Partial<Element> = {}): Element =>
      ({ ...makeLabel('crate', 'Crate', 'a0'), range: { from: 'eye', enterM: 2.5, leaveM: 2.6, dwellS: 0 }, ...part }) as Element;
    const arranged = (element: Element) =>
      arrange(compile({ ...made, elements: { crate: element } }, null), made.viewers.desk as never, text);
    const [found] = flickers(bands(arranged(label()), route)[0] ?? []);
    expect(found).toMatchObject({ step: Verdict.Range, shown: true });
    const cure = cureOf(arranged(label()), route, 'crate', found as never, (part) => arranged(label(part)));
    // At 1.6 m/s it comes in at 3.94 s; 2.1 s later it is at 2.4 + 0.5 (6.04 - 4.2) = 3.32 m. A tenth more, rounded up to tenths.
    expect(cure?.says).toBe('goes out beyond 3.5 m');
    expect(flickers(bands(arranged(label(cure?.part)), route)[0] ?? [])).toEqual([]);
  });
  it('of an element at many nodes is cured by what is measured at the one that comes and goes', () => {
    const route: Route = {
      name: 'Past the second',
      order: 'a0',
      // 2.4 m from the second crate, 2.95 m for a second, and near again; the first one is 30 m off all the time.
      poses: [
        [0, 2.4],
        [3, 2.4],
        [3.5, 2.95],
        [4.5, 2.95],
        [5, 2.4],
        [9, 2.4],
      ].map(([timeS, z]) => ({ timeS: timeS as number, ...lookingPose([0, 1.65, (z as number) - 5], 0, 0) })),
      feeds: [],
      phases: [],
    };
    const made: Document = makeDocument('Low Water');
    made.anchors.crates = { kind: 'nodes', name: 'Crates', order: 'a0', pattern: 'Crate *', property: null, offset: [0, 0, 0] };
    const crate = (name: string, x: number) => ({
      name,
      least: [x - 0.1, 1.55, -5.1] as [number, number, number],
      greatest: [x + 0.1, 1.75, -4.9] as [number, number, number],
    });
    const level = levelOf([crate('Crate 1', -30), crate('Crate 2', 0)]);
    const label = (part: Partial<Element> = {}): Element =>
      ({ ...makeLabel('crates', 'Crate', 'a0'), range: { from: 'eye', enterM: 2.5, leaveM: 2.6, dwellS: 0 }, ...part }) as Element;
    const arranged = (element: Element) =>
      arrange(compile({ ...made, elements: { crate: element } }, level), made.viewers.desk as never, text);
    const [found] = flickers(bands(arranged(label()), route)[0] ?? []);
    const cure = cureOf(arranged(label()), route, 'crate', found as never, (part) => arranged(label(part)));
    // Ten centimetres beyond 2.95 m, whatever the first one is at.
    expect(cure?.says).toBe('goes out beyond 3.1 m');
  });
});
