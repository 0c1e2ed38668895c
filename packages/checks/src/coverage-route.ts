/**
 * A route that reaches what none does: one on which an element is shown, one in a phase, one over ground that no route comes near. It is
 * replayed before it is offered: an element that it does not show is no offer.
 */
import {
  type Arranged,
  approachTo,
  arrange,
  type Compiled,
  compile,
  isBuiltIn,
  type Level,
  makeSolver,
  NEAR_M,
  PanelAt,
  type Pose,
  placeAnchors,
  placeLevel,
  poseTowards,
  readValues,
  routeDurationS,
  routePose,
  STEPS,
  type StepName,
  solve,
  type TextShaper,
  TICK_S,
  type Vec3,
  Verdict,
} from '@foreshore/core';
import {
  type Document,
  type FeedValue,
  inOrder,
  orderAfter,
  partsOfKey,
  type Range,
  type Route,
  type RoutePose,
} from '@foreshore/document';
import { happeningsToTry, statesToTry } from './game-states.ts';
import { groundOf, wayOverGround } from './ground.ts';
import { standingHeight } from './readable-area.ts';
import { Replay } from './replay.ts';
import { placeOfAnchor } from './settings.ts';

export type RouteWanted =
  /** Any of these elements is to be shown at one of these viewers, the first that can. */
  | { kind: 'shows'; elements: readonly string[]; viewers: readonly string[]; language: string }
  | { kind: 'phase'; phase: string }
  | { kind: 'ground' };

export interface AskedForRoute {
  document: Document;
  level: Level | null;
  text: TextShaper;
  wanted: RouteWanted;
}

/** The route, without a name; and where it shows what was asked for. */
export type RouteFound = { route: Omit<Route, 'name'>; shows: { element: string; viewer: string; atS: number } | null };
/** None was found: what hid it where it came nearest to being shown. */
export interface NoRoute {
  route: null;
  hiddenBy: StepName | null;
  tried: number;
}

/** So many replays are tried, at all viewers together. */
const MOST_TRIED = 48;
/** Places of one element, and ways to each. */
const MOST_PLACES = 4;
const MOST_WAYS = 3;
/** Changes of the game's state at once. */
const MOST_STATES = 3;
/** At its end one stays so long, so that what takes a while comes. */
const STAY_S = 2;
/** What happens has not happened for at least so long. */
const LEAST_BEFORE_S = 0.5;
const SAMPLE_TICKS = 3;
/** In a phase one stays so long. */
const IN_PHASE_S = 10;

/** Between two tries it may be left. */
export function* coverageRoute(asked: AskedForRoute): Generator<void, RouteFound | NoRoute> {
  const { document, level, wanted } = asked;
  const none: NoRoute = { route: null, hiddenBy: null, tried: 0 };
  switch (wanted.kind) {
    case 'phase': {
      const [first] = inOrder(document.routes);
      if (!first) return none;
      return { route: { ...stretchOf(first[1], IN_PHASE_S, document), phases: [{ timeS: 0, phase: wanted.phase }] }, shows: null };
    }
    case 'ground': {
      const ground = groundOf(atTheBeginning(document, level), Object.values(document.routes));
      const way = ground && wayOverGround(ground, document.body.eyeHeightM);
      if (!way || way.length < 2) return none;
      return { route: routeOf(document, posesAlong(way, document.body.speedMps)), shows: null };
    }
    case 'shows':
      return yield* routeThatShows(asked, wanted);
  }
}

/** The document with its level and its anchors as they are when its first route begins. */
export function atTheBeginning(document: Document, level: Level | null): Compiled {
  const compiled = compile(document, level);
  const [first = null] = inOrder(document.routes).map(([, route]) => route);
  placeLevel(compiled, first, 0, first ? routePose(first, 0) : { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, {});
  placeAnchors(compiled);
  return compiled;
}

const routeOf = (document: Document, poses: RoutePose[]): Omit<Route, 'name'> => ({
  order: orderAfter(document.routes),
  poses,
  ...{ feeds: [], phases: [] },
});

/** The beginning of a route, with what it records of the game. */
function stretchOf(route: Route, mostS: number, document: Document): Omit<Route, 'name'> {
  const early = route.poses.filter(({ timeS }) => timeS <= mostS);
  // A route may begin later than that.
  const poses = early.length > 0 ? early : route.poses.slice(0, 1);
  return { ...routeOf(document, poses), feeds: route.feeds.filter(({ timeS }) => timeS <= mostS) };
}

const round = (v: number, places: number): number => Number(v.toFixed(places));
const roundedPose = (timeS: number, { position, rotation }: Pose): RoutePose => ({
  timeS: round(timeS, 3),
  position: position.map((v) => round(v, 4)) as Vec3,
  rotation: rotation.map((v) => round(v, 6)) as RoutePose['rotation'],
});

/** A walk by way of places of the eye, looking where one goes. */
function posesAlong(way: readonly Vec3[], speedMps: number): RoutePose[] {
  let timeS = 0;
  return way.map((eye, k) => {
    const before = way[k - 1];
    if (before) timeS += Math.max(0.05, Math.hypot(...eye.map((v, i) => v - (before[i] as number))) / speedMps);
    const to = way[Math.min(k + 2, way.length - 1)] as Vec3;
    const from = way[Math.max(0, Math.min(k, way.length - 2))] as Vec3;
    const ahead: Vec3 = to === eye ? [2 * eye[0] - from[0], eye[1], 2 * eye[2] - from[2]] : [to[0], eye[1] + (to[1] - eye[1]) / 2, to[2]];
    return roundedPose(timeS, poseTowards(eye, ahead));
  });
}

/** How a game is on a route: its phase, where it is not its first one, feeds, and feeds that change when one has arrived. */
interface State {
  phase: string | null;
  feeds: Readonly<Record<string, FeedValue>>;
  arrived: Readonly<Record<string, FeedValue>>;
}
const AS_IT_IS: State = { phase: null, feeds: {}, arrived: {} };
const keyOf = ({ phase, feeds, arrived }: State): string =>
  JSON.stringify([phase, Object.entries(feeds).sort(), Object.entries(arrived).sort()]);

function* routeThatShows(
  { document, level, text }: AskedForRoute,
  { elements, viewers, language }: Extract<RouteWanted, { kind: 'shows' }>,
): Generator<void, RouteFound | NoRoute> {
  const compiled = atTheBeginning(document, level);
  const arranged = viewers.flatMap((viewer) => {
    const one = document.viewers[viewer];
    return one ? [{ viewer, a: arrange(compiled, one, text, undefined, language) }] : [];
  });
  let tried = 0;
  let nearest = -1;
  for (const element of elements) {
    const ways = waysTo(compiled, element, (row) => (arranged[0] ? frontOf(arranged[0].a, row) : null));
    for (const { viewer, a } of arranged) {
      const seen = new Set<string>();
      // The least change of the game first, on every way; then more of them, from where it came nearest to being shown.
      let states: State[] = [AS_IT_IS];
      for (let changes = 0; changes <= MOST_STATES && states.length > 0; changes++) {
        const next: State[] = [];
        for (const state of states)
          for (const poses of ways) {
            if (tried >= MOST_TRIED) break;
            yield;
            tried++;
            const route = withState(document, poses, state);
            const { atS, step, more } = replayed(a, route, element, state);
            if (atS !== null) return { route, shows: { element, viewer, atS } };
            nearest = Math.max(nearest, step);
            for (const one of more) {
              const key = keyOf(one);
              if (seen.has(key)) continue;
              seen.add(key);
              next.push(one);
            }
          }
        states = next;
      }
    }
  }
  return { route: null, hiddenBy: STEPS[nearest] ?? null, tried };
}

function withState(document: Document, poses: RoutePose[], { phase, feeds, arrived }: State): Omit<Route, 'name'> {
  const from = (timeS: number, of: State['feeds']): Route['feeds'] =>
    Object.entries(of).map(([key, value]) => {
      const { id: feed, object } = partsOfKey(key);
      return { timeS, feed, ...(object !== null && { object }), value };
    });
  const thereS = Math.max(LEAST_BEFORE_S, (poses.at(-1)?.timeS ?? 0) - STAY_S);
  return {
    ...routeOf(document, poses),
    feeds: [...from(0, feeds), ...from(round(thereS, 3), arrived)],
    phases: phase === null ? [] : [{ timeS: 0, phase }],
  };
}

/** When an element is shown on a route; or else how far it came in the chain, and states of the game in which it may come farther. */
function replayed(
  a: Arranged,
  route: Omit<Route, 'name'>,
  element: string,
  state: State,
): { atS: number | null; step: number; more: State[] } {
  const { compiled: c } = a;
  const rows = c.sources.flatMap((source, row) => (source === element ? [row] : []));
  const replay = new Replay(a, { name: '', ...route });
  const ticks = Math.floor(routeDurationS({ name: '', ...route }) / TICK_S + 1e-6);
  let step = -1;
  let more: State[] = [];
  for (let tick = 0; tick <= ticks; tick += SAMPLE_TICKS) {
    const { failed, values } = replay.at(tick * TICK_S);
    for (const row of rows) {
      const verdict = failed[row] as number;
      if (verdict === Verdict.Shown) return { atS: round(tick * TICK_S, 2), step: -1, more: [] };
      if (verdict < step) continue;
      step = verdict;
      const no = STEPS[verdict] as StepName;
      more = [
        ...statesToTry(c, row, no, [...values]).flatMap(({ state: tried }) => stateWith(c, state, tried)),
        ...happeningsToTry(c, row, no, [...values]).flatMap((happening) => stateAfter(c, state, happening)),
      ];
    }
  }
  return { atS: null, step, more };
}

/** A state with one more change; none where the change is no state of a game on a route. */
function stateWith(c: Compiled, state: State, change: ReturnType<typeof statesToTry>[number]['state']): State[] {
  if ('released' in change) return [];
  if ('phase' in change) return state.phase === null ? [{ ...state, phase: change.phase }] : [];
  if (!isRecordable(c, change.feed) || Object.hasOwn(state.feeds, change.feed)) return [];
  return [{ ...state, feeds: { ...state.feeds, [change.feed]: change.value } }];
}
function stateAfter(c: Compiled, state: State, { feed, value }: { feed: string; value: FeedValue }): State[] {
  if (!isRecordable(c, feed) || Object.hasOwn(state.arrived, feed)) return [];
  return [{ ...state, arrived: { ...state.arrived, [feed]: value } }];
}
/** What the viewer's own going gives cannot be recorded: it would be untrue. */
const isRecordable = ({ document }: Compiled, key: string): boolean => !isBuiltIn(document.feeds[partsOfKey(key).id]?.source);

/** Ways towards the places of an element, the nearest first; of what has no place in the world, one that stays where routes begin. */
function waysTo(c: Compiled, element: string, frontOf: (row: number) => Vec3 | null): RoutePose[][] {
  const { document } = c;
  const [first] = inOrder(document.routes).map(([, route]) => route);
  const begin: Pose = first?.poses[0] ?? { position: [0, document.body.eyeHeightM, 0], rotation: [0, 0, 0, 1] };
  const places = new Map<string, Place>();
  c.sources.forEach((source, row) => {
    if (source !== element || places.size >= MOST_PLACES) return;
    const top = c.root[row] as number;
    const gate = c.gateOfRow[top] as number;
    const anchor = gate >= 0 ? (c.gateAnchor[gate] as number) : top < c.anchoredCount ? (c.elementAnchor[top] as number) : -1;
    const place = placeOfAnchor({ c }, anchor);
    if (place) places.set(place.join(' '), { at: place, ranges: rangesOf(c, row), front: frontOf(top) });
  });
  if (places.size === 0) return [first ? stayed(stretchOf(first, 4, document).poses) : stayed([roundedPose(0, begin)])];
  return [...places.values()].flatMap((place) => waysToPlace(c, place, begin));
}

/** Where an element stands, the ranges that it is to be come within, and the way it faces, where it is read from there alone. */
interface Place {
  at: Vec3;
  ranges: readonly Range[];
  front: Vec3 | null;
}
/** Which way a panel faces that does not turn and has one side. */
function frontOf(a: Arranged, row: number): Vec3 | null {
  const { compiled: c } = a;
  const mount = c.elements[row]?.mount;
  if (mount?.kind !== 'standing' || mount.facing !== 'fixed' || mount.sides !== 'front') return null;
  const solver = makeSolver(a);
  const head: Pose = { position: [0, c.document.body.eyeHeightM, 0], rotation: [0, 0, 0, 1] };
  solve(solver, { timeS: 0, head, depthOrder: false, stands: true, values: readValues(c, null, 0, head, {}) });
  const from = (c.panelOf[row] as number) * PanelAt.Stride + PanelAt.Front;
  return [0, 1, 2].map((k) => solver.f.panels[from + k] as number) as Vec3;
}

/** The ranges of a row and of the groups around it. */
function rangesOf({ elements, parent }: Compiled, row: number): Range[] {
  const out: Range[] = [];
  for (let up = row; up >= 0; up = parent[up] as number) {
    const range = elements[up]?.range;
    if (range) out.push(range);
  }
  return out;
}
/** Of a range, so much is used: the ground is not level. */
const USED = 0.9;
/** How near one must come along the ground to be within ranges of a place. @param aboveM how far it is above or below the eye. */
function nearnessOf(ranges: readonly Range[], aboveM: number): number {
  const each = ranges.map(({ from, enterM }) => {
    const off = from === 'eye' ? Math.min(Math.abs(aboveM), enterM * USED) : 0;
    return USED * Math.sqrt(enterM ** 2 - off ** 2);
  });
  return Math.min(NEAR_M, ...each);
}

/** The last pose is kept for a while. */
function stayed(poses: RoutePose[]): RoutePose[] {
  const last = poses.at(-1);
  return last ? [...poses, { ...last, timeS: round(last.timeS + STAY_S, 3) }] : poses;
}

const AROUND_M = [3, 6, 1.5];
/** Eighths of a turn: first from one side, then from the other, and so on round; and what is read from its front, from there. */
const ALL_AROUND = [0, 4, 1, 5, 2, 6, 3, 7];
const BEFORE = [0, 1, 7];
/** Less is looked at edge on: the cosine of how far one stands aside. */
const LEAST_BEFORE = 0.2;

function waysToPlace({ document, level }: Compiled, { at: place, ranges, front }: Place, begin: Pose): RoutePose[][] {
  const { body } = document;
  const sees = ([x, y, z]: Vec3): boolean => {
    // To a hand's breadth before it: it lies on a surface.
    const away = Math.hypot(place[0] - x, place[1] - y, place[2] - z);
    const share = Math.max(0, 1 - 0.1 / Math.max(0.2, away));
    if (front && front.reduce((sum, v, k) => sum + v * (([x, y, z][k] as number) - (place[k] as number)), 0) < LEAST_BEFORE * away)
      return false;
    return !level || level.sightline(x, y, z, x + (place[0] - x) * share, y + (place[1] - y) * share, z + (place[2] - z) * share) < 0;
  };
  const spots: Vec3[] = [];
  // Where routes go already, first: somebody meant players to be there.
  const passed = Object.values(document.routes).flatMap((route) => {
    const out: Vec3[] = [];
    for (let timeS = 0; timeS <= routeDurationS(route); timeS += 1) out.push(routePose(route, timeS).position);
    return out.filter((at) => Math.hypot(at[0] - place[0], at[1] - place[1], at[2] - place[2]) < 15 && sees(at));
  });
  const off = (at: Vec3): number => Math.abs(Math.hypot(at[0] - place[0], at[2] - place[2]) - 4);
  const best = passed.sort((a, b) => off(a) - off(b))[0];
  if (best) spots.push(best);
  const ahead = front ? Math.atan2(front[0], front[2]) : 0;
  for (const aroundM of AROUND_M)
    for (const eighth of front ? BEFORE : ALL_AROUND) {
      if (spots.length >= MOST_WAYS) break;
      const angle = ahead + (eighth / 8) * 2 * Math.PI;
      const [x, z] = [place[0] + Math.sin(angle) * aroundM, place[2] + Math.cos(angle) * aroundM];
      const feet = standingHeight(level, x, z, place[1] - body.eyeHeightM * 0.8, body.eyeHeightM);
      const eye: Vec3 = [x, feet + body.eyeHeightM, z];
      if (!Number.isNaN(feet) && sees(eye)) spots.push(eye);
    }
  if (spots.length === 0) spots.push([place[0] + 4 * Math.sin(ahead), place[1] + 0.5, place[2] + 4 * Math.cos(ahead)]);
  return spots.map((position) =>
    stayed(approachTo(place, { ...begin, position }, body, level, nearnessOf(ranges, place[1] - position[1]))),
  );
}
