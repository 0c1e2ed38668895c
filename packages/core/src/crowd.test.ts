/** Places for many boxes: against brute force over all choices, and what an exchange may never do. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Grid, makeRoom, type Places, probe, takeFirst } from './crowd.ts';
import { choosePatiently } from './patient.ts';

type Box = [number, number, number, number];
const overlap = (a: Box, b: Box) => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];
/** Points on a small sheet, each with three places for a box of 30 x 10. */
const crowd = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 70 }), fc.integer({ min: 0, max: 40 })), { minLength: 1, maxLength: 7 })
  .map((points) =>
    points.map(([x, y]): Box[] => [
      [x, y, x + 30, y + 10],
      [x - 30, y, x, y + 10],
      [x - 15, y - 10, x + 15, y],
    ]),
  );
/** The most that can lie without overlap, by trying all. */
function most(points: readonly Box[][], taken: Box[] = []): number {
  const [first, ...rest] = points;
  if (!first) return taken.length;
  const free = first.filter((box) => !taken.some((other) => overlap(box, other)));
  return Math.max(most(rest, taken), ...free.map((box) => most(rest, [...taken, box])));
}
const patient = (points: readonly Box[][], steps = 5000): number[] => [
  ...choosePatiently(
    Float64Array.from(points.flat(2)),
    Int32Array.from({ length: points.length * 3 }, (_, c) => Math.floor(c / 3)),
    points.length,
    steps,
  ),
];

class Sheet implements Places {
  readonly at: number[];
  constructor(readonly points: readonly Box[][]) {
    this.at = points.map(() => -1);
  }
  count = () => 3;
  mayMove = () => true;
  ask(one: number, place: number): boolean {
    probe.set((this.points[one] as Box[])[place] as Box);
    return true;
  }
  boxes(): Box[] {
    return this.at.flatMap((at, one) => (at < 0 ? [] : [(this.points[one] as Box[])[at] as Box]));
  }
}

describe('places for many', () => {
  it('patiently: as many as there can be, and none overlaps (property, against all choices)', () => {
    fc.assert(
      fc.property(crowd, (points) => {
        const boxes = patient(points).flatMap((c, k) => (c < 0 ? [] : [(points[k] as Box[])[c - k * 3] as Box]));
        boxes.forEach((box, k) => {
          for (const other of boxes.slice(k + 1)) expect(overlap(box, other)).toBe(false);
        });
        expect(boxes.length).toBe(most(points));
        expect(patient(points)).toEqual(patient(points));
      }),
      { numRuns: 150 },
    );
  });
  it('patiently: none is farther from its first place than the others make it, and no step leaves first fit', () => {
    // Two that do not meet: both have their first place, however long is searched.
    const apart: Box[][] = [0, 100].map((x) => [
      [x, 0, x + 30, 10],
      [x - 30, 0, x, 10],
      [x - 15, -10, x + 15, 0],
    ]);
    expect(patient(apart, 1000)).toEqual([0, 3]);
    expect(patient(apart, 0)).toEqual([0, 3]);
    expect(patient([], 10)).toEqual([]);
  });
  it('by moving others aside: what lay somewhere goes on lying, whoever finds a place overlaps none, else all is as it was (property)', () => {
    fc.assert(
      fc.property(crowd, fc.integer({ min: 0, max: 3 }), (points, depth) => {
        const sheet = new Sheet(points);
        const grid = new Grid();
        grid.clear(200, 100);
        points.forEach((_, k) => {
          if (!takeFirst(grid, sheet, k)) sheet.at[k] = -1;
        });
        points.forEach((_, k) => {
          if ((sheet.at[k] as number) >= 0) return;
          const before = [...sheet.at];
          const lay = sheet.boxes().length;
          const found = makeRoom(grid, sheet, k, depth);
          if (!found) sheet.at[k] = -1;
          expect(sheet.boxes().length).toBe(found ? lay + 1 : lay);
          if (!found) expect(sheet.at).toEqual(before);
          const boxes = sheet.boxes();
          boxes.forEach((box, n) => {
            for (const other of boxes.slice(n + 1)) expect(overlap(box, other)).toBe(false);
          });
        });
      }),
      { numRuns: 200 },
    );
  });
});
