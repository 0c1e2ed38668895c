/** What of a picture is another where two draw lists differ: only that is painted anew. */
import type { DrawItem, DrawList } from '@foreshore/core';
import { boundsOf } from './sprites.ts';

/** In pixels of the canvas, whole ones. */
export interface PixelBox {
  x: number;
  y: number;
  width: number;
  height: number;
}
/** Least x and y, greatest x and y. */
type Bounds = [number, number, number, number];

/** Edges are smoothed, and texts stand on pixels of their own, this far beyond what they are. */
const AROUND_PX = 2;

const about = (x: number, y: number, reach: number): Bounds => [x - reach, y - reach, x + reach, y + reach];

/** What an item paints on, pixels of the list; null for what changes how others are painted, or paints what is not in the list. */
const BOUNDS: { [K in DrawItem['kind']]: ((item: Extract<DrawItem, { kind: K }>) => Bounds) | null } = {
  plate: ({ x, y, width, height, strokePx = 0 }) => [x - strokePx, y - strokePx, x + width + strokePx, y + height + strokePx],
  text: ({ x, y, emPx, block, outline }) => {
    const [left, top, right, bottom] = boundsOf(block);
    const around = outline?.widthPx ?? 0;
    return [x + left * emPx - around, y + top * emPx - around, x + right * emPx + around, y + bottom * emPx + around];
  },
  line: ({ x1, y1, x2, y2, widthPx }) => [
    Math.min(x1, x2) - widthPx,
    Math.min(y1, y2) - widthPx,
    Math.max(x1, x2) + widthPx,
    Math.max(y1, y2) + widthPx,
  ],
  arc: ({ x, y, radius, widthPx }) => about(x, y, radius + widthPx),
  shape: ({ coords, strokePx = 0 }) => {
    const bounds: Bounds = [Infinity, Infinity, -Infinity, -Infinity];
    for (let k = 0; k < coords.length; k++) {
      const axis = k % 2;
      bounds[axis] = Math.min(bounds[axis] as number, (coords[k] as number) - strokePx);
      bounds[2 + axis] = Math.max(bounds[2 + axis] as number, (coords[k] as number) + strokePx);
    }
    return bounds;
  },
  // A picture may have come, or have drawn itself anew, since.
  picture: null,
  screen: null,
  clip: null,
  unclip: null,
  push: null,
  pop: null,
  panel: null,
  endPanel: null,
};

/** Null where it is not known. */
export function boundsOfItem(item: DrawItem): Bounds | null {
  return (BOUNDS[item.kind] as ((one: DrawItem) => Bounds) | null)?.(item) ?? null;
}

/** Whether two items paint the same; what they are made of, as blocks of text, is the same where it is the same object. */
function isSame(a: DrawItem, b: DrawItem): boolean {
  if (a === b) return true;
  const [one, other] = [a as unknown as Record<string, unknown>, b as unknown as Record<string, unknown>];
  for (const key in one) {
    if (one[key] === other[key]) continue;
    if (key !== 'outline' || a.kind !== 'text' || b.kind !== 'text') return false;
    if (a.outline?.colour !== b.outline?.colour || a.outline?.widthPx !== b.outline?.widthPx) return false;
  }
  return Object.keys(one).length === Object.keys(other).length;
}

/**
 * The box in which two lists paint differently, or null where that cannot be told of a part.
 * @param scale canvas pixels for one of the lists'. @param width,height of the canvas, pixels. A box without an extent: nowhere.
 */
export function changedBox(before: DrawList, after: DrawList, scale: number, width: number, height: number): PixelBox | null {
  const [was, is] = [before.items, after.items];
  // What both begin and end with is as it was.
  let first = 0;
  while (first < was.length && first < is.length && isSame(was[first] as DrawItem, is[first] as DrawItem)) first++;
  let last = 0;
  const most = Math.min(was.length, is.length) - first;
  while (last < most && isSame(was[was.length - 1 - last] as DrawItem, is[is.length - 1 - last] as DrawItem)) last++;
  const all: Bounds = [Infinity, Infinity, -Infinity, -Infinity];
  const add = (item: DrawItem): boolean => {
    const bounds = boundsOfItem(item);
    if (!bounds) return false;
    for (let k = 0; k < 4; k++) all[k] = (k < 2 ? Math.min : Math.max)(all[k] as number, bounds[k] as number);
    return true;
  };
  const aligned = was.length === is.length;
  for (let k = first; k < was.length - last; k++) {
    if (aligned && isSame(was[k] as DrawItem, is[k] as DrawItem)) continue;
    if (!add(was[k] as DrawItem)) return null;
  }
  for (let k = first; k < is.length - last; k++) {
    if (aligned && isSame(was[k] as DrawItem, is[k] as DrawItem)) continue;
    if (!add(is[k] as DrawItem)) return null;
  }
  const [left, top] = [Math.floor(all[0] * scale) - AROUND_PX, Math.floor(all[1] * scale) - AROUND_PX].map((v) => Math.max(0, v)) as [
    number,
    number,
  ];
  const right = Math.min(width, Math.ceil(all[2] * scale) + AROUND_PX);
  const bottom = Math.min(height, Math.ceil(all[3] * scale) + AROUND_PX);
  return right > left && bottom > top ? { x: left, y: top, width: right - left, height: bottom - top } : NOWHERE;
}

const NOWHERE: PixelBox = { x: 0, y: 0, width: 0, height: 0 };

/** The list without what paints nothing in a box; null where a part of it cannot be painted by itself. @param scale canvas pixels for one of the list's. */
export function within(list: DrawList, { x, y, width, height }: PixelBox, scale: number): DrawList | null {
  const items: DrawItem[] = [];
  for (const item of list.items) {
    const bounds = boundsOfItem(item);
    if (!bounds) return null;
    const [left, top, right, bottom] = bounds.map((v) => v * scale) as Bounds;
    if (right >= x - AROUND_PX && left <= x + width + AROUND_PX && bottom >= y - AROUND_PX && top <= y + height + AROUND_PX)
      items.push(item);
  }
  return { ...list, items };
}
