/** Flicker is found where it is, and what cures it does. */
import { arrange, compile, lookingPose, Verdict } from '@foreshore/core';
import { type Document, type Element, makeDocument, makeLabel, type Route } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
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
      { fromS: 4, toS: 5.5, step: Verdict.Range },
      { fromS: 12, toS: 13.9, step: Verdict.Sightline },
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
});
