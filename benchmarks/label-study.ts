/**
 * The classic study of point labels (Christensen, Marks and Shieber 1995): points at random on a sheet of 792 x 612 units, a label of
 * 30 x 7 for each, at one of four corners of its point. Points are no obstacles, and labels may cross the edge of the sheet.
 * Written to be checked by eye: nothing here is shared with what is measured.
 */
import { dice } from './measure.ts';

export const [SHEET_W, SHEET_H, LABEL_W, LABEL_H] = [792, 612, 30, 7];
export const CORNERS = 4;
export const LAYOUTS = 25;
type Box = readonly [left: number, top: number, right: number, bottom: number];

/** The four places of every point: `places[point][corner]`. `whole`: points lie on whole units, as on the sheets of the published tables. */
export function sheet(n: number, seed: number, whole: boolean): Box[][] {
  const random = dice(1000 + seed * 7919);
  for (let k = 0; k < 10; k++) random();
  return Array.from({ length: n }, () => {
    let [x, y] = [random() * SHEET_W, random() * SHEET_H];
    if (whole) [x, y] = [Math.round(x), Math.round(y)];
    const box = (left: number, top: number): Box => [left, top, left + LABEL_W, top + LABEL_H];
    return [box(x, y - LABEL_H), box(x - LABEL_W, y - LABEL_H), box(x - LABEL_W, y), box(x, y)];
  });
}

const overlap = (a: Box, b: Box): boolean => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];

/** How many of the placed labels overlap no other placed label; null is a label that was dropped. All pairs. */
export function touchingNothing(placed: readonly (Box | null)[]): number {
  return placed.filter((a, i) => a !== null && placed.every((b, j) => i === j || b === null || !overlap(a, b))).length;
}

/**
 * How many are left when labels are taken away until no two overlap: each in turn the one that overlaps most of those that are left.
 * A conflict of two labels counts as one label's.
 */
export function leftWithoutConflict(placed: readonly Box[]): number {
  let left = [...placed];
  for (;;) {
    const conflicts = left.map((a, i) => left.filter((b, j) => i !== j && overlap(a, b)).length);
    const most = Math.max(...conflicts);
    if (most === 0) return left.length;
    const worst = conflicts.indexOf(most);
    left = left.filter((_, i) => i !== worst);
  }
}
