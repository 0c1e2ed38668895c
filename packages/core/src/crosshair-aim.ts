/** What crosshairs are aimed at, and how long they look so. */
import type { CrosshairAim, Element } from '@foreshore/document/types';
import { meantNodes, type NodesMeant, namedNodes } from './aim.ts';
import { aimThrough, BEYOND_M, MOST_M, MOST_PASSED } from './aim-ray.ts';
import { type Compiled, ON_NODE } from './compiled.ts';
import { findTool } from './crosshair-tool.ts';
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

/** Times are sums of steps; a tick is not missed for their rounding. */
const ROUNDING = 1e-6;

const hit = makeHit();
const from: Vec3 = [0, 0, 0];
const way: Vec3 = [0, 0, 0];

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

/** The head must have been read and anchors and level placed for the moment. Allocates nothing; the result is overwritten by the next call. */
export function findAim(ctx: Pick<SolveContext, 'a' | 'c' | 'f'>, row: number, aim: CrosshairAim): AimFound {
  const { c } = ctx;
  const { level } = c;
  aimThrough(ctx, row, from, way);
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
