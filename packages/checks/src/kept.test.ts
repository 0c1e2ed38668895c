/** What is kept from question to question: answers are those of each question by itself, and nothing is measured twice. */
import { type Compiled, compile, finished, lookingPose } from '@foreshore/core';
import {
  type Document,
  type Element,
  makeDocument,
  makeHeadset,
  makeLabel,
  makeText,
  onGlass,
  type Route,
  type Viewer,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fixedText as text } from '../../core/src/sample.ts';
import { arrangedFor, beginRun, type CheckPart, checkPart, checkParts, type PartResult, partContent, replayOf } from './check.ts';
import { findingMends, MENDED_BY } from './finding-mends.ts';
import { findingsOf } from './findings.ts';
import { withMend } from './mends.ts';
import { MomentsKept } from './replay.ts';
import { ReplaysKept } from './replays-kept.ts';
import { ResultsKept } from './results-kept.ts';

const one = fc.record({
  at: fc.record({ x: fc.integer({ min: -50, max: 50 }), y: fc.integer({ min: 5, max: 30 }), z: fc.integer({ min: -140, max: -20 }) }),
  emPx: fc.integer({ min: 5, max: 30 }),
  onGlass: fc.boolean(),
  pin: fc.tuple(fc.constantFrom(0, 0.5, 1), fc.constantFrom(0, 0.4, 1)),
  enterM: fc.option(fc.integer({ min: 4, max: 12 })),
});
const scene = fc.array(one, { minLength: 2, maxLength: 4 });

/** Somebody walks to and fro before names and texts of the HUD, on two routes; a headset is among the viewers. */
function yard(elements: readonly (typeof one extends fc.Arbitrary<infer T> ? T : never)[]): Document {
  const d = makeDocument('Yard');
  const { desk, phone } = d.viewers as Record<string, Viewer>;
  d.viewers = { desk, phone, headset: makeHeadset('Headset', 'a9') } as Document['viewers'];
  d.languages = ['de'];
  elements.forEach(({ at, emPx, onGlass: isOnGlass, pin, enterM }, k) => {
    const id = `e${k}`;
    const position: [number, number, number] = [at.x / 10, at.y / 10, at.z / 10];
    d.anchors[id] = { kind: 'surface', name: id, order: `a${k}`, node: null, position, normal: [0, 1, 0] };
    const made = isOnGlass ? makeText(onGlass(pin), 'Low tide at {tide}', `a${k}`) : makeLabel(id, 'Lamp mast', `a${k}`);
    const range = enterM === null ? null : { from: 'eye', enterM, leaveM: enterM, dwellS: 0 };
    const size = { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 };
    d.elements[id] = { ...made, size, ...(!isOnGlass && range && { range }) } as Element;
  });
  d.feeds.tide = {
    ...{ name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0 },
    source: { kind: 'wander', from: 0, to: 40, perS: 30, seed: 3 },
  } as never;
  const routeOf = (order: string, turn: number): Route => ({
    ...{ name: order, order, feeds: [], phases: [] },
    poses: [0, 1, 2, 3].map((k) => ({ timeS: k, ...lookingPose([0, 1.6, k % 2 ? -3 : 0], turn * k, 0) })),
  });
  d.routes = { there: routeOf('a0', 4), back: routeOf('a1', -7) };
  return d;
}
const measured = (d: Document, part: CheckPart, compiled = compile(d, null), moments?: MomentsKept): PartResult =>
  checkPart(d, arrangedFor(compiled, part, text), part, moments);

/** Keeps what it had to have measured, by all that it depends on. */
class Counted extends ResultsKept {
  readonly measured: string[] = [];
  override result(document: Document, part: CheckPart, measure: () => PartResult): PartResult {
    return super.result(document, part, () => {
      this.measured.push(`${partContent.shared(document, part.language)} ${partContent.own(document, part)}`);
      return measure();
    });
  }
}
const keeping = () => ({ moments: new MomentsKept(), results: new Counted(), replays: new ReplaysKept() });

describe('what is kept for questions about findings', () => {
  it('leaves every answer as it is by itself, and nothing is measured twice (property)', () => {
    const counts = { asked: 0, mended: 0, alone: 0, kept: 0 };
    fc.assert(
      fc.property(scene, (elements) => {
        let document = yard(elements);
        const parts = checkParts(document);
        const results = parts.map((part) => measured(document, part));
        const kept = keeping();
        kept.results.take(document, results);
        const seen = new Set<string>();
        // All that is found and can be mended, each in the document that the answers before it have left.
        for (const finding of findingsOf({ ...beginRun(document, '', parts), results })) {
          const { kind, element, route } = finding;
          const about = `${kind} ${element}`;
          if (MENDED_BY[kind] === null || route === null || seen.has(about)) continue;
          seen.add(about);
          const found = results.filter((result) => result.found.some((other) => `${other.kind} ${other.element}` === about)).slice(0, 3);
          const where = found.map(({ route, viewer, language }) => ({ route, viewer, language }));
          const question = { document, level: null, text, finding, parts: where };
          const alone = keeping();
          const answer = finished(findingMends({ ...question, kept: alone }));
          const before = kept.results.measured.length;
          expect(finished(findingMends({ ...question, kept }))).toEqual(answer);
          counts.asked++;
          counts.alone += alone.results.measured.length;
          counts.kept += kept.results.measured.length - before;
          const [mend] = answer.mends;
          if (mend) counts.mended++;
          if (mend) document = withMend(document, mend);
        }
        expect(new Set(kept.results.measured).size).toBe(kept.results.measured.length);
      }),
      { seed: 1, numRuns: 25 },
    );
    expect(counts.asked).toBeGreaterThan(50);
    expect(counts.mended).toBeGreaterThan(15);
    expect(counts.kept).toBeLessThan(0.75 * counts.alone);
  });

  it('ends after as many mends as are asked for', () => {
    const d = yard([{ at: { x: 0, y: 16, z: -60 }, emPx: 6, onGlass: false, pin: [0, 0], enterM: null }]);
    const parts = checkParts(d).filter(({ viewer, language, route }) => viewer === 'desk' && language === 'en' && route === 'there');
    const asked = { document: d, level: null, text, parts, finding: { kind: 'small', element: 'e0', atS: 0 } as const };
    const all = finished(findingMends(asked)).mends;
    expect(all.length).toBe(2);
    expect(finished(findingMends({ ...asked, most: 1 })).mends).toEqual(all.slice(0, 1));
  });
});

const SCENE = [{ at: { x: 0, y: 16, z: -60 }, emPx: 12, onGlass: false, pin: [0, 0], enterM: null }] as never;

describe('moments', () => {
  it('are those of another state of the project where elements alone are others, and only there', () => {
    const d = yard(SCENE);
    const c = compile(d, null);
    const moments = new MomentsKept();
    const there = moments.on(c, d.routes.there as Route);
    const isSame = (edit: (d: Document) => void): boolean => {
      const other = structuredClone(d);
      edit(other);
      return moments.on(compile(other, null), other.routes.there as Route) === there;
    };
    expect(isSame(() => {})).toBe(true);
    expect(isSame((o) => Object.assign(o.elements.e0 as Element, { text: 'Another text' }))).toBe(true);
    expect(isSame((o) => delete o.elements.e0)).toBe(true);
    expect(isSame((o) => Object.assign(o.viewers.desk as object, { distanceM: 2 }))).toBe(true);
    expect(isSame((o) => Object.assign(o.feeds.tide as object, { initial: 3 }))).toBe(false);
    expect(isSame((o) => Object.assign(o.anchors.e0 as object, { position: [1, 2, -3] }))).toBe(false);
    expect(isSame((o) => Object.assign(o.routes.there?.poses[1] as object, { position: [1, 2, -3] }))).toBe(false);
    expect(isSame((o) => Object.assign(o, { level: { file: 'yard.glb', hash: null, metresPerUnit: 1, upAxis: 'y' } }))).toBe(false);
    // Another level, which is called the same.
    expect(moments.on({ ...c, level: {} } as unknown as Compiled, d.routes.there as Route)).not.toBe(there);
  });

  it('are kept of the six routes that were asked for last', () => {
    const d = yard(SCENE);
    const c = compile(d, null);
    const routes = Array.from({ length: 7 }, (_, k) => ({ ...(d.routes.there as Route), name: `Route ${k}` }));
    const moments = new MomentsKept();
    const first = routes.map((route) => moments.on(c, route));
    expect(moments.on(c, routes[1] as Route)).toBe(first[1]);
    expect(moments.on(c, routes[0] as Route)).not.toBe(first[0]);
    // The second was asked for since; the third is the oldest, and went for the first.
    expect(moments.on(c, routes[2] as Route)).not.toBe(first[2]);
    expect(moments.on(c, routes[1] as Route)).toBe(first[1]);
  });

  it('hold on to two levels at most: whoever goes on to other projects has the memory of the first ones back', () => {
    const d = yard(SCENE);
    const moments = new MomentsKept();
    const on = (level: object) => moments.on({ ...compile(d, null), level } as unknown as Compiled, d.routes.there as Route);
    const [quay, flats, shed] = [{}, {}, {}];
    const first = on(quay);
    on(flats);
    // Two that are compared are asked for in turn.
    expect(on(quay)).toBe(first);
    on(flats);
    on(shed);
    expect(on(quay)).not.toBe(first);
  });

  it('shared by states of a project, each is measured as by itself', () => {
    const d = yard(SCENE);
    const other = structuredClone(d);
    Object.assign(other.elements.e0 as Element, { text: 'Low tide at {tide}' });
    const moments = new MomentsKept();
    for (const one of [d, other])
      for (const part of checkParts(one)) expect(measured(one, part, compile(one, null), moments)).toEqual(measured(one, part));
  });
});

describe('replays', () => {
  it('are those of the document asked about last, of the eight parts that were asked about last', () => {
    const d = yard(SCENE);
    const parts = checkParts(d);
    expect(parts.length).toBeGreaterThan(8);
    const kept = new ReplaysKept();
    const of = (document: Document, part = parts[0] as CheckPart) =>
      kept.of(document, part, () => replayOf(arrangedFor(compile(document, null), part, text), part));
    const first = of(d);
    expect(of(d)).toBe(first);
    // What is accepted changes nothing that is measured.
    expect(of({ ...d, checks: { accepted: [] } })).toBe(first);
    for (const part of parts.slice(1, 8)) of(d, part);
    expect(of(d)).toBe(first);
    for (const part of parts.slice(1, 9)) of(d, part);
    expect(of(d)).not.toBe(first);
    const again = of(d);
    expect(of({ ...d, checks: { shake: { amplitudeDeg: 1 } as never } })).not.toBe(again);
    expect(of({ ...d, elements: {} })).not.toBe(again);
  });
});
