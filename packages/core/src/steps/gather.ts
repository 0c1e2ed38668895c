/**
 * Many of one kind: only the nearest are shown, and those that are seen close to one another become one that stands for all of them.
 *
 * Decided at ticks, after each has been placed and before labels keep apart, so that what is not shown takes nobody's place. In the
 * order in which others join them, heads come first that were heads before, then by rank, then the nearest; each that is left joins the
 * first head within reach. So a head stays one while it is shown, whatever comes nearer. To join and to part one must have been so
 * close, or so far, for a while; what has only just come into view joins at once.
 */
import { layOutDirty } from '../arrange.ts';
import { At, Gathered } from '../frame.ts';
import type { SolveContext } from '../solve-context.ts';
import { awayM, sayCount, takeForm } from './form.ts';
import { Verdict } from './names.ts';
import { placeForEyes, placeRow } from './place.ts';

/** One of the nearest stays so until another is nearer by this share. */
const STAYS_SHARE = 0.1;
/** What is merged parts where it is farther from its head than it would join it by this share. */
const PARTS_SHARE = 0.25;
/** So long it must have been close, or far, seconds. */
const SETTLE_S = 0.5;

let order = new Int32Array(0);
let keys = new Float64Array(0);
let heads = new Int32Array(0);

/** Puts rows of a crowd into `order`, the smallest key first. @param key NaN: it does not take part. */
function sorted(rows: readonly number[], key: (i: number) => number): number {
  if (order.length < rows.length) {
    order = new Int32Array(rows.length);
    keys = new Float64Array(rows.length);
    heads = new Int32Array(rows.length);
  }
  let n = 0;
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k] as number;
    const own = key(i);
    if (Number.isNaN(own)) continue;
    let j = n - 1;
    for (; j >= 0 && (keys[j] as number) > own; j--) {
      keys[j + 1] = keys[j] as number;
      order[j + 1] = order[j] as number;
    }
    keys[j + 1] = own;
    order[j + 1] = i;
    n++;
  }
  return n;
}

/** Runs for what floats, after all of it has its place. */
export function gather(ctx: SolveContext, atOnce: boolean): void {
  const { a, c, f, m } = ctx;
  for (let k = 0; k < c.crowds.length; k++) {
    const { rows, many } = c.crowds[k] as SolveContext['c']['crowds'][number];
    if (f.isTick) {
      if (many.most) keepNearest(ctx, rows, many.most.count, many.most.among === 'all');
      if (many.mergePx !== undefined) merge(ctx, rows, many.mergePx, atOnce);
    }
    for (let r = 0; r < rows.length; r++) {
      const i = rows[r] as number;
      f.gathered[i] = m.gathered[i] as number;
      f.standsFor[i] = m.standsFor[i] as number;
      if (f.failed[i] !== Verdict.Shown) continue;
      if (m.gathered[i] !== Gathered.No) f.failed[i] = Verdict.Place;
      else if (a.standsFor[i] !== f.standsFor[i]) {
        sayCount(a, i, f.standsFor[i] as number);
        layOutDirty(a);
        placeAgain(ctx, i);
      }
    }
  }
  for (let k = 0; k < c.formed.length; k++) {
    const i = c.formed[k] as number;
    if (f.failed[i] === Verdict.Shown && takeForm(ctx, k)) placeAgain(ctx, i);
  }
}

/** Its box has another size by now. */
function placeAgain(ctx: SolveContext, i: number): void {
  if (placeRow(ctx, i)) placeForEyes(ctx, i);
  else ctx.f.failed[i] = Verdict.Place;
}

function keepNearest(ctx: SolveContext, rows: readonly number[], most: number, ofAll: boolean): void {
  const { f, m, c } = ctx;
  const n = sorted(rows, (i) =>
    c.lost[i] || (!ofAll && f.failed[i] !== Verdict.Shown)
      ? Number.NaN
      : awayM(ctx, i) * (m.gathered[i] === Gathered.Beyond ? 1 : 1 - STAYS_SHARE),
  );
  for (let r = 0; r < rows.length; r++) {
    const i = rows[r] as number;
    if (m.gathered[i] === Gathered.Beyond) m.gathered[i] = Gathered.No;
  }
  for (let k = most; k < n; k++) m.gathered[order[k] as number] = Gathered.Beyond;
}

function merge(ctx: SolveContext, rows: readonly number[], mergePx: number, atOnce: boolean): void {
  const { a, f, m } = ctx;
  const isIn = (i: number): boolean => f.failed[i] === Verdict.Shown && m.gathered[i] !== Gathered.Beyond;
  for (let r = 0; r < rows.length; r++) {
    const i = rows[r] as number;
    if (isIn(i)) continue;
    m.crowdIn[i] = 0;
    m.mergedInto[i] = -1;
    m.mergeS[i] = Number.NaN;
    m.standsFor[i] = 1;
    if (m.gathered[i] === Gathered.Merged) m.gathered[i] = Gathered.No;
  }
  const n = sorted(rows, (i) =>
    isIn(i)
      ? -((a.rank[i] as number) * 1e9) -
        ((m.standsFor[i] as number) > 1 ? 1e6 : 0) +
        Math.min(f.places[i * At.Stride + At.DepthM] as number, 9e5)
      : Number.NaN,
  );
  let headCount = 0;
  for (let k = 0; k < n; k++) {
    const i = order[k] as number;
    const reach = mergePx * (a.fits[i] as number);
    const was = m.mergedInto[i] as number;
    let near = -1;
    let stays = false;
    // Whoever it was merged into may be a head no more: then it finds another at once.
    let lost = was >= 0;
    for (let h = 0; h < headCount; h++) {
      const head = heads[h] as number;
      const gap = between(ctx, i, head);
      if (head === was) {
        lost = false;
        stays = gap <= reach * (1 + PARTS_SHARE);
      } else if (near < 0 && gap <= reach) near = head;
    }
    let into = stays ? was : near;
    // What has only just come in joins without having stood there first.
    const fresh = atOnce || m.crowdIn[i] === 0;
    m.crowdIn[i] = 1;
    if (into !== was && !lost && !fresh) {
      if (Number.isNaN(m.mergeS[i] as number)) m.mergeS[i] = f.timeS;
      if (f.timeS - (m.mergeS[i] as number) < SETTLE_S - 1e-9) into = was;
      else m.mergeS[i] = Number.NaN;
    } else m.mergeS[i] = Number.NaN;
    m.mergedInto[i] = into;
    if (into < 0) heads[headCount++] = i;
  }
  for (let k = 0; k < n; k++) m.standsFor[order[k] as number] = 1;
  for (let k = 0; k < n; k++) {
    const i = order[k] as number;
    const into = m.mergedInto[i] as number;
    m.gathered[i] = into < 0 ? Gathered.No : Gathered.Merged;
    if (into >= 0) m.standsFor[into] = (m.standsFor[into] as number) + 1;
  }
}

/** Pixels between the anchors of two rows, as they are seen. */
function between({ f: { places } }: SolveContext, i: number, j: number): number {
  return Math.hypot(
    (places[i * At.Stride + At.PointX] as number) - (places[j * At.Stride + At.PointX] as number),
    (places[i * At.Stride + At.PointY] as number) - (places[j * At.Stride + At.PointY] as number),
  );
}
