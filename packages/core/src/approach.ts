/** A short walk towards a place, so that what was put there can be seen coming near at once; and whether a route passes it. */
import type { Route, RoutePose } from '@foreshore/document/types';
import type { Level } from './level.ts';
import { type Body, type WalkState, walk, walkFrom } from './rigs.ts';
import { routeDurationS, routePose } from './route.ts';
import type { Projection } from './spaces/lens.ts';
import { type Pose, poseTowards, type Vec3 } from './spaces/pose.ts';
import { projector } from './spaces/project.ts';

/** It begins about so far off and ends so near, where nobody says how near; metres along the ground. */
const FAR_M = 12;
export const NEAR_M = 1.5;
const STEP_S = 0.1;
const MOST_STEPS = 150;
/** A body that comes less than this share of its step farther stands against something. */
const STUCK = 0.2;

const flat = (a: Vec3, b: Vec3): number => Math.hypot(a[0] - b[0], a[2] - b[2]);

/** Walks on until told to stop, stuck, or off an edge; gives the places of the eye. */
function walked(state: WalkState, forward: 1 | -1, body: Body, level: Level | null, until: (eye: Vec3) => boolean): Vec3[] {
  const out: Vec3[] = [];
  const pace = body.speedMps * STEP_S;
  for (let k = 0; k < MOST_STEPS && !until(state.position); k++) {
    const before: Vec3 = [...state.position];
    walk(state, { right: 0, up: 0, forward, fast: false }, STEP_S, body, level);
    if (flat(before, state.position) < STUCK * pace || !state.onGround) break;
    out.push([...state.position]);
  }
  return out;
}

/**
 * Poses of a walk towards a place, looking at it all the way: by way of where somebody stands, from behind there. Where the
 * ground leaves no way, straight through the air.
 * @param from where somebody stands who sees the place. @param nearM how near it ends, metres along the ground.
 */
export function approachTo(place: Vec3, from: Pose, body: Body, level: Level | null, nearM: number = NEAR_M): RoutePose[] {
  const facing = walkFrom(poseTowards(from.position, [place[0], from.position[1], place[2]]), false);
  // Somebody who flies comes down first.
  for (let k = 0; k < 60 && !facing.onGround; k++) walk(facing, { right: 0, up: 0, forward: 0, fast: false }, STEP_S, body, level);
  const start: Vec3 = [...facing.position];
  const back = walked({ ...facing, position: [...start] }, -1, body, level, (eye) => flat(eye, place) >= FAR_M);
  const forth = walked({ ...facing, position: [...start] }, 1, body, level, (eye) => flat(eye, place) <= nearM);
  let eyes = [...back.reverse(), start, ...forth];
  if (eyes.length < 10 || !facing.onGround) {
    const way = place.map((v, k) => v - (from.position[k] as number)) as Vec3;
    const length = Math.hypot(...way) || 1;
    const reach = Math.max(0, length - nearM) / length;
    eyes = Array.from({ length: 31 }, (_, k) => from.position.map((v, i) => v + (way[i] as number) * reach * (k / 30)) as Vec3);
  }
  const round = (v: number, places: number): number => Number(v.toFixed(places));
  return eyes.map((eye, k) => ({
    timeS: round(k * STEP_S, 3),
    position: eye.map((v) => round(v, 4)) as Vec3,
    rotation: poseTowards(eye, place).rotation.map((v) => round(v, 6)) as RoutePose['rotation'],
  }));
}

/** Farther off than this a route does not pass a place. */
const PASSING_M = 25;
const EVERY_S = 0.5;

/** Whether a place comes into the frame on a route, near enough and with nothing before it; the level stands as it is. */
export function routeShows(route: Route, place: Vec3, projection: Projection, level: Level | null): boolean {
  for (let timeS = 0; timeS <= routeDurationS(route); timeS += EVERY_S) {
    const { position, rotation } = routePose(route, timeS);
    const { inFrame, depthM } = projector(projection, { position, rotation })(...place);
    if (!inFrame || depthM > PASSING_M) continue;
    // To a hand's breadth before it: it lies on a surface.
    const share = 1 - 0.1 / Math.max(0.2, Math.hypot(...place.map((v, k) => v - (position[k] as number))));
    const [x, y, z] = place.map((v, k) => (position[k] as number) + (v - (position[k] as number)) * share) as Vec3;
    if (!level || level.sightline(...position, x, y, z) < 0) return true;
  }
  return false;
}
