/** What is on the glass, trails the viewer, or is inside of groups: boxes that were laid out beforehand are brought to their place in the frame. */
import { At, mapAt } from '../frame.ts';
import type { SolveContext } from '../solve-context.ts';
import { shareInFrame } from '../spaces/panel.ts';
import { verdictOfGate } from './gate.ts';
import { Verdict } from './names.ts';
import { isAboutFrame, isSeenFrom } from './panel.ts';

/** Runs for rows that do not float over an anchor of their own, after all that do. A group comes before its members. */
export function placeMembers(ctx: SolveContext, first: number, end: number): void {
  const { c, a, f, m } = ctx;
  const { parent, root, anchoredCount, panelOf, scrollAxis, clipper, members, unpainted } = c;
  const { failed, hidden, places, viewCount, count } = f;
  const { absent, boxes, ems, fits } = a;
  const { shift, scrolled } = f;
  // What floats by itself is never scrolled; roots of the glass neither.
  for (let i = first; i < end; i++) {
    const up = parent[i] as number;
    const top = root[i] as number;
    const panel = panelOf[i] as number;
    const onGlass = top >= anchoredCount && panel < 0;
    const fit = fits[top] as number;
    m.viewIn[i] = 0;
    if (up >= 0) {
      const along = scrollAxis[up] as number;
      shift[i * 2] = (shift[up * 2] as number) - (along === 0 ? (scrolled[up] as number) : 0);
      shift[i * 2 + 1] = (shift[up * 2 + 1] as number) - (along === 1 ? (scrolled[up] as number) : 0);
    }
    for (let v = 0; v < viewCount; v++) {
      const at = (v * count + i) * At.Stride;
      const from = (v * count + top) * At.Stride;
      const unit = onGlass ? fit : panel >= 0 ? 1 : (places[from + At.UnitPx] as number);
      const box = i * 4;
      const own = onGlass && up < 0;
      const originX = onGlass ? (own ? 0 : (boxes[top * 4] as number) * fit) : (places[from + At.RectX] as number);
      const originY = onGlass ? (own ? 0 : (boxes[top * 4 + 1] as number) * fit) : (places[from + At.RectY] as number);
      places[at + At.RectX] = originX + ((boxes[box] as number) + (shift[i * 2] as number)) * unit;
      places[at + At.RectY] = originY + ((boxes[box + 1] as number) + (shift[i * 2 + 1] as number)) * unit;
      places[at + At.RectW] = (boxes[box + 2] as number) * unit;
      places[at + At.RectH] = (boxes[box + 3] as number) * unit;
      places[at + At.UnitPx] = (ems[i] as number) * unit;
      if (top === i && panel >= 0) continue;
      if (onGlass) {
        places[at + At.PointX] = (a.pins[i * 2] as number) * fit;
        places[at + At.PointY] = (a.pins[i * 2 + 1] as number) * fit;
        places[at + At.DepthM] = 0;
      } else {
        places[at + At.PointX] = places[from + At.PointX] as number;
        places[at + At.PointY] = places[from + At.PointY] as number;
        places[at + At.DepthM] = places[from + At.DepthM] as number;
      }
    }
    if (up >= 0 && failed[up] !== Verdict.Shown) failed[i] = failed[up] as number;
    else if (hidden[i] || absent[i]) failed[i] = Verdict.Phase;
    else if ((c.gateOfRow[i] as number) >= 0 && verdictOfGate(ctx, c.gateOfRow[i] as number) !== Verdict.Shown)
      failed[i] = verdictOfGate(ctx, c.gateOfRow[i] as number);
    else if (panel >= 0 && up < 0 && !isTrailing(ctx, panel)) failed[i] = Verdict.View;
    else if (panel >= 0 && up < 0 && isBlocked(ctx, i, panel)) failed[i] = Verdict.Sightline;
    else if ((up < 0 || (members[i] as readonly number[]).length === 0) && !isRowOnFrame(ctx, i)) failed[i] = Verdict.Place;
    else if ((clipper[i] as number) >= 0 && clippingRow(ctx, i) >= 0) failed[i] = Verdict.Place;
    else failed[i] = unpainted[i] ? Verdict.Paint : Verdict.Shown;
  }
}

/** Whether a panel that trails is to be seen: from its front, and free or let through by the level. */
const isTrailing = (ctx: SolveContext, panel: number): boolean => isSeenFrom(ctx, panel) && isAboutFrame(ctx, panel);

/** Whether the level hides a panel that trails; one that is to be dimmed is marked so. */
function isBlocked({ c, f, m }: SolveContext, i: number, panel: number): boolean {
  const mount = c.elements[i]?.mount;
  if (mount?.kind !== 'trailing' || m.trailShare[panel] === 1) return false;
  if (mount.blocked === 'dim') f.dimmed[i] = 1;
  return mount.blocked === 'hide';
}

/** Whether any of a row's box lies on the frame, by its place in it. */
export function isRowOnFrame(ctx: SolveContext, row: number): boolean {
  const { c, f, a } = ctx;
  const at = row * At.Stride;
  const panel = c.panelOf[row] as number;
  if (panel < 0) return isOnFrame(f.places, at, a.projection.widthPx, a.projection.heightPx);
  if ((f.panelShare[panel] as number) === 1) return true;
  return shareInFrame(f.maps, mapAt(f, panel), f.places, at + At.RectX, a.projection) > 0;
}

/**
 * The row of the group that cuts all of a row away: of those around it that clip, the innermost whose box leaves nothing of what
 * the ones further in have left; −1 where something is left.
 */
export function clippingRow({ c, f }: Pick<SolveContext, 'c' | 'f'>, row: number): number {
  const { places } = f;
  const { clipper } = c;
  let by = clipper[row] as number;
  if (by < 0) return -1;
  const at = row * At.Stride;
  let left = places[at + At.RectX] as number;
  let top = places[at + At.RectY] as number;
  let right = left + (places[at + At.RectW] as number);
  let bottom = top + (places[at + At.RectH] as number);
  const isEmpty = right <= left || bottom <= top;
  for (; by >= 0; by = clipper[by] as number) {
    const box = by * At.Stride;
    const x = places[box + At.RectX] as number;
    const y = places[box + At.RectY] as number;
    left = Math.max(left, x);
    top = Math.max(top, y);
    right = Math.min(right, x + (places[box + At.RectW] as number));
    bottom = Math.min(bottom, y + (places[box + At.RectH] as number));
    // What has no extent is cut away where it lies outside.
    if (left > right || top > bottom || (!isEmpty && (left === right || top === bottom))) return by;
  }
  return -1;
}

/** Whether any of a box lies on the frame. What is painted beyond its parent may be, though the parent is not. */
export const isOnFrame = (places: Float64Array, at: number, widthPx: number, heightPx: number): boolean =>
  (places[at + At.RectX] as number) < widthPx &&
  (places[at + At.RectY] as number) < heightPx &&
  (places[at + At.RectX] as number) + (places[at + At.RectW] as number) > 0 &&
  (places[at + At.RectY] as number) + (places[at + At.RectH] as number) > 0;
