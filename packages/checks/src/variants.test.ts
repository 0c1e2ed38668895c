/** Variants of a route: what each of them must find that the route as recorded does not, and the shake against plain trigonometry. */
import { type Compiled, compile, finished, lookingPose, type Pose } from '@foreshore/core';
import { type CheckVariant, type Document, makeDocument, makeLabel, makePrompt, makeText, onGlass, type Shake } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrangedFor, beginRun, type CheckRun, checkPart, checkParts, chosenOf, partContent, partKey, replayOf } from './check.ts';
import { coverageOf } from './coverage.ts';
import { type FindingMend, findingMends } from './finding-mends.ts';
import { type Finding, findingsOf } from './findings.ts';
import { withMend } from './mends.ts';
import { shaken, variantsFor } from './variants.ts';

const text = shippedShaper();
const HIDDEN_IN_CALM = { phases: { calm: 'hidden' as const }, need: 'all' as const, conditions: [], lingerS: 0 };
const still = lookingPose([0, 1.6, 0], 0, 0);
/** A camera that stands for five seconds before a label, and a depth of water on the glass. */
function scene(variants: CheckVariant[], more: (d: Document) => void = () => {}): Document {
  const d = makeDocument('Low Water');
  d.anchors.lamp = { kind: 'surface', name: 'Lamp', order: 'a0', node: null, position: [0, 1.6, -4], normal: [0, 1, 0] };
  d.elements.lamp = { ...makeLabel('lamp', 'Lamp mast', 'a0'), name: 'Lamp' };
  d.elements.depth = { ...makeText(onGlass([0.5, 0.9]), 'Depth {depth} m', 'a1'), name: 'Depth' };
  d.feeds.depth = { name: 'Depth', order: 'a0', kind: 'number', unit: 'm', initial: 2, range: [0, 5] } as never;
  d.routes = { wait: { name: 'Wait', order: 'a0', poses: [0, 5].map((timeS) => ({ timeS, ...still })), feeds: [], phases: [] } };
  d.viewers = { desk: d.viewers.desk as never };
  d.checks = { variants };
  more(d);
  return d;
}
function runOf(d: Document): CheckRun {
  const parts = checkParts(d, chosenOf(d));
  const compiled: Compiled = compile(d, null);
  return { ...beginRun(d, '', parts), results: parts.map((part) => checkPart(d, arrangedFor(compiled, part, text), part)) };
}
const told = (findings: readonly Finding[]): string[] =>
  findings.map(({ kind, element, variant }) => `${kind} ${element} ${variant ?? 'recorded'}`);

describe('variants', () => {
  it('are measured after the route as recorded, those that are chosen and there', () => {
    const d = scene(['greatest', 'touch', 'phase:storm']);
    expect(checkParts(d, chosenOf(d)).map(({ variant }) => variant)).toEqual([undefined, 'greatest', 'touch']);
    d.phases.storm = { name: 'Storm', order: 'a1' } as never;
    expect(checkParts(d, chosenOf(d)).map(({ variant }) => variant)).toEqual([undefined, 'greatest', 'touch', 'phase:storm']);
    expect(new Set(checkParts(d, chosenOf(d)).map(partKey)).size).toBe(4);
    expect(checkParts(d).map(({ variant }) => variant)).toEqual([undefined]);
    expect(() => checkParts(d, { variants: ['tempest'] })).toThrow(
      /no variant "tempest".*least, greatest, gamepad, touch, hand, shake, phase:roaming, phase:storm/,
    );
    expect(variantsFor(d)).toHaveLength(8);
  });

  it('find at an end of the values what the recorded ones do not show, there alone', () => {
    // A text of so many letters leaves the screen.
    const long = (d: Document) => {
      (d.elements.depth as { text: string }).text = '{depth}';
      d.feeds.depth = { name: 'Depth', order: 'a0', kind: 'text', unit: '', initial: '2 m' } as never;
      d.feeds.depth = { ...(d.feeds.depth as object), source: { kind: 'steps', everyS: 1, values: ['2 m', 'deep '.repeat(70)] } } as never;
      d.routes.wait = { ...(d.routes.wait as object), feeds: [{ timeS: 0, feed: 'depth', value: '2 m' }] } as never;
    };
    expect(told(findingsOf(runOf(scene([], long))))).toEqual([]);
    const found = findingsOf(runOf(scene(['least', 'greatest'], long)));
    expect(told(found)).toContain('cut depth greatest');
    expect(found.every(({ variant }) => variant === 'greatest')).toBe(true);
    expect(found[0]?.key).toMatch(/ greatest$/);
  });

  it('tell again of what is so as recorded only where they make it worse', () => {
    const small = (d: Document) =>
      Object.assign(d.elements.depth as object, { size: { rule: 'screen', emPx: 6, hideBelowPx: 0, leavePx: 0 } });
    const all: CheckVariant[] = ['least', 'greatest', 'gamepad', 'touch', 'hand'];
    expect(told(findingsOf(runOf(scene(all, small))))).toEqual(['small depth recorded']);
  });

  it('find what shakes too fast, and say nothing of a gentle shake', () => {
    const shake = (by: Shake) => (d: Document) => void (d.checks = { ...d.checks, shake: by });
    // At its fastest 2π · 5 · 3 = 94 degrees a second, far over 15; or 2π · 0.1 · 1 = 0.6.
    expect(told(findingsOf(runOf(scene(['shake'], shake({ deg: 5, hz: 3 })))))).toContain('speed lamp shake');
    expect(findingsOf(runOf(scene(['shake'], shake({ deg: 0.1, hz: 1 }))))).toEqual([]);
  });

  it('measure in a phase that no route is in, and leave it on no route', () => {
    const storm = (d: Document) => {
      d.phases = { calm: { name: 'Calm', order: 'a0' }, storm: { name: 'Storm', order: 'a1' } } as never;
      const warning = makeText(onGlass([0.5, 0.3]), 'Storm tide', 'a2');
      const size = { rule: 'screen' as const, emPx: 6, hideBelowPx: 0, leavePx: 0 };
      d.elements.warning = { ...warning, name: 'Warning', size, show: HIDDEN_IN_CALM } as never;
    };
    const run = runOf(scene(['phase:storm'], storm));
    expect(told(findingsOf(run)).sort()).toEqual(['neverShown warning recorded', 'small warning phase:storm']);
    expect(coverageOf(run)?.elements).toEqual([{ element: 'warning', hiddenBy: 'phase' }]);
    expect(coverageOf(run)?.phases).toEqual([{ id: 'storm', name: 'Storm' }]);
  });

  it('arrange for their device, and are measured again where what they depend on changed', () => {
    const d = scene(['gamepad', 'shake'], (one) => Object.assign(one.elements, makePrompt(one.elements, 'lamp', 'Open', null).made));
    const compiled = compile(d, null);
    const [plain, gamepad, shake] = checkParts(d, chosenOf(d));
    if (!plain || !gamepad || !shake) throw new Error('three parts are meant');
    expect([plain, gamepad, shake].map((part) => arrangedFor(compiled, part, text).device)).toEqual(['keyboard', 'gamepad', 'keyboard']);
    const harder = { ...d, checks: { ...d.checks, shake: { deg: 2, hz: 2 } } };
    const same = [plain, gamepad, shake].map((part) => partContent.own(d, part) === partContent.own(harder, part));
    expect(same).toEqual([true, true, false]);
    expect(partContent.shared(d, 'en')).toBe(partContent.shared(harder, 'en'));
    // The head stays where it was recorded; the camera does not.
    const replay = replayOf(arrangedFor(compiled, shake, text), shake);
    expect(replay.pose(0.1).position).toEqual(still.position);
    expect(replay.pose(0.1).rotation).not.toEqual(still.rotation);
  });

  it('are tried with a mend, too: it clears the finding under the variant', () => {
    const tight = (d: Document) => {
      Object.assign(d.elements.depth as object, {
        text: '{depth}',
        size: { rule: 'screen', emPx: 6, hideBelowPx: 0, leavePx: 0 },
        show: HIDDEN_IN_CALM,
      });
      d.phases = { calm: { name: 'Calm', order: 'a0' }, storm: { name: 'Storm', order: 'a1' } } as never;
    };
    const d = scene(['phase:storm'], tight);
    const finding = findingsOf(runOf(d)).find(({ kind }) => kind === 'small') as Finding;
    const part = { route: 'wait', viewer: 'desk', language: d.language, variant: finding.variant as CheckVariant };
    const { mends } = finished(findingMends({ document: d, level: null, text, finding, parts: [part] }));
    expect(mends.map(({ element }) => element)).toContain('depth');
  });

  it('are what a flicker is cured under, where it is there alone', () => {
    // It comes in within 2.5 m and goes beyond 2.6; who walks is at 2.4 m, back at 2.95 m for a second, and near again.
    const toAndFro = (d: Document) => {
      Object.assign(d.elements.lamp as object, { range: { from: 'eye', enterM: 2.5, leaveM: 2.6, dwellS: 0 }, show: HIDDEN_IN_CALM });
      const far = [2.4, 2.4, 2.95, 2.95, 2.4, 2.4];
      const poses = [0, 3, 3.5, 4.5, 5, 9].map((timeS, k) => ({ timeS, ...lookingPose([0, 1.6, (far[k] as number) - 4], 0, 0) }));
      Object.assign(d.routes.wait as object, { poses });
      d.phases = { calm: { name: 'Calm', order: 'a0' }, storm: { name: 'Storm', order: 'a1' } } as never;
    };
    const d = scene(['phase:storm'], toAndFro);
    const flicker = (one: Document) => findingsOf(runOf(one)).filter(({ kind }) => kind === 'flickers');
    expect(told(flicker(d))).toEqual(['flickers lamp phase:storm']);
    const part = { route: 'wait', viewer: 'desk', language: d.language, variant: 'phase:storm' as CheckVariant };
    const asked = { document: d, level: null, text, finding: flicker(d)[0] as Finding, parts: [part] };
    const { mends } = finished(findingMends(asked));
    // 2.95 m was gone to: a tenth more, rounded up to tenths.
    expect(mends.map(({ cures }) => cures.map(({ field, value }) => [field, value]))).toEqual([[['leaveM', 3.1]]]);
    expect(flicker(withMend(d, mends[0] as FindingMend))).toEqual([]);
  });
});

describe('a shaken camera', () => {
  /** Where a rotation takes a direction, by the matrix of the quaternion. */
  const turned = ([x, y, z, w]: Pose['rotation'], [a, b, c]: [number, number, number]): [number, number, number] => [
    (1 - 2 * (y * y + z * z)) * a + 2 * (x * y - z * w) * b + 2 * (x * z + y * w) * c,
    2 * (x * y + z * w) * a + (1 - 2 * (x * x + z * z)) * b + 2 * (y * z - x * w) * c,
    2 * (x * z - y * w) * a + 2 * (y * z + x * w) * b + (1 - 2 * (x * x + y * y)) * c,
  ];
  it('looks aside by a sine of its degrees and up by another, wherever it looks, and stays where it is', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -Math.PI, max: Math.PI, noNaN: true }),
        fc.double({ min: 0, max: 100, noNaN: true }),
        fc.double({ min: 0.01, max: 20, noNaN: true }),
        fc.double({ min: 0.1, max: 15, noNaN: true }),
        (yaw, timeS, deg, hz) => {
          const rest: Pose = { position: [1, 2, 3], rotation: [0, Math.sin(yaw / 2), 0, Math.cos(yaw / 2)] };
          const { position, rotation } = shaken(rest, timeS, { deg, hz });
          expect(position).toEqual([1, 2, 3]);
          expect(Math.hypot(...rotation)).toBeCloseTo(1, 9);
          const [x, y, z] = turned(rotation, [0, 0, -1]);
          const aside = (deg * Math.PI * Math.sin(2 * Math.PI * hz * timeS)) / 180;
          const up = (deg * Math.PI * Math.sin(0.6180339887498949 * 2 * Math.PI * hz * timeS + 1)) / 180;
          expect(y).toBeCloseTo(Math.sin(up), 9);
          // Heading, counted from straight ahead to the left.
          expect(Math.sin(Math.atan2(-x, -z) - yaw - aside)).toBeCloseTo(0, 9);
        },
      ),
      { seed: 1 },
    );
  });
});
