/** One frame. */

import { placeAnchors, placeEvents } from './anchors.ts';
import { type Arranged, refresh } from './arrange.ts';
import type { Compiled } from './compiled.ts';
import { moveAims } from './crosshair-aim.ts';
import { type DepthSorter, makeDepthSorter, sortFarthestFirst } from './depth-order.ts';
import { moveDirections } from './directions.ts';
import { type Frame, makeFrame } from './frame.ts';
import { moveGauges } from './gauges.ts';
import { countsOf, Memory } from './memory.ts';
import { moveMotions, placeLeaving } from './motions.ts';
import { orderPanels } from './panel-order.ts';
import { movePointerStates } from './pointer.ts';
import { TICK_S } from './route.ts';
import { takeScreenLengths } from './screen-length.ts';
import type { SolveContext } from './solve-context.ts';
import type { Pose } from './spaces/pose.ts';
import type { EyeView } from './spaces/sight.ts';
import { steadyAnchors } from './steady.ts';
import { keepApart } from './steps/apart.ts';
import { aimCamera, type Camera, makeCamera, projectAnchors, runAttach } from './steps/attach.ts';
import { runEdges } from './steps/edge.ts';
import { decideDetail, runForms } from './steps/form.ts';
import { isTickDue } from './steps/gate.ts';
import { decideRangeAndGaze, decideSightAndClaim } from './steps/gates.ts';
import { gather } from './steps/gather.ts';
import { placeMembers } from './steps/members.ts';
import { Verdict } from './steps/names.ts';
import { keepUnits, placePanels, placeStanding, runPanels } from './steps/panel.ts';
import { decidePhases } from './steps/phase.ts';
import { runPlace } from './steps/place.ts';
import { runRange } from './steps/range.ts';
import { runSize } from './steps/size.ts';
import { snapAtRest } from './steps/snap.ts';
import { runSpans } from './steps/span.ts';
import { runView } from './steps/view.ts';
import { initialValues, type Values, valuesFor } from './values.ts';

export interface Inputs {
  /** Since the start of the route or of the session; the step is `timeS − memory.timeS`. */
  timeS: number;
  /** The viewer's head. Decisions are taken from here. */
  head: Pose;
  /** Fill `frame.order`. */
  depthOrder: boolean;
  /** In the order of `Compiled.feedIds`; without them, feeds have their initial values. */
  values?: Values;
  /** The state of the game, or null. */
  phase?: string | null;
  /** The acting element that has the pointer, by its id, and the one being pressed. */
  pointed?: string | null;
  pressed?: string | null;
  /**
   * Time stands: the frame is solved from empty memory, so that it depends on these inputs alone. Nothing waits for a dwell,
   * lingers or softens, and nothing has changed lately; what is left there is as if one had come here just now.
   */
  stands?: boolean;
  /** The prompt whose key is being pressed, by its row, and how much of the press is done, 0..1. */
  pressing?: { row: string; share: number } | null;
  /** What reactions have shown or hidden, by element. */
  forced?: Readonly<Record<string, 'shown' | 'hidden'>>;
  /** How far what is inside of groups is scrolled, design pixels, by the group's row; kept within what there is to scroll. */
  scrolled?: Readonly<Record<string, number>>;
}
/** Inputs of one document's rows for those of another, see `valuesFor`. */
export const inputsFor = (inputs: Inputs, from: Compiled, c: Compiled): Inputs =>
  inputs.values ? { ...inputs, values: valuesFor(c, from, inputs.values) } : inputs;

const NOTHING: Readonly<Record<string, never>> = {};

/** What one viewer needs from frame to frame. */
export interface Solver extends SolveContext {
  readonly sorter: DepthSorter;
  /** The head's, and one for each eye of a headset. */
  readonly cameras: readonly Camera[];
}

/** A solver with empty memory, or with what is remembered elsewhere. */
export function makeSolver(arranged: Arranged, memory: Memory = new Memory(countsOf(arranged.compiled))): Solver {
  const viewCount = 1 + arranged.eyes.length;
  const f = makeFrame(countsOf(arranged.compiled), viewCount);
  f.values = initialValues(arranged.compiled);
  const cameras = Array.from({ length: viewCount }, () => makeCamera(arranged.projection));
  return { c: arranged.compiled, a: arranged, f, m: memory, sorter: makeDepthSorter(f.count), cameras };
}

/** Elements go through all steps in blocks of this many, so that a block's rows are still in the cache at the next step. */
const BLOCK = 64;

/**
 * Solves a frame into the solver's own arrays, which change at the next call. The level must have been placed
 * (`level.poses`) for the same time. Allocates nothing.
 */
export function solve(solver: Solver, inputs: Inputs): Frame {
  const { f, m, c, cameras } = solver;
  if (inputs.stands) m.clear();
  f.timeS = inputs.timeS;
  f.solved++;
  takeValues(solver, inputs);
  f.isTick = isTickDue(m, inputs);
  decidePhases(solver);
  moveGauges(solver);
  movePointerStates(solver);
  placeAnchors(c);
  placeEvents(c, f.values);
  if (c.steadied.length > 0) steadyAnchors(solver);
  aimCameras(solver, inputs);
  const atOnce = Number.isNaN(m.timeS);
  if (c.aims.length > 0) moveAims(solver, atOnce);
  const gated = c.gated.length > 0;
  f.edgesTurn = false;
  if (gated && f.isTick) decideRangeAndGaze(solver, atOnce);
  if (c.formed.length > 0 && f.isTick) decideDetail(solver);
  let form = 0;
  if (c.panels.length > 0) placePanels(solver, cameras, atOnce);
  for (let from = 0; from < c.floatingCount; from += BLOCK) {
    const to = Math.min(from + BLOCK, c.floatingCount);
    for (let v = 0; v < cameras.length; v++) projectAnchors(solver, cameras[v] as Camera, v * f.count, from, to);
    runAttach(solver, from, to);
    if (gated) runRange(solver, from, to);
    if (c.edged.length > 0) runEdges(solver, cameras, from, to, atOnce);
    if (c.spans.length > 0) runSpans(solver, cameras, from, to);
    if (c.formed.length > 0) form = runForms(solver, form, to);
    runView(solver, from, to);
    runSize(solver, from, to);
    if (!gated) runPlace(solver, from, to);
  }
  if (c.anchoredCount > c.floatingCount) {
    for (let v = 0; v < cameras.length; v++) projectAnchors(solver, cameras[v] as Camera, v * f.count, c.floatingCount, c.anchoredCount);
    keepUnits(solver);
    runAttach(solver, c.floatingCount, c.anchoredCount);
    if (gated) runRange(solver, c.floatingCount, c.anchoredCount);
    runPanels(solver);
  }
  if (gated) {
    decideSightAndClaim(solver, atOnce);
    runPlace(solver, 0, c.floatingCount);
  }
  if (c.crowds.length > 0) gather(solver, atOnce);
  placeStanding(solver);
  placeLeaving(solver);
  // What floats makes room for the HUD, and takes its members along.
  placeMembers(solver, c.aloneFrom, c.count);
  keepApart(solver, atOnce);
  // The eyes of a headset do not rest.
  if (c.document.labels?.snap && cameras.length === 1) snapAtRest(solver, atOnce);
  placeMembers(solver, c.anchoredCount, c.aloneFrom);
  if (c.directions.length > 0) moveDirections(solver);
  moveMotions(solver, atOnce);
  f.orderCount = 0;
  if (inputs.depthOrder) putInOrder(solver);
  keepHead(solver, inputs);
  m.timeS = inputs.timeS;
  return f;
}

/** Where the head is, and was before time went on: for how fast things move past it. */
function keepHead({ f, m }: Solver, { timeS }: Inputs): void {
  // A step that is no longer than rounding says nothing of speed.
  if (timeS - m.timeS > 1e-6) {
    m.wasEye.set(m.eye);
    m.wasRotation.set(m.rotation);
    m.wasS = timeS - m.timeS;
  }
  m.eye.set(f.eye);
  m.rotation.set(f.rotation);
}

/** Longer than this and what lay between is not gone through. */
export const MOST_TICKS = 90;

/**
 * Goes on to a time by way of all ticks between, so that decisions fall at the same ticks whatever the rate of frames.
 * @param inputsAt of a time; it also places the level for it.
 */
export function solveTo(solver: Solver, timeS: number, inputsAt: (timeS: number) => Inputs): Frame {
  const last = solver.m.timeS;
  if (timeS > last) {
    const until = Math.ceil(timeS / TICK_S - 1e-6);
    for (let tick = Math.max(Math.floor(last / TICK_S + 1e-6) + 1, until - MOST_TICKS); tick < until; tick++)
      solve(solver, inputsAt(tick * TICK_S));
  }
  return solve(solver, inputsAt(timeS));
}

/** Texts and layouts that depend on a value are made anew where it has changed since this arrangement last saw it. */
function takeValues(solver: Solver, inputs: Inputs): void {
  const { a, c, f } = solver;
  if (inputs.values) for (let k = 0; k < inputs.values.length; k++) f.values[k] = inputs.values[k];
  takeScreenLengths(solver, inputs.head);
  f.phase = inputs.phase ?? null;
  f.pointedRow = inputs.pointed ? c.ids.indexOf(inputs.pointed) : -1;
  f.pressedRow = inputs.pressed ? c.ids.indexOf(inputs.pressed) : -1;
  f.pressRow = inputs.pressing ? c.ids.indexOf(inputs.pressing.row) : -1;
  f.pressShare = inputs.pressing?.share ?? 0;
  f.forced = inputs.forced ?? NOTHING;
  refresh(a, f.values);
  const { scrolled } = inputs;
  for (let k = 0; k < a.scrolling.length; k++) {
    const row = a.scrolling[k] as number;
    f.scrolled[row] = Math.max(0, Math.min(a.tree.surplus[row] as number, scrolled?.[c.ids[row] as string] ?? 0));
  }
}

/** The first camera is the head's; eyes look where it does, from beside it. */
function aimCameras({ a, f, cameras }: Solver, inputs: Inputs): void {
  const head = cameras[0] as Camera;
  aimCamera(head, a.projection, inputs.head);
  f.eye.set(head.eye);
  for (let v = 1; v < cameras.length; v++) {
    const camera = cameras[v] as Camera;
    const eye = a.eyes[v - 1] as EyeView;
    camera.rotation.set(head.rotation);
    camera.projection = eye.projection;
    for (let k = 0; k < 3; k++) {
      camera.eye[k] = (head.eye[k] as number) + eye.rightM * (head.rotation[k] as number);
      f.eyes[v * 3 + k] = camera.eye[k] as number;
    }
  }
  f.rotation.set(head.rotation);
  for (let k = 0; k < 3; k++) f.forward[k] = -(head.rotation[6 + k] as number);
  f.rays = 0;
}

function putInOrder(solver: Solver): void {
  const { c, f, sorter } = solver;
  let shown = 0;
  for (let i = 0; i < c.anchoredCount; i++) if (f.failed[i] === Verdict.Shown || f.leaving[i]) f.order[shown++] = i;
  for (let p = 0; p < c.panels.length; p++) {
    const i = c.panels[p] as number;
    if (i >= c.anchoredCount && (f.failed[i] === Verdict.Shown || f.leaving[i])) f.order[shown++] = i;
  }
  f.orderCount = shown;
  sortFarthestFirst(f.order, shown, f.places, sorter);
  orderPanels(solver);
}
