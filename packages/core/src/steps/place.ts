/** Place: where on the frame does its box lie, and is any of it on the frame? Decided from what the head sees; the eyes of a headset see it at its depth. */
import { type Arranged, Extent } from '../arrange.ts';
import { EdgeAt } from '../edges.ts';
import { At } from '../frame.ts';
import { Setting, SettingFlag } from '../settings.ts';
import type { SolveContext } from '../solve-context.ts';
import { pixelsPerMetre } from '../spaces/lens.ts';
import { clampSpan } from '../spaces/screen.ts';
import type { EyeView } from '../spaces/sight.ts';
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
export function placeRow({ a, f }: SolveContext, i: number): boolean {
  const at = i * At.Stride;
  const isOn = placeBox(f.places, at, a, i);
  // Where it went to keep apart from others.
  f.places[at + At.RectX] = (f.places[at + At.RectX] as number) + (f.apartX[i] as number);
  f.places[at + At.RectY] = (f.places[at + At.RectY] as number) + (f.apartY[i] as number);
  return isOn;
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
  if (flags !== 0) return moveBox(places, at, a, row, flags, i);
  return x < projection.widthPx && y < projection.heightPx && x + w > 0 && y + h > 0;
}

/** Moves a box off the middle and into the safe area, where its settings say so; true where any of it lies on the frame. */
function moveBox(
  places: Float64Array,
  at: number,
  { settings, projection, safe, edges, edgeOf }: Arranged,
  row: number,
  flags: number,
  i: number,
): boolean {
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
  if ((flags & SettingFlag.InEdge) !== 0) {
    const e = (edgeOf[i] as number) * EdgeAt.Stride;
    x = clampSpan(x, w, edges[e + EdgeAt.Left] as number, edges[e + EdgeAt.Right] as number);
    y = clampSpan(y, h, edges[e + EdgeAt.Top] as number, edges[e + EdgeAt.Bottom] as number);
  }
  places[at + At.RectX] = x;
  places[at + At.RectY] = y;
  return x < projection.widthPx && y < projection.heightPx && x + w > 0 && y + h > 0;
}

/**
 * Writes where the eyes of a headset see the box that the head has placed. It stands square to the head at its anchor's depth, so
 * that both eyes meet there: each sees it moved as its anchor is, and larger as that is nearer.
 */
export function placeForEyes({ a, f }: SolveContext, i: number): void {
  const { places, count, viewCount } = f;
  const from = i * At.Stride;
  for (let v = 1; v < viewCount; v++) {
    const { projection } = a.eyes[v - 1] as EyeView;
    const at = (v * count + i) * At.Stride;
    const scale =
      pixelsPerMetre(projection, places[at + At.DepthM] as number) / pixelsPerMetre(a.projection, places[from + At.DepthM] as number);
    const x = (places[from + At.RectX] as number) - (places[from + At.PointX] as number);
    const y = (places[from + At.RectY] as number) - (places[from + At.PointY] as number);
    places[at + At.UnitPx] = (places[from + At.UnitPx] as number) * scale;
    places[at + At.RectX] = (places[at + At.PointX] as number) + x * scale;
    places[at + At.RectY] = (places[at + At.PointY] as number) + y * scale;
    places[at + At.RectW] = (places[from + At.RectW] as number) * scale;
    places[at + At.RectH] = (places[from + At.RectH] as number) * scale;
  }
}

export function runPlace(ctx: SolveContext, from: number, to: number): void {
  const { a, c, f } = ctx;
  const { unpainted } = c;
  const { failed, places } = f;
  if (a.anyApart) {
    f.apartX.fill(0, from, to);
    f.apartY.fill(0, from, to);
  }
  for (let i = from; i < to; i++) {
    if (failed[i] !== Verdict.Shown) continue;
    if (!placeBox(places, i * At.Stride, a, i)) {
      failed[i] = Verdict.Place;
      continue;
    }
    if (unpainted[i]) {
      failed[i] = Verdict.Paint;
      continue;
    }
    placeForEyes(ctx, i);
  }
}

/** Places an element that an earlier step refused, in all views, for as long as it is still to be seen. */
export function placeAnyway(ctx: SolveContext, i: number): void {
  const { c } = ctx;
  // A panel has its place in every frame.
  if ((c.panelOf[i] as number) >= 0) return;
  sizeIn(ctx, i);
  placeRow(ctx, i);
  placeForEyes(ctx, i);
}
