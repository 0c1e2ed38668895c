/**
 * What is another along the routes than it was, at elements that nobody edited: two states of a project replayed side by side, over the
 * later one's routes, so that an edited route makes nothing move. Cut into parts as checks are.
 */
import { type Arranged, routeDurationS, TICK_S } from '@foreshore/core';
import { type Document, groupOf, isMember, type Route } from '@foreshore/document';
import { bandIds } from './bands.ts';
import { type CheckPart, checkParts, chosenOf, MomentsKept, partContent } from './check.ts';
import { Replay } from './replay.ts';
import { betweenRows, type Effect, isTouched, type SideEffect, type Standing, standingOf, worseFirst } from './side-effects.ts';

/** Sampled every sixth tick, 0.2 s; what falls short, every third time. */
const TICKS = 6;
const READ_EVERY = 3;
/** While everything moves, nobody sees less. */
const LEAST_PX = 1;

/** The worst that happened to one element in one part: when, and for how long something of that kind was so, seconds of the route. */
export type RouteEffect = SideEffect & { atS: number; forS: number };

/** A state of a project, for one viewer and one language. */
export interface State {
  document: Document;
  arranged: Arranged;
  moments?: MomentsKept;
}

/** Parts that may differ, in the order in which results stand; the number of those that cannot; viewers of the later state that were not there before. */
export interface ComparedParts {
  parts: CheckPart[];
  same: number;
  newViewers: string[];
}

/** What is to be compared: all that checks of the later state measure, in its own language. */
export function partsToCompare(was: Document, now: Document): ComparedParts {
  // A route without poses leads nowhere.
  const all = checkParts(now, { ...chosenOf(now), languages: [now.language] }).filter(({ route }) => now.routes[route]?.poses.length);
  const viewers = [...new Set(all.map(({ viewer }) => viewer))];
  const there = all.filter(({ viewer }) => Object.hasOwn(was.viewers, viewer));
  const before = { ...was, routes: now.routes };
  const isOther = partContent.shared(was, now.language) !== partContent.shared(now, now.language);
  const parts = there.filter((part) => isOther || partContent.own(before, part) !== partContent.own(now, part));
  return { parts, same: there.length - parts.length, newViewers: viewers.filter((id) => !Object.hasOwn(was.viewers, id)) };
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

/** The same moment of both: what happened to each of some elements. */
class SideBySide {
  private readonly was: Replay;
  private readonly now: Replay;
  constructor(was: State, now: State, route: Route) {
    this.was = replayOf(was, route);
    this.now = replayOf(now, route);
  }
  at(timeS: number, pairs: readonly Pairs[], faults: boolean): (Effect | null)[] {
    this.was.at(timeS);
    const before = standingsOf(this.was, pairs, 0, faults);
    this.now.at(timeS);
    const after = standingsOf(this.now, pairs, 1, faults);
    return pairs.map((_, k) => worstOf(before[k] as Standing[], after[k] as Standing[]));
  }
}

const replayOf = ({ arranged, moments = new MomentsKept() }: State, route: Route): Replay =>
  new Replay(arranged, route, {}, null, moments.on(arranged.compiled, route));

const rounded = (v: number): number => Number(v.toFixed(4));

/** One part: what happened on its route to elements that are in both states and were not edited, one for each, the worst first. */
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
    both.at(timeS, pairs, faults).forEach((effect, i) => {
      if (!effect) return;
      const kinds = found[i] as Map<Effect['kind'], RouteEffect>;
      const known = kinds.get(effect.kind);
      const lasts = effect.kind === 'short' ? Math.min(READ_EVERY * TICKS * TICK_S, durationS - timeS) : forS;
      const all = (known?.forS ?? 0) + lasts;
      if (known && worseFirst(effect, known) >= 0) known.forS = all;
      else kinds.set(effect.kind, { element: (pairs[i] as Pairs).element, ...effect, atS: timeS, forS: all });
    });
  }
  return found
    .flatMap((kinds) => [...kinds.values()].sort(worseFirst).slice(0, 1))
    .map((effect) => ({ ...effect, atS: rounded(effect.atS), forS: rounded(effect.forS) }))
    .sort(worseFirst);
}

/** So many are asked about at once. */
export const MOST_MOMENTS = 200;
/** Elements at a moment of a route each. */
export interface Moments {
  element: string;
  atS: number;
}

/** Which of some elements, each at its moment, stand otherwise than they did. An element that only one of the states has does. */
export function standOtherwise(was: State, now: State, route: Route, asked: readonly Moments[]): boolean[] {
  const pairs = new Map(pairsOf(was, now, (element) => asked.some((one) => one.element === element)).map((pair) => [pair.element, pair]));
  const both = new SideBySide(was, now, route);
  const out = asked.map(() => true);
  // In the order of time: nothing is gone through twice.
  const order = asked.map((_, k) => k).sort((a, b) => (asked[a] as Moments).atS - (asked[b] as Moments).atS);
  for (const k of order) {
    const { element, atS } = asked[k] as Moments;
    const pair = pairs.get(element);
    if (pair) out[k] = both.at(atS, [pair], true)[0] !== null;
  }
  return out;
}

/** One element over all parts: the worst that happened to it, where, and at which other viewers. */
export type GatheredEffect = RouteEffect & CheckPart & { viewers: string[] };

/** All parts together, one for each element, the worst first. What a group does all its members do: they are told where they do something else. */
export function gatherEffects(document: Document, results: readonly (CheckPart & { effects: readonly RouteEffect[] })[]): GatheredEffect[] {
  const byElement = new Map<string, GatheredEffect>();
  for (const { effects, ...part } of results)
    for (const effect of effects) {
      const known = byElement.get(effect.element);
      const viewers = [...new Set([...(known?.viewers ?? []), part.viewer])];
      const worst = !known || worseFirst(effect, known) < 0 ? { ...effect, ...part } : known;
      // What is of another kind lasts by itself.
      const forS = [effect, known].reduce((sum, one) => sum + (one?.kind === worst.kind ? one.forS : 0), 0);
      byElement.set(effect.element, { ...worst, forS: rounded(forS), viewers });
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
  return [...byElement.values()].filter((one) => !isToldByGroup(one)).sort(worseFirst);
}

/**
 * Between which two of a row of states each of some things turned: it holds for all of them before the first state, and for none after the
 * last. Where something turned several times, one of those is found.
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
