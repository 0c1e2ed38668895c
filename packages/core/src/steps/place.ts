/** Place: where on the frame does its box lie, and is any of it on the frame? Computed for every view; decided from the head's. */
import { type Arranged, Extent, Setting, SettingFlag } from '../arrange.ts';
import { At } from '../frame.ts';
import type { SolveContext } from '../solve-context.ts';
import { clampSpan } from '../spaces/screen.ts';
import { Verdict } from './names.ts';
import { sizeIn } from './size.ts';

/** How far a span is moved so that it keeps off a middle; 0 where it does already. */
function pushOff(from: number, length: number, middle: number, clear: number): number {
  const up = middle - clear - (from + length);
  const down = middle + clear - from;
  if (up >= 0 || down <= 0) return 0;
  return -up < down ? up : down;
}

/** Writes the box of a floating row as the head sees it, from its size as it stands in the frame; true where any of it lies on the frame. */
export function placeRow({ a, f, head }: SolveContext, i: number): boolean {
  return placeBox(f.places, (head + i) * At.Stride, a, i);
}

/** Writes the box of one row; true where any of it lies on the frame. */
function placeBox(places: Float64Array, at: number, a: Arranged, i: number): boolean {
  const { settings, projection, extents } = a;
  const row = a.settingsOf[i] as number;
  const em = places[at + At.UnitPx] as number;
  const w = (extents[i * Extent.Stride + Extent.W] as number) * em;
  const h = (extents[i * Extent.Stride + Extent.H] as number) * em;
  const x = (places[at + At.PointX] as number) + (settings[row + Setting.OffsetX] as number) - (settings[row + Setting.OwnX] as number) * w;
  const y = (places[at + At.PointY] as number) + (settings[row + Setting.OffsetY] as number) - (settings[row + Setting.OwnY] as number) * h;
  places[at + At.RectX] = x;
  places[at + At.RectY] = y;
  places[at + At.RectW] = w;
  places[at + At.RectH] = h;
  const flags = settings[row + Setting.Flags] as number;
  if (flags !== 0) return moveBox(places, at, a, row, flags);
  return x < projection.widthPx && y < projection.heightPx && x + w > 0 && y + h > 0;
}

/** Moves a box off the middle and into the safe area, where its settings say so; true where any of it lies on the frame. */
function moveBox(places: Float64Array, at: number, { settings, projection, safe }: Arranged, row: number, flags: number): boolean {
  const w = places[at + At.RectW] as number;
  const h = places[at + At.RectH] as number;
  let x = places[at + At.RectX] as number;
  let y = places[at + At.RectY] as number;
  if ((flags & SettingFlag.KeepsClear) !== 0) {
    const clear = settings[row + Setting.ClearPx] as number;
    const byX = pushOff(x, w, projection.centreX, clear);
    const byY = pushOff(y, h, projection.centreY, clear);
    if (byX !== 0 && byY !== 0) {
      if (Math.abs(byX) < Math.abs(byY)) x += byX;
      else y += byY;
    }
  }
  if ((flags & SettingFlag.StaysInside) !== 0) {
    x = clampSpan(x, w, safe.left, safe.right);
    y = clampSpan(y, h, safe.top, safe.bottom);
  }
  places[at + At.RectX] = x;
  places[at + At.RectY] = y;
  return x < projection.widthPx && y < projection.heightPx && x + w > 0 && y + h > 0;
}

export function runPlace(ctx: SolveContext, from: number, to: number): void {
  const { a, c, f, head } = ctx;
  const { unpainted } = c;
  const { failed, viewCount, count, places } = f;
  for (let i = from; i < to; i++) {
    if (failed[i] !== Verdict.Shown) continue;
    if (!placeBox(places, (head + i) * At.Stride, a, i)) {
      failed[i] = Verdict.Place;
      continue;
    }
    if (unpainted[i]) {
      failed[i] = Verdict.Paint;
      continue;
    }
    for (let v = 0; viewCount > 1 && v < viewCount; v++) {
      sizeIn(ctx, i, v * count);
      placeBox(places, (v * count + i) * At.Stride, a, i);
    }
  }
}

/** Places an element that an earlier step refused, in all views, for as long as it is still to be seen. */
export function placeAnyway(ctx: SolveContext, i: number): void {
  const { a, c, f } = ctx;
  // A panel has its place in every frame.
  if ((c.panelOf[i] as number) >= 0) return;
  for (let v = 0; v < (f.viewCount > 1 ? f.viewCount + 1 : 1); v++) {
    sizeIn(ctx, i, v * f.count);
    placeBox(f.places, (v * f.count + i) * At.Stride, a, i);
  }
}
