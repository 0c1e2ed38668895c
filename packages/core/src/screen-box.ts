/** Where a row's box is seen on the screen, whatever it lies on: the HUD, over an anchor, or a panel in the world. */
import type { Element } from '@foreshore/document/types';
import { At, mapAt, placeOf } from './frame.ts';
import type { SolveContext } from './solve-context.ts';
import { outlineOf, PanelAt, screenPoint, worldPoint } from './spaces/panel.ts';

type Context = Pick<SolveContext, 'c' | 'f' | 'a'>;

/** The outline of a row's box in one view, x and y in turn, pixels; cut at the near plane, and empty where nothing of it is in front. */
export function screenOutline({ c, f, a }: Context, row: number, view = 0): number[] {
  const [x, y, w, h] = placeOf(f, row, view).rect;
  const panel = c.panelOf[row] as number;
  if (panel >= 0) return outlineOf(f.maps, mapAt(f, panel, view), x, y, w, h, a.projection.nearM);
  return Number.isNaN(x) ? [] : [x, y, x + w, y, x + w, y + h, x, y + h];
}

/** The upright box about a row as it is seen in one view: left, top, width and height, pixels; NaN where nothing of it is in front. */
export function screenBox(ctx: Context, row: number, view = 0): [number, number, number, number] {
  if ((ctx.c.panelOf[row] as number) < 0) return placeOf(ctx.f, row, view).rect;
  const outline = screenOutline(ctx, row, view);
  if (outline.length === 0) return [Number.NaN, Number.NaN, Number.NaN, Number.NaN];
  const [xs, ys] = [outline.filter((_, k) => k % 2 === 0), outline.filter((_, k) => k % 2 === 1)];
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  return [left, top, Math.max(...xs) - left, Math.max(...ys) - top];
}

/** Whether a panel is seen through what of the level stands in front of it: because it trails so, or its Sightline answers so. */
export const showsThrough = ({ mount, sightline }: Pick<Element, 'mount' | 'sightline'>): boolean =>
  (mount.kind === 'trailing' && mount.blocked === 'show') || sightline?.answer === 'through';

/** The middle of a row's box as it is seen from the head, pixels; NaN where it is not in front. */
export function screenMiddle({ c, f, a }: Context, row: number): [number, number] {
  const at = row * At.Stride;
  const of = (column: number) => f.places[at + column] as number;
  const [x, y] = [of(At.RectX) + of(At.RectW) / 2, of(At.RectY) + of(At.RectH) / 2];
  const panel = c.panelOf[row] as number;
  return panel < 0 ? [x, y] : screenPoint(f.maps, mapAt(f, panel), x, y, a.projection.nearM);
}

/** How far a panel's plane is from the eye, metres: to the middle of a row that lies on it. */
export function panelDistanceM({ c, f }: Pick<SolveContext, 'c' | 'f'>, row: number): number {
  const from = (c.panelOf[row] as number) * PanelAt.Stride;
  const at = row * At.Stride;
  const of = (column: number) => f.places[at + column] as number;
  const k = f.panels[from + PanelAt.PxPerM] as number;
  const [x, y] = [(of(At.RectX) + of(At.RectW) / 2) / k, (of(At.RectY) + of(At.RectH) / 2) / k];
  let sum = 0;
  for (let axis = 0; axis < 3; axis++) {
    const p = (column: PanelAt) => f.panels[from + column + axis] as number;
    sum += (p(PanelAt.Origin) + x * p(PanelAt.Right) + y * p(PanelAt.Down) - (f.eye[axis] as number)) ** 2;
  }
  return Math.sqrt(sum);
}

/** Sight lines to a panel, for pictures that have no depth: so many across its width, and as many a length down its height. */
const CELLS = 48;

/**
 * What of a panel the level leaves free, as it is seen: polygons of x and y in turn, pixels, each a run of cells of a 48th of the
 * panel's width. Null where all of it is free.
 */
export function freeOfLevel(ctx: Context, row: number, view = 0): number[][] | null {
  const { c, f, a } = ctx;
  const { level } = c;
  if (!level) return null;
  const panel = c.panelOf[row] as number;
  const at = panel * PanelAt.Stride;
  const [w, h] = [f.panels[at + PanelAt.WidthPx] as number, f.panels[at + PanelAt.HeightPx] as number];
  const cell = w / CELLS;
  const rows = Math.max(1, Math.ceil(h / cell));
  const [ex, ey, ez] = [f.eye[0] as number, f.eye[1] as number, f.eye[2] as number];
  const out: number[][] = [];
  let blocked = false;
  for (let j = 0; j < rows; j++) {
    const [top, bottom] = [(j * h) / rows, ((j + 1) * h) / rows];
    let from = -1;
    for (let i = 0; i <= CELLS; i++) {
      const isFree = i < CELLS && level.sightline(ex, ey, ez, ...worldPoint(f.panels, at, (i + 0.5) * cell, (top + bottom) / 2)) < 0;
      if (i < CELLS && !isFree) blocked = true;
      if (isFree && from < 0) from = i;
      if (isFree || from < 0) continue;
      const polygon = outlineOf(f.maps, mapAt(f, panel, view), from * cell, top, (i - from) * cell, bottom - top, a.projection.nearM);
      if (polygon.length > 0) out.push(polygon);
      from = -1;
    }
  }
  return blocked ? out : null;
}
