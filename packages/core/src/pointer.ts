/** Which element has the pointer, how that makes elements look, and what pressing one does. */
import { KINDS } from '@foreshore/document/kinds';
import type { Element, FeedValue, Pointer, Slider } from '@foreshore/document/types';
import { valueIndex } from './compiled.ts';
import { contained } from './draw-picture.ts';
import { At, mapAt, placeOf } from './frame.ts';
import { showsThrough } from './screen-box.ts';
import type { SolveContext } from './solve-context.ts';
import { depthOn, PanelAt, panelPoint, worldPoint } from './spaces/panel.ts';
import { Verdict } from './steps/names.ts';
import { compare } from './steps/phase.ts';

const NONE = { action: null, padPx: 0, pointed: {}, pressed: {} };
const UNSAID: Record<Pointer['takes'], Pointer> = {
  acts: { ...NONE, takes: 'acts' },
  blocks: { ...NONE, takes: 'blocks' },
  passes: { ...NONE, takes: 'passes' },
};
/** What an element does with the pointer: what it says, or what its kind does; a prompt acts. */
export function pointerOf(ctx: Pick<SolveContext, 'c'>, row: number): Pointer {
  const element = ctx.c.elements[row];
  if (element?.pointer) return element.pointer;
  return UNSAID[element?.press ? 'acts' : element ? KINDS[element.kind].takes : 'passes'];
}

/** Whether an element, or a group around it, is off: it acts on nothing. */
export function isOff(ctx: Pick<SolveContext, 'c' | 'f'>, row: number): boolean {
  const { c, f } = ctx;
  for (let at = row; at >= 0; at = c.parent[at] as number) {
    const when = c.elements[at]?.pointer?.offWhen;
    if (when && when.length > 0 && when.every((condition) => compare(condition, f.values[valueIndex(c, condition.feed, at)], false)))
      return true;
  }
  return false;
}

/**
 * The row that has the pointer at a place in the viewer's pixels, or −1 where it goes to the world: the front-most shown
 * element that does not pass it on. A group without a plate draws nothing and passes by itself, unless it acts.
 *
 * The HUD lies in front of all that stands in the world. There, the nearest by depth has it: a panel where the ray meets it, what
 * floats at its anchor. The level's own surfaces stand before panels, but for those that are seen through them, and leave to
 * what floats what they let be seen of it.
 */
export function rowUnder(ctx: SolveContext, x: number, y: number): number {
  const { c, f } = ctx;
  // Within one root, what is painted later lies in front.
  for (let i = c.count - 1; i >= c.anchoredCount; i--)
    if ((c.root[i] as number) >= c.anchoredCount && (c.panelOf[i] as number) < 0 && takes(ctx, i, x, y)) return i;
  let nearest = -1;
  let nearestM = Number.POSITIVE_INFINITY;
  for (let k = f.orderCount - 1; k >= 0; k--) {
    const top = f.order[k] as number;
    const panel = c.panelOf[top] as number;
    const depthM = panel < 0 ? (f.places[top * At.Stride + At.DepthM] as number) : depthAt(ctx, panel, x, y);
    if (!(depthM < nearestM)) continue;
    const row = takingRow(ctx, top, x, y);
    if (row < 0 || (panel >= 0 && !showsThrough(c.elements[top] as Element) && isBehindLevel(ctx, panel, x, y))) continue;
    nearest = row;
    nearestM = depthM;
  }
  return nearest;
}

/** The front-most row of one root that has the pointer, or −1. */
export function takingRow(ctx: SolveContext, top: number, x: number, y: number): number {
  const { c } = ctx;
  for (let i = c.count - 1; i >= c.anchoredCount; i--) if (i !== top && c.root[i] === top && takes(ctx, i, x, y)) return i;
  return takes(ctx, top, x, y) ? top : -1;
}

/** How deep a panel is met at a pixel, metres; NaN where it is not. */
function depthAt(ctx: SolveContext, panel: number, x: number, y: number): number {
  const map = mapAt(ctx.f, panel);
  const [px, py] = panelPoint(ctx.f.maps, map, x, y, ctx.a.projection.nearM);
  return depthOn(ctx.f.maps, map, px, py);
}

/** Where the ray through a pixel meets a panel in the world, and how far that is from the eye; null where it does not. */
export function metOn(
  ctx: Pick<SolveContext, 'f' | 'a'>,
  panel: number,
  x: number,
  y: number,
): { at: [number, number, number]; distanceM: number } | null {
  const { f, a } = ctx;
  const [px, py] = panelPoint(f.maps, mapAt(f, panel), x, y, a.projection.nearM);
  if (Number.isNaN(px)) return null;
  const at = worldPoint(f.panels, panel * PanelAt.Stride, px, py);
  return { at, distanceM: Math.hypot(...at.map((v, k) => v - (f.eye[k] as number))) };
}

/** Whether the level stands before a panel at a pixel. */
function isBehindLevel(ctx: SolveContext, panel: number, x: number, y: number): boolean {
  const { c, f } = ctx;
  const met = metOn(ctx, panel, x, y);
  if (!met || !c.level) return false;
  return c.level.sightline(f.eye[0] as number, f.eye[1] as number, f.eye[2] as number, ...met.at) >= 0;
}

/** Whether an element, or a group around it, is still on its way in: it acts once it has arrived. */
export function isArriving({ c, f }: Pick<SolveContext, 'c' | 'f'>, row: number): boolean {
  if (c.motions.length === 0) return false;
  for (let at = row; at >= 0; at = c.parent[at] as number) {
    const k = c.motions.indexOf(at);
    if (k >= 0 && f.presence[k] !== 1) return true;
  }
  return false;
}

/** How far a row is turned in the plane that it is painted in; a panel is turned as a whole, in the world. */
export const turnDegOf = ({ c }: Pick<SolveContext, 'c'>, row: number): number =>
  (c.parent[row] as number) < 0 && (c.panelOf[row] as number) >= 0 ? 0 : (c.elements[row]?.turnDeg ?? 0);

/**
 * A point of the frame as it would be if neither an element nor the groups around it were turned; of what lies on a panel, in the
 * panel's design pixels: NaN where the ray through the point does not meet it.
 */
export function turnedBack(ctx: Pick<SolveContext, 'c' | 'f' | 'a'>, row: number, x: number, y: number): [number, number] {
  const { c, f } = ctx;
  const up = c.parent[row] as number;
  const panel = c.panelOf[row] as number;
  const [px, py] =
    up >= 0 ? turnedBack(ctx, up, x, y) : panel >= 0 ? panelPoint(f.maps, mapAt(f, panel), x, y, ctx.a.projection.nearM) : [x, y];
  const element = c.elements[row];
  const turn = (turnDegOf(ctx, row) * Math.PI) / 180;
  if (!element || turn === 0) return [px, py];
  const [cx, cy] = turningPoint(element, f.places, row * At.Stride);
  const [dx, dy] = [px - cx, py - cy];
  return [cx + dx * Math.cos(turn) + dy * Math.sin(turn), cy - dx * Math.sin(turn) + dy * Math.cos(turn)];
}

/** The own point of an element, about which it is turned, pixels. */
export function turningPoint({ place }: Element, places: Float64Array, at: number): [number, number] {
  return [
    (places[at + At.RectX] as number) + place.ownPoint[0] * (places[at + At.RectW] as number),
    (places[at + At.RectY] as number) + place.ownPoint[1] * (places[at + At.RectH] as number),
  ];
}

/** Whether a point lies in the box of a row, and in what clips it. */
export function within(ctx: Pick<SolveContext, 'c' | 'f' | 'a'>, row: number, x: number, y: number, pad = 0): boolean {
  const { c, f } = ctx;
  const [px, py] = turnedBack(ctx, row, x, y);
  const at = row * At.Stride;
  const left = (f.places[at + At.RectX] as number) - pad;
  const top = (f.places[at + At.RectY] as number) - pad;
  const [w, h] = [(f.places[at + At.RectW] as number) + 2 * pad, (f.places[at + At.RectH] as number) + 2 * pad];
  if (!(px >= left && py >= top && px < left + w && py < top + h)) return false;
  const clipper = c.clipper[row] as number;
  return clipper < 0 || within(ctx, clipper, x, y);
}

/** Shown, but not yet begun to be seen. */
function isUnseen({ c, f }: SolveContext, row: number): boolean {
  const k = c.motions.length === 0 ? -1 : c.motions.indexOf(row);
  return k >= 0 && f.presence[k] === 0;
}

function takes(ctx: SolveContext, row: number, x: number, y: number): boolean {
  const { c, f, a } = ctx;
  if (f.failed[row] !== Verdict.Shown || isUnseen(ctx, row)) return false;
  const element = c.elements[row];
  const pointer = pointerOf(ctx, row);
  if (
    pointer.takes === 'passes' ||
    (pointer.takes === 'blocks' && element?.kind === 'group' && !element.paint.plate && !element.layout.scroll)
  )
    return false;
  return within(ctx, row, x, y, pointer.padPx * (a.fits[row] as number));
}

/** The row that would act when this one is pressed: itself, or the nearest group around it that acts; −1 where none does, or it is off. */
export function actingRow(ctx: Pick<SolveContext, 'c' | 'f'>, row: number): number {
  for (let at = row; at >= 0; at = ctx.c.parent[at] as number)
    if (pointerOf(ctx, at).takes === 'acts') return isOff(ctx, at) || isArriving(ctx, at) ? -1 : at;
  return -1;
}

/** The nearest group around a row, or itself, that scrolls and has something to scroll; −1 where there is none. */
export function scrollingRow(ctx: Pick<SolveContext, 'c' | 'a'>, row: number): number {
  for (let at = row; at >= 0; at = ctx.c.parent[at] as number) {
    const group = ctx.c.elements[at];
    if (group?.kind === 'group' && group.layout.scroll && (ctx.a.tree.surplus[at] as number) > 0) return at;
  }
  return -1;
}

/** How far a group must be scrolled so that an element inside of it lies in its box, design pixels. */
export function scrollTo(ctx: SolveContext, group: number, row: number): number {
  const { c, f } = ctx;
  const element = c.elements[group];
  if (element?.kind !== 'group') return 0;
  const along = element.layout.direction === 'row' ? At.RectX : At.RectY;
  const length = element.layout.direction === 'row' ? At.RectW : At.RectH;
  const unit = ctx.a.fits[group] as number;
  const of = (which: number, column: number) => f.places[which * At.Stride + column] as number;
  const before = of(group, along) - of(row, along);
  const after = of(row, along) + of(row, length) - of(group, along) - of(group, length);
  const now = f.scrolled[group] as number;
  return before > 0 ? now - before / unit : after > 0 ? now + after / unit : now;
}

/**
 * Where a point of the frame lies on a page, in the page's own pixels, and the hash of its bytes; outside of it, too. Null where
 * the row is no page, has none, or is not met.
 */
export function pagePoint(
  ctx: Pick<SolveContext, 'c' | 'f' | 'a'>,
  row: number,
  x: number,
  y: number,
): { page: string; x: number; y: number } | null {
  const { c, f } = ctx;
  const element = c.elements[row];
  const file = element?.kind === 'page' ? c.document.pictures?.[element.page ?? ''] : undefined;
  if (!file) return null;
  const [px, py] = turnedBack(ctx, row, x, y);
  const [left, top, w] = contained(file.widthPx, file.heightPx, placeOf(f, row).rect);
  const scale = file.widthPx / w;
  return Number.isFinite(px) && scale > 0 ? { page: file.hash, x: (px - left) * scale, y: (py - top) * scale } : null;
}

/** What a press does to a toggle's feed, or to a slider's at a point of the frame; null where there is nothing to set. */
export function valueSet(ctx: SolveContext, row: number, x: number, y: number): { feed: string; value: FeedValue } | null {
  const { c, f } = ctx;
  const element = c.elements[row];
  if ((element?.kind !== 'toggle' && element?.kind !== 'slider') || element.source === null || isOff(ctx, row)) return null;
  const feed = c.feedIds[valueIndex(c, element.source, row)] ?? element.source;
  if (element.kind === 'toggle') return { feed, value: f.values[valueIndex(c, element.source, row)] !== true };
  const at = row * At.Stride;
  const [px, py] = turnedBack(ctx, row, x, y);
  const [left, top, w, h] = [At.RectX, At.RectY, At.RectW, At.RectH].map((column) => f.places[at + column] as number) as [
    number,
    number,
    number,
    number,
  ];
  // The knob stays within the box, so that its centre goes from half a knob to half a knob before the end.
  const share = element.vertical ? 1 - (py - top - w / 2) / (h - w) : (px - left - h / 2) / (w - h);
  return { feed, value: stepped(element, element.empty + share * (element.full - element.empty)) };
}

/** A slider's value that lies nearest to one, on its steps and between its ends. */
export function stepped({ empty, full, step }: Pick<Slider, 'empty' | 'full' | 'step'>, value: number): number {
  const [low, high] = [Math.min(empty, full), Math.max(empty, full)];
  const near = low + Math.round((value - low) / step) * step;
  // Sums of steps carry rounding that nobody wants to read.
  return Number(Math.max(low, Math.min(high, near)).toPrecision(12));
}

/** What a slider's feed becomes by so many steps; null where it has no number. */
export function valueStepped(ctx: Pick<SolveContext, 'c' | 'f'>, row: number, by: number): { feed: string; value: number } | null {
  const element = ctx.c.elements[row];
  if (element?.kind !== 'slider' || element.source === null || isOff(ctx, row)) return null;
  const k = valueIndex(ctx.c, element.source, row);
  const value = ctx.f.values[k];
  if (typeof value !== 'number') return null;
  return { feed: ctx.c.feedIds[k] as string, value: stepped(element, value + by * element.step * Math.sign(element.full - element.empty)) };
}

/** What an element's pointer state changes about its paint. */
export interface StateStyle {
  plate?: string;
  text?: string;
  /** Of a picture: what is multiplied onto it, and how grey (0) or coloured (1) it is. */
  tint?: string;
  saturation?: number;
  opacity: number;
}

/** What the pointer, or a condition that turns an element off, makes of it. */
enum PointerState {
  Idle = 0,
  Off = 1,
  Pointed = 2,
  Pressed = 3,
}

/** Notes when the pointer states of elements change, so that their paint can take its time over it. */
export function movePointerStates({ c, f, m }: SolveContext): void {
  const fresh = Number.isNaN(m.timeS);
  for (let k = 0; k < c.lookers.length; k++) {
    const row = c.lookers[k] as number;
    const now =
      row === f.pressedRow && row === f.pointedRow ? PointerState.Pressed : row === f.pointedRow ? PointerState.Pointed : PointerState.Idle;
    const state = c.elements[row]?.pointer?.offWhen && isOff({ c, f }, row) ? PointerState.Off : now;
    if (state === m.stateNow[row]) continue;
    m.stateBefore[row] = m.stateNow[row] as number;
    m.stateNow[row] = state;
    m.stateS[row] = fresh ? Number.NEGATIVE_INFINITY : f.timeS;
  }
}

const styleFor = (pointer: Pointer, state: PointerState): Pointer['pointed'] =>
  state === PointerState.Off
    ? (pointer.off ?? {})
    : state === PointerState.Pressed
      ? { ...pointer.pointed, ...pointer.pressed }
      : state === PointerState.Pointed
        ? pointer.pointed
        : {};

/** A colour between two, channel by channel. */
export function mixed(from: string, to: string, share: number): string {
  const channel = (colour: string, k: number) =>
    colour.length > 1 + 2 * k ? Number.parseInt(colour.slice(1 + 2 * k, 3 + 2 * k), 16) : 255;
  const mix = [0, 1, 2, 3].map((k) => Math.round(channel(from, k) + (channel(to, k) - channel(from, k)) * share));
  return `#${mix.map((v) => v.toString(16).padStart(2, '0')).join('')}`.toUpperCase();
}

const ownPlate = (element: Element | undefined): string | undefined =>
  element?.kind === 'label' || element?.kind === 'group' ? (element.paint.plate?.colour ?? undefined) : undefined;
const ownText = (element: Element | undefined): string | undefined => (element?.kind === 'label' ? element.paint.colour : undefined);

/** A picture that nothing is multiplied onto is as one with white. */
const ownTint = (element: Element | undefined): string | undefined =>
  element?.kind === 'picture' ? (element.paint.tint ?? '#FFFFFF') : undefined;

/** What changes the paint of an element now: what it, or a group around it that is off, pointed at or pressed, says. The inner one goes first. */
export function styleOf(ctx: Pick<SolveContext, 'c' | 'f' | 'm'>, row: number): StateStyle {
  const out: StateStyle = { opacity: 1 };
  const { c, f, m } = ctx;
  const element = c.elements[row];
  for (let at = row; at >= 0; at = c.parent[at] as number) {
    const pointer = c.elements[at]?.pointer;
    if (!pointer) continue;
    const now = styleFor(pointer, m.stateNow[at] as PointerState);
    const takes = pointer.changeS ?? 0;
    const share = takes > 0 ? Math.min(1, (f.timeS - (m.stateS[at] as number)) / takes) : 1;
    const before = share < 1 ? styleFor(pointer, m.stateBefore[at] as PointerState) : now;
    /** Between what was said before and what is said now; where nothing was said, the element's own colour stands. */
    const between = (part: 'plate' | 'text' | 'tint', own: string | undefined): string | undefined => {
      const [from, to] = [before[part] ?? own, now[part] ?? own];
      if (share >= 1 || from === undefined || to === undefined) return now[part];
      return from === to ? now[part] : mixed(from, to, share);
    };
    if (at === row) {
      const plate = between('plate', ownPlate(element));
      if (plate !== undefined) out.plate = plate;
      const tint = between('tint', ownTint(element));
      if (tint !== undefined) out.tint = tint;
      const grey = element?.kind === 'picture' ? element.paint.saturation : 1;
      if (before.saturation !== undefined || now.saturation !== undefined)
        out.saturation = (before.saturation ?? grey) * (1 - share) + (now.saturation ?? grey) * share;
      // Groups multiply onto their members anyway.
      const [from, to] = [before.opacity ?? 1, now.opacity ?? 1];
      out.opacity = from + (to - from) * share;
    }
    const text = between('text', ownText(element));
    if (text !== undefined) out.text ??= text;
  }
  return out;
}
