/** Directions as items of the draw list: arcs of a ring, fringes at the sides of a box, or a mark in the middle. */
import { isMark } from '@foreshore/document/kinds';
import type { Direction } from '@foreshore/document/types';
import { type Shown, shownDirections } from './directions.ts';
import type { DrawItem, Rect } from './draw-items.ts';
import type { SolveContext } from './solve-context.ts';
import { PATH_CLOSE, PATH_LINE, PATH_MOVE } from './text.ts';

const RAD = Math.PI / 180;
/** A fringe fades inwards in so many steps, and is made of a point every so many degrees. */
const LAYERS = 12;
const STEP_DEG = 3;
/** So that all layers on top of one another leave a seventh of what is behind. */
const LAYER_OPACITY = 1 - (1 / 7) ** (1 / LAYERS);
/** A mark for above or below: half its width and its height, for the thickness of an arc. */
const MARK_HALF = 0.9;
const MARK_HIGH = 0.7;

export function drawDirection(
  items: DrawItem[],
  ctx: SolveContext,
  row: number,
  element: Direction,
  rect: Rect,
  unit: number,
  opacity: number,
): void {
  const id = ctx.c.ids[row] as string;
  const all = shownDirections(ctx, row);
  for (const shown of isMark(element) ? all.slice(-1) : all)
    DRAW[element.form]({ items, id, element, rect, unit, opacity: opacity * shown.share, shown });
}

const DRAW: Record<Direction['form'], (drawn: Drawn) => void> = {
  arcs: drawArc,
  fringes: drawFringe,
  cross: (drawn) => drawConfirmation(drawn, true),
  ring: (drawn) => drawConfirmation(drawn, false),
};

/** Where the strokes of a cross begin, of its radius: what is in the middle stays free. */
const CROSS_FROM = 0.45;

function drawConfirmation({ items, id, element, rect, unit, opacity }: Drawn, isCross: boolean): void {
  const { sizePx, thickPx, paint } = element;
  const [x, y] = [rect[0] + rect[2] / 2, rect[1] + rect[3] / 2];
  const far = ((sizePx - thickPx) / 2) * unit;
  const stroke = (colour: string, more: number): void => {
    const widthPx = thickPx * unit + 2 * more;
    if (!isCross) {
      items.push({ kind: 'arc', element: id, x, y, radius: far, widthPx, fromRad: 0, toRad: 2 * Math.PI, colour, opacity });
      return;
    }
    for (const [dx, dy] of [
      [1, 1],
      [-1, 1],
      [-1, -1],
      [1, -1],
    ] as const) {
      const [near, end] = [far * CROSS_FROM * Math.SQRT1_2, far * Math.SQRT1_2];
      items.push({
        kind: 'line',
        element: id,
        x1: x + dx * near,
        y1: y + dy * near,
        x2: x + dx * end,
        y2: y + dy * end,
        widthPx,
        colour,
        opacity,
      });
    }
  };
  if (paint.outline) stroke(paint.outline.colour, paint.outline.widthPx * unit);
  stroke(paint.colour, 0);
}

interface Drawn {
  items: DrawItem[];
  id: string;
  element: Direction;
  rect: Rect;
  unit: number;
  opacity: number;
  shown: Shown;
}

/** From where to where it goes round, radians clockwise from the top; all around where it has no bearing. */
function spanOf({ element: { spanDeg }, shown: { aroundDeg } }: Drawn): [number, number] {
  if (Number.isNaN(aroundDeg)) return [0, 2 * Math.PI];
  return [(aroundDeg - spanDeg / 2) * RAD, (aroundDeg + spanDeg / 2) * RAD];
}

function drawArc(drawn: Drawn): void {
  const { items, id, element, rect, unit, opacity, shown } = drawn;
  const { colour, outline } = element.paint;
  const [x, y] = [rect[0] + rect[2] / 2, rect[1] + rect[3] / 2];
  const widthPx = element.thickPx * unit * shown.growth;
  // The outer side of one that happened once is the box's; what grows does so outwards.
  const inner = Math.max(0, (element.sizePx / 2 - element.thickPx) * unit);
  const radius = inner + widthPx / 2;
  const [fromRad, toRad] = spanOf(drawn);
  const arc = { kind: 'arc' as const, element: id, x, y, radius, opacity };
  if (outline) {
    const more = outline.widthPx * unit;
    // The outline is as wide at the ends of the arc as along it.
    const by = toRad - fromRad < 2 * Math.PI ? more / Math.max(radius, 1) : 0;
    items.push({ ...arc, widthPx: widthPx + 2 * more, fromRad: fromRad - by, toRad: toRad + by, colour: outline.colour });
  }
  items.push({ ...arc, widthPx, fromRad, toRad, colour });
  const around = Number.isNaN(shown.aroundDeg) ? 0 : shown.aroundDeg * RAD;
  const out = inner + widthPx + element.thickPx * unit * 1.1;
  drawMark(drawn, x + Math.sin(around) * out, y - Math.cos(around) * out);
}

/** A chevron that points up or down, where what happened is much higher or lower. */
function drawMark({ items, id, element, unit, opacity, shown }: Drawn, x: number, y: number): void {
  if (Math.abs(shown.upDeg) < element.aboveDeg) return;
  const { colour, outline } = element.paint;
  const up = shown.upDeg > 0 ? -1 : 1;
  const thick = element.thickPx * unit;
  const [half, high] = [thick * MARK_HALF, thick * MARK_HIGH];
  const stroke = (widthPx: number, of: string): void => {
    for (const side of [-1, 1])
      items.push({
        kind: 'line',
        element: id,
        x1: x + side * half,
        y1: y - (up * high) / 2,
        x2: x,
        y2: y + (up * high) / 2,
        widthPx,
        colour: of,
        opacity,
      });
  };
  const widthPx = thick * 0.32;
  if (outline) stroke(widthPx + 2 * outline.widthPx * unit, outline.colour);
  stroke(widthPx, colour);
}

/** How far it is from the middle of a box to its side, in a direction clockwise from the top. */
export function sideDistance(width: number, height: number, rad: number): number {
  const [s, c] = [Math.abs(Math.sin(rad)), Math.abs(Math.cos(rad))];
  return Math.min(s > 1e-9 ? width / 2 / s : Number.POSITIVE_INFINITY, c > 1e-9 ? height / 2 / c : Number.POSITIVE_INFINITY);
}

/** From the sides of the box inwards, deepest in its middle, each layer over the ones that reach farther. */
function drawFringe(drawn: Drawn): void {
  const { items, id, element, rect, unit, opacity, shown } = drawn;
  const [left, top, width, height] = rect;
  const [x, y] = [left + width / 2, top + height / 2];
  const [fromRad, toRad] = spanOf(drawn);
  const isAround = Number.isNaN(shown.aroundDeg);
  // Its middle, where it is deepest, is one of the points.
  const steps = 2 * Math.max(2, Math.ceil((toRad - fromRad) / (2 * STEP_DEG * RAD)));
  const deep = element.thickPx * unit * shown.growth;
  const angle = (n: number): number => fromRad + ((toRad - fromRad) * n) / steps;
  const corners = [0, 1, 2, 3].map((k) => Math.atan2(k === 0 || k === 1 ? width : -width, k === 0 || k === 3 ? height : -height));
  // A side's corner lies between two of the points: it is one of its own.
  const angles = [...Array(steps + 1).keys()].map(angle);
  for (const corner of corners)
    for (const turn of [-2 * Math.PI, 0, 2 * Math.PI]) if (corner + turn > fromRad && corner + turn < toRad) angles.push(corner + turn);
  angles.sort((a, b) => a - b);
  // All layers have the outer points in common, and the ways inwards.
  const count = 2 * angles.length;
  const outer = new Float64Array(2 * count);
  const ways = angles.map((rad, n) => {
    const [right, up] = [Math.sin(rad), Math.cos(rad)];
    const far = sideDistance(width, height, rad);
    outer[2 * n] = x + right * far;
    outer[2 * n + 1] = y - up * far;
    const share = isAround ? 1 : Math.cos(((rad - (fromRad + toRad) / 2) / (toRad - fromRad)) * Math.PI) ** 2;
    return { right, up, far, share };
  });
  const ops = new Uint8Array(count + 1).fill(PATH_LINE);
  ops[0] = PATH_MOVE;
  ops[count] = PATH_CLOSE;
  for (let layer = 1; layer <= LAYERS; layer++) {
    const reach = (deep * layer) / LAYERS;
    const coords = outer.slice();
    let at = count;
    for (let n = ways.length - 1; n >= 0; n--) {
      const { right, up, far, share } = ways[n] as (typeof ways)[number];
      const inner = Math.max(0, far - reach * share);
      coords[at++] = x + right * inner;
      coords[at++] = y - up * inner;
    }
    items.push({
      ...{ kind: 'shape', element: id, ops, coords, evenOdd: false },
      ...{ colour: element.paint.colour, opacity: opacity * LAYER_OPACITY },
    });
  }
  const around = isAround ? 0 : shown.aroundDeg * RAD;
  const far = Math.max(0, sideDistance(width, height, around) - deep - element.thickPx * unit * 0.4);
  drawMark(
    { ...drawn, element: { ...element, thickPx: Math.min(element.thickPx, 24) } },
    x + Math.sin(around) * far,
    y - Math.cos(around) * far,
  );
}
