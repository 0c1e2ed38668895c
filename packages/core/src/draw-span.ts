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

type Dash = readonly [from: number, to: number];

/** Dashes of a length on the screen along a line that is seen so long, as shares of it. @param dashPx null: none, it is whole. */
function screenDashes(dashPx: number | null, longPx: number): Dash[] {
  if (dashPx === null) return [[0, 1]];
  const dash = Math.max(dashPx, (2 * longPx) / MOST_DASHES) / longPx;
  return Array.from({ length: Math.ceil(1 / (2 * dash)) }, (_, k): Dash => [2 * dash * k, Math.min(1, 2 * dash * k + dash)]);
}

/**
 * Dashes of a length in the world, as shares of what is seen of the line on the screen. On the screen a share t of the way in the world is
 * at t·d₂ / (d₁ + t·(d₂ − d₁)) of it, the depths of its ends being d₁ and d₂.
 */
function worldDashes(dashM: number, ends: Float64Array, at: number, orthographic: boolean): Dash[] {
  const [fromM, toM, near, far] = ends.subarray(at + 6, at + 10) as unknown as [number, number, number, number];
  const longM = toM - fromM;
  if (!(longM > 0)) return [[0, 1]];
  const dash = Math.max(dashM, (2 * longM) / MOST_DASHES);
  const onScreen = (metres: number): number => {
    const t = Math.max(0, Math.min(1, (metres - fromM) / longM));
    return orthographic ? t : (t * far) / (near + t * (far - near));
  };
  const out: Dash[] = [];
  for (let k = Math.floor(fromM / (2 * dash)); 2 * dash * k < toM; k++) {
    const [first, last] = [onScreen(2 * dash * k), onScreen(2 * dash * k + dash)];
    if (last > first) out.push([first, last]);
  }
  return out;
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
  const dashes =
    span.dashM === undefined
      ? screenDashes(span.dashPx === null ? null : span.dashPx * fit, long)
      : worldDashes(span.dashM, f.spanEnds, at, a.projection.orthographic);
  // Dashes begin at the first end, whatever of the line is seen through the box.
  for (const [begin, end] of from < to
    ? [
        [0, from],
        [to, 1],
      ]
    : [[0, 1]])
    for (const [first, last] of dashes) {
      const [s, e] = [Math.max(first, begin as number), Math.min(last, end as number)];
      if (e > s) strokes.push([x1 + byX * s, y1 + byY * s, x1 + byX * e, y1 + byY * e]);
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
