/**
 * The values of feeds at a time. Without a game their values come from their sources, which are functions of the time
 * on the route and of the pose: the same route gives the same values, whichever way a time is come to.
 */

import { keyAt } from '@foreshore/document/key-at';
import { inOrder } from '@foreshore/document/order';
import type { Document, Feed, FeedSource, FeedValue, Route } from '@foreshore/document/types';
import { placeAnchors } from './anchors.ts';
import { builtInValue, type Going, isBuiltIn } from './built-in.ts';
import type { Compiled } from './compiled.ts';
import { carriedValue } from './each.ts';
import { clipTimes } from './level.ts';
import { routePose } from './route.ts';
import type { Pose, Vec3 } from './spaces/pose.ts';

/** One a feed, in the order of `Compiled.feedIds`; undefined: nobody supplies it. */
export type Values = (FeedValue | undefined)[];

const STILL: Going = { speedMps: 0, fallenM: 0 };
const LOOK_BACK_S = 1 / 30;
/** Going down by less than this in a thirtieth of a second is rounding. */
const LEVEL_M = 1e-6;

/** Sources that depend on where anchors are. */
const ANCHORED: ReadonlySet<FeedSource['kind']> = new Set(['distance', 'place', 'between']);

/** From the route's poses: over the last thirtieth of a second, and back to where it last went up or level. */
export function goingOn(route: Route, timeS: number): Going {
  const at = (t: number) => routePose(route, Math.max(0, t)).position;
  const now = at(timeS);
  const before = at(timeS - LOOK_BACK_S);
  const dt = Math.min(timeS, LOOK_BACK_S);
  const speedMps = dt > 0 ? Math.hypot(now[0] - before[0], now[1] - before[1], now[2] - before[2]) / dt : 0;
  let higher = now[1];
  for (let t = timeS - LOOK_BACK_S; t >= 0; t -= LOOK_BACK_S) {
    const height = at(t)[1];
    if (height <= higher + LEVEL_M) break;
    higher = height;
  }
  return { speedMps, fallenM: higher - now[1] };
}

/** As the document has them, whatever objects carry. */
export const initialValues = (c: Compiled): Values => c.feedOf.map((id) => c.document.feeds[id]?.initial);

/**
 * The values of one document's rows for those of another that has the same feeds: a changed element may read other objects. What the first
 * did not have is as its feed is.
 */
export function valuesFor(c: Compiled, from: Compiled, values: Values): Values {
  if (c === from || (c.eachFeeds.length === 0 && from.eachFeeds.length === 0)) return values;
  const at = new Map(from.feedIds.map((key, k) => [key, k]));
  return c.feedIds.map((key, k) => values[at.get(key) ?? at.get(c.feedOf[k] as string) ?? -1]);
}

/**
 * @param route its recorded values go before those of sources.
 * @param held values that somebody sets by hand; they go before all others.
 * @param going how the viewer moves, where it is not on the route.
 */
export function readValues(
  c: Compiled,
  route: Route | null,
  timeS: number,
  pose: Pose,
  held: Readonly<Record<string, FeedValue>>,
  out: Values = new Array(c.feedIds.length),
  going: Going | null = null,
): Values {
  const { feeds } = c.document;
  if (c.moving.length && Object.values(feeds).some(({ source }) => source !== undefined && ANCHORED.has(source.kind))) placeAnchors(c);
  c.feedIds.forEach((key, k) => {
    const id = c.feedOf[k] as string;
    const feed = feeds[id] as Feed;
    if (Object.hasOwn(held, key)) out[k] = held[key];
    else if (key !== id) out[k] = objectValue(c, route, timeS, held, k, out);
    else
      out[k] =
        recordedAt(route, id, timeS) ??
        sourceValue(c, feed, timeS, pose, () => going ?? (route?.poses.length ? goingOn(route, timeS) : STILL));
  });
  return out;
}

/** The value of an object that nobody holds by itself: what its feed is held at, what the route recorded, what the feed's source says, or what the object carries. */
function objectValue(
  c: Compiled,
  route: Route | null,
  timeS: number,
  held: Readonly<Record<string, FeedValue>>,
  k: number,
  values: Values,
): FeedValue | undefined {
  const id = c.feedOf[k] as string;
  if (Object.hasOwn(held, id)) return held[id];
  const recorded = recordedAt(route, c.feedIds[k] as string, timeS);
  if (recorded !== undefined) return recorded;
  const { source } = c.document.feeds[id] as Feed;
  const isSaid = (source !== undefined && source.kind !== 'fixed') || recordedAt(route, id, timeS) !== undefined;
  const ofAll = values[c.feedIds.indexOf(id)];
  return isSaid ? ofAll : (carriedValue(c, k) ?? ofAll);
}

/**
 * The values where a game supplies them: what it has not said is empty, never a default that looks real, but for what the frame itself
 * tells.
 * @param given by feed, as the game has said. @param held values that somebody sets by hand; they go before.
 */
export function gameValues(
  c: Compiled,
  given: Readonly<Record<string, FeedValue>>,
  timeS: number,
  pose: Pose,
  held: Readonly<Record<string, FeedValue>>,
  going: Going,
): Values {
  placeAnchors(c);
  return c.feedIds.map((key, k) => {
    const id = c.feedOf[k] as string;
    // What is said of an object goes before what is said of all.
    for (const said of [held, given]) {
      if (Object.hasOwn(said, key)) return said[key];
      if (Object.hasOwn(said, id)) return said[id];
    }
    const { source, initial } = c.document.feeds[id] as Feed;
    return isBuiltIn(source) ? builtInValue(c, source, initial, timeS, pose, () => going) : undefined;
  });
}

/** Places the level as a game's values move it; what no value moves runs by the clock. */
export function placeLevelBy(c: Compiled, timeS: number, feedAt: (feed: string) => FeedValue | undefined): void {
  c.level?.poses(clipTimes(c.level, timeS, c.document.level?.clips, feedAt));
}

/** Places the level for a time: clips by the clock, or by the feeds that move them. @returns the clips' own times, for the same again. */
export function placeLevel(
  c: Compiled,
  route: Route | null,
  timeS: number,
  pose: Pose,
  held: Readonly<Record<string, FeedValue>>,
): Float64Array | null {
  const { level, document } = c;
  if (!level) return null;
  const feedAt = (id: string): FeedValue | undefined =>
    Object.hasOwn(held, id)
      ? held[id]
      : (recordedAt(route, id, timeS) ??
        sourceValue(c, document.feeds[id] as Feed, timeS, pose, () => (route?.poses.length ? goingOn(route, timeS) : STILL)));
  const times = clipTimes(level, timeS, document.level?.clips, feedAt);
  level.poses(times);
  return times;
}

/** What a route recorded, by value, in order of time: found once. */
const recordings = new WeakMap<Route['feeds'], { length: number; of: Map<string, Route['feeds']> }>();

/** The last value that a route recorded until then. @param key of a feed, or of an object's (`keyAt`). */
function recordedAt(route: Route | null, key: string, timeS: number): FeedValue | undefined {
  if (!route || route.feeds.length === 0) return undefined;
  let known = recordings.get(route.feeds);
  // A route that is being recorded grows.
  if (known?.length !== route.feeds.length) {
    const of = new Map<string, Route['feeds']>();
    for (const entry of route.feeds) {
      const called = keyAt(entry.feed, entry.object ?? null);
      const list = of.get(called);
      if (list) list.push(entry);
      else of.set(called, [entry]);
    }
    recordings.set(route.feeds, (known = { length: route.feeds.length, of }));
  }
  const entries = known.of.get(key) ?? [];
  let [low, high] = [0, entries.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((entries[middle] as Route['feeds'][number]).timeS > timeS) high = middle;
    else low = middle + 1;
  }
  return entries[low - 1]?.value;
}

const firstPhase = new WeakMap<Document['phases'], string | null>();

/** The phase at a time: the last one recorded with the route until then, or else the document's first; null where it has none. */
export function phaseAt(document: Document, route: Route | null, timeS: number): string | null {
  let phase = firstPhase.get(document.phases);
  if (phase === undefined) firstPhase.set(document.phases, (phase = inOrder(document.phases)[0]?.[0] ?? null));
  for (const entry of route?.phases ?? []) {
    if (entry.timeS > timeS) break;
    phase = entry.phase;
  }
  return phase;
}

function sourceValue(c: Compiled, { source, initial }: Feed, timeS: number, pose: Pose, going: () => Going): FeedValue | undefined {
  if (!source) return initial;
  switch (source.kind) {
    case 'fixed':
      return initial;
    case 'ramp': {
      const share = (timeS / source.periodS) % 1;
      return source.from + (source.to - source.from) * share;
    }
    case 'sine':
      return source.middle + source.reach * Math.sin(2 * Math.PI * (timeS / source.periodS + source.startDeg / 360));
    case 'wander':
      return wanderAt(source, timeS);
    case 'steps':
      return source.values[Math.floor(timeS / source.everyS) % source.values.length];
    case 'events': {
      const number = Math.floor(timeS / source.everyS + 1e-9);
      return { number, place: source.places[Math.max(0, number - 1) % source.places.length] as Vec3 };
    }
    case 'key':
      return initial;
    default:
      return builtInValue(c, source, initial, timeS, pose, going);
  }
}

type Wander = Extract<FeedSource, { kind: 'wander' }>;
const STEP_S = 0.1;
const walks = new WeakMap<Wander, number[]>();

/** A number in −1..1 that depends on the seed and the step alone (integer mixing after Wang). */
function noise(seed: number, step: number): number {
  let h = Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(step + 1, 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  return ((h ^ (h >>> 16)) >>> 0) / 2147483647.5 - 1;
}

/** Steps are drawn from the seed and turned back at the bounds; between steps the value runs straight. */
function wanderAt(source: Wander, timeS: number): number {
  let walk = walks.get(source);
  const [low, high] = [Math.min(source.from, source.to), Math.max(source.from, source.to)];
  if (!walk) walks.set(source, (walk = [(low + high) / 2]));
  const at = timeS / STEP_S;
  for (let step = walk.length; step <= at + 1; step++) {
    let next = (walk[step - 1] as number) + noise(source.seed, step) * source.perS * STEP_S;
    if (next > high) next = Math.max(low, 2 * high - next);
    if (next < low) next = Math.min(high, 2 * low - next);
    walk.push(next);
  }
  const k = Math.floor(at);
  const [a, b] = [walk[k] as number, walk[k + 1] as number];
  return a + (b - a) * (at - k);
}
