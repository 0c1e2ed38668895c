/** Where to stand at first in a level nobody has described: the place on its ground from which the most of it is seen. */
import { type Level, makeHit } from './level.ts';
import { type Pose, poseTowards, type Vec3 } from './spaces/pose.ts';

export interface Bounds {
  least: Vec3;
  greatest: Vec3;
}

/** Places tried along each side, directions looked in from each, and elevations of those. */
const PLACES = 9;
const DIRECTIONS = 36;
const ELEVATIONS_DEG = [-25, -8, 0, 10];
/** Nearer than this in some direction, and one stands with the face to a wall. */
const NEAR_M = 0.6;
/** Half of what is seen at once. */
const HALF_VIEW = 5;
/** Parts of the level, along each axis, that count as seen or not. */
const CELLS = 12;

const hit = makeHit();
const DOWN: Vec3 = [0, -1, 0];

/** Grounds under a point from the top down, with room for a body above; at most a few. The floor of a solid's inside is none. */
function groundsUnder(level: Level, x: number, z: number, { least, greatest }: Bounds, heightM: number, backs: boolean): number[] {
  const out: number[] = [];
  let from = greatest[1] + 1;
  for (let layer = 0; layer < 5 && from > least[1]; layer++) {
    if (!level.castRay([x, from, z], DOWN, from - least[1] + 2, hit)) break;
    const y = hit.position[1];
    if (hit.normal[1] > 0.6 && (backs || !hit.back) && level.sightline(x, y + 0.1, z, x, y + heightM + 0.2, z) < 0) out.push(y);
    from = y - 0.05;
  }
  return out;
}

/**
 * The pose, on ground with room for a body, that sees the most parts of the level: rays in all directions, each part counted
 * once; then the heading with the most of them before it. Null where there is no ground to stand on.
 *
 * @param bounds of the level's surfaces, metres.
 * @param eyeHeightM of the body above its feet.
 */
export function bestStandpoint(level: Level, bounds: Bounds, eyeHeightM: number): Pose | null {
  // Where every ground is wound the other way round, that tells nothing.
  return standpointOn(level, bounds, eyeHeightM, false) ?? standpointOn(level, bounds, eyeHeightM, true);
}

function standpointOn(level: Level, bounds: Bounds, eyeHeightM: number, backs: boolean): Pose | null {
  const { least, greatest } = bounds;
  const span = (k: 0 | 1 | 2) => Math.max(greatest[k] - least[k], 1e-6);
  const cellOf = (p: Vec3): number => {
    const at = (k: 0 | 1 | 2) => Math.max(0, Math.min(CELLS - 1, Math.floor(((p[k] - least[k]) / span(k)) * CELLS)));
    return (at(0) * CELLS + at(1)) * CELLS + at(2);
  };
  const reach = Math.hypot(span(0), span(1), span(2)) + 1;
  let best: { score: number; eye: Vec3; heading: number } | null = null;
  for (let j = 0; j < PLACES; j++)
    for (let i = 0; i < PLACES; i++) {
      const x = least[0] + ((i + 0.5) / PLACES) * span(0);
      const z = least[2] + ((j + 0.5) / PLACES) * span(2);
      for (const y of groundsUnder(level, x, z, bounds, eyeHeightM, backs)) {
        const eye: Vec3 = [x, y + eyeHeightM, z];
        const seen: Set<number>[] = Array.from({ length: DIRECTIONS }, () => new Set());
        let walled = 0;
        for (let d = 0; d < DIRECTIONS; d++)
          for (const elevation of ELEVATIONS_DEG) {
            const [yaw, pitch] = [(d / DIRECTIONS) * 2 * Math.PI, (elevation * Math.PI) / 180];
            const way: Vec3 = [-Math.sin(yaw) * Math.cos(pitch), Math.sin(pitch), -Math.cos(yaw) * Math.cos(pitch)];
            if (!level.castRay(eye, way, reach, hit)) continue;
            if (hit.distanceM < NEAR_M && elevation === 0) walled++;
            seen[d]?.add(cellOf(hit.position));
          }
        const before = (d: number): number => {
          const all = new Set<number>();
          for (let k = -HALF_VIEW; k <= HALF_VIEW; k++) for (const cell of seen[(d + k + DIRECTIONS) % DIRECTIONS] ?? []) all.add(cell);
          return all.size;
        };
        const heading = Array.from({ length: DIRECTIONS }, (_, d) => d).reduce((most, d) => (before(d) > before(most) ? d : most), 0);
        const everything = new Set(seen.flatMap((cells) => [...cells])).size;
        const score = before(heading) * 2 + everything - walled * 4;
        if (!best || score > best.score) best = { score, eye, heading };
      }
    }
  if (!best) return null;
  const { eye, heading } = best;
  const yaw = (heading / DIRECTIONS) * 2 * Math.PI;
  return poseTowards(eye, [eye[0] - Math.sin(yaw), eye[1] - 0.05, eye[2] - Math.cos(yaw)]);
}
