/**
 * Checking a project: every element on every route, at every viewer, in every language, measured as the chain measures it. The work is
 * cut into parts (one route, one viewer, one language each), so that several processes may share it; what they find is put together
 * in one order, whoever measured what.
 */
import {
  type Arranged,
  arrange,
  type Compiled,
  measureReadable,
  OF_TEXTS,
  routeDurationS,
  type Shortfall,
  STEPS,
  type TextShaper,
  TICK_S,
  Verdict,
} from '@foreshore/core';
import { type Accepted, type CheckVariant, type Document, groupOf, inOrder, isMember, type Label, type Route } from '@foreshore/document';
import { bandIds, type Stretch, tellingRow } from './bands.ts';
import { BUDGET, costFaults } from './cost.ts';
import { type Offered, offeredOf } from './coverage.ts';
import { FLICKER_S, flickers } from './flicker.ts';
import { hiddenFaults } from './hidden.ts';
import { pressFaults } from './presses.ts';
import { MomentsKept, Replay } from './replay.ts';
import { rounded4 } from './rounding.ts';
import { type Loose, unfinishedOf } from './unfinished.ts';
import { otherwise, variantsFor } from './variants.ts';
import { severity } from './worse.ts';

/** Sampled every third tick, 0.1 s; how well one could read, every fifth time, as bands are. */
const TICKS = 3;
const READ_EVERY = 5;

/** What of the whole is measured at once. */
export interface CheckPart {
  route: string;
  viewer: string;
  language: string;
  /** What is another on the whole of the route; without one it is as it was recorded. */
  variant?: CheckVariant;
}

/** What a part is solved with: for its viewer, in its language, for the device of its variant. */
export const arrangedFor = (compiled: Compiled, { viewer, language, variant }: CheckPart, text: TextShaper): Arranged =>
  arrange(
    compiled,
    compiled.document.viewers[viewer] as Document['viewers'][string],
    text,
    undefined,
    language,
    otherwise(compiled.document, variant).device,
  );

/** The route of a part, under its variant. @param arranged by `arrangedFor`. */
export function replayOf(arranged: Arranged, { route: id, variant }: CheckPart, moments: MomentsKept | null = null): Replay {
  const { document } = arranged.compiled;
  const route = document.routes[id] as Route;
  return new Replay(arranged, route, { ...otherwise(document, variant), moments: moments?.on(arranged.compiled, route) ?? null });
}

export type FindingKind =
  | Shortfall['kind']
  | 'brief'
  | 'flickers'
  | 'neverShown'
  | 'oneKey'
  | 'oneSide'
  | 'swallowed'
  | 'leaked'
  | 'costly'
  | 'unwanted'
  | 'untranslated'
  | 'unfinished';
/** Where each threshold comes from, and what it asks; a row a kind. */
export const FINDING_KINDS: Record<FindingKind, { title: string; source: string }> = {
  small: { title: 'Letters too small', source: 'ISO 9241-303' },
  contrast: { title: 'Too little contrast', source: 'WCAG 2.2, 1.4.3' },
  covered: { title: 'Covered by another element', source: "the project's choice" },
  overlaps: { title: 'Letters on letters', source: "the project's choice" },
  behindLevel: { title: 'Covered by the level', source: "the project's choice" },
  cut: { title: 'Cut off, or outside the safe area', source: 'title-safe practice' },
  speed: { title: 'Moves too fast to be read', source: 'reading fails as pursuit quickens' },
  reach: { title: 'Beyond reach', source: "the project's choice" },
  target: { title: 'Target too small for a hand', source: 'Kopper et al. 2010' },
  tooNear: { title: 'Too near in a headset', source: 'Shibata et al. 2011' },
  tooFar: { title: 'Too far in a headset', source: 'Shibata et al. 2011' },
  vergence: { title: 'Eyes turn too far', source: 'Shibata et al. 2011' },
  glyphs: { title: 'No font has a letter', source: 'the fonts of the project' },
  empty: { title: 'Says nothing', source: 'the text' },
  unmeasured: { title: 'A page whose letters are not measured', source: 'the page' },
  brief: { title: 'Shown too briefly to be read', source: 'subtitle practice, about 180 words a minute' },
  flickers: { title: 'Flickers', source: 'Been, Daiches, Yap 2006' },
  neverShown: { title: 'Never shown on any route', source: 'the routes' },
  oneKey: { title: 'Two prompts on one key at one place', source: "the project's choice" },
  oneSide: { title: 'Readable from one side only', source: 'the routes' },
  swallowed: { title: 'Press swallowed by another', source: "the project's choice" },
  leaked: { title: 'Presses leak to the world', source: "the project's choice" },
  costly: { title: 'A frame over its budget', source: "the project's choice" },
  unwanted: { title: 'Shown in a phase that is to be quiet', source: "the project's choice" },
  untranslated: { title: 'No text in a language, and one in others', source: "the project's languages" },
  unfinished: { title: 'Unfinished: a placeholder, or not connected', source: 'the project itself' },
};

/** The worst of one kind at one element in one part. */
export interface Found {
  kind: FindingKind;
  element: string;
  /** When it is worst, and for how long it is so in all, seconds of the route. */
  atS: number;
  forS: number;
  value: number;
  bound: number;
  unit: string;
  /** The whole of it, for words; null where there is no more to say. */
  shortfall: Shortfall | null;
  /** The element that is in its way, where it is one. */
  by?: string;
  /** Of a press: it is one by a ray in a headset. */
  byRay?: true;
  /** The phase in which it should not be shown. */
  phase?: { id: string; name: string };
}
export interface PartResult extends CheckPart {
  durationS: number;
  /** How long each element is shown, seconds; those never shown have 0, with the step that hides them longest. */
  shown: Record<string, { forS: number; hiddenBy: string | null }>;
  found: Found[];
}

/** Without a break: a second, and a third of one for each word. */
export const LEAST_SHOWN_S = 1;
export const LEAST_WORD_S = 0.33;
const words = (text: string): number => text.split(/\s+/).filter(Boolean).length;

/** Units of the shortfalls that have a value and a bound; `small` says its own. */
const UNITS = {
  ...{ contrast: ':1', covered: 'share', overlaps: 'share', behindLevel: 'share', reach: 'm', tooNear: 'm', tooFar: 'm' },
  ...{ target: 'deg', vergence: 'deg', speed: 'deg/s' },
} as const satisfies Partial<Record<Shortfall['kind'], string>>;

/** Value, bound and unit of a shortfall. */
function measured(short: Shortfall): Pick<Found, 'value' | 'bound' | 'unit'> {
  switch (short.kind) {
    case 'small':
      return { value: short.value, bound: short.bound, unit: short.unit };
    case 'cut':
      return { value: short.value, bound: 0, unit: 'px' };
    case 'glyphs':
      return { value: short.missing.length, bound: 0, unit: 'letters' };
    case 'empty':
    case 'unmeasured':
      return { value: 0, bound: 0, unit: '' };
    default:
      return { value: short.value, bound: short.bound, unit: UNITS[short.kind] };
  }
}

/** What the project chooses to have measured, as far as it is there. */
export function chosenOf(document: Document): {
  routes?: string[];
  viewers?: string[];
  languages?: string[];
  variants?: CheckVariant[];
} {
  const { routes, viewers, languages, variants } = document.checks ?? {};
  const there = variantsFor(document);
  const known = [document.language, ...(document.languages ?? [])];
  return {
    ...(routes && { routes: routes.filter((id) => Object.hasOwn(document.routes, id)) }),
    ...(viewers && { viewers: viewers.filter((id) => Object.hasOwn(document.viewers, id)) }),
    ...(languages && { languages: languages.filter((tag) => known.includes(tag)) }),
    ...(variants && { variants: variants.filter((one) => there.includes(one)) }),
  };
}

/** All parts, in the order in which results stand. @throws RangeError that names what there is none of. */
export function checkParts(
  document: Document,
  chosen: { routes?: readonly string[]; viewers?: readonly string[]; languages?: readonly string[]; variants?: readonly string[] } = {},
): CheckPart[] {
  // Beside as it was recorded, which always is.
  const named = { variants: [], ...chosen };
  const all = {
    routes: inOrder(document.routes).map(([id]) => id),
    viewers: inOrder(document.viewers).map(([id]) => id),
    languages: [document.language, ...(document.languages ?? [])],
    variants: variantsFor(document) as string[],
  };
  const of = (what: keyof typeof all): readonly string[] => {
    for (const one of named[what] ?? [])
      if (!all[what].includes(one))
        throw new RangeError(`There is no ${what.slice(0, -1)} "${one}"; there are ${all[what].join(', ') || 'none'}.`);
    return named[what] ? all[what].filter((one) => named[what]?.includes(one)) : all[what];
  };
  const [routes, viewers, languages] = [of('routes'), of('viewers'), of('languages')];
  const variants = of('variants') as CheckVariant[];
  return routes.flatMap((route) =>
    viewers.flatMap((viewer) =>
      languages.flatMap((language) => [{ route, viewer, language }, ...variants.map((variant) => ({ route, viewer, language, variant }))]),
    ),
  );
}

interface Gathered {
  found: Found;
  badness: number;
}

/** Measures one part. @param arranged for its viewer and its language. @param moments for several parts of the same document. */
export function checkPart(document: Document, arranged: Arranged, part: CheckPart, moments = new MomentsKept()): PartResult {
  const { compiled } = arranged;
  const route = document.routes[part.route] as Route;
  const replay = replayOf(arranged, part, moments);
  const ids = bandIds(compiled);
  const rows = ids.map((id) => compiled.sources.flatMap((source, row) => (source === id ? [row] : [])));
  const durationS = routeDurationS(route);
  const stepS = TICKS * TICK_S;
  const samples = Math.max(1, Math.ceil(durationS / stepS - 1e-9));
  const gathered = ids.map(() => new Map<FindingKind, Gathered>());
  const bands: Stretch[][] = ids.map(() => []);
  const indexOf = new Map(ids.map((id, i) => [id, i]));
  /** The worst of a kind is kept, and for how long there was any. */
  const note = (i: number, found: Found, badness: number): void => {
    const kinds = gathered[i] as Map<FindingKind, Gathered>;
    const before = kinds.get(found.kind);
    const forS = found.forS + (before?.found.forS ?? 0);
    if (before) before.found.forS = forS;
    if (!before || badness > before.badness) kinds.set(found.kind, { found: { ...found, forS }, badness });
  };
  /** The costliest frame: one finding, whichever element has the greatest part in it from frame to frame. */
  let costly: Gathered | null = null as Gathered | null;
  let costlyS = Number.NaN;
  for (let s = 0; s <= samples; s++) {
    // A whole number of ticks: at a time beside one, what was remembered would be gone through again.
    const timeS = Math.min(durationS, s * TICKS * TICK_S);
    const { failed } = replay.at(timeS);
    ids.forEach((id, i) => {
      const row = tellingRow(failed, rows[i] as number[]);
      const verdict = failed[row] as number;
      const band = bands[i] as Stretch[];
      const last = band.at(-1);
      if (last) last.toS = timeS;
      if (last?.verdict !== verdict) band.push({ fromS: timeS, toS: timeS, verdict, short: null });
      if (verdict !== Verdict.Shown || (s % READ_EVERY !== 0 && last?.verdict === Verdict.Shown)) return;
      const element = compiled.elements[row];
      const isText = element?.kind === 'label' || element?.kind === 'page';
      const inside = isMember(document.elements[id]?.mount);
      if (!element || (!isText && inside)) return;
      const forS = Math.min(READ_EVERY * stepS, durationS - timeS);
      for (const short of measureReadable(replay.solver, row, { texts: element.kind !== 'group' }).faults) {
        // What a group's texts say themselves is theirs.
        if (element.kind === 'group' && OF_TEXTS.has(short.kind)) continue;
        note(i, { kind: short.kind, element: id, atS: timeS, forS, ...measured(short), shortfall: short }, severity(short));
      }
    });
    if (s % READ_EVERY === 0) {
      const forS = Math.min(READ_EVERY * stepS, durationS - timeS);
      for (const { kind, row, value, bound, by } of hiddenFaults(replay.solver)) {
        const element = compiled.sources[row] as string;
        const found: Found = { kind, element, atS: timeS, forS, value, bound, unit: 'm', shortfall: null };
        if (by !== undefined) found.by = compiled.sources[by] as string;
        note(indexOf.get(element) as number, found, bound / Math.max(value, 1e-3));
      }
      for (const { kind, row, value, bound, by, byRay } of pressFaults(replay.solver)) {
        const element = compiled.sources[row] as string;
        const found: Found = { kind, element, atS: timeS, forS, value, bound, unit: 'share', shortfall: null };
        if (by !== undefined) found.by = compiled.sources[by] as string;
        if (byRay) found.byRay = true;
        note(indexOf.get(element) as number, found, value);
      }
      for (const { of, row, value, bound } of costFaults(replay.solver, document.checks?.budget ?? BUDGET)) {
        const element = compiled.sources[row] as string;
        const badness = value / bound;
        const all = rounded4((costly?.found.forS ?? 0) + (timeS === costlyS ? 0 : forS));
        costlyS = timeS;
        if (costly && badness <= costly.badness) costly.found.forS = all;
        else costly = { found: { kind: 'costly', element, atS: timeS, forS: all, value, bound, unit: of, shortfall: null }, badness };
      }
      const phase = replay.phaseAt(timeS);
      const quiet = phase === null ? undefined : document.checks?.quiet?.[phase];
      ids.forEach((id, i) => {
        // What is inside of a group is told by the group.
        if (!quiet || !phase || quiet.includes(id) || isMember(document.elements[id]?.mount)) return;
        if (failed[tellingRow(failed, rows[i] as number[])] !== Verdict.Shown) return;
        const about = { phase: { id: phase, name: document.phases[phase]?.name ?? phase }, shortfall: null };
        note(i, { kind: 'unwanted', element: id, atS: timeS, forS, value: 0, bound: 0, unit: '', ...about }, 1);
      });
    }
  }
  const shown: PartResult['shown'] = {};
  const found: Found[] = [];
  ids.forEach((id, i) => {
    const band = bands[i] as Stretch[];
    const times = new Map<number, number>();
    for (const { fromS, toS, verdict } of band) times.set(verdict, (times.get(verdict) ?? 0) + toS - fromS);
    const wasShown = times.has(Verdict.Shown);
    const [hidden] = [...times].filter(([verdict]) => verdict !== Verdict.Shown).sort((a, b) => b[1] - a[1] || a[0] - b[0]);
    shown[id] = { forS: times.get(Verdict.Shown) ?? 0, hiddenBy: wasShown || !hidden ? null : (STEPS[hidden[0]] as string) };
    // A prompt that comes to its key at some time on the route has one.
    const of = [...(gathered[i] as Map<FindingKind, Gathered>).values()].filter(({ found: { kind } }) => kind !== 'oneKey' || !wasShown);
    found.push(...of.map((one) => one.found));
    const row = (rows[i] as number[])[0] as number;
    if (compiled.elements[row]?.kind === 'label') found.push(...briefOf(arranged, id, row, band));
    const flickering = flickers(band);
    const [first] = flickering;
    if (first) {
      const forS = flickering.reduce((sum, { fromS, toS }) => sum + toS - fromS, 0);
      const value = Math.min(...flickering.map(({ fromS, toS }) => toS - fromS));
      found.push({ kind: 'flickers', element: id, atS: first.fromS, forS, value, bound: FLICKER_S, unit: 's', shortfall: null });
    }
  });
  if (costly) found.push(costly.found);
  return { ...part, durationS, shown, found: found.map(rounded).sort(inKindOrder) };
}

/** A label that is shown, and never without a break for as long as reading it takes. Stretches at the ends of the route go on beyond it. */
function briefOf(arranged: Arranged, id: string, row: number, band: readonly Stretch[]): Found[] {
  const text = arranged.blocks[row]?.lines.map((line) => line.text).join(' ') ?? '';
  const needed = Math.max(LEAST_SHOWN_S, LEAST_WORD_S * words(text));
  const stretches = band.filter(({ verdict }) => verdict === Verdict.Shown);
  const [first, last] = [band[0], band.at(-1)];
  if (stretches.length === 0 || stretches.some((one) => one === first || one === last || one.toS - one.fromS >= needed - 1e-9)) return [];
  const longest = stretches.reduce((a, b) => (b.toS - b.fromS > a.toS - a.fromS ? b : a));
  const value = longest.toS - longest.fromS;
  return [{ kind: 'brief', element: id, atS: longest.fromS, forS: value, value, bound: needed, unit: 's', shortfall: null }];
}

/** Sums of steps end in rounding; results are compared and kept. */
const rounded = (found: Found): Found => ({
  ...found,
  atS: rounded4(found.atS),
  forS: rounded4(found.forS),
  value: rounded4(found.value),
  bound: rounded4(found.bound),
});
/** By code units, so that every machine has the same order. */
export const byCodeUnits = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);
const inKindOrder = (a: Found, b: Found): number => byCodeUnits(a.element, b.element) || byCodeUnits(a.kind, b.kind);

/** What is wrong whatever the route and the viewer. */
export function staticFindings(document: Document): { element: string; language: string }[] {
  return inOrder(document.elements).flatMap(([element, one]) => {
    if (one.kind !== 'label' || one.uses?.text !== undefined) return [];
    return (document.languages ?? []).filter((tag) => lacks(one, tag)).map((language) => ({ element, language }));
  });
}
/** A text with words of its own that is in some other language, and not in this one: what the bench lists as unfinished. */
function lacks({ text, translations }: Label, tag: string): boolean {
  if (!translations || Object.keys(translations).length === 0) return false;
  return /\p{L}/u.test(text.replace(/\{[^{}]*\}/g, '')) && translations[tag] === undefined;
}

/** What is loose at elements, but for what other kinds tell: texts that are empty, or lack a language. */
export function looseFindings(document: Document): { element: string; loose: Loose[] }[] {
  return inOrder(document.elements).flatMap(([element, one]) => {
    const isEmpty = one.kind === 'label' && one.text.trim() === '';
    const loose = unfinishedOf(document, element).filter(({ kind }) => kind !== 'untranslated' && !(kind === 'placeholder' && isEmpty));
    return loose.length > 0 ? [{ element, loose }] : [];
  });
}

export interface CheckRun {
  format: 'foreshore-check';
  version: 1;
  project: string;
  /** SHA-256 of the document: shards of different ones are not put together. */
  document: string;
  /** What each element is called, and the group it is inside of. */
  names: Record<string, string>;
  groups: Record<string, string | null>;
  /** The way of measuring: results of another one say nothing of what is measured now. Runs from before it was kept have none. */
  measuring?: number;
  /** All parts there are, and the results of those that were measured. */
  parts: CheckPart[];
  results: PartResult[];
  untranslated: { element: string; language: string }[];
  /** What is unfinished, by element; runs from before there was this kind have none. */
  unfinished?: { element: string; loose: Loose[] }[];
  /** For its coverage; runs from before have none. */
  offered?: Offered;
  /** Kinds that are not told, and findings that somebody has accepted. */
  off?: string[];
  accepted?: Accepted[];
}

/** A run of which nothing has been measured. @param digest of the document, SHA-256. */
export const beginRun = (document: Document, digest: string, parts: CheckPart[]): CheckRun => ({
  ...{ format: 'foreshore-check', version: 1, measuring: MEASURING, project: document.name, document: digest, parts, results: [] },
  ...{ names: namesOf(document), groups: groupsOf(document), untranslated: staticFindings(document) },
  unfinished: looseFindings(document),
  offered: offeredOf(document, parts),
  ...(document.checks?.off && { off: document.checks.off }),
  ...(document.checks?.accepted && { accepted: document.checks.accepted }),
});

/** Another number whenever measuring itself is another: what was measured before is measured anew then. */
export const MEASURING = 5;

/**
 * All that the result of a part depends on, as text: what is in neither of the two may change without the part being measured again. Texts
 * in other languages, other routes and viewers, and names are not. `shared` is the same for all parts in a language.
 */
export const partContent = {
  shared(document: Document, language: string): string {
    const elements = Object.entries(document.elements).map(([id, element]) => [
      id,
      { ...element, name: '', ...(element.kind === 'label' && { translations: element.translations?.[language] ?? null }) },
    ]);
    const { name: _, checks, opening: ___, convention: ____, languages: _____, routes: ______, viewers: _______, ...rest } = document;
    return JSON.stringify({ measuring: MEASURING, ...rest, elements, language, quiet: checks?.quiet, budget: checks?.budget });
  },
  own(document: Document, { route, viewer, variant }: CheckPart): string {
    const of = document.viewers[viewer];
    const routes = [route, ...(of?.kind === 'split' ? of.players.flatMap((player) => player.route ?? []) : [])];
    const { shake } = otherwise(document, variant);
    return JSON.stringify({ routes: routes.map((id) => document.routes[id]), viewer: of, variant, shake });
  },
};

export const partKey = ({ route, viewer, language, variant }: CheckPart): string =>
  [route, viewer, language, ...(variant === undefined ? [] : [variant])].join('\n');

/** Puts shards together. @throws RangeError where they are not of one run. */
export function mergeRuns(runs: readonly CheckRun[]): CheckRun {
  const [first] = runs;
  if (!first) throw new RangeError('There is nothing to merge.');
  const results = new Map<string, PartResult>();
  for (const run of runs) {
    if (run.document !== first.document) throw new RangeError('These are results of different projects, or of different states of one.');
    if (JSON.stringify(run.parts) !== JSON.stringify(first.parts))
      throw new RangeError('These are results of different choices of routes, viewers and languages.');
    for (const result of run.results) results.set(partKey(result), result);
  }
  return { ...first, results: first.parts.flatMap((part) => results.get(partKey(part)) ?? []) };
}

/** Parts that nobody has measured. */
export const partsMissing = ({ parts, results }: CheckRun): CheckPart[] => {
  const there = new Set(results.map(partKey));
  return parts.filter((part) => !there.has(partKey(part)));
};

/** The group of every element. */
export const groupsOf = (document: Document): Record<string, string | null> =>
  Object.fromEntries(Object.entries(document.elements).map(([id, element]) => [id, groupOf(element)]));
/** What every element is called. */
export const namesOf = (document: Document): Record<string, string> =>
  Object.fromEntries(
    Object.entries(document.elements).map(([id, element]) => {
      const group = groupOf(element);
      return [id, group === null ? element.name : `${document.elements[group]?.name ?? group}: ${element.name}`];
    }),
  );
