/** How far a crosshair opens, as a ring about it in the picture. */
import { closedGapPx, crosshairGap, placeOf, type Solver } from '@foreshore/core';
import type { Crosshair } from '@foreshore/document';
import { rowFor } from './rows.ts';

export interface OpeningRing {
  /** Pixels of the viewer. */
  middle: [number, number];
  radiusPx: number;
  /** The opening by which its ring would be so large. */
  openingAt(radiusPx: number): Crosshair['opening'];
}

const MOST_PX = 2000;
const MOST_DEG = 170;
const within = (least: number, value: number, most: number): number => Math.min(most, Math.max(least, value));

/** Where its arms begin, or its ring runs, when it is fully open; null for what opens by nothing, and on panels, where a ring is no ring. */
export function openingRing(solver: Solver, id: string): OpeningRing | null {
  const row = rowFor(solver, id);
  const element = row < 0 ? undefined : solver.c.elements[row];
  if (element?.kind !== 'crosshair' || element.source === null || (solver.c.panelOf[row] as number) >= 0) return null;
  const { projection } = solver.a;
  const {
    rect: [x, y, w, h],
    emPx: unit,
  } = placeOf(solver.f, row);
  const radiusPx = crosshairGap(element, 1, projection, unit);
  if (![x, y, radiusPx].every(Number.isFinite) || !(unit > 0) || (element.opening.by === 'angle' && projection.orthographic)) return null;
  const { by } = element.opening;
  return {
    middle: [x + w / 2, y + h / 2],
    radiusPx,
    openingAt: (radius) =>
      by === 'screen'
        ? { by, px: within(0, Math.round(radius / unit - closedGapPx(element)), MOST_PX) }
        : { by, deg: within(0.1, Math.round((3600 / Math.PI) * Math.atan(Math.max(0, radius) / projection.focalY)) / 10, MOST_DEG) },
  };
}
