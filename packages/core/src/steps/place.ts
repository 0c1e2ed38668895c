/** Place: where on the frame does its box lie, and is any of it on the frame? Computed for every view; decided from the head's. */
import { Row, RowFlag } from '../arrange.ts';
import { At } from '../frame.ts';
import type { SolveContext } from '../solve-context.ts';
import type { Projection } from '../spaces/lens.ts';
import { type Box, clampSpan } from '../spaces/screen.ts';
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
  return placeBox(f.places, (head + i) * At.Stride, a.rows, i * Row.Stride, a.safe, a.projection);
}

/** Writes the box of one row; true where any of it lies on the frame. */
function placeBox(places: Float64Array, at: number, rows: Float64Array, row: number, safe: Box, projection: Projection): boolean {
  const width = projection.widthPx;
  const height = projection.heightPx;
  const em = places[at + At.EmPx] as number;
  const w = (rows[row + Row.BoxWEm] as number) * em;
  const h = (rows[row + Row.BoxHEm] as number) * em;
  let x = (places[at + At.PointX] as number) + (rows[row + Row.OffsetX] as number) - (rows[row + Row.OwnXEm] as number) * em;
  let y = (places[at + At.PointY] as number) + (rows[row + Row.OffsetY] as number) - (rows[row + Row.OwnYEm] as number) * em;
  const clear = rows[row + Row.ClearPx] as number;
  if (clear > 0) {
    const byX = pushOff(x, w, projection.centreX, clear);
    const byY = pushOff(y, h, projection.centreY, clear);
    if (byX !== 0 && byY !== 0) {
      if (Math.abs(byX) < Math.abs(byY)) x += byX;
      else y += byY;
    }
  }
  if (((rows[row + Row.Flags] as number) & RowFlag.StaysInside) !== 0) {
    x = clampSpan(x, w, safe.left, safe.right);
    y = clampSpan(y, h, safe.top, safe.bottom);
  }
  places[at + At.RectX] = x;
  places[at + At.RectY] = y;
  places[at + At.RectW] = w;
  places[at + At.RectH] = h;
  return x < width && y < height && x + w > 0 && y + h > 0;
}

export function runPlace(ctx: SolveContext, from: number, to: number): void {
  const { a, c, f, head } = ctx;
  const { unpainted } = c;
  const { failed, viewCount, count, places } = f;
  const { rows, safe, projection } = a;
  for (let i = from; i < to; i++) {
    if (failed[i] !== Verdict.Shown) continue;
    if (!placeBox(places, (head + i) * At.Stride, rows, i * Row.Stride, safe, projection)) {
      failed[i] = Verdict.Place;
      continue;
    }
    if (unpainted[i]) {
      failed[i] = Verdict.Paint;
      continue;
    }
    for (let v = 0; viewCount > 1 && v < viewCount; v++) {
      sizeIn(ctx, i, v * count);
      placeBox(places, (v * count + i) * At.Stride, rows, i * Row.Stride, safe, projection);
    }
  }
}

/** Places an element that an earlier step refused, in all views, for as long as it is still to be seen. */
export function placeAnyway(ctx: SolveContext, i: number): void {
  const { a, f } = ctx;
  for (let v = 0; v < (f.viewCount > 1 ? f.viewCount + 1 : 1); v++) {
    sizeIn(ctx, i, v * f.count);
    placeBox(f.places, (v * f.count + i) * At.Stride, a.rows, i * Row.Stride, a.safe, a.projection);
  }
}
