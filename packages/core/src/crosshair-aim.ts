/** What crosshairs are aimed at, and how long they look so. */
import type { CrosshairAim, Element } from '@foreshore/document/types';
import { meantNodes, type NodesMeant, namedNodes } from './aim.ts';
import { type Compiled, ON_NODE } from './compiled.ts';
import { type Level, makeHit } from './level.ts';
import type { SolveContext } from './solve-context.ts';
import type { Vec3 } from './spaces/pose.ts';
import { alongToZone } from './zones.ts';

/** What the aim ray of a crosshair rests on. */
export enum AimState {
  /** Nothing that is meant. */
  Nothing = 0,
  /** Something that is meant, within reach. */
  Reachable = 1,
  /** Something that is meant, farther than that. */
  Far = 2,
  /** Something that is meant would be within reach, but another surface is before it. */
  Blocked = 3,
}

/** So far it is looked for what is meant, metres; and a reach is no longer. */
const MOST_M = 1000;
/** So many surfaces before what is meant are looked through. */
const MOST_PASSED = 16;
/** The ray goes on so far behind a surface, metres. */
const BEYOND_M = 1e-3;

/** Times are sums of steps; a tick is not missed for their rounding. */
const ROUNDING = 1e-6;

const hit = makeHit();
const from: Vec3 = [0, 0, 0];
const way: Vec3 = [0, 0, 0];
const tool: Vec3 = [0, 0, 0];

/** What a crosshair's ray finds, as the head looks along its axis: its state, how far what is meant is (infinite: not met), and the node that is met first, or −1. */
export interface AimFound {
  state: AimState;
  distanceM: number;
  node: number;
}
/** Written by `findAim`; the caller reads it before the next call. */
const found: AimFound = { state: AimState.Nothing, distanceM: Number.POSITIVE_INFINITY, node: -1 };

const settle = (state: AimState, distanceM: number, node: number): AimFound => {
  found.state = state;
  found.distanceM = distanceM;
  found.node = node;
  return found;
};

/** A crosshair nearer to the middle of the view than this aims along its axis, pixels. */
const MIDDLE_PX = 0.5;

/**
 * The ray of a crosshair, into `from` and `way`: through the pixel that its middle lies on. On a panel, as the HUD is in a headset, it goes
 * along the view's axis.
 */
function aimThrough({ a, c, f }: Pick<SolveContext, 'a' | 'c' | 'f'>, row: number): void {
  for (let k = 0; k < 3; k++) {
    from[k] = f.eye[k] as number;
    way[k] = f.forward[k] as number;
  }
  const top = c.root[row] as number;
  if ((c.panelOf[row] as number) >= 0 || top < c.anchoredCount) return;
  const { boxes } = a;
  const { centreX, centreY, focalX, focalY, orthographic } = a.projection;
  const unit = a.fits[top] as number;
  // Members are laid out from their root's top left.
  const left = (boxes[row * 4] as number) + (row === top ? 0 : (boxes[top * 4] as number));
  const upper = (boxes[row * 4 + 1] as number) + (row === top ? 0 : (boxes[top * 4 + 1] as number));
  const x = (left + (boxes[row * 4 + 2] as number) / 2) * unit - centreX;
  const y = centreY - (upper + (boxes[row * 4 + 3] as number) / 2) * unit;
  if (Math.abs(x) < MIDDLE_PX && Math.abs(y) < MIDDLE_PX) return;
  const u = x / focalX;
  const v = y / focalY;
  const long = orthographic ? 1 : Math.hypot(u, v, 1);
  const { rotation } = f;
  for (let k = 0; k < 3; k++) {
    const aside = u * (rotation[k] as number) + v * (rotation[3 + k] as number);
    if (orthographic) from[k as 0] += aside;
    else way[k] = (aside - (rotation[6 + k] as number)) / long;
  }
}

/** The head must have been read and anchors and level placed for the moment. Allocates nothing; the result is overwritten by the next call. */
export function findAim(ctx: Pick<SolveContext, 'a' | 'c' | 'f'>, row: number, aim: CrosshairAim): AimFound {
  const { c } = ctx;
  const { level } = c;
  aimThrough(ctx, row);
  return aim.of.by === 'anchor'
    ? zoneAim(c, aim, aim.of.anchor)
    : level
      ? nodesAim(level, aim, aim.of)
      : settle(AimState.Nothing, Number.POSITIVE_INFINITY, -1);
}

function nodesAim(level: Level, { reachM }: CrosshairAim, of: NodesMeant): AimFound {
  const meant = meantNodes(level, of);
  let [goneM, first] = [0, -1];
  for (let passed = 0; passed < MOST_PASSED; passed++) {
    // Behind a first surface that is not meant, only what would be within reach counts.
    const left = (passed === 0 ? MOST_M : reachM) - goneM;
    if (!(left > 0) || !level.castRay(from, way, left, hit)) break;
    const atM = goneM + hit.distanceM;
    if (passed === 0) first = hit.node;
    if ((meant[hit.node] ?? -1) >= 0)
      return settle(passed > 0 ? AimState.Blocked : atM <= reachM ? AimState.Reachable : AimState.Far, atM, first);
    const by = hit.distanceM + BEYOND_M;
    goneM += by;
    for (let k = 0; k < 3; k++) from[k] = (from[k] as number) + by * (way[k] as number);
  }
  return settle(AimState.Nothing, Number.POSITIVE_INFINITY, first);
}

function zoneAim(c: Compiled, { of, reachM }: CrosshairAim, anchor: string): AimFound {
  const { level } = c;
  const row = c.anchorIds.indexOf(anchor);
  if (row < 0 || c.anchorFault[row]) return settle(AimState.Nothing, Number.POSITIVE_INFINITY, -1);
  const [x, y, z] = from;
  const distanceM = alongToZone(c, row, x, y, z, way[0], way[1], way[2], Number.POSITIVE_INFINITY);
  if (!(distanceM <= MOST_M)) return settle(AimState.Nothing, Number.POSITIVE_INFINITY, -1);
  // The thing itself does not stand before its zone.
  const node = c.anchorKind[row] === ON_NODE ? (c.anchorFirst[row] as number) : -1;
  const own = level && node >= 0 ? ownOf(level, of, node) : null;
  const to = (k: 0 | 1 | 2) => from[k] + way[k] * distanceM;
  const blocker = level?.sightline(x, y, z, to(0), to(1), to(2), own) ?? -1;
  const near = distanceM <= reachM;
  return settle(blocker < 0 ? (near ? AimState.Reachable : AimState.Far) : near ? AimState.Blocked : AimState.Nothing, distanceM, blocker);
}

const owns = new WeakMap<object, { level: Level; node: number; own: Uint8Array }>();
function ownOf(level: Level, by: object, node: number): Uint8Array {
  const known = owns.get(by);
  if (known?.level === level && known.node === node) return known.own;
  const own = Uint8Array.from(
    namedNodes(level, {}, () => [node]),
    (at) => (at >= 0 ? 1 : 0),
  );
  owns.set(by, { level, node, own });
  return own;
}

/** What a tool's ray ends at so much before is what the crosshair is on, metres. */
const SAME_M = 0.02;

/**
 * Where the ray of a crosshair's tool stops short of what the view's ray meets, into `f.toolStops` and `f.toolNode`. The tool's own node,
 * where it stands on one, stops nothing. Allocates nothing.
 */
export function findTool(ctx: Pick<SolveContext, 'a' | 'c' | 'f'>, k: number, aim: CrosshairAim): void {
  const { c, f } = ctx;
  const { level } = c;
  f.toolStops[k * 3] = Number.NaN;
  f.toolNode[k] = -1;
  if (!aim.tool || !level) return;
  const start = aim.tool.from;
  let ownNode = -1;
  if (start.by === 'offset') {
    const { rotation } = f;
    for (let i = 0; i < 3; i++)
      tool[i] =
        (f.eye[i] as number) +
        start.rightM * (rotation[i] as number) +
        start.upM * (rotation[3 + i] as number) -
        start.aheadM * (rotation[6 + i] as number);
  } else {
    const row = c.anchorIds.indexOf(start.anchor);
    if (row < 0 || c.anchorFault[row]) return;
    for (let i = 0; i < 3; i++) tool[i] = c.anchorWorld[row * 3 + i] as number;
    if (c.anchorKind[row] === ON_NODE) ownNode = c.anchorFirst[row] as number;
  }
  aimThrough(ctx, c.aims[k] as number);
  const seenM = level.castRay(from, way, MOST_M, hit) ? hit.distanceM : MOST_M;
  for (let i = 0; i < 3; i++) {
    way[i] = from[i as 0] + seenM * way[i as 0] - tool[i as 0];
    from[i] = tool[i as 0];
  }
  const farM = Math.hypot(way[0], way[1], way[2]);
  if (!(farM > SAME_M)) return;
  for (let i = 0; i < 3; i++) way[i as 0] /= farM;
  let goneM = 0;
  for (let passed = 0; passed < MOST_PASSED; passed++) {
    if (!level.castRay(from, way, farM - SAME_M - goneM, hit)) return;
    if (ownNode < 0 || !isBelow(level, hit.node, ownNode)) {
      f.toolNode[k] = hit.node;
      for (let i = 0; i < 3; i++) f.toolStops[k * 3 + i] = from[i as 0] + hit.distanceM * way[i as 0];
      return;
    }
    const by = hit.distanceM + BEYOND_M;
    goneM += by;
    if (farM - SAME_M - goneM <= 0) return;
    for (let i = 0; i < 3; i++) from[i as 0] += by * way[i as 0];
  }
}

/** Whether a node is another, or hangs on it. */
function isBelow({ parentOf }: Level, node: number, top: number): boolean {
  for (let at = node; at >= 0; at = parentOf[at] as number) if (at === top) return true;
  return false;
}

/**
 * What crosshairs are aimed at. Decided on ticks: what is within reach counts at once; any other state gives way after `leaveS`, and
 * nothing gives way at once. Runs after anchors were placed and the head was read; allocates nothing.
 */
export function moveAims(ctx: SolveContext, atOnce: boolean): void {
  const { c, f, m } = ctx;
  for (let k = 0; k < c.aims.length; k++) {
    const row = c.aims[k] as number;
    const { aim } = c.elements[row] as Extract<Element, { kind: 'crosshair' }> & { aim: CrosshairAim };
    f.toolStops[k * 3] = Number.NaN;
    if (!f.hidden[row] && aim.tool) findTool(ctx, k, aim);
    if (f.hidden[row]) {
      // What is not seen in this phase casts no ray.
      m.aimState[k] = AimState.Nothing;
      m.aimS[k] = Number.NaN;
    } else if (f.isTick || atOnce) {
      let { state } = findAim(ctx, row, aim);
      // What the eye could reach, the tool cannot.
      if (state === AimState.Reachable && !Number.isNaN(f.toolStops[k * 3] as number)) state = AimState.Blocked;
      const now = m.aimState[k] as AimState;
      if (state === now) m.aimS[k] = Number.NaN;
      else {
        if (Number.isNaN(m.aimS[k])) m.aimS[k] = f.timeS;
        const waited = f.timeS - (m.aimS[k] as number) >= aim.leaveS - ROUNDING;
        if (atOnce || waited || now === AimState.Nothing || state === AimState.Reachable) {
          m.aimState[k] = state;
          m.aimS[k] = Number.NaN;
        }
      }
    }
    f.aimState[k] = m.aimState[k] as number;
  }
}
