/**
 * Keeping labels apart: what floats gives way to what goes before it, the HUD, prompts and what stays where it is. A label takes the
 * first free place of its own: where it is, where its settings put it, beside, above or below its anchor, and farther out where a
 * line leads to it. What finds none is hidden.
 *
 * Decided at ticks, in an order: by rank, then those that are shown before those that are not, then the nearest. A place counts as
 * free if nothing that was placed before lies within a margin of it, now and at the next tick, as far as both go on as they do. What
 * was hidden comes back once it has been free for a while; what had to move goes back home after a longer one. First-fit over a grid:
 * each box is compared with those in its own cells alone. A frame that stands by itself owes nothing to the one before: there, what
 * would be hidden has others move aside, and where the project is patient, all places are chosen together.
 */
import { isOnHud, KINDS } from '@foreshore/document/kinds';
import { Apart } from '../arrange.ts';
import { ASIDE_DEPTH, Grid, makeRoom, type Places, probe } from '../crowd.ts';
import { EdgeAt } from '../edges.ts';
import { At } from '../frame.ts';
import { choosePatiently } from '../patient.ts';
import { TICK_S } from '../route.ts';
import { screenBox } from '../screen-box.ts';
import type { SolveContext } from '../solve-context.ts';
import { Verdict } from './names.ts';
import { placeForEyes } from './place.ts';

/** So much room is left about a box, pixels: of one that stays, and of one that comes or moves. */
const MARGIN_PX = 1;
const ROOM_PX = 6;
/** So long a place must have been free before a hidden label comes back, and one that moved goes home, seconds. */
const BACK_S = 0.5;
const HOME_S = 2;
/** What has come, or has changed its place, holds that place for so long: where that is taken before, it is hidden rather than moved again. */
const HOLD_S = 2;
/** What is hidden looks for a place at every so many-th tick. */
const LOOK_TICKS = 5;
/** Between an anchor and a box beside it, design pixels of the viewer. */
const GAP_PX = 8;
/** Which way from the anchor the middle of the box is: right, left, above, below, and between. */
const WAYS = [1, 0, -1, 0, 0, -1, 0, 1, 1, -1, -1, -1, 1, 1, -1, 1] as const;
const WAY_COUNT = 8;
/** Rings of places about the anchor: beside it, and farther out, in heights of the box. */
const RINGS = [0, 1.4, 2.8] as const;
export const OWN_PLACE = 0;

/** The box of a row as it is placed. */
function askPlaced({ f }: SolveContext, i: number): void {
  const at = i * At.Stride;
  probe[0] = f.places[at + At.RectX] as number;
  probe[1] = f.places[at + At.RectY] as number;
  probe[2] = (probe[0] as number) + (f.places[at + At.RectW] as number);
  probe[3] = (probe[1] as number) + (f.places[at + At.RectH] as number);
}
/** Longer by the way that it goes until the next tick, and wider by a margin on all sides, whole pixels. */
function widen(margin: number): void {
  const x = goes[0] as number;
  const y = goes[1] as number;
  probe[0] = (probe[0] as number) - margin + Math.min(0, x);
  probe[1] = (probe[1] as number) - margin + Math.min(0, y);
  probe[2] = (probe[2] as number) + margin + Math.max(0, x);
  probe[3] = (probe[3] as number) + margin + Math.max(0, y);
}

/** How far the box at hand goes on until the next tick, pixels. */
const goes = new Float64Array(2);
const grid = new Grid();
let order = new Int32Array(0);
let keys = new Float64Array(0);
/** The anchor, the box's width and height, and the gap between them, pixels; and, asked for, the box's left and top at a place about the anchor. */
const about = new Float64Array(7);
const LEFT = 5;
const TOP = 6;

/** Where a box is at one of its places about the anchor; `place` counts from 1. */
function aboutAnchor(place: number): void {
  const ring = RINGS[Math.floor((place - 1) / WAY_COUNT)] as number;
  const way = ((place - 1) % WAY_COUNT) * 2;
  const w = about[2] as number;
  const h = about[3] as number;
  const gap = about[4] as number;
  about[LEFT] = (about[0] as number) + (WAYS[way] as number) * (w / 2 + gap + ring * h) - w / 2;
  about[TOP] = (about[1] as number) + (WAYS[way + 1] as number) * (h / 2 + gap + ring * h) - h / 2;
}

/** How many places a row has about its anchor. */
const placeCount = ({ c }: SolveContext, i: number): number => (c.elements[i]?.place.leader ? RINGS.length * WAY_COUNT : WAY_COUNT);

/** Takes in where a row's anchor and box are. */
function readAbout({ a, f }: SolveContext, i: number): void {
  const at = i * At.Stride;
  about[0] = f.places[at + At.PointX] as number;
  about[1] = f.places[at + At.PointY] as number;
  about[2] = f.places[at + At.RectW] as number;
  about[3] = f.places[at + At.RectH] as number;
  about[4] = GAP_PX * a.fit;
  // Beside the arrow of what stands at the edge, not over it.
  const edge = a.edgeOf[i] as number;
  if (edge >= 0 && !Number.isNaN(f.edgeRad[edge])) about[4] += a.edges[edge * EdgeAt.Stride + EdgeAt.ArrowPx] as number;
}

/** Moves a box that has its own place to another of its places. */
function moveTo(ctx: SolveContext, i: number, place: number): void {
  const { f } = ctx;
  const at = i * At.Stride;
  readAbout(ctx, i);
  aboutAnchor(place);
  f.apartX[i] = (about[LEFT] as number) - (f.places[at + At.RectX] as number);
  f.apartY[i] = (about[TOP] as number) - (f.places[at + At.RectY] as number);
  f.places[at + At.RectX] = about[LEFT] as number;
  f.places[at + At.RectY] = about[TOP] as number;
}

/** What on the HUD labels make room for: what paints, but for what is stretched over all of the screen. */
function addObstacles(ctx: SolveContext): void {
  const { c, f, a } = ctx;
  for (let i = c.aloneFrom; i < c.count; i++) {
    if (f.failed[i] !== Verdict.Shown) continue;
    const element = c.elements[i];
    const root = c.elements[c.root[i] as number];
    if (!element || !KINDS[element.kind].obstacle || (root && isOnHud(root.mount) && root.mount.stretch[0] && root.mount.stretch[1]))
      continue;
    if (element.kind === 'group' && !element.paint.plate) continue;
    if ((c.panelOf[i] as number) >= 0) {
      const [x, y, w, h] = screenBox(ctx, i);
      if (Number.isNaN(x)) continue;
      probe.set([x, y, x + w, y + h]);
      grid.add(i);
      continue;
    }
    askPlaced(ctx, i);
    grid.add(i);
  }
  for (let i = 0; i < c.floatingCount; i++) {
    if (a.apart[i] !== Apart.Stays || f.failed[i] !== Verdict.Shown) continue;
    askPlaced(ctx, i);
    grid.add(i);
  }
}

/** Where a row stands in the order: by rank, then what is shown already, then the nearest. */
const keyOf = ({ a, f, m }: SolveContext, i: number): number =>
  -((a.rank[i] as number) * 1e9) - (m.apartIn[i] === 1 ? 1e6 : 0) + Math.min(f.places[i * At.Stride + At.DepthM] as number, 9e5);

/** Rows that keep apart and are shown, those that go first before the others. Nearly in order from frame to frame. */
function inOrder(ctx: SolveContext): number {
  const { c, a, f, m } = ctx;
  if (order.length < c.floatingCount) {
    order = new Int32Array(c.floatingCount);
    keys = new Float64Array(c.floatingCount);
  }
  let n = 0;
  for (let i = 0; i < c.floatingCount; i++) {
    if (a.apart[i] !== Apart.Moves) continue;
    if (f.failed[i] !== Verdict.Shown) {
      // Whatever it was, it begins anew.
      m.apartIn[i] = 0;
      m.apartOut[i] = 0;
      m.apartFreeS[i] = Number.NaN;
      m.touchS[i] = Number.NaN;
      continue;
    }
    const key = keyOf(ctx, i);
    let j = n - 1;
    for (; j >= 0 && (keys[j] as number) > key; j--) {
      keys[j + 1] = keys[j] as number;
      order[j + 1] = order[j] as number;
    }
    keys[j + 1] = key;
    order[j + 1] = i;
    n++;
  }
  return n;
}

/** Runs for what floats, after the HUD has been placed. Allocates nothing once warm, but in a headset. */
export function keepApart(ctx: SolveContext, atOnce: boolean): void {
  const { c, a, f, m } = ctx;
  if (!a.anyApart) return;
  const { places } = f;
  f.apartBy.fill(-1, 0, c.floatingCount);
  if (!f.isTick) {
    for (let i = 0; i < c.floatingCount; i++) {
      if (a.apart[i] !== Apart.Moves || f.failed[i] !== Verdict.Shown) continue;
      if (m.apartOut[i] === 1) hide(ctx, i, m.apartBy[i] as number);
      else take(ctx, i, m.apartAt[i] as number);
    }
    return;
  }
  const { widthPx, heightPx } = a.projection;
  grid.clear(widthPx, heightPx);
  addObstacles(ctx);
  const n = inOrder(ctx);
  const tick = Math.round(f.timeS / TICK_S);
  const touchS = c.document.labels?.touchS ?? 0;
  for (let k = 0; k < n; k++) {
    const i = order[k] as number;
    const at = i * At.Stride;
    const pointX = places[at + At.PointX] as number;
    const pointY = places[at + At.PointY] as number;
    const w = places[at + At.RectW] as number;
    const h = places[at + At.RectH] as number;
    // As it goes on until the next tick.
    const since = f.timeS - (m.apartS[i] as number);
    const moves = !atOnce && since > 0 && since < 4 * TICK_S;
    goes[0] = moves ? ((pointX - (m.apartX[i] as number)) / since) * TICK_S : 0;
    goes[1] = moves ? ((pointY - (m.apartY[i] as number)) / since) * TICK_S : 0;
    m.apartX[i] = pointX;
    m.apartY[i] = pointY;
    m.apartS[i] = f.timeS;
    const isShown = m.apartIn[i] === 1;
    const holds = isShown && !atOnce && f.timeS - (m.apartHeldS[i] as number) < HOLD_S - 1e-9;
    // What is hidden waits for its place anyway: it is looked for now and then, by a few at each tick.
    if (!isShown && m.apartOut[i] === 1 && !atOnce && (tick + i) % LOOK_TICKS !== 0) {
      hide(ctx, i, m.apartBy[i] as number);
      continue;
    }
    const now = isShown ? (m.apartAt[i] as number) : OWN_PLACE;
    const last = placeCount(ctx, i);
    let chosen = -1;
    let by = -1;
    readAbout(ctx, i);
    for (let step = -1; step <= last; step++) {
      // Where it is comes first, then its own place, then those about its anchor.
      const place = step < 0 ? now : step;
      if (step >= 0 && place === now) continue;
      if (step >= 0 && holds) break;
      const margin = isShown && step < 0 ? MARGIN_PX : ROOM_PX;
      let left = places[at + At.RectX] as number;
      let top = places[at + At.RectY] as number;
      if (place !== OWN_PLACE) {
        aboutAnchor(place);
        left = about[LEFT] as number;
        top = about[TOP] as number;
        if (!(left >= 0 && top >= 0 && left + w <= widthPx && top + h <= heightPx)) continue;
      }
      probe[0] = left;
      probe[1] = top;
      probe[2] = left + w;
      probe[3] = top + h;
      widen(margin);
      const found = grid.meets();
      if (found < 0) {
        if (step < 0) m.touchS[i] = Number.NaN;
        chosen = place;
        break;
      }
      // What is shown may touch others for a while.
      if (step < 0 && isShown && touchS > 0) {
        if (Number.isNaN(m.touchS[i] as number)) m.touchS[i] = f.timeS;
        if (f.timeS - (m.touchS[i] as number) < touchS - 1e-9) {
          chosen = place;
          break;
        }
        m.touchS[i] = Number.NaN;
      }
      if (by < 0) by = found;
    }
    if (chosen < 0) {
      m.apartIn[i] = 0;
      m.apartOut[i] = 1;
      m.apartFreeS[i] = Number.NaN;
      m.apartBy[i] = by;
      hide(ctx, i, by);
      continue;
    }
    if (!isShown && m.apartOut[i] === 1 && !atOnce) {
      if (Number.isNaN(m.apartFreeS[i] as number)) m.apartFreeS[i] = f.timeS;
      if (f.timeS - (m.apartFreeS[i] as number) < BACK_S - 1e-9) {
        hide(ctx, i, m.apartBy[i] as number);
        continue;
      }
    }
    if (isShown && chosen === now && now !== OWN_PLACE) {
      // Home, once it has been free for long. A function of its own would put numbers on the heap.
      askPlaced(ctx, i);
      widen(ROOM_PX);
      if (grid.meets() >= 0) m.apartFreeS[i] = Number.NaN;
      else if (Number.isNaN(m.apartFreeS[i] as number)) m.apartFreeS[i] = f.timeS;
      else if (f.timeS - (m.apartFreeS[i] as number) >= HOME_S - 1e-9) {
        m.apartFreeS[i] = Number.NaN;
        chosen = OWN_PLACE;
      }
    } else m.apartFreeS[i] = Number.NaN;
    if (!isShown || chosen !== now) m.apartHeldS[i] = f.timeS;
    m.apartIn[i] = 1;
    m.apartOut[i] = 0;
    m.apartAt[i] = chosen;
    take(ctx, i, chosen);
    askPlaced(ctx, i);
    widen(0);
    grid.add(i);
  }
  if (atOnce) makeRoomForHidden(ctx, n);
}

/** The room each keeps about itself then, pixels: as much as `ROOM_PX` between two. */
const ASIDE_PX = ROOM_PX / 2;
/** The rows of the frame at hand, as what makes room for one another. */
class Rows implements Places {
  ctx!: SolveContext;
  at: Uint8Array = new Uint8Array(0);
  /** Whoever looks for a place moves nothing that goes before it. */
  rank = 0;
  count(i: number): number {
    return placeCount(this.ctx, i) + 1;
  }
  ask(i: number, place: number): boolean {
    const { f, a } = this.ctx;
    const at = i * At.Stride;
    const w = f.places[at + At.RectW] as number;
    const h = f.places[at + At.RectH] as number;
    let left = (f.places[at + At.RectX] as number) - (f.apartX[i] as number);
    let top = (f.places[at + At.RectY] as number) - (f.apartY[i] as number);
    if (place !== OWN_PLACE) {
      readAbout(this.ctx, i);
      aboutAnchor(place);
      left = about[LEFT] as number;
      top = about[TOP] as number;
      if (!(left >= 0 && top >= 0 && left + w <= a.projection.widthPx && top + h <= a.projection.heightPx)) return false;
    }
    probe[0] = left - ASIDE_PX;
    probe[1] = top - ASIDE_PX;
    probe[2] = left + w + ASIDE_PX;
    probe[3] = top + h + ASIDE_PX;
    return true;
  }
  mayMove(i: number): boolean {
    const { a, c, m } = this.ctx;
    return i < c.floatingCount && a.apart[i] === Apart.Moves && m.apartIn[i] === 1 && (a.rank[i] as number) <= this.rank;
  }
}
const rows = new Rows();
let before = new Uint8Array(0);

/** Puts a box back to its own place. */
function homeOf({ f }: SolveContext, i: number): void {
  const at = i * At.Stride;
  f.places[at + At.RectX] = (f.places[at + At.RectX] as number) - (f.apartX[i] as number);
  f.places[at + At.RectY] = (f.places[at + At.RectY] as number) - (f.apartY[i] as number);
  f.apartX[i] = 0;
  f.apartY[i] = 0;
}

/** In a frame that stands by itself, what is hidden has others of its rank, or below it, move aside: as much as can be is shown. */
function makeRoomForHidden(ctx: SolveContext, n: number): void {
  const { a, f, m } = ctx;
  rows.ctx = ctx;
  rows.at = m.apartAt;
  if (before.length < m.apartAt.length) before = new Uint8Array(m.apartAt.length);
  before.set(m.apartAt);
  let moved = false;
  for (let k = 0; k < n; k++) {
    const i = order[k] as number;
    if (m.apartIn[i] === 1) continue;
    rows.rank = a.rank[i] as number;
    if (!makeRoom(grid, rows, i, ASIDE_DEPTH)) continue;
    m.apartIn[i] = 1;
    m.apartOut[i] = 0;
    f.failed[i] = Verdict.Shown;
    f.apartBy[i] = -1;
    before[i] = OWN_PLACE;
    moved = true;
  }
  if (a.patient && anyHidden(ctx, n)) moved = choosePlaces(ctx, n);
  if (!moved) return;
  for (let k = 0; k < n; k++) {
    const i = order[k] as number;
    if (m.apartIn[i] !== 1) {
      homeOf(ctx, i);
      rows.ask(i, OWN_PLACE);
      const by = grid.meets();
      if (by >= 0) m.apartBy[i] = by;
      f.apartBy[i] = m.apartBy[i] as number;
      continue;
    }
    if (m.apartAt[i] === before[i]) continue;
    homeOf(ctx, i);
    if (m.apartAt[i] === OWN_PLACE) placeForEyes(ctx, i);
    else take(ctx, i, m.apartAt[i] as number);
  }
}

const anyHidden = ({ m }: SolveContext, n: number): boolean => {
  for (let k = 0; k < n; k++) if (m.apartIn[order[k] as number] !== 1) return true;
  return false;
};

/** Exchanges of a patient search: some tens of milliseconds at most. */
const PATIENT_STEPS = 30_000;

/** Chooses the places of all anew, patiently, those of a higher rank first; the others keep off these. Allocates. */
function choosePlaces(ctx: SolveContext, n: number): true {
  const { a, f, m } = ctx;
  grid.clear(a.projection.widthPx, a.projection.heightPx);
  addObstacles(ctx);
  for (let from = 0; from < n; ) {
    const rank = a.rank[order[from] as number];
    let to = from;
    while (to < n && a.rank[order[to] as number] === rank) to++;
    const boxes: number[] = [];
    const owner: number[] = [];
    const placeOf: number[] = [];
    for (let k = from; k < to; k++) {
      const i = order[k] as number;
      for (let place = 0; place < rows.count(i); place++) {
        if (!rows.ask(i, place) || grid.meets() >= 0) continue;
        boxes.push(...probe);
        owner.push(k - from);
        placeOf.push(place);
      }
    }
    const chosen = choosePatiently(Float64Array.from(boxes), Int32Array.from(owner), to - from, PATIENT_STEPS);
    for (let k = from; k < to; k++) {
      const i = order[k] as number;
      const c = chosen[k - from] as number;
      // Whoever was hidden has not moved from its own place.
      if (m.apartIn[i] !== 1) before[i] = OWN_PLACE;
      m.apartIn[i] = c < 0 ? 0 : 1;
      m.apartOut[i] = c < 0 ? 1 : 0;
      f.failed[i] = c < 0 ? Verdict.Place : Verdict.Shown;
      f.apartBy[i] = -1;
      if (c < 0) continue;
      m.apartAt[i] = placeOf[c] as number;
      rows.ask(i, placeOf[c] as number);
      grid.add(i);
    }
    from = to;
  }
  return true;
}

function hide({ f }: SolveContext, i: number, by: number): void {
  f.failed[i] = Verdict.Place;
  f.apartBy[i] = by;
}

function take(ctx: SolveContext, i: number, place: number): void {
  if (place === OWN_PLACE) return;
  moveTo(ctx, i, place);
  placeForEyes(ctx, i);
}

type Rect = [number, number, number, number];
/** What keeping apart saw for one row: each of its places with what has it, by the row's id; null: it is free. */
export interface PlacesSeen {
  /** What has one of its places, as it lies. */
  obstacles: { row: string; rect: Rect }[];
  /** `beyond`: it would not lie wholly in the frame. */
  candidates: { rect: Rect; takenBy: string | null; beyond: boolean; chosen: boolean }[];
}

/**
 * The places of a row in the frame as it is, and what has each: the HUD, what stays, or another that keeps apart. For whoever asks why;
 * null for what does not keep apart. Allocates.
 */
export function placesSeen(ctx: SolveContext, i: number): PlacesSeen | null {
  const { a, c, f, m } = ctx;
  if (i >= c.floatingCount || a.apart[i] !== Apart.Moves || Number.isNaN(f.places[i * At.Stride + At.PointX] as number)) return null;
  const { widthPx, heightPx } = a.projection;
  const rectNow = (row: number): Rect => screenBox(ctx, row);
  grid.clear(widthPx, heightPx);
  addObstacles(ctx);
  for (let j = 0; j < c.floatingCount; j++) {
    if (j === i || a.apart[j] !== Apart.Moves || f.failed[j] !== Verdict.Shown) continue;
    askPlaced(ctx, j);
    grid.add(j);
  }
  const [left, top, width, height] = rectNow(i);
  const [homeX, homeY] = [left - (f.apartX[i] as number), top - (f.apartY[i] as number)];
  const shown = f.failed[i] === Verdict.Shown;
  readAbout(ctx, i);
  const candidates: PlacesSeen['candidates'] = [];
  const takers = new Set<number>();
  for (let place = OWN_PLACE; place <= placeCount(ctx, i); place++) {
    if (place !== OWN_PLACE) aboutAnchor(place);
    const [x, y] = place === OWN_PLACE ? [homeX, homeY] : [about[LEFT] as number, about[TOP] as number];
    probe.set([x, y, x + width, y + height]);
    const beyond = place !== OWN_PLACE && !(x >= 0 && y >= 0 && x + width <= widthPx && y + height <= heightPx);
    const by = grid.meets();
    if (by >= 0) takers.add(by);
    const chosen = shown && m.apartAt[i] === place;
    candidates.push({ rect: [x, y, width, height], takenBy: by < 0 ? null : (c.ids[by] as string), beyond, chosen });
  }
  return { obstacles: [...takers].map((row) => ({ row: c.ids[row] as string, rect: rectNow(row) })), candidates };
}
