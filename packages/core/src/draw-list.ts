/** What is to be painted, back to front, in the viewer's own pixels. Painters know nothing of elements or steps. */
import type { Element, Group, Label } from '@foreshore/document';
import { drawGauge } from './draw-gauge.ts';
import { type DrawItem, type LineItem, pushBorder } from './draw-items.ts';
import { type ElementPlace, placeOf } from './frame.ts';
import { lookOf } from './pointer.ts';
import { Verdict } from './steps/names.ts';
import { DIMMED } from './steps/phase.ts';
import type { Work } from './steps/step.ts';

/** A draw list's items are in the space of the screen of one view. */
export interface DrawList {
  space: 'screen';
  widthPx: number;
  heightPx: number;
  items: DrawItem[];
}

/** How opaque an element is painted, groups around it and dimming by the phase included. */
export function opacityOf(work: Pick<Work, 'c' | 'f'>, row: number): number {
  const { c, f } = work;
  const up = c.parent[row] as number;
  const around = up < 0 ? 1 : opacityOf(work, up);
  // What is dimmed with its group is dimmed once.
  const dimmed = f.dimmed[row] && !(up >= 0 && f.dimmed[up]);
  return around * (c.elements[row]?.paint.opacity ?? 1) * (dimmed ? DIMMED : 1) * lookOf(work, row).opacity;
}

/** What is shown, back to front: what floats, the farthest first where the frame has an order, then the glass. A group is painted before its members. */
export function drawList(work: Work, view = 0): DrawList {
  const { a, f, c } = work;
  const items: DrawItem[] = [];
  const emit = (row: number): void => {
    if (f.failed[row] !== Verdict.Shown) return;
    const element = c.elements[row] as Element;
    const own = opacityOf(work, row);
    const place = placeOf(f, row, view);
    // A view may have the anchor behind it although the head has it in front.
    if (Number.isNaN(place.rect[0])) return;
    if (element.kind === 'label') drawLabel(items, work, row, element, place, own);
    else if (element.kind === 'gauge') drawGauge(items, work, row, element, place.rect, unitOf(work, row, view), own);
    else drawPlate(items, work, row, element, place, own);
    if (element.place.leader) drawLeader(items, work, row, element.place.leader, place, own);
    const members = c.members[row] as readonly number[];
    if (element.kind !== 'group' || members.length === 0) return;
    const [x, y, width, height] = place.rect;
    const edge = {
      element: c.ids[row] as string,
      x,
      y,
      width,
      height,
      radius: (element.paint.plate?.radiusPx ?? 0) * unitOf(work, row, view),
    };
    if (element.layout.clip) items.push({ kind: 'clip', ...edge });
    for (const member of members) emit(member);
    if (element.layout.clip) items.push({ kind: 'unclip', element: edge.element });
  };
  for (const row of rootsBackToFront(work)) emit(row);
  return { space: 'screen', widthPx: a.projection.widthPx, heightPx: a.projection.heightPx, items };
}

/** All rows in the order in which they are painted, a group before its members; hidden ones too. */
export function* paintedRows(work: Work): Generator<number> {
  const { members } = work.c;
  function* below(row: number): Generator<number> {
    yield row;
    for (const member of members[row] ?? []) yield* below(member);
  }
  for (const row of rootsBackToFront(work)) yield* below(row);
}

function* rootsBackToFront({ c, f }: Work): Generator<number> {
  if (f.orderCount > 0) for (let k = 0; k < f.orderCount; k++) yield f.order[k] as number;
  else for (let i = 0; i < c.floatingCount; i++) yield i;
  for (let i = c.floatingCount; i < c.count; i++) if ((c.parent[i] as number) < 0) yield i;
}

/** Pixels of the viewer for one of a row's design pixels. */
function unitOf({ c, f, a }: Work, row: number, view: number): number {
  const top = c.root[row] as number;
  return top >= c.floatingCount ? a.fit : placeOf(f, top, view).emPx;
}

const clamp = (v: number, from: number, to: number): number => (v < from ? from : Math.min(v, to));
const ALIGNED = { start: 0, centre: 0.5, end: 1 } as const;

function drawLabel(items: DrawItem[], work: Work, row: number, { paint }: Label, { emPx, rect }: ElementPlace, opacity: number): void {
  const [x, y, width, height] = rect;
  const { a, c } = work;
  const element = c.ids[row] as string;
  const block = a.blocks[row];
  if (!block) return;
  const look = lookOf(work, row);
  const [padX, padY] = paint.plate?.padEm ?? [0, 0];
  if (paint.plate)
    items.push({
      kind: 'plate',
      element,
      x,
      y,
      width,
      height,
      radius: paint.plate.radiusEm * emPx,
      colour: look.plate ?? paint.plate.colour,
      opacity,
    });
  // A box that was stretched has room beside the text.
  const room = Math.max(0, width - (block.widthEm + 2 * padX) * emPx);
  items.push({
    kind: 'text',
    element,
    x: x + padX * emPx + room * ALIGNED[paint.align],
    y: y + padY * emPx + Math.max(0, (height - (block.heightEm + 2 * padY) * emPx) / 2),
    emPx,
    block,
    colour: look.text ?? paint.colour,
    outline: paint.outline && { colour: paint.outline.colour, widthPx: paint.outline.widthEm * emPx },
    opacity,
  });
}

function drawLeader(
  items: DrawItem[],
  { a, c }: Work,
  row: number,
  leader: NonNullable<Label['place']['leader']>,
  place: ElementPlace,
  opacity: number,
): void {
  const [pointX, pointY] = place.point;
  const [x, y, width, height] = place.rect;
  const [toX, toY] = [clamp(pointX, x, x + width), clamp(pointY, y, y + height)];
  if (Math.hypot(toX - pointX, toY - pointY) <= 0.5) return;
  const line: LineItem = {
    kind: 'line',
    element: c.ids[row] as string,
    x1: pointX,
    y1: pointY,
    x2: toX,
    y2: toY,
    widthPx: leader.widthPx * a.fit,
    colour: leader.colour,
    opacity,
  };
  // Under what the element itself has painted.
  const first = items.findIndex((item) => item.element === line.element);
  items.splice(first < 0 ? items.length : first, 0, line);
}

function drawPlate(items: DrawItem[], work: Work, row: number, { paint }: Group, { rect }: ElementPlace, opacity: number): void {
  if (!paint.plate) return;
  const [x, y, width, height] = rect;
  const unit = unitOf(work, row, 0);
  const { colour, radiusPx, border } = paint.plate;
  const element = work.c.ids[row] as string;
  items.push({ kind: 'plate', element, x, y, width, height, radius: radiusPx * unit, colour: lookOf(work, row).plate ?? colour, opacity });
  pushBorder(items, element, rect, radiusPx * unit, border, unit, opacity);
}
