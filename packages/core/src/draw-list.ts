/** What is to be painted, back to front, in the viewer's own pixels. Painters know nothing of elements or steps. */
import { placeOf } from './frame.ts';
import { Verdict } from './steps/names.ts';
import type { Work } from './steps/step.ts';
import type { TextBlock } from './text.ts';

export interface PlateItem {
  kind: 'plate';
  element: string;
  x: number;
  y: number;
  width: number;
  height: number;
  radius: number;
  colour: string;
  opacity: number;
}
export interface TextItem {
  kind: 'text';
  element: string;
  /** Top left of the block, pixels. */
  x: number;
  y: number;
  /** Pixels of one em. */
  emPx: number;
  block: TextBlock;
  colour: string;
  outline: { colour: string; widthPx: number } | null;
  opacity: number;
}
export interface LineItem {
  kind: 'line';
  element: string;
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  widthPx: number;
  colour: string;
  opacity: number;
}
export type DrawItem = PlateItem | TextItem | LineItem;

/** A draw list's items are in the space of the screen of one view. */
export interface DrawList {
  space: 'screen';
  widthPx: number;
  heightPx: number;
  items: DrawItem[];
}

const clamp = (v: number, from: number, to: number): number => (v < from ? from : Math.min(v, to));

/** @param rows which elements to draw, back to front; by default those shown, farthest first where the frame has an order. */
export function drawList(work: Work, view = 0, rows?: Iterable<number>): DrawList {
  const { a, f, c } = work;
  const items: DrawItem[] = [];
  for (const i of rows ?? shownRows(work)) {
    const element = c.elements[i];
    const block = a.blocks[i];
    if (!element || !block) continue;
    const { point, emPx, rect } = placeOf(f, i, view);
    const [pointX, pointY] = point;
    const [x, y, width, height] = rect;
    // A view may have the anchor behind it although the head has it in front.
    if (Number.isNaN(x)) continue;
    const { paint, place } = element;
    const id = c.ids[i] as string;
    const { opacity } = paint;
    if (place.leader) {
      const [toX, toY] = [clamp(pointX, x, x + width), clamp(pointY, y, y + height)];
      if (Math.hypot(toX - pointX, toY - pointY) > 0.5)
        items.push({
          kind: 'line',
          element: id,
          x1: pointX,
          y1: pointY,
          x2: toX,
          y2: toY,
          widthPx: place.leader.widthPx * a.fit,
          colour: place.leader.colour,
          opacity,
        });
    }
    const [padX, padY] = paint.plate?.padEm ?? [0, 0];
    if (paint.plate)
      items.push({
        kind: 'plate',
        element: id,
        x,
        y,
        width,
        height,
        radius: paint.plate.radiusEm * emPx,
        colour: paint.plate.colour,
        opacity,
      });
    items.push({
      kind: 'text',
      element: id,
      x: x + padX * emPx,
      y: y + padY * emPx,
      emPx,
      block,
      colour: paint.colour,
      outline: paint.outline && { colour: paint.outline.colour, widthPx: paint.outline.widthEm * emPx },
      opacity,
    });
  }
  return { space: 'screen', widthPx: a.projection.widthPx, heightPx: a.projection.heightPx, items };
}

function* shownRows({ f }: Work): Generator<number> {
  if (f.orderCount > 0) for (let k = 0; k < f.orderCount; k++) yield f.order[k] as number;
  else for (let i = 0; i < f.count; i++) if (f.failed[i] === Verdict.Shown) yield i;
}
