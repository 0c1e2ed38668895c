/** Camera rigs: how a body carries the camera through the level. */
import { type Level, makeHit } from './level.ts';
import { headingOf, lookingPose, type Pose, type Vec3 } from './spaces/pose.ts';

export interface Body {
  eyeHeightM: number;
  radiusM: number;
  /** Steps up to this height are walked over. */
  stepM: number;
  speedMps: number;
}

/** What the player asks for: −1..1 along the body's right, up and forward axes. */
export interface Intent {
  right: number;
  up: number;
  forward: number;
  fast: boolean;
}

export interface WalkState {
  /** Of the eye. */
  position: Vec3;
  yawDeg: number;
  pitchDeg: number;
  flying: boolean;
  /** Downwards, metres per second. */
  fallMps: number;
  onGround: boolean;
  /** Where the eye last was over firm ground; a fall into nothing ends there. */
  safe: Vec3 | null;
}

const GRAVITY = 9.81;
const FASTEST_FALL_MPS = 40;
/** So far down ground is looked for under somebody who falls. */
const DEEPEST_M = 1000;
/** A fall over nothing goes on for so long, so that it is seen to be one. */
const ABYSS_FALL_MPS = 6;
const hit = makeHit();
const DOWN: Vec3 = [0, -1, 0];

export const walkFrom = (pose: Pose, flying: boolean): WalkState => ({
  position: [...pose.position],
  ...headingOf(pose.rotation),
  flying,
  fallMps: 0,
  onGround: false,
  safe: null,
});
export const walkPose = (state: WalkState): Pose => lookingPose([...state.position], state.yawDeg, state.pitchDeg);

/** Moves the body for `dtS` seconds, first person: over ground, along walls, down where there is nothing beneath; or through the air. */
export function walk(state: WalkState, intent: Intent, dtS: number, body: Body, level: Level | null): void {
  const yaw = (state.yawDeg * Math.PI) / 180;
  const speed = body.speedMps * (intent.fast ? 2.5 : 1) * (state.flying ? 2 : 1);
  const length = Math.hypot(intent.right, intent.forward) || 1;
  const [right, forward] = [intent.right / Math.max(1, length), intent.forward / Math.max(1, length)];
  const x = (Math.cos(yaw) * right - Math.sin(yaw) * forward) * speed * dtS;
  const z = (-Math.sin(yaw) * right - Math.cos(yaw) * forward) * speed * dtS;
  if (state.flying) {
    const pitch = (state.pitchDeg * Math.PI) / 180;
    state.position[0] += x;
    state.position[2] += z;
    state.position[1] += (intent.up + Math.sin(pitch) * forward) * speed * dtS;
    state.fallMps = 0;
    state.onGround = false;
    return;
  }
  // In pieces shorter than the body is wide, so that nothing thin is stepped through.
  const pieces = Math.max(1, Math.ceil(Math.hypot(x, z) / (body.radiusM * 0.8)));
  for (let i = 0; i < pieces; i++) slide(state.position, x / pieces, z / pieces, body, level);
  settle(state, dtS, body, level);
}

const direction: Vec3 = [0, 0, 0];

/** Moves horizontally; a wall takes away what goes into it. */
function slide(position: Vec3, x: number, z: number, body: Body, level: Level | null): void {
  for (let attempt = 0; attempt < 3; attempt++) {
    const length = Math.hypot(x, z);
    if (length < 1e-6) return;
    direction[0] = x / length;
    direction[1] = 0;
    direction[2] = z / length;
    const wall = level ? wallAhead(position, length, body, level) : null;
    if (!wall) {
      position[0] += x;
      position[2] += z;
      return;
    }
    const [nx, nz] = wall;
    const into = x * nx + z * nz;
    if (into >= 0) return;
    x -= into * nx;
    z -= into * nz;
  }
}

/** How far ahead a wall is looked for, in radii of the body: one met as flatly as 1 in 4 is still found in time. */
const LOOK_AHEAD = 4;

/** The level direction out of the nearest wall, between knee and eye, that the body would touch after `lengthM`; or null. */
function wallAhead(eye: Vec3, lengthM: number, body: Body, level: Level): [number, number] | null {
  let nearest = lengthM + LOOK_AHEAD * body.radiusM;
  let normal: [number, number] | null = null;
  for (const below of [0.1, body.eyeHeightM / 2, body.eyeHeightM - body.stepM - 0.05]) {
    const from: Vec3 = [eye[0], eye[1] - below, eye[2]];
    if (!level.castRay(from, direction, nearest, hit) || Math.abs(hit.normal[1]) > 0.7) continue;
    const flat = Math.hypot(hit.normal[0], hit.normal[2]);
    if (flat < 1e-6) continue;
    const [nx, nz] = [hit.normal[0] / flat, hit.normal[2] / flat];
    // Measured straight at the wall: a body that comes askew keeps its distance too.
    const against = -(direction[0] * nx + direction[2] * nz);
    if ((hit.distanceM - lengthM) * against >= body.radiusM) continue;
    nearest = hit.distanceM;
    normal = [nx, nz];
  }
  return normal;
}

/** Stands on what is beneath the feet, or falls. */
function settle(state: WalkState, dtS: number, body: Body, level: Level | null): void {
  const { position } = state;
  const feet = position[1] - body.eyeHeightM;
  // From knee height down to a step below the feet: what is found there is ground to stand on.
  const from: Vec3 = [position[0], feet + body.stepM, position[2]];
  const drop = state.onGround ? body.stepM : 0;
  const fall = state.fallMps * dtS;
  const found = level ? level.castRay(from, DOWN, body.stepM + drop + fall + 0.02, hit) : feet - fall - drop <= 0;
  const ground = level ? hit.position[1] : 0;
  if (found) {
    // Upwards softly, so that steps do not jolt the picture.
    const target = ground + body.eyeHeightM;
    const up = target - position[1];
    position[1] += up > 0 ? up * Math.min(1, dtS * 14) : up;
    state.fallMps = 0;
    state.onGround = true;
    if (Math.abs(up) < body.stepM) state.safe = [position[0], target, position[2]];
    return;
  }
  if (
    state.safe &&
    state.fallMps > ABYSS_FALL_MPS &&
    level &&
    !level.castRay([position[0], position[1], position[2]], DOWN, DEEPEST_M, hit)
  ) {
    // Nothing is left to fall on: back to where there was.
    for (let k = 0; k < 3; k++) position[k] = state.safe[k] as number;
    state.fallMps = 0;
    state.onGround = true;
    return;
  }
  // In a level without any ground there is nothing to fall to either.
  if (level && !state.safe && !level.castRay([position[0], position[1], position[2]], DOWN, DEEPEST_M, hit)) {
    state.fallMps = 0;
    state.onGround = false;
    return;
  }
  state.onGround = false;
  state.fallMps = Math.min(FASTEST_FALL_MPS, state.fallMps + GRAVITY * dtS);
  position[1] -= state.fallMps * dtS;
}
