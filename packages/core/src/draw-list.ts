/** What is to be painted, back to front, in the viewer's own pixels. Painters know nothing of elements or steps. */
import type { ElementKind, ElementOf } from '@foreshore/document/kinds';
import type { Element, Group, Label } from '@foreshore/document/types';
import type { Compiled } from './compiled.ts';
import { drawSlider, drawToggle } from './draw-control.ts';
import { drawCrosshair } from './draw-crosshair.ts';
import { drawDirection } from './draw-direction.ts';
import { drawEdgeArrow } from './draw-edge.ts';
import { drawGauge } from './draw-gauge.ts';
import { type DrawItem, type LineItem, type PushItem, pushBorder, type Rect } from './draw-items.ts';
import { drawKey } from './draw-key.ts';
import { layOnPanel } from './draw-panel.ts';
import { drawPage, drawPicture, PLAIN, pushPicture } from './draw-picture.ts';
import { type DrawnRay, drawRays } from './draw-ray.ts';
import { drawSpan } from './draw-span.ts';
import { At, type ElementPlace, placeOf } from './frame.ts';
import { movedBy } from './motions.ts';
import { cutPanels, type LaidPanel } from './panel-cuts.ts';
import { styleOf, turnDegOf, turningPoint } from './pointer.ts';
import { reachOf } from './reach.ts';
import { showsThrough } from './screen-box.ts';
import type { SolveContext } from './solve-context.ts';
import { Verdict } from './steps/names.ts';
import { DIMMED } from './steps/phase.ts';

/** A draw list's items are in the space of the screen of one view. */
export interface DrawList {
  space: 'screen';
  widthPx: number;
  heightPx: number;
  items: DrawItem[];
}

/** How opaque an element is painted, groups around it and dimming by the phase included. */
export function opacityOf(ctx: Pick<SolveContext, 'c' | 'f' | 'm'>, row: number): number {
  const { c, f } = ctx;
  const up = c.parent[row] as number;
  const around = up < 0 ? 1 : opacityOf(ctx, up);
  // What is dimmed with its group is dimmed once.
  const dimmed = f.dimmed[row] && !(up >= 0 && f.dimmed[up]);
  return around * (c.elements[row]?.paint.opacity ?? 1) * (dimmed ? DIMMED : 1) * styleOf(ctx, row).opacity;
}

/** Whether a row is painted: it is shown, or on its way out. */
export const isSeen = ({ f }: Pick<SolveContext, 'f'>, row: number): boolean => f.failed[row] === Verdict.Shown || f.leaving[row] === 1;

/**
 * What is shown, back to front: paint over the level, what floats, the farthest first where the frame has an order, then the
 * glass. A group is painted before its members.
 * @param rays of hands, of aiming, of the head.
 * @param pointer where the pointer is, in pixels of the viewer, where the document has a picture for it.
 */
export function drawList(
  ctx: SolveContext,
  view = 0,
  pointer: readonly [number, number] | null = null,
  rays: readonly DrawnRay[] = [],
): DrawList {
  const { a, f, c } = ctx;
  const laid: LaidPanel[] = [];
  const drawn = drawWith(ctx, view, pointer, rays, (list, items, row, panel) => {
    const from = list.length;
    const through = showsThrough(c.elements[row] as Element);
    layOnPanel(list, items, f, c.ids[row] as string, panel, view, a.projection.nearM, through);
    // One that unfolds is not in its plane yet.
    const unfolds = items.some((item) => item.kind === 'push' && item.fold !== undefined);
    if (list.length > from && !through && !unfolds) laid.push({ panel, from, to: list.length });
  });
  return { ...drawn, items: cutPanels(ctx, view, drawn.items, laid) };
}

/** What lies on one panel, in the panel's own design pixels from its top left: for whoever draws it on a textured quad of the world. */
export interface PanelDrawing {
  /** The row of the panel. */
  row: number;
  /** Its number among the panels: `frame.panels` says where it stands. */
  panel: number;
  items: DrawItem[];
  /** Before which item of the rest it comes. */
  before: number;
}

/** The panels that are shown, each drawn by itself; and all else, as `drawList` has it, without them. */
export function drawPanelsApart(ctx: SolveContext, view = 0): { rest: DrawList; panels: PanelDrawing[] } {
  const panels: PanelDrawing[] = [];
  const rest = drawWith(ctx, view, null, [], (list, items, row, panel) => {
    panels.push({ row, panel, items, before: list.length });
  });
  return { rest, panels };
}

function drawWith(
  ctx: SolveContext,
  view: number,
  pointer: readonly [number, number] | null,
  rays: readonly DrawnRay[],
  onPanel: (list: DrawItem[], items: DrawItem[], row: number, panel: number) => void,
): DrawList {
  const { a, f, c } = ctx;
  const list: DrawItem[] = [];
  // What is drawn on a panel is gathered first, and then brought to the view.
  let items = list;
  const beginPanel = (): void => {
    items = [];
  };
  const endPanel = (row: number, panel: number): void => {
    onPanel(list, items, row, panel);
    items = list;
  };
  drawScreenPaint(items, ctx);
  const emit = (row: number, around: number): void => {
    if (!isSeen(ctx, row)) return;
    const element = c.elements[row] as Element;
    const place = placeOf(f, row, view);
    // A view may have the anchor behind it although the head has it in front.
    if (Number.isNaN(place.rect[0])) return;
    const panel = (c.parent[row] as number) < 0 ? (c.panelOf[row] as number) : -1;
    if (panel >= 0) beginPanel();
    const id = c.ids[row] as string;
    const moved = movedBy(ctx, row, place.rect);
    const own = opacityOf(ctx, row) * around * (moved?.opacity ?? 1);
    if (moved) {
      const fold = moved.unfolds && (c.panelOf[row] as number) >= 0 ? { fold: { box: place.rect, ...moved.unfolds } } : {};
      items.push({ kind: 'push', element: id, matrix: moved.matrix, ...fold });
    }
    if (element.place.leader && panel < 0) drawLeader(items, ctx, row, element.place.leader, place, own);
    if (element.place.span && panel < 0) drawSpan(items, ctx, row, element.place.span, place, view, own);
    if (element.place.edge?.arrow) drawEdgeArrow(items, ctx, row, element.place.edge.arrow, place, own);
    const turned = turnDegOf(ctx, row) !== 0;
    if (turned) items.push({ kind: 'push', element: id, matrix: turnOf(ctx, element, row, view) });
    const unit = element.kind === 'group' ? unitOf(ctx, row, view) : place.emPx;
    DRAW[element.kind]({ items, ctx, row, id, place, unit, opacity: own }, element as never);
    if (element.kind === 'group')
      drawInside(items, ctx, row, element, place.rect, view, (member) => emit(member, around * (moved?.opacity ?? 1)));
    if (turned) items.push({ kind: 'pop', element: id });
    if (moved) items.push({ kind: 'pop', element: id });
    if (panel >= 0) endPanel(row, panel);
  };
  for (const row of rootsBackToFront(ctx)) emit(row, 1);
  if (rays.length > 0) drawRays(items, ctx, rays, reachOf(c.document));
  if (pointer) drawCursor(items, ctx, pointer);
  return { space: 'screen', widthPx: a.projection.widthPx, heightPx: a.projection.heightPx, items };
}

function turnOf({ f }: SolveContext, element: Element, row: number, view: number): PushItem['matrix'] {
  const angle = ((element.turnDeg ?? 0) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [x, y] = turningPoint(element, f.places, (view * f.count + row) * At.Stride);
  return [cos, sin, -sin, cos, x - cos * x + sin * y, y - sin * x - cos * y];
}

/** What drawing one element needs besides it. */
interface Own {
  items: DrawItem[];
  ctx: SolveContext;
  row: number;
  id: string;
  place: ElementPlace;
  /** Pixels of the viewer for one of the element's own design pixels. */
  unit: number;
  opacity: number;
}

/** What is drawn of an element itself; an instance has given way to its template, and screen paint is drawn before all else. */
const DRAW: { [K in ElementKind]: (own: Own, element: ElementOf<K>) => void } = {
  label: ({ items, ctx, row, place, opacity }, label) => drawLabel(items, ctx, row, label, place, opacity),
  group: ({ items, ctx, row, place, opacity }, group) => drawPlate(items, ctx, row, group, place, opacity),
  gauge: ({ items, ctx, row, place, unit, opacity }, gauge) => drawGauge(items, ctx, row, gauge, place.rect, unit, opacity),
  picture: ({ items, ctx, row, id, place, unit, opacity }, picture) => {
    const style = styleOf(ctx, row);
    const tint = style.tint ?? style.text ?? picture.paint.tint;
    const styled = { ...picture, paint: { ...picture.paint, tint, saturation: style.saturation ?? picture.paint.saturation } };
    drawPicture(items, id, styled, ctx.c.document.pictures?.[picture.picture ?? ''], place.rect, unit, opacity);
  },
  page: ({ items, ctx, id, place, unit, opacity }, page) =>
    drawPage(items, id, page, ctx.c.document.pictures?.[page.page ?? ''], place.rect, unit, opacity),
  toggle: ({ items, ctx, row, place, unit, opacity }, toggle) =>
    drawToggle(items, ctx, row, toggle, place.rect, unit, opacity, styleOf(ctx, row)),
  slider: ({ items, ctx, row, place, unit, opacity }, slider) =>
    drawSlider(items, ctx, row, slider, place.rect, unit, opacity, styleOf(ctx, row)),
  key: ({ items, ctx, row, place, unit, opacity }, key) => drawKey(items, ctx, row, key, ctx.a.device, place.rect, unit, opacity),
  crosshair: ({ items, ctx, row, place, unit, opacity }, crosshair) => drawCrosshair(items, ctx, row, crosshair, place.rect, unit, opacity),
  direction: ({ items, ctx, row, place, unit, opacity }, direction) => drawDirection(items, ctx, row, direction, place.rect, unit, opacity),
  screenPaint: () => {},
  instance: () => {},
};

/** Members, clipped where the group clips, and the thumb where there is something to scroll. */
function drawInside(
  items: DrawItem[],
  ctx: SolveContext,
  row: number,
  { layout, paint }: Group,
  rect: Rect,
  view: number,
  emit: (member: number) => void,
): void {
  const { c, f, a } = ctx;
  const members = c.members[row] as readonly number[];
  if (members.length === 0) return;
  const [x, y, width, height] = rect;
  const unit = unitOf(ctx, row, view);
  const element = c.ids[row] as string;
  const clips = layout.clip || layout.scroll !== undefined;
  if (clips) items.push({ kind: 'clip', element, x, y, width, height, radius: (paint.plate?.radiusPx ?? 0) * unit });
  for (const member of members) emit(member);
  const surplus = a.tree.surplus[row] as number;
  if (layout.scroll && surplus > 0) {
    const across = layout.direction === 'row';
    const length = across ? width : height;
    const content = length + surplus * unit;
    const thick = layout.scroll.thumbPx * unit;
    const [at, long] = [((f.scrolled[row] as number) * unit * length) / content, (length * length) / content];
    const thumb: Rect = across ? [x + at, y + height - thick, long, thick] : [x + width - thick, y + at, thick, long];
    items.push({
      kind: 'plate',
      element,
      x: thumb[0],
      y: thumb[1],
      width: thumb[2],
      height: thumb[3],
      radius: thick / 2,
      colour: layout.scroll.thumb,
      opacity: opacityOf(ctx, row),
    });
  }
  if (clips) items.push({ kind: 'unclip', element });
}

/** Under everything else: it belongs to the picture of the level. */
function drawScreenPaint(items: DrawItem[], ctx: SolveContext): void {
  const { c, f } = ctx;
  for (let g = 0; g < c.gauges.length; g++) {
    const row = c.gauges[g] as number;
    const element = c.elements[row];
    if (element?.kind !== 'screenPaint' || f.failed[row] !== Verdict.Shown) continue;
    const amount = (f.gaugeShare[g] as number) * opacityOf(ctx, row);
    if (amount > 0.001)
      items.push({ kind: 'screen', element: c.ids[row] as string, effect: element.effect, amount, colour: element.colour });
  }
}

/** The picture that stands for the pointer, its hot spot exactly there. */
function drawCursor(items: DrawItem[], { c, a, f }: SolveContext, [x, y]: readonly [number, number]): void {
  const { cursor, pictures = {} } = c.document;
  if (!cursor) return;
  const file = pictures[(f.pointedRow >= 0 ? cursor.overActing : null) ?? cursor.picture];
  if (!file) return;
  const side = cursor.sizePx * a.fit;
  const scale = side / Math.max(file.widthPx, file.heightPx);
  const [w, h] = [file.widthPx * scale, file.heightPx * scale];
  pushPicture(items, 'cursor', file, [x - cursor.hotSpot[0] * w, y - cursor.hotSpot[1] * h, w, h], PLAIN);
}

/** All rows in the order in which they are painted, a group before its members; hidden ones too. */
export function paintedRows(ctx: SolveContext): readonly number[] {
  const { c, f } = ctx;
  const ordered = f.orderCount > 0;
  const known = ordered ? byDepth.get(f.order) : undefined;
  if (known?.solved === f.solved) return known.rows;
  const always = ordered ? undefined : unordered.get(c);
  if (always) return always;
  const out: number[] = [];
  const below = (row: number): void => {
    out.push(row);
    for (const member of c.members[row] ?? []) below(member);
  };
  for (const row of rootsBackToFront(ctx)) below(row);
  if (ordered) byDepth.set(f.order, { solved: f.solved, rows: out });
  else unordered.set(c, out);
  return out;
}
// Every row of a frame is measured against all that are painted; both eyes see what the head's order says.
const byDepth = new WeakMap<Uint32Array, { solved: number; rows: readonly number[] }>();
// Without an order of depth the rows are painted in the same order in every frame.
const unordered = new WeakMap<Compiled, readonly number[]>();

function* rootsBackToFront({ c, f }: SolveContext): Generator<number> {
  if (f.orderCount > 0) for (let k = 0; k < f.orderCount; k++) yield f.order[k] as number;
  else for (let i = 0; i < c.anchoredCount; i++) yield i;
  // Without an order, panels that trail come after all that stands.
  for (let i = c.anchoredCount; i < c.count; i++)
    if ((c.parent[i] as number) < 0 && !(f.orderCount > 0 && (c.panelOf[i] as number) >= 0)) yield i;
}

/** Pixels of the viewer for one of a row's design pixels. */
function unitOf({ c, f, a }: SolveContext, row: number, view: number): number {
  const top = c.root[row] as number;
  return top >= c.anchoredCount || (c.panelOf[row] as number) >= 0 ? (a.fits[top] as number) : placeOf(f, top, view).emPx;
}

const clamp = (v: number, from: number, to: number): number => (v < from ? from : Math.min(v, to));
const ALIGNED = { start: 0, centre: 0.5, end: 1 } as const;

function drawLabel(
  items: DrawItem[],
  ctx: SolveContext,
  row: number,
  { paint }: Label,
  { emPx, rect }: ElementPlace,
  opacity: number,
): void {
  const [x, y, width, height] = rect;
  const { a, c } = ctx;
  const element = c.ids[row] as string;
  const block = a.blocks[row];
  if (!block) return;
  const style = styleOf(ctx, row);
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
      colour: style.plate ?? paint.plate.colour,
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
    colour: style.text ?? paint.colour,
    outline: paint.outline && { colour: paint.outline.colour, widthPx: paint.outline.widthEm * emPx },
    opacity,
  });
}

function drawLeader(
  items: DrawItem[],
  { a, c }: SolveContext,
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
    widthPx: leader.widthPx * (a.fits[row] as number),
    colour: leader.colour,
    opacity,
  };
  items.push(line);
}

function drawPlate(items: DrawItem[], ctx: SolveContext, row: number, { paint }: Group, { rect }: ElementPlace, opacity: number): void {
  if (!paint.plate) return;
  const [x, y, width, height] = rect;
  const unit = unitOf(ctx, row, 0);
  const { colour, radiusPx, border } = paint.plate;
  const element = ctx.c.ids[row] as string;
  items.push({ kind: 'plate', element, x, y, width, height, radius: radiusPx * unit, colour: styleOf(ctx, row).plate ?? colour, opacity });
  pushBorder(items, element, rect, radiusPx * unit, border, unit, opacity);
}
