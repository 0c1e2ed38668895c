/** Place: where on the frame does its box lie, and is any of it on the frame? Computed for every view; decided from the head's. */
import { Row } from '../arrange.ts';
import { formatPixels } from '../format.ts';
import { At, placeOf } from '../frame.ts';
import type { Projection } from '../spaces/lens.ts';
import { type Box, clampSpan } from '../spaces/screen.ts';
import { Verdict } from './names.ts';
import { sizeIn } from './size.ts';
import type { Outcome, Step, Work } from './step.ts';

/** How far a span is moved so that it keeps off a middle; 0 where it does already. */
function pushOff(from: number, length: number, middle: number, clear: number): number {
  const up = middle - clear - (from + length);
  const down = middle + clear - from;
  if (up >= 0 || down <= 0) return 0;
  return -up < down ? up : down;
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
  if (rows[row + Row.Inside]) {
    x = clampSpan(x, w, safe.left, safe.right);
    y = clampSpan(y, h, safe.top, safe.bottom);
  }
  places[at + At.RectX] = x;
  places[at + At.RectY] = y;
  places[at + At.RectW] = w;
  places[at + At.RectH] = h;
  return x < width && y < height && x + w > 0 && y + h > 0;
}

function run(work: Work, from: number, to: number): void {
  const { a, c, f, head } = work;
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
      sizeIn(work, i, v * count);
      placeBox(places, (v * count + i) * At.Stride, rows, i * Row.Stride, safe, projection);
    }
  }
}

/** Places an element that an earlier step refused, in all views, for as long as it is still to be seen. */
export function placeAnyway(work: Work, i: number): void {
  const { a, f } = work;
  for (let v = 0; v < (f.viewCount > 1 ? f.viewCount + 1 : 1); v++) {
    sizeIn(work, i, v * f.count);
    placeBox(f.places, (v * f.count + i) * At.Stride, a.rows, i * Row.Stride, a.safe, a.projection);
  }
}

function explain({ a, c, f, head }: Work, i: number): Outcome {
  const { widthPx, heightPx } = a.projection;
  // Boxes of the glass and of members are in the frame whether they are shown or not; a floating one is worked out for the asking.
  if (i < c.floatingCount) placeBox(f.places, (head + i) * At.Stride, a.rows, i * Row.Stride, a.safe, a.projection);
  const [x, y, w, h] = placeOf(f, i, f.viewCount).rect;
  if (Number.isNaN(x)) return { passes: false, says: 'has no place behind the viewer' };
  const box = `${formatPixels(w)} x ${formatPixels(h)} px`;
  const out = !(x < widthPx && y < heightPx && x + w > 0 && y + h > 0);
  if (out) return { passes: c.parent[i] !== -1, says: `${box}, wholly outside the frame` };
  const missing = a.blocks[i]?.missing ?? [];
  if (missing.length > 0) return { passes: true, says: `${box}, no font has ${missing.map((letter) => `"${letter}"`).join(', ')}` };
  const over = a.overflow[i] as number;
  if (over > 0) return { passes: true, says: `${box}, its text needs ${formatPixels(over * (a.fits[i] as number))} px more than its room` };
  if (a.blocks[i]?.cut) return { passes: true, says: `${box}, its text is cut` };
  const cut = Math.max(-x, -y, x + w - widthPx, y + h - heightPx);
  return { passes: true, says: cut > 0.5 ? `${box}, ${formatPixels(cut)} px cut off` : `${box}, whole` };
}

export const place: Step = { name: 'place', applies: () => true, run, explain };
