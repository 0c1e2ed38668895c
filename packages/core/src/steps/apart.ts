/**
 * Keeping labels apart: what floats gives way to what goes before it, the HUD, prompts and what stays where it is. A label takes the
 * first free place of its own: where it is, where its settings put it, beside, above or below its anchor, and farther out where a
 * line leads to it. What finds none is hidden.
 *
 * Decided at ticks, in an order: by rank, then those that are shown before those that are not, then the nearest. A place counts as
 * free if nothing that was placed before lies within a margin of it, now and at the next tick, as far as both go on as they do. What
 * was hidden comes back once it has been free for a while; what had to move goes back home after a longer one. First-fit over a grid:
 * each box is compared with those in its own cells alone.
 */
import { isOnHud, KINDS } from '@foreshore/document/kinds';
import { Apart } from '../arrange.ts';
import { EdgeAt } from '../edges.ts';
import { At } from '../frame.ts';
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
const CELL_PX = 96;

/** A box that is asked about or taken in: left, top, right and bottom. Numbers that are handed to a function may be put on the heap. */
const probe = new Float64Array(4);
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

/** Boxes that were placed in this frame, and which lie in each cell of a grid over it. Grows; never shrinks. */
class Grid {
  private boxes = new Float64Array(4 * 256);
  private owners = new Int32Array(256);
  private count = 0;
  private heads = new Int32Array(1);
  private next = new Int32Array(1024);
  private which = new Int32Array(1024);
  private entries = 0;
  private columns = 1;
  private rows = 1;

  clear(width: number, height: number): void {
    this.columns = Math.max(1, Math.ceil(width / CELL_PX));
    this.rows = Math.max(1, Math.ceil(height / CELL_PX));
    const cells = this.columns * this.rows;
    if (this.heads.length < cells) this.heads = new Int32Array(cells);
    this.heads.fill(-1, 0, cells);
    this.count = 0;
    this.entries = 0;
  }

  /** Takes in the box of `probe`. */
  add(owner: number): void {
    const left = probe[0] as number;
    const top = probe[1] as number;
    const right = probe[2] as number;
    const bottom = probe[3] as number;
    if (this.count === this.owners.length) {
      this.boxes = grown(this.boxes, new Float64Array(this.boxes.length * 2));
      this.owners = grown(this.owners, new Int32Array(this.owners.length * 2));
    }
    const k = this.count++;
    this.owners[k] = owner;
    this.boxes[k * 4] = left;
    this.boxes[k * 4 + 1] = top;
    this.boxes[k * 4 + 2] = right;
    this.boxes[k * 4 + 3] = bottom;
    const last = this.column(right);
    const lowest = this.row(bottom);
    for (let j = this.row(top); j <= lowest; j++)
      for (let i = this.column(left); i <= last; i++) {
        if (this.entries === this.next.length) {
          this.next = grown(this.next, new Int32Array(this.next.length * 2));
          this.which = grown(this.which, new Int32Array(this.which.length * 2));
        }
        const cell = j * this.columns + i;
        this.which[this.entries] = k;
        this.next[this.entries] = this.heads[cell] as number;
        this.heads[cell] = this.entries++;
      }
  }

  /** The owner of a box that overlaps the one of `probe`, or −1. */
  meets(): number {
    const { boxes } = this;
    const left = probe[0] as number;
    const top = probe[1] as number;
    const right = probe[2] as number;
    const bottom = probe[3] as number;
    const last = this.column(right);
    const lowest = this.row(bottom);
    for (let j = this.row(top); j <= lowest; j++)
      for (let i = this.column(left); i <= last; i++)
        for (let e = this.heads[j * this.columns + i] as number; e >= 0; e = this.next[e] as number) {
          const at = (this.which[e] as number) * 4;
          if (
            left < (boxes[at + 2] as number) &&
            right > (boxes[at] as number) &&
            top < (boxes[at + 3] as number) &&
            bottom > (boxes[at + 1] as number)
          )
            return this.owners[this.which[e] as number] as number;
        }
    return -1;
  }

  private column(x: number): number {
    return Math.max(0, Math.min(this.columns - 1, Math.floor(x / CELL_PX)));
  }
  private row(y: number): number {
    return Math.max(0, Math.min(this.rows - 1, Math.floor(y / CELL_PX)));
  }
}
const grown = <T extends Float64Array | Int32Array>(from: T, to: T): T => {
  to.set(from);
  return to;
};

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
    if (!element || !KINDS[element.kind].hasBox || (root && isOnHud(root.mount) && root.mount.stretch[0] && root.mount.stretch[1]))
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

/** Rows that keep apart and are shown, those that go first before the others. Nearly in order from frame to frame. */
function inOrder({ c, a, f, m }: SolveContext): number {
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
      continue;
    }
    const depth = f.places[i * At.Stride + At.DepthM] as number;
    const key = -((a.rank[i] as number) * 1e9) - (m.apartIn[i] === 1 ? 1e6 : 0) + Math.min(depth, 9e5);
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
    // What is hidden waits for its place anyway: it is looked for now and then, by a few at each tick.
    if (!isShown && m.apartOut[i] === 1 && !atOnce && (tick + i) % LOOK_TICKS !== 0) {
      hide(ctx, i, m.apartBy[i] as number);
      continue;
    }
    const now = isShown ? (m.apartAt[i] as number) : OWN_PLACE;
    const last = c.elements[i]?.place.leader ? RINGS.length * WAY_COUNT : WAY_COUNT;
    let chosen = -1;
    let by = -1;
    readAbout(ctx, i);
    for (let step = -1; step <= last; step++) {
      // Where it is comes first, then its own place, then those about its anchor.
      const place = step < 0 ? now : step;
      if (step >= 0 && place === now) continue;
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
        chosen = place;
        break;
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
    if (isShown && chosen === now && now !== OWN_PLACE) chosen = homeAgain(ctx, i, now);
    else m.apartFreeS[i] = Number.NaN;
    m.apartIn[i] = 1;
    m.apartOut[i] = 0;
    m.apartAt[i] = chosen;
    take(ctx, i, chosen);
    askPlaced(ctx, i);
    widen(0);
    grid.add(i);
  }
}

/** Home, once it has been free for long; else where it is. */
function homeAgain(ctx: SolveContext, i: number, now: number): number {
  const { f, m } = ctx;
  askPlaced(ctx, i);
  widen(ROOM_PX);
  if (grid.meets() >= 0) {
    m.apartFreeS[i] = Number.NaN;
    return now;
  }
  if (Number.isNaN(m.apartFreeS[i] as number)) m.apartFreeS[i] = f.timeS;
  if (f.timeS - (m.apartFreeS[i] as number) < HOME_S - 1e-9) return now;
  m.apartFreeS[i] = Number.NaN;
  return OWN_PLACE;
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
