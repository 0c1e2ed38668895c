/** Findings of a check: the parts put together, the worst first; and two checks compared. */
import type { Accepted, CheckVariant } from '@foreshore/document';
import { byCodeUnits, type CheckRun, type FindingKind, type Found } from './check.ts';
import { rounded4 } from './rounding.ts';
import type { Loose } from './unfinished.ts';

/** One thing that is wrong, over all that was measured: the same element, kind, viewer and language on several routes are one. */
export interface Finding extends Found {
  /** Names it from run to run. */
  key: string;
  name: string;
  viewer: string | null;
  language: string | null;
  /** Found only under it, or worse. */
  variant?: CheckVariant;
  route: string | null;
  /** What is unfinished about it. */
  loose?: Loose[];
  /** Those of members of the group that are told with it, since they do no worse: they are there all the same. */
  members?: Finding[];
}

/** What somebody has said of a finding, or null. */
export const acceptanceOf = (
  { accepted = [] }: Pick<CheckRun, 'accepted'>,
  { kind, element }: Pick<Finding, 'kind' | 'element'>,
): Accepted | null => accepted.find((one) => one.kind === kind && one.element === element) ?? null;

/** Seconds that what is wrong all the time, whatever the route, counts as in the order of findings. */
const ALWAYS_S = 10;

/**
 * How bad a finding is: by what share it falls short of its bound, at least a tenth and at most all of it, times how long it does.
 * What is never shown, lacks a language or is unfinished counts as wholly wrong for ten seconds.
 */
export function badnessOf({ route, value, bound, forS }: Pick<Finding, 'route' | 'value' | 'bound' | 'forS'>): number {
  if (route === null) return ALWAYS_S;
  const most = Math.max(Math.abs(value), Math.abs(bound));
  const short = most > 0 ? Math.abs(value - bound) / most : 1;
  return Math.min(1, Math.max(0.1, short)) * forS;
}

/** What happens to a group as a whole happens to what is in it: whether that is the same, where a member does no worse. */
const OF_THE_WHOLE: { [K in FindingKind]?: (whole: Finding, member: Finding) => boolean } = {
  ...{ speed: () => true, tooNear: () => true, tooFar: () => true, vergence: () => true, behindLevel: () => true },
  // Its own text box and its own group cut off a member alone.
  cut: (whole, member) => isCutByFrame(whole) && edgeOf(whole) === edgeOf(member),
  // By itself it comes and goes at other times.
  flickers: (whole, member) => whole.route === member.route && whole.atS === member.atS,
};
const edgeOf = ({ shortfall }: Finding): string | null => (shortfall?.kind === 'cut' ? shortfall.at : null);
const isCutByFrame = (one: Finding): boolean => edgeOf(one) === 'screen' || edgeOf(one) === 'safeArea';

/** All findings, the worst first. */
export function findingsOf({ names, groups, results, untranslated, unfinished = [], off = [] }: CheckRun): Finding[] {
  const out = new Map<string, Finding>();
  const add = (finding: Finding, sum: boolean): void => {
    const before = out.get(finding.key);
    if (!before) out.set(finding.key, finding);
    else if (sum) {
      const forS = rounded4(before.forS + finding.forS);
      out.set(finding.key, { ...(isWorseThan(finding, before) ? finding : before), forS });
    }
  };
  const keyOf = (kind: FindingKind, element: string, viewer: string | null, language: string | null, variant?: CheckVariant) =>
    [kind, element, viewer ?? '', language ?? '', ...(variant === undefined ? [] : [variant])].join(' ');
  for (const { route, viewer, language, variant, found } of results)
    for (const one of found) {
      const key = keyOf(one.kind, one.element, viewer, language, variant);
      const where = { viewer, language, route, ...(variant !== undefined && { variant }) };
      add({ ...one, key, name: names[one.element] ?? one.element, ...where }, true);
    }
  // What is so as recorded is told once: under a variant only where that makes it worse.
  for (const [key, one] of out) {
    const plain = one.variant === undefined ? undefined : out.get(keyOf(one.kind, one.element, one.viewer, one.language));
    if (plain && !worsened(plain, one)) out.delete(key);
  }
  // A member that does no worse than its group is told with it.
  const all = new Map(out);
  const tellerOf = (one: Finding): Finding => {
    const isSame = OF_THE_WHOLE[one.kind];
    for (let group = isSame && groups[one.element]; group; group = groups[group]) {
      const whole = all.get(keyOf(one.kind, group, one.viewer, one.language, one.variant));
      if (whole && !worsened(whole, one) && isSame?.(whole, one)) return tellerOf(whole);
    }
    return one;
  };
  for (const [key, one] of all) {
    const teller = tellerOf(one);
    if (teller === one) continue;
    out.delete(key);
    teller.members = [...(teller.members ?? []), one];
  }
  // Never shown: on none of the routes, by a viewer in a language.
  const shown = new Map<string, { viewer: string; language: string; element: string; ever: boolean; hiddenBy: string | null }>();
  for (const { viewer, language, variant, shown: times } of results) {
    // As recorded: what another device or another value would show, no route shows.
    if (variant !== undefined) continue;
    for (const [element, { forS, hiddenBy }] of Object.entries(times)) {
      const key = keyOf('neverShown', element, viewer, language);
      const before = shown.get(key);
      shown.set(key, { viewer, language, element, ever: (before?.ever ?? false) || forS > 0, hiddenBy: before?.hiddenBy ?? hiddenBy });
    }
  }
  /** What hides a group hides all that is in it: the group tells of it. */
  const hasHiddenGroup = (element: string, viewer: string, language: string): boolean => {
    const group = groups[element];
    return group !== null && group !== undefined && shown.get(keyOf('neverShown', group, viewer, language))?.ever === false;
  };
  const still = (kind: FindingKind, element: string, more: Partial<Finding>): Finding => ({
    ...{ key: keyOf(kind, element, more.viewer ?? null, more.language ?? null), kind, element, name: names[element] ?? element },
    ...{ viewer: null, language: null, route: null, atS: 0, forS: 0, value: 0, bound: 0, unit: '', shortfall: null },
    ...more,
  });
  /** Which prompt keeps it away, or that it turns its back, says more than that it is never shown. */
  const isTold = (element: string, viewer: string, language: string): boolean =>
    (['oneKey', 'oneSide'] as const).some((kind) => out.has(keyOf(kind, element, viewer, language)));
  for (const { viewer, language, element, ever, hiddenBy } of shown.values())
    if (!ever && !hasHiddenGroup(element, viewer, language) && !isTold(element, viewer, language))
      add(still('neverShown', element, { viewer, language, unit: hiddenBy ?? '' }), false);
  for (const { element, language } of untranslated) add(still('untranslated', element, { language }), false);
  for (const { element, loose } of unfinished) add(still('unfinished', element, { value: loose.length, loose }), false);
  return [...out.values()]
    .filter(({ kind }) => !off.includes(kind))
    .sort((a, b) => badnessOf(b) - badnessOf(a) || byCodeUnits(a.key, b.key));
}

/** How far from what is asked: above it, or below. */
const isWorseThan = (a: Finding, b: Finding): boolean => (a.bound > 0 && a.value < a.bound ? a.value < b.value : a.value > b.value);

/** Two runs: what came, went, got worse or better. */
export interface Compared {
  fresh: Finding[];
  gone: Finding[];
  worse: Finding[];
  better: Finding[];
}
/** Less than so much of a change is rounding. */
const CHANGED = 0.02;
/** And so many seconds. */
const LONGER_S = 0.5;

type Measured = Pick<Found, 'value' | 'bound' | 'forS'>;
const amount = ({ value, bound }: Measured): number => Math.abs(value - bound);
/** The same finding before and after: it falls shorter, or does so for longer. */
export const worsened = (before: Measured, after: Measured): boolean =>
  amount(after) > amount(before) * (1 + CHANGED) + 1e-6 || after.forS > before.forS + LONGER_S;

export function compareRuns(before: readonly Finding[], after: readonly Finding[]): Compared {
  // What was told with a group is not new where it is told by itself now, nor gone the other way round.
  const byKey = (told: readonly Finding[]) => new Map(told.flatMap((one) => [one, ...(one.members ?? [])]).map((one) => [one.key, one]));
  const [was, is] = [byKey(before), byKey(after)];
  const out: Compared = { fresh: [], gone: before.filter(({ key }) => !is.has(key)), worse: [], better: [] };
  for (const one of after) {
    const old = was.get(one.key);
    if (!old) out.fresh.push(one);
    else if (worsened(old, one)) out.worse.push(one);
    else if (amount(one) < amount(old) * (1 - CHANGED) - 1e-6 || one.forS < old.forS - LONGER_S) out.better.push(one);
  }
  return out;
}
