/**
 * A check against a plain replay: every tick of a route, forwards, with a solver of its own and nothing kept, and findings of height,
 * cut, cover, letters on letters and flicker gathered here by hand. And what is taken over of an earlier check against one from nothing.
 * Random documents.
 */
import {
  arrange,
  compile,
  lookingPose,
  makeSolver,
  measureReadable,
  phaseAt,
  readValues,
  routePose,
  type Shortfall,
  solve,
  TICK_S,
  Verdict,
} from '@foreshore/core';
import { type Document, makeDocument, makeLabel, makeText, onGlass, type Route } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type CheckPart, checkPart, checkParts, type PartResult, partContent } from './check.ts';
import { MomentsKept } from './replay.ts';

const text = shippedShaper();
const KINDS = ['small', 'cut', 'covered', 'overlaps'] as const;
type Kind = (typeof KINDS)[number] | 'flickers';

/** One finding, in tenths of a second and thousandths of its unit. */
const told = (element: string, kind: Kind, value: number, atS: number, forS: number): string =>
  `${element} ${kind} ${Number(value.toFixed(4)).toFixed(3)} at ${atS.toFixed(2)} for ${forS.toFixed(2)}`;

/** The rule of the readers of a check, said plainly: looked at each third tick, and how well one reads each fifteenth and when it comes. */
function plainly(d: Document, viewer: string): string[] {
  const compiled = compile(d, null);
  const solver = makeSolver(arrange(compiled, d.viewers[viewer] as never, text));
  const [route] = Object.values(d.routes) as [Route];
  const lastS = route.poses.at(-1)?.timeS ?? 0;
  const lastTick = Math.round(lastS / TICK_S);
  const shown: Record<string, boolean[]> = {};
  const worst = new Map<string, { kind: Kind; element: string; value: number; by: number; atS: number; forS: number }>();
  for (let tick = 0; tick <= lastTick; tick++) {
    const timeS = tick * TICK_S;
    const head = routePose(route, timeS);
    solve(solver, {
      timeS,
      head,
      depthOrder: true,
      values: readValues(compiled, route, timeS, head, {}),
      phase: phaseAt(d, route, timeS),
    });
    if (tick % 3 !== 0) continue;
    compiled.ids.forEach((id, row) => {
      const isShown = solver.f.failed[row] === Verdict.Shown;
      const before = shown[id]?.at(-1);
      shown[id] = [...(shown[id] ?? []), isShown];
      if (!isShown || (tick % 15 !== 0 && before === true)) return;
      for (const fault of measureReadable(solver, row).faults) {
        const by = howBad(fault);
        if (by === null) continue;
        const [kind, value] = [fault.kind as Kind, (fault as { value: number }).value];
        const key = `${id} ${kind}`;
        const known = worst.get(key);
        const forS = (known?.forS ?? 0) + Math.min(0.5, lastS - timeS);
        if (!known || by > known.by) worst.set(key, { kind, element: id, value, by, atS: timeS, forS });
        else known.forS = forS;
      }
    });
  }
  const out = [...worst.values()].map(({ element, kind, value, atS, forS }) => told(element, kind, value, atS, forS));
  for (const [id, samples] of Object.entries(shown)) out.push(...flickersOf(id, samples));
  return out.sort();
}

/** By how much it falls short, to be compared with the same kind at the same element. */
function howBad(fault: Shortfall): number | null {
  if (fault.kind === 'small') return fault.bound / fault.value;
  return fault.kind === 'cut' || fault.kind === 'covered' || fault.kind === 'overlaps' ? fault.value : null;
}

/** Runs of what is shown, or is not, of under two seconds, but for the first and the last. */
function flickersOf(id: string, samples: readonly boolean[]): string[] {
  const runs: { from: number; length: number }[] = [];
  samples.forEach((one, k) => {
    if (k === 0 || samples[k - 1] !== one) runs.push({ from: k, length: 0 });
    (runs.at(-1) as { length: number }).length++;
  });
  const short = runs.slice(1, -1).filter(({ length }) => length * 0.1 < 2 - 1e-9);
  if (short.length === 0) return [];
  const sum = short.reduce((total, { length }) => total + length * 0.1, 0);
  return [told(id, 'flickers', Math.min(...short.map(({ length }) => length * 0.1)), (short[0]?.from ?? 0) * 0.1, sum)];
}

const at = fc.record({ x: fc.integer({ min: -60, max: 60 }), y: fc.integer({ min: 0, max: 40 }), z: fc.integer({ min: -160, max: -15 }) });
const size = fc.oneof(
  fc.integer({ min: 6, max: 40 }).map((emPx) => ({ rule: 'screen' as const, emPx })),
  fc.integer({ min: 8, max: 60 }).map((emArcmin) => ({ rule: 'angle' as const, emArcmin })),
  fc.integer({ min: 5, max: 40 }).map((cm) => ({ rule: 'world' as const, emM: cm / 100 })),
);
const element = fc.record({
  at,
  size,
  words: fc.constantFrom('Lamp mast', 'Post 14', 'Low tide at seven', 'Tide {tide} m'),
  onGlass: fc.boolean(),
  range: fc.option(fc.record({ enter: fc.integer({ min: 3, max: 16 }), more: fc.integer({ min: 0, max: 2 }) })),
  pin: fc.tuple(fc.constantFrom(0, 0.5, 1), fc.constantFrom(0, 0.4, 0.98)),
  aside: fc.integer({ min: -40, max: 40 }),
});
const way = fc.array(
  fc.record({ x: fc.integer({ min: -4, max: 4 }), z: fc.integer({ min: -8, max: 8 }), turn: fc.integer({ min: -50, max: 50 }) }),
  {
    minLength: 3,
    maxLength: 6,
  },
);
const scene = fc.record({ elements: fc.array(element, { minLength: 1, maxLength: 6 }), way, apart: fc.boolean() });

function documentOf({ elements, way: stops, apart }: typeof scene extends fc.Arbitrary<infer S> ? S : never): Document {
  const d = makeDocument('Yard');
  d.viewers = { desk: d.viewers.desk as never, phone: d.viewers.phone as never };
  d.labels = { apart };
  d.feeds.tide = {
    ...{ name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0 },
    source: { kind: 'wander', from: 0, to: 40, perS: 30, seed: 3 },
  } as never;
  elements.forEach((one, k) => {
    const id = `e${k}`;
    d.anchors[id] = {
      kind: 'surface',
      name: id,
      order: `a${k}`,
      node: null,
      position: [one.at.x / 10, one.at.y / 10, one.at.z / 10],
      normal: [0, 1, 0],
    };
    const made = one.onGlass
      ? makeText(onGlass(one.pin as [number, number], [one.aside, 0]), one.words, `a${k}`)
      : makeLabel(id, one.words, `a${k}`);
    d.elements[id] = {
      ...made,
      size: { ...one.size, hideBelowPx: 0, leavePx: 0 },
      ...(one.range &&
        !one.onGlass && { range: { from: 'eye', enterM: one.range.enter, leaveM: one.range.enter + one.range.more, dwellS: 0 } }),
    } as never;
  });
  const poses = stops.map(({ x, z, turn }, k) => ({ timeS: k, ...lookingPose([x, 1.6, z], turn, 0) }));
  d.routes = { walk: { name: 'Walk', order: 'a0', poses, feeds: [], phases: [] } as Route };
  return d;
}

describe('a check', () => {
  it('finds what a plain replay of every tick finds, in 200 random documents at two viewers', () => {
    let findings = 0;
    const kinds = new Set<string>();
    fc.assert(
      fc.property(scene, (one) => {
        const d = documentOf(one);
        const compiled = compile(d, null);
        const moments = new MomentsKept();
        for (const part of checkParts(d)) {
          const arranged = arrange(compiled, d.viewers[part.viewer] as never, text, undefined, part.language);
          const found = checkPart(d, arranged, part, moments)
            .found.filter(({ kind }) => kind === 'flickers' || (KINDS as readonly string[]).includes(kind))
            .map(({ element: id, kind, value, atS, forS }) => told(id, kind as Kind, value, atS, forS));
          const plain = plainly(d, part.viewer);
          findings += plain.length;
          for (const line of plain) kinds.add(line.split(' ')[1] as string);
          expect(found.sort()).toEqual(plain);
        }
      }),
      { seed: 1, numRuns: 200 },
    );
    // They are of all kinds, and many.
    expect([...kinds].sort()).toEqual(['covered', 'cut', 'flickers', 'overlaps', 'small']);
    expect(findings).toBeGreaterThan(500);
  });

  it('after any edit, is what one from nothing is: parts are taken over by what they depend on', () => {
    let [kept, anew] = [0, 0];
    fc.assert(
      fc.property(scene, fc.constantFrom(...Object.keys(EDITS)), (one, edit) => {
        const before = documentOf(one);
        before.languages = ['de'];
        const after = structuredClone(before);
        EDITS[edit as keyof typeof EDITS](after);
        const parts = checkParts(after);
        for (const part of parts) {
          const fresh = measured(after, part);
          const isKnown = checkParts(before).some(
            (was) => was.route === part.route && was.viewer === part.viewer && was.language === part.language,
          );
          if (isKnown && contentOf(before, part) === contentOf(after, part)) {
            kept++;
            expect(measured(before, part)).toEqual(fresh);
          } else anew++;
        }
      }),
      { seed: 1, numRuns: 60 },
    );
    expect(kept).toBeGreaterThan(60);
    expect(anew).toBeGreaterThan(60);
  });
});

const contentOf = (d: Document, part: CheckPart): string => `${partContent.shared(d, part.language)} ${partContent.own(d, part)}`;
const measured = (d: Document, part: CheckPart): PartResult =>
  checkPart(d, arrange(compile(d, null), d.viewers[part.viewer] as never, text, undefined, part.language), part);

const first = (d: Document) => d.elements.e0 as { name: string; text: string; translations?: Record<string, string>; mount: unknown };
/** Some of what somebody may do. */
const EDITS = {
  rename: (d) => Object.assign(first(d), { name: 'Another name' }),
  text: (d) => Object.assign(first(d), { text: 'Something else altogether' }),
  german: (d) => Object.assign(first(d), { translations: { de: 'Etwas ganz anderes' } }),
  viewer: (d) => Object.assign(d.viewers.phone as object, { distanceM: 0.9 }),
  viewerName: (d) => Object.assign(d.viewers.phone as object, { name: 'Telephone' }),
  pose: (d) => Object.assign((d.routes.walk as Route).poses[1] as object, { position: [2, 1.6, -3] }),
  route: (d) => Object.assign(d.routes, { more: { ...(d.routes.walk as Route), name: 'More', order: 'a1' } }),
  anchor: (d) => Object.assign(d.anchors.e0 as object, { position: [1, 2, -5] }),
  feed: (d) => Object.assign(d.feeds.tide as object, { source: { kind: 'fixed' }, initial: 7 }),
  remove: (d) => {
    delete d.elements.e0;
  },
  apart: (d) => Object.assign(d, { labels: { apart: d.labels?.apart !== true } }),
  accept: (d) =>
    Object.assign(d, { checks: { accepted: [{ kind: 'small', element: 'e0', reason: 'So be it.', by: 'Ada', on: '2026-11-27' }] } }),
  opening: (d) => Object.assign(d, { opening: { timeS: 1 } }),
} satisfies Record<string, (d: Document) => void>;
