/**
 * What is another along the routes than it was, at elements that nobody edited: two states of a project replayed side by side, over the
 * later one's routes, so that an edited route makes nothing move. Cut into parts as checks are.
 */
import { type Arranged, routeDurationS, TICK_S } from '@foreshore/core';
import { type Document, groupOf, isMember, type Route } from '@foreshore/document';
import { bandIds } from './bands.ts';
import { type CheckPart, checkParts, chosenOf, partContent } from './check.ts';
import { MomentsKept, Replay } from './replay.ts';
import { rounded4 } from './rounding.ts';
import { betweenRows, type Effect, happened, isTouched, type SideEffect, type Standing, standingOf, worseFirst } from './side-effects.ts';

/** Sampled every sixth tick, 0.2 s; what falls short, every third time. */
const TICKS = 6;
const READ_EVERY = 3;
/** While everything moves, nobody sees less. */
const LEAST_PX = 1;

/** What happened to one element in one part, of one kind: when it was worst, and for how long it was so, seconds of the route. */
export type RouteEffect = SideEffect & { atS: number; forS: number };

/** A state of a project, for one viewer and one language. */
export interface State {
  document: Document;
  arranged: Arranged;
  moments?: MomentsKept;
}

/** Parts that may differ, those in the project's own language first; the number of those that cannot; viewers and languages of the later state that were not there before. */
export interface ComparedParts {
  parts: CheckPart[];
  same: number;
  newViewers: string[];
  newLanguages: string[];
}

const languagesOf = ({ language, languages = [] }: Document): string[] => [language, ...languages];

/** What is to be compared: all that checks of the later state measure, as recorded: in another language other texts grow, and push others. */
export function partsToCompare(was: Document, now: Document): ComparedParts {
  // A route without poses leads nowhere.
  const all = checkParts(now, { ...chosenOf(now), variants: [] }).filter(({ route }) => now.routes[route]?.poses.length);
  const distinct = (of: 'viewer' | 'language') => [...new Set(all.map((part) => part[of]))];
  const isThere = { viewer: (id: string) => Object.hasOwn(was.viewers, id), language: (tag: string) => languagesOf(was).includes(tag) };
  const there = all.filter(({ viewer, language }) => isThere.viewer(viewer) && isThere.language(language));
  const before = { ...was, routes: now.routes };
  const isOther = new Map(distinct('language').map((tag) => [tag, partContent.shared(was, tag) !== partContent.shared(now, tag)] as const));
  const parts = there
    .filter((part) => isOther.get(part.language) || partContent.own(before, part) !== partContent.own(now, part))
    .sort((a, b) => Number(a.language !== now.language) - Number(b.language !== now.language));
  return {
    ...{ parts, same: there.length - parts.length },
    newViewers: distinct('viewer').filter((id) => !isThere.viewer(id)),
    newLanguages: distinct('language').filter((tag) => !isThere.language(tag)),
  };
}

/** Rows of an element in both states, by their ids. */
interface Pairs {
  element: string;
  rows: (readonly [was: number, now: number])[];
  /** Whether what falls short is its own to tell: inside of a group, only texts do. */
  tells: boolean;
}
function pairsOf(was: State, now: State, isMeant: (element: string) => boolean): Pairs[] {
  const [before, after] = [was.arranged.compiled, now.arranged.compiled];
  const rowOf = new Map(before.ids.map((id, row) => [id, row]));
  const out = new Map<string, Pairs>();
  for (const element of bandIds(after)) {
    const one = now.document.elements[element];
    const tells = one !== undefined && (one.kind === 'label' || one.kind === 'page' || !isMember(one.mount));
    if (isMeant(element)) out.set(element, { element, rows: [], tells });
  }
  after.sources.forEach((source, row) => {
    const old = rowOf.get(after.ids[row] as string);
    if (old !== undefined) out.get(source)?.rows.push([old, row]);
  });
  return [...out.values()].filter(({ rows }) => rows.length > 0);
}

/** How the rows of elements stand in the frame that a replay is at. The level may be that of another replay, too: it is placed as it is in this frame. */
const standingsOf = ({ solver }: Replay, pairs: readonly Pairs[], side: 0 | 1, faults: boolean): Standing[][] =>
  pairs.map(({ rows, tells }) => rows.map((pair) => standingOf(solver, pair[side], faults && tells)));

/** The worst that happened to the rows of an element; null: nothing that is seen. */
function worstOf(was: readonly Standing[], now: readonly Standing[]): Effect | null {
  let worst: Effect | null = null;
  for (let k = 0; k < now.length; k++) {
    const effect = betweenRows(was[k] as Standing, now[k] as Standing);
    if (!effect || ('px' in effect && effect.px < LEAST_PX)) continue;
    if (!worst || worseFirst(effect, worst) < 0) worst = effect;
  }
  return worst;
}

/** Both at the same moment. */
class SideBySide {
  private readonly was: Replay;
  private readonly now: Replay;
  constructor(was: State, now: State, route: Route) {
    this.was = replayOf(was, route);
    this.now = replayOf(now, route);
  }
  standings(timeS: number, pairs: readonly Pairs[], faults: boolean): [before: Standing[][], after: Standing[][]] {
    this.was.at(timeS);
    const before = standingsOf(this.was, pairs, 0, faults);
    this.now.at(timeS);
    return [before, standingsOf(this.now, pairs, 1, faults)];
  }
}

const replayOf = ({ arranged, moments = new MomentsKept() }: State, route: Route): Replay =>
  new Replay(arranged, route, { moments: moments.on(arranged.compiled, route) });

/** One part: what happened on its route to elements that are in both states and were not edited; one for each kind. */
export function routeEffects(was: State, now: State, route: Route): RouteEffect[] {
  const pairs = pairsOf(was, now, (element) => !isTouched(element, was.document, now.document));
  const both = new SideBySide(was, now, route);
  const durationS = routeDurationS(route);
  const samples = Math.max(1, Math.ceil(durationS / (TICKS * TICK_S) - 1e-9));
  /** By kind, of each element. */
  const found = pairs.map(() => new Map<Effect['kind'], RouteEffect>());
  for (let s = 0; s <= samples; s++) {
    const timeS = Math.min(durationS, s * TICKS * TICK_S);
    const faults = s % READ_EVERY === 0;
    const forS = Math.min(TICKS * TICK_S, durationS - timeS);
    const [before, after] = both.standings(timeS, pairs, faults);
    pairs.forEach(({ element }, i) => {
      const effect = worstOf(before[i] as Standing[], after[i] as Standing[]);
      if (!effect) return;
      const kinds = found[i] as Map<Effect['kind'], RouteEffect>;
      const known = kinds.get(effect.kind);
      const lasts = effect.kind === 'short' ? Math.min(READ_EVERY * TICKS * TICK_S, durationS - timeS) : forS;
      const all = (known?.forS ?? 0) + lasts;
      if (known && worseFirst(effect, known) >= 0) known.forS = all;
      else kinds.set(effect.kind, { element, ...effect, atS: timeS, forS: all });
    });
  }
  return found
    .flatMap((kinds) => [...kinds.values()])
    .map((effect) => ({ ...effect, atS: rounded4(effect.atS), forS: rounded4(effect.forS) }))
    .sort(worseFirst);
}

/** So many are asked about at once. */
export const MOST_MOMENTS = 200;
/** What happened to an element at a moment of a route. */
export type Moment = SideEffect & { atS: number };

/** Which of some things, each at its moment, have happened between two states. To an element that only one of them has, all has. */
export function haveHappened(was: State, now: State, route: Route, asked: readonly Moment[]): boolean[] {
  const pairs = new Map(pairsOf(was, now, (element) => asked.some((one) => one.element === element)).map((pair) => [pair.element, pair]));
  const both = new SideBySide(was, now, route);
  const out = asked.map(() => true);
  // In the order of time: nothing is gone through twice.
  const order = asked.map((_, k) => k).sort((a, b) => (asked[a] as Moment).atS - (asked[b] as Moment).atS);
  for (const k of order) {
    const moment = asked[k] as Moment;
    const pair = pairs.get(moment.element);
    if (!pair) continue;
    const [[before = []], [after = []]] = both.standings(moment.atS, [pair], moment.kind === 'short');
    out[k] = before.some((standing, row) => happened(moment, standing, after[row] as Standing));
  }
  return out;
}

/** What of one kind happened to one element over all parts: the worst of it, how long there was any at that viewer in that language on all routes, and at which viewers there was. */
type EffectOverAll = RouteEffect & CheckPart & { viewers: string[] };
/** One element over all parts: the worst that happened to it, and what else did. */
export type GatheredEffect = EffectOverAll & { also: RouteEffect[] };

/** What is so for less than this, seconds over all routes, goes after what lasts: it came a moment earlier, or later. */
const LASTS_S = 0.5;
const isBrief = ({ forS }: RouteEffect): number => Number(forS < LASTS_S);
const firstTold = (a: RouteEffect, b: RouteEffect): number => isBrief(a) - isBrief(b) || worseFirst(a, b);

/** All parts together, one for each element, the worst first. What a group does all its members do: they are told where they do something else. */
export function gatherEffects(document: Document, results: readonly (CheckPart & { effects: readonly RouteEffect[] })[]): GatheredEffect[] {
  const byKind = new Map<string, Map<Effect['kind'], EffectOverAll>>();
  /** At a viewer one route comes after another. */
  const seconds = new Map<string, number>();
  const keyOf = ({ element, kind, viewer, language }: Pick<EffectOverAll, 'element' | 'kind' | 'viewer' | 'language'>): string =>
    `${element} ${kind} ${viewer} ${language}`;
  for (const { effects, ...part } of results)
    for (const effect of effects) {
      const kinds = byKind.get(effect.element) ?? new Map<Effect['kind'], EffectOverAll>();
      const known = kinds.get(effect.kind);
      const worst = !known || worseFirst(effect, known) < 0 ? { ...effect, ...part } : known;
      kinds.set(effect.kind, { ...worst, viewers: [...new Set([...(known?.viewers ?? []), part.viewer])] });
      byKind.set(effect.element, kinds);
      const key = keyOf({ ...effect, ...part });
      seconds.set(key, rounded4(effect.forS + (seconds.get(key) ?? 0)));
    }
  const byElement = new Map<string, GatheredEffect>();
  for (const [element, kinds] of byKind) {
    const all = [...kinds.values()].map((one) => ({ ...one, forS: seconds.get(keyOf(one)) ?? 0 }));
    const [worst, ...also] = all.sort(firstTold);
    if (worst) byElement.set(element, { ...worst, also });
  }
  const isToldByGroup = ({ element, kind }: GatheredEffect): boolean => {
    const one = document.elements[element];
    for (let group = one ? groupOf(one) : null; group !== null; ) {
      if (byElement.get(group)?.kind === kind) return true;
      const next = document.elements[group];
      group = next ? groupOf(next) : null;
    }
    return false;
  };
  return [...byElement.values()].filter((one) => !isToldByGroup(one)).sort(firstTold);
}

/**
 * With which of a row of states each of some things turned: none has in the first of them, all have in the last. Where something turned
 * several times, one of those is found.
 * @param count of states, from 0 (as before) to `count` − 1 (as after); @param turned asks a state of several things at once.
 * @returns for each thing the first state in which it has turned.
 */
export async function whereTurned(
  count: number,
  things: number,
  turned: (state: number, of: readonly number[]) => Promise<readonly boolean[]>,
): Promise<number[]> {
  const low = new Array<number>(things).fill(0);
  const high = new Array<number>(things).fill(count - 1);
  for (;;) {
    const open = low.flatMap((from, k) => ((high[k] as number) - from > 1 ? [k] : []));
    const [first] = open;
    if (first === undefined) return high;
    const middle = Math.floor(((low[first] as number) + (high[first] as number)) / 2);
    // Whatever else may have turned there is asked in the same go.
    const of = open.filter((k) => (low[k] as number) < middle && middle < (high[k] as number));
    const answers = await turned(middle, of);
    of.forEach((k, i) => {
      if (answers[i]) high[k] = middle;
      else low[k] = middle;
    });
  }
}
