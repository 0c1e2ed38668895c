/**
 * Where panels stand that nobody meant to put there: at the level's origin, inside of a solid, never to be seen by anybody who goes
 * along the project's routes, because a wall is in the way, because they pass its back, or because they see it edge on.
 */
import {
  type Arranged,
  type Compiled,
  makeHit,
  makeSolver,
  PanelAt,
  placeLevel,
  readValues,
  routeDurationS,
  routePose,
  type Solver,
  solve,
  type Vec3,
  worldPoint,
} from '@foreshore/core';
import type { Route } from '@foreshore/document';

export type PanelPlaceFault =
  /** Its anchor is at the origin of the level. */
  | { kind: 'atOrigin' }
  /** The share of it that is inside of a node's solid. */
  | { kind: 'buried'; share: number; node: string }
  /** Of every route that comes near, all poses before it are behind a node. */
  | { kind: 'behindWall'; node: string }
  /** Every pose near it is behind its back. */
  | { kind: 'backToRoutes' }
  /** The most that any pose near it looks along its front, degrees from square on. */
  | { kind: 'edgeOn'; deg: number };

/** Poses farther away than this from a panel, or three times as far as it is read from, do not count. */
const NEAR_M = 15;
/** Routes are looked at so often, seconds. */
const EVERY_S = 0.5;
const EDGE_DEG = 80;
const ORIGIN_M = 1e-3;
/** A solid's other side is looked for so far up, metres. */
const UP_M = 30;
const hit = makeHit();

const at = (numbers: ArrayLike<number>, from: number): Vec3 => [
  numbers[from] as number,
  numbers[from + 1] as number,
  numbers[from + 2] as number,
];
const less = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Nine points of a panel, a little before its front: its corners, the middles of its sides, and its own. */
function points({ f }: Solver, panel: number): Vec3[] {
  const from = panel * PanelAt.Stride;
  const [w, h] = [f.panels[from + PanelAt.WidthPx] as number, f.panels[from + PanelAt.HeightPx] as number];
  const front = at(f.panels, from + PanelAt.Front).map((v) => v * (f.panels[from + PanelAt.Side] as number));
  return [0.02, 0.5, 0.98].flatMap((v) =>
    [0.02, 0.5, 0.98].map((u) => worldPoint(f.panels, from, u * w, v * h).map((x, k) => x + 0.01 * (front[k] as number)) as Vec3),
  );
}

/**
 * What of a panel is inside of a solid: a ray straight up meets the first surface from its back, and one straight down meets none from
 * its front. Under a roof of one skin one stands on a floor; under the ground there may be nothing more.
 */
function buried(compiled: Compiled, all: readonly Vec3[]): PanelPlaceFault[] {
  const { level } = compiled;
  if (!level) return [];
  const inside = all.filter(
    (point) =>
      level.castRay([...point], [0, 1, 0], UP_M, hit) && hit.back && !(level.castRay([...point], [0, -1, 0], UP_M, hit) && !hit.back),
  );
  if (inside.length === 0) return [];
  level.castRay([...(inside[0] as Vec3)], [0, 1, 0], UP_M, hit);
  return [{ kind: 'buried', share: inside.length / all.length, node: level.nodeIds[hit.node] ?? '' }];
}

/** The eyes of a route that come near a place. */
function eyesNear(route: Route, place: Vec3, nearM: number): Vec3[] {
  const out: Vec3[] = [];
  const end = routeDurationS(route);
  for (let t = 0; t <= end; t += EVERY_S) {
    const { position } = routePose(route, t);
    const eye: Vec3 = [position[0], position[1], position[2]];
    if (Math.hypot(...less(eye, place)) <= nearM) out.push(eye);
  }
  return out;
}

function seenFrom(solver: Solver, panel: number, readM: number, isOneSided: boolean): PanelPlaceFault[] {
  const { c, f } = solver;
  const from = panel * PanelAt.Stride;
  const middle = points(solver, panel)[4] as Vec3;
  const front = at(f.panels, from + PanelAt.Front);
  const eyes = Object.values(c.document.routes).flatMap((route) => eyesNear(route, middle, Math.max(NEAR_M, 3 * readM)));
  if (eyes.length === 0) return [];
  const before = eyes.filter((eye) => !isOneSided || dot(front, less(eye, middle)) > 0);
  if (before.length === 0) return [{ kind: 'backToRoutes' }];
  const aslant = before.map((eye) => {
    const way = less(eye, middle);
    return (Math.acos(Math.min(1, Math.abs(dot(front, way)) / Math.hypot(...way))) * 180) / Math.PI;
  });
  const best = Math.min(...aslant);
  if (best > EDGE_DEG) return [{ kind: 'edgeOn', deg: best }];
  let node = -1;
  const isFree = before.some((eye) => {
    const by = c.level ? c.level.sightline(...eye, ...middle) : -1;
    if (by >= 0) node = by;
    return by < 0;
  });
  return isFree ? [] : [{ kind: 'behindWall', node: c.level?.nodeIds[node] ?? '' }];
}

/** What is wrong with where an element's panel stands; nothing for what is no panel, or trails. At the level's first moment. */
export function panelPlaceFaults(arranged: Arranged, id: string): PanelPlaceFault[] {
  const { compiled } = arranged;
  const row = compiled.sources.indexOf(id);
  const mount = compiled.elements[row]?.mount;
  if (row < 0 || mount?.kind !== 'standing' || compiled.lost[row] || (compiled.parent[row] as number) >= 0) return [];
  const solver = makeSolver(arranged);
  const anchor = at(compiled.anchorWorld, (compiled.elementAnchor[row] as number) * 3);
  // A panel that turns is seen by an eye before it; where it stands is the same for all.
  const head = { position: [anchor[0], anchor[1] + 1, anchor[2] + 3] as Vec3, rotation: [0, 0, 0, 1] as [number, number, number, number] };
  placeLevel(compiled, null, 0, head, {});
  solve(solver, { timeS: 0, head, depthOrder: false, stands: true, values: readValues(compiled, null, 0, head, {}) });
  const now = at(compiled.anchorWorld, (compiled.elementAnchor[row] as number) * 3);
  const panel = compiled.panelOf[row] as number;
  return [
    ...(Math.hypot(...now) < ORIGIN_M ? [{ kind: 'atOrigin' } as const] : []),
    ...buried(compiled, points(solver, panel)),
    ...(mount.facing === 'fixed' ? seenFrom(solver, panel, mount.readM, mount.sides === 'front') : []),
  ];
}
