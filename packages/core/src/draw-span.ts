/** A measure line: dashes of constant length on the screen, strokes across its own ends, open where its box lies. */
import type { Element } from '@foreshore/document/types';
import type { DrawItem, LineItem } from './draw-items.ts';
import { type ElementPlace, SPAN_STRIDE } from './frame.ts';
import type { SolveContext } from './solve-context.ts';

type Span = NonNullable<Element['place']['span']>;

/** Room between the line and the box on it, and by how much its outline is wider, design pixels. */
const ROOM_PX = 4;
const OUTLINE_PX = 1.5;
/** More dashes than that nobody counts. */
const MOST_DASHES = 2000;

/** The stretch of the way, 0..1, that lies in a box; none where the second is not greater. */
function inBox(x: number, y: number, byX: number, byY: number, [left, top, w, h]: ElementPlace['rect'], room: number): [number, number] {
  let [from, to] = [0, 1];
  for (const [start, by, least, most] of [
    [x, byX, left - room, left + w + room],
    [y, byY, top - room, top + h + room],
  ] as const) {
    if (by === 0) {
      if (start < least || start > most) return [1, 0];
      continue;
    }
    from = Math.max(from, Math.min((least - start) / by, (most - start) / by));
    to = Math.min(to, Math.max((least - start) / by, (most - start) / by));
  }
  return [from, to];
}

export function drawSpan(
  items: DrawItem[],
  { a, c, f }: SolveContext,
  row: number,
  span: Span,
  place: ElementPlace,
  view: number,
  opacity: number,
): void {
  const at = (view * c.spans.length + c.spans.indexOf(row)) * SPAN_STRIDE;
  const [x1, y1, x2, y2] = [f.spanEnds[at], f.spanEnds[at + 1], f.spanEnds[at + 2], f.spanEnds[at + 3]] as [number, number, number, number];
  if (Number.isNaN(x1)) return;
  const fit = a.fits[row] as number;
  const [byX, byY] = [x2 - x1, y2 - y1];
  const long = Math.hypot(byX, byY);
  if (long < 1) return;
  const [from, to] = inBox(x1, y1, byX, byY, place.rect, ROOM_PX * fit);
  const strokes: [number, number, number, number][] = [];
  const dash = span.dashPx === null ? Number.POSITIVE_INFINITY : Math.max(span.dashPx * fit, (2 * long) / MOST_DASHES);
  // Dashes begin at the first end, whatever of the line is seen through the box.
  for (const [begin, end] of from < to
    ? [
        [0, from],
        [to, 1],
      ]
    : [[0, 1]]) {
    const [first, last] = [(begin as number) * long, (end as number) * long];
    for (let k = Number.isFinite(dash) ? Math.floor(first / (2 * dash)) : 0; ; k++) {
      const s = Number.isFinite(dash) ? Math.max(first, 2 * dash * k) : first;
      const e = Number.isFinite(dash) ? Math.min(last, 2 * dash * k + dash) : last;
      if (s >= last) break;
      if (e > s) strokes.push([x1 + (byX * s) / long, y1 + (byY * s) / long, x1 + (byX * e) / long, y1 + (byY * e) / long]);
      if (!Number.isFinite(dash)) break;
    }
  }
  const cap = (span.capPx * fit) / 2;
  const [nx, ny] = [(-byY / long) * cap, (byX / long) * cap];
  if (cap > 0 && f.spanEnds[at + 4] === 1) strokes.push([x1 - nx, y1 - ny, x1 + nx, y1 + ny]);
  if (cap > 0 && f.spanEnds[at + 5] === 1) strokes.push([x2 - nx, y2 - ny, x2 + nx, y2 + ny]);
  const lines = (colour: string, widthPx: number): void => {
    for (const [ax, ay, bx, by] of strokes) {
      const line: LineItem = { kind: 'line', element: c.ids[row] as string, x1: ax, y1: ay, x2: bx, y2: by, widthPx, colour, opacity };
      items.push(line);
    }
  };
  if (span.outline) lines(span.outline, (span.widthPx + 2 * OUTLINE_PX) * fit);
  lines(span.colour, span.widthPx * fit);
}
