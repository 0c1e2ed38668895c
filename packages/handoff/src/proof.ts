/**
 * Proof frames: what a port of the calculation must give, with all that it needs for it, in the chosen convention. Frames are chosen
 * from many so that all kinds of cases are among them; what lies close to a threshold is left out of them, so that a port may round
 * as it likes.
 */
import {
  arrange,
  type Compiled,
  compile,
  type Level,
  lookingPose,
  makeSolver,
  type Pose,
  type Projection,
  phaseAt,
  placeLevel,
  projectionOf,
  quaternionProduct,
  readValues,
  rotate,
  routePose,
  type Solver,
  STEPS,
  screenBox,
  sightOf,
  solve,
  type TextShaper,
  type Vec3,
  Verdict,
} from '@foreshore/core';
import type { Document, FeedValue, Lens, Viewer } from '@foreshore/document';
import { angleOut, type Convention, fovOut, lengthOut, pointOut, rotationOut, screenOut } from './convention.ts';

export const PROOF_FORMAT = 'foreshore-proof';

/** A lens in their angles; all frames of a proof say theirs. */
export type ProofLens =
  | { kind: 'perspective'; fov: number; aspect: number }
  /** Half-angles; left and down are negative. */
  | { kind: 'offAxis'; left: number; right: number; up: number; down: number }
  | { kind: 'orthographic'; halfHeight: number; aspect: number };

export interface ProofPoint {
  /** In their world. */
  place: [number, number, number];
  /** Whether it lies in front of the near plane; then where it is seen, pixels, and its depth along the way ahead, their units. */
  inFront: boolean;
  inFrame: boolean;
  x: number | null;
  y: number | null;
  depth: number | null;
}
export interface ProofElement {
  shown: boolean;
  /** The first step that hides it. */
  hiddenBy: string | null;
  /** Left, top, width and height, pixels from the top left of the screen, of what is shown. */
  box: [number, number, number, number] | null;
}
export interface ProofFrame {
  id: string;
  /** What it is there for. */
  covers: string[];
  screen: { widthPx: number; heightPx: number };
  camera: { position: [number, number, number]; rotation: [number, number, number, number]; near: number; lens: ProofLens };
  feeds: Record<string, FeedValue>;
  phase: string | null;
  points: Record<string, ProofPoint>;
  elements: Record<string, ProofElement>;
}
export interface Proof {
  format: typeof PROOF_FORMAT;
  version: 1;
  project: string;
  convention: Convention;
  frames: ProofFrame[];
}

/** So far from a threshold a point must lie: pixels from the frame's edges, metres from the near plane. */
const CLEAR_PX = 2;
const CLEAR_M = 0.02;
/** A pose is moved by so much each way, and turned, to see whether anything then shows or hides. */
const NUDGE_M = 2e-3;
const NUDGE_DEG = 0.03;
const MOST_FRAMES = 60;

/** A port in a few lines: the point in the camera's space, and where it is seen. */
export function seenAt(p: Projection, { position, rotation }: Pose, world: Vec3): { x: number; y: number; depthM: number } {
  const [x, y, z, w] = rotation;
  const c = rotate([-x, -y, -z, w], [world[0] - position[0], world[1] - position[1], world[2] - position[2]]);
  const depthM = -c[2];
  const by = p.orthographic ? 1 : depthM;
  return { x: p.centreX + (p.focalX * c[0]) / by, y: p.centreY - (p.focalY * c[1]) / by, depthM };
}

function lensOut(convention: Convention, lens: Lens, aspect: number): ProofLens {
  if (lens.kind === 'offAxis')
    return {
      kind: 'offAxis',
      left: angleOut(convention, lens.leftDeg),
      right: angleOut(convention, lens.rightDeg),
      up: angleOut(convention, lens.upDeg),
      down: angleOut(convention, lens.downDeg),
    };
  if (lens.kind === 'orthographic') return { kind: 'orthographic', halfHeight: lengthOut(convention, lens.halfHeightM), aspect };
  const p = projectionOf(lens, aspect, 1);
  const verticalDeg = (2 * Math.atan(0.5 / p.focalY) * 180) / Math.PI;
  return { kind: 'perspective', fov: fovOut(convention, verticalDeg, aspect), aspect };
}

function pointsOf(convention: Convention, c: Compiled, p: Projection, head: Pose): { points: ProofFrame['points']; covers: string[] } {
  const points: ProofFrame['points'] = {};
  const covers = new Set<string>();
  c.anchorIds.forEach((id, k) => {
    if (c.anchorFault[k]) return;
    const world: Vec3 = [c.anchorWorld[k * 3] as number, c.anchorWorld[k * 3 + 1] as number, c.anchorWorld[k * 3 + 2] as number];
    const { x, y, depthM } = seenAt(p, head, world);
    if (Math.abs(depthM - p.nearM) < CLEAR_M) return;
    const inFront = depthM > p.nearM;
    const edges = [x, y, x - p.widthPx, y - p.heightPx].map(Math.abs);
    if (inFront && Math.min(...edges) < CLEAR_PX) return;
    const inFrame = inFront && x >= 0 && y >= 0 && x < p.widthPx && y < p.heightPx;
    const [sx, sy] = screenOut(convention, [x, y], p.widthPx, p.heightPx);
    points[id] = {
      place: pointOut(convention, world),
      inFront,
      inFrame,
      x: inFront ? sx : null,
      y: inFront ? sy : null,
      depth: inFront ? lengthOut(convention, depthM) : null,
    };
    covers.add(!inFront ? 'behind' : inFrame ? 'in the frame' : 'beside the frame');
    if (inFront && depthM < 1) covers.add('near');
    if (inFrame && Math.min(...edges) < 60) covers.add('at an edge of the frame');
  });
  return { points, covers: [...covers] };
}

/** What an element is a case of. */
function caseOf({ c, f }: Solver, row: number): string {
  const element = c.elements[row];
  const failed = f.failed[row] as Verdict;
  const size = element?.size.rule ?? '';
  return `${element?.mount.kind} ${element?.kind} ${size} ${failed === Verdict.Shown ? 'shown' : `hidden by ${STEPS[failed]}`}`;
}

/** Poses worth looking at: along the routes, and towards, away from, past, close to and beneath anchors. */
function* poses(document: Document, c: Compiled): Generator<{ route: string | null; timeS: number; head: Pose }> {
  for (const [id, route] of Object.entries(document.routes)) {
    const last = route.poses.at(-1)?.timeS ?? 0;
    for (let k = 0; k <= 24; k++) yield { route: id, timeS: (last * k) / 24, head: routePose(route, (last * k) / 24) };
  }
  for (let k = 0; k < c.anchorIds.length; k++) {
    if (c.anchorFault[k]) continue;
    const at = [0, 1, 2].map((axis) => c.anchorWorld[k * 3 + axis] as number) as Vec3;
    for (const [yaw, pitch, far] of [
      [0, -10, 4],
      [150, 20, 2.5],
      [90, 0, 0.6],
      [-60, -35, 9],
      [30, 50, 30],
    ] as const) {
      const towards = lookingPose([0, 0, 0], yaw + k * 17, pitch);
      const ahead = rotate(towards.rotation, [0, 0, -1]);
      const position = at.map((v, axis) => v - far * (ahead[axis] as number)) as Vec3;
      yield { route: null, timeS: 0, head: { position, rotation: towards.rotation } };
      // Turned a third aside.
      yield { route: null, timeS: 0, head: lookingPose(position, yaw + k * 17 + 40, pitch / 2) };
    }
  }
}

/** Viewers whose lens a frame can say: screens, and the left eye of a headset for points alone. */
const screensOf = (document: Document): [string, Viewer][] => Object.entries(document.viewers).filter(([, { kind }]) => kind !== 'split');

/**
 * @param text shapes as the bench does. @param most so many frames at most.
 * The level is placed as each frame has it.
 */
export function makeProof(document: Document, level: Level | null, text: TextShaper, convention: Convention, most = MOST_FRAMES): Proof {
  const c = compile(document, level);
  const viewers = screensOf(document);
  const solvers = new Map(viewers.filter(([, { kind }]) => kind === 'screen').map(([id, v]) => [id, makeSolver(arrange(c, v, text))]));
  const covered = new Map<string, number>();
  const frames: ProofFrame[] = [];
  let turn = 0;
  for (const { route: id, timeS, head } of poses(document, c)) {
    if (frames.length >= most) break;
    const route = id === null ? null : (document.routes[id] as Document['routes'][string]);
    const [viewerId, viewer] = viewers[turn++ % viewers.length] as [string, Viewer];
    placeLevel(c, route, timeS, head, {});
    const values = readValues(c, route, timeS, head, {});
    const phase = phaseAt(document, route, timeS);
    const solver = solvers.get(viewerId);
    const projection = solver?.a.projection ?? (sightOf(viewer).eyes[0]?.projection as Projection);
    const at = (pose: Pose): void => {
      if (solver) solve(solver, { timeS, head: pose, depthOrder: false, values, phase, stands: true });
    };
    at(head);
    const { points, covers } = pointsOf(convention, c, projection, head);
    const elements: ProofFrame['elements'] = {};
    if (solver) {
      const before = solver.f.failed.slice();
      const cases = c.ids.map((_, row) => caseOf(solver, row));
      const boxes = c.ids.map((_, row) => (before[row] === Verdict.Shown ? screenBox(solver, row) : null));
      const steady = c.ids.map(() => true);
      for (const nudge of [1, -1])
        for (const axis of [0, 1, 2, 3]) {
          const position = head.position.map((v, k) => v + (k === axis ? nudge * NUDGE_M : 0)) as Vec3;
          const rotation = axis < 3 ? head.rotation : turned(head, nudge * NUDGE_DEG);
          at({ position, rotation });
          for (let row = 0; row < c.count; row++) if (solver.f.failed[row] !== before[row]) steady[row] = false;
        }
      c.ids.forEach((row, k) => {
        const box = boxes[k];
        if (!steady[k] || box?.some(Number.isNaN)) return;
        covers.push(cases[k] as string);
        const failed = before[k] as Verdict;
        elements[row] = {
          shown: failed === Verdict.Shown,
          hiddenBy: failed === Verdict.Shown ? null : (STEPS[failed] as string),
          box: box ?? null,
        };
      });
    }
    covers.push(`${viewer.kind} ${viewer.lens.kind}`);
    // Each case twice, in frames of its own.
    const fresh = covers.filter((one) => (covered.get(one) ?? 0) < 2);
    if (fresh.length === 0 || Object.keys(points).length === 0) continue;
    for (const one of new Set(covers)) covered.set(one, (covered.get(one) ?? 0) + 1);
    const { widthPx, heightPx } = projection;
    frames.push({
      id: `frame-${String(frames.length + 1).padStart(2, '0')}`,
      covers: [...new Set(fresh)].sort(),
      screen: { widthPx, heightPx },
      camera: {
        position: pointOut(convention, head.position),
        rotation: rotationOut(convention, head.rotation),
        near: lengthOut(convention, projection.nearM),
        lens: lensOut(convention, viewer.lens, widthPx / heightPx),
      },
      feeds: Object.fromEntries(c.feedIds.flatMap((feed, k) => (values[k] === undefined ? [] : [[feed, values[k] as FeedValue]]))),
      phase,
      points,
      elements,
    });
  }
  return { format: PROOF_FORMAT, version: 1, project: document.name, convention, frames };
}

/** A pose turned about the world's up. */
const turned = ({ rotation }: Pose, deg: number): Pose['rotation'] => quaternionProduct(lookingPose([0, 0, 0], deg, 0).rotation, rotation);

const csv = (value: unknown): string => (value === null ? '' : String(value));
/** The points of all frames, one a line, with what is to come out. */
export function proofCsv({ frames }: Proof): string {
  const head = 'frame,point,placeX,placeY,placeZ,inFront,x,y,depth\n';
  return head.concat(
    ...frames.flatMap(({ id, points }) =>
      Object.entries(points).map(
        ([name, { place, inFront, x, y, depth }]) =>
          `${[id, `"${name.replaceAll('"', '""')}"`, ...place, inFront, x, y, depth].map(csv).join(',')}\n`,
      ),
    ),
  );
}
