/** How elements come and go: a share of the way, from the time since they came or went alone, so that no frame rate changes it. */
import type { Element, Motion, Movement } from '@foreshore/document/types';
import type { SolveContext } from './solve-context.ts';
import { Verdict } from './steps/names.ts';
import { placeAnyway } from './steps/place.ts';
import { isOnItsWay } from './steps/trail.ts';

const STEPS = 6;

/** The share of the way after a share of the time. `springy` passes its end by about a tenth and comes back; `stepped` goes in six steps. */
export function ease(easing: Movement['easing'], t: number): number {
  if (t <= 0) return 0;
  if (t >= 1) return 1;
  if (easing === 'stepped') return Math.floor(t * STEPS + 1e-9) / STEPS;
  if (easing === 'springy') return 1 - Math.exp(-6 * t) * Math.cos(2 * Math.PI * 0.75 * t) * (1 - t);
  return t * t * (3 - 2 * t);
}

/** The motion of a row: its own, or that of a group that moves its members one after the other. */
function delayOf({ c }: SolveContext, row: number, movement: Movement): number {
  const up = c.parent[row] as number;
  const between = up < 0 ? 0 : (c.elements[up]?.motion?.betweenS ?? 0);
  return movement.delayS + (between > 0 ? between * (c.members[up] as readonly number[]).indexOf(row) : 0);
}

/** How far a motion has come at a time. */
function presenceAt(ctx: SolveContext, k: number, timeS: number): number {
  const { c, m } = ctx;
  const row = c.motions[k] as number;
  const motion = (c.elements[row] as Element).motion as Motion;
  const coming = m.motionIn[k] === 1;
  const movement = coming ? motion.enter : motion.leave;
  const end = coming ? 1 : 0;
  if (!movement) return end;
  const t = (timeS - (m.motionS[k] as number) - delayOf(ctx, row, movement)) / movement.timeS;
  const from = m.motionFrom[k] as number;
  // Exactly there at its end, whatever rounding says.
  if (t >= 1) return end;
  return from + (end - from) * ease(movement.easing, t);
}

/** What a phase, a condition, a reaction or a gate takes away leaves in a motion; what is out of the picture is gone. */
const isTakenAway = (verdict: Verdict): boolean =>
  verdict === Verdict.Phase || verdict === Verdict.Range || verdict === Verdict.Sightline || verdict === Verdict.Claim;

/** What is leaving keeps its place in the world while it goes. */
export function placeLeaving(ctx: SolveContext): void {
  const { c, f, m } = ctx;
  for (let k = 0; k < c.motions.length; k++) {
    const row = c.motions[k] as number;
    if (row >= c.anchoredCount) continue;
    if (isTakenAway(f.failed[row] as number) && (m.motionIn[k] === 1 || (f.presence[k] as number) > 0)) placeAnyway(ctx, row);
  }
}

/** Moves all motions on to the time of the frame: writes `presence` and `leaving`. @param atOnce with empty memory, and while time stands: everything stands as it stays. */
export function moveMotions(ctx: SolveContext, atOnce: boolean): void {
  const { c, f, m } = ctx;
  if (c.motions.length === 0) return;
  f.leaving.fill(0);
  for (let k = 0; k < c.motions.length; k++) {
    const row = c.motions[k] as number;
    const here = f.failed[row] === Verdict.Shown ? 1 : 0;
    if (atOnce) {
      m.motionIn[k] = here;
      m.motionS[k] = Number.NEGATIVE_INFINITY;
      m.motionFrom[k] = here;
    } else if (here !== m.motionIn[k]) {
      m.motionFrom[k] = presenceAt(ctx, k, f.timeS);
      m.motionIn[k] = here;
      m.motionS[k] = f.timeS;
    }
    f.presence[k] = presenceAt(ctx, k, f.timeS);
    if (!here && isTakenAway(f.failed[row] as number) && (f.presence[k] as number) > 0) f.leaving[row] = 1;
  }
  for (let row = 0; row < c.count; row++) {
    const up = c.parent[row] as number;
    if (up >= 0 && f.leaving[up] && !f.hidden[row]) f.leaving[row] = 1;
  }
}

/** How a row is painted while it comes or goes. */
export interface Moved {
  opacity: number;
  /** Of the viewer's pixels onto themselves: x' = a x + c y + e, y' = b x + d y + f. */
  matrix: [a: number, b: number, c: number, d: number, e: number, f: number];
  /** About which edge it unfolds, and how far it has come: on a panel it does so in space. */
  unfolds?: { edge: Movement['edge']; share: number };
}

const about = (x: number, y: number, sx: number, sy: number): Moved['matrix'] => [sx, 0, 0, sy, x * (1 - sx), y * (1 - sy)];

/** @param rect the row's box in the frame. Null where the row stands as it stays. */
export function movedBy(ctx: SolveContext, row: number, [x, y, w, h]: readonly [number, number, number, number]): Moved | null {
  const { c, f, m } = ctx;
  const k = c.motions.indexOf(row);
  if (k < 0) return null;
  const motion = (c.elements[row] as Element).motion as Motion;
  const movement = m.motionIn[k] ? motion.enter : motion.leave;
  const p = f.presence[k] as number;
  if (!movement || p === 1) return null;
  const faint = Math.max(0, Math.min(1, p));
  if (movement.kind === 'fade') return { opacity: faint, matrix: about(0, 0, 1, 1) };
  if (movement.kind === 'grow') return { opacity: faint, matrix: about(x + w / 2, y + h / 2, Math.max(0, p), Math.max(0, p)) };
  const across = movement.edge === 'left' || movement.edge === 'right';
  if (movement.kind === 'unfold') {
    const [edgeX, edgeY] = [movement.edge === 'right' ? x + w : x, movement.edge === 'bottom' ? y + h : y];
    const matrix = across ? about(edgeX, edgeY, Math.max(0, p), 1) : about(edgeX, edgeY, 1, Math.max(0, p));
    return { opacity: 1, matrix, unfolds: { edge: movement.edge, share: p } };
  }
  const away = movement.edge === 'left' || movement.edge === 'top' ? p - 1 : 1 - p;
  return { opacity: faint, matrix: [1, 0, 0, 1, across ? away * w : 0, across ? 0 : away * h] };
}

/** A motion that has begun to move: whose it is, when that was on the clock of the frames, and what it sends. */
export interface Begun {
  row: number;
  beganS: number;
  sends: string;
}

/** Calls back for every motion that has begun to move, its delay over, and sends something; also for those that began long ago. */
export function forBegun(ctx: SolveContext, found: (begun: Begun) => void): void {
  const { c, f, m } = ctx;
  for (let k = 0; k < c.motions.length; k++) {
    const row = c.motions[k] as number;
    const movement = c.elements[row]?.motion?.[m.motionIn[k] === 1 ? 'enter' : 'leave'];
    if (!movement?.sends) continue;
    const beganS = (m.motionS[k] as number) + delayOf(ctx, row, movement);
    if (beganS <= f.timeS && Number.isFinite(beganS)) found({ row, beganS, sends: movement.sends });
  }
}

/** Plays a row's motion of entering from its beginning. */
export function playMotion({ c, f, m }: SolveContext, row: number): void {
  const k = c.motions.indexOf(row);
  if (k < 0 || f.failed[row] !== Verdict.Shown) return;
  m.motionIn[k] = 1;
  m.motionFrom[k] = 0;
  m.motionS[k] = f.timeS;
}

/** Whether the frame would look otherwise a moment later although nothing else happens: something moves, softens, lingers or changes its look. */
export function isUnsettled({ c, f, m }: SolveContext): boolean {
  if (f.edgesTurn) return true;
  for (let k = 0; k < c.aims.length; k++) if (!Number.isNaN(m.aimS[k])) return true;
  for (let k = 0; k < c.motions.length; k++) {
    const movement = (c.elements[c.motions[k] as number] as Element).motion?.[m.motionIn[k] ? 'enter' : 'leave'];
    if (movement && f.presence[k] !== m.motionIn[k]) return true;
  }
  for (let g = 0; g < c.gauges.length; g++)
    if (
      m.gaugeIn[g] &&
      (Math.abs((m.gaugeShown[g] as number) - (m.gaugeTarget[g] as number)) > 1e-3 ||
        (m.gaugeGhost[g] as number) > (m.gaugeShown[g] as number) + 1e-3)
    )
      return true;
  for (let k = 0; k < c.lookers.length; k++) {
    const row = c.lookers[k] as number;
    if (f.timeS - (m.stateS[row] as number) < (c.elements[row]?.pointer?.changeS ?? 0)) return true;
  }
  for (let s = 0; s < c.shows.length; s++) {
    const show = c.elements[c.shows[s] as number]?.show;
    if (show && !f.joined[s] && f.timeS - (m.heldS[s] as number) <= show.lingerS && show.lingerS > 0) return true;
  }
  for (let panel = 0; panel < c.panels.length; panel++) if (isOnItsWay({ c, m }, panel)) return true;
  // A gate that waits to go out, a contest that waits to change hands.
  const { rangeS, gazeS, sightS, contestS } = m.gates;
  for (const since of [rangeS, gazeS, sightS, contestS]) for (let k = 0; k < since.length; k++) if (!Number.isNaN(since[k])) return true;
  // A condition that holds for a while after a change.
  for (let k = 0; k < m.changedS.length; k++) if (m.conditionIn[k] && m.changedS[k] !== Number.NEGATIVE_INFINITY) return true;
  return false;
}
