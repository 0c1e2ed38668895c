/** What is on top at a point of the picture, by the draw list, against the nearest panel on the ray through that point, found by itself. */
import { type Document, type Element, type Group, type Mount, makeDocument, makeGroup } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import type { DrawItem } from './draw-items.ts';
import { drawList } from './draw-list.ts';
import { measureReadable } from './readable.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { PanelAt } from './spaces/panel.ts';

type Standing = Extract<Mount, { kind: 'standing' }>;
interface Board {
  position: [number, number, number];
  sizeM: [number, number];
  turnDeg: number;
  tiltDeg: number;
}
const colourOf = (k: number) => `#00000${k}`;
function solved(boards: readonly Board[], edit: (mount: Standing, k: number) => Standing = (mount) => mount): Solver {
  const document: Document = makeDocument('Boards');
  for (const [k, { position, sizeM, turnDeg, tiltDeg }] of boards.entries()) {
    document.anchors[`at-${k}`] = { kind: 'surface', name: `At ${k}`, order: 'a0', node: null, position, normal: [0, 0, 1] };
    const mount = edit(
      {
        ...{ kind: 'standing', anchor: `at-${k}`, sizeM, pxPerM: 300, readM: 4, sides: 'both', facing: 'fixed', liftM: 0 },
        ...{ turnDeg, tiltDeg },
      },
      k,
    );
    const group: Group = makeGroup(
      { mount, place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null } },
      `Board ${k}`,
      'free',
      'a0',
    );
    const element = { ...group, paint: { plate: { colour: colourOf(k), radiusPx: 0, border: null }, opacity: 1 } } as Element;
    document.elements[`board-${k}`] = element;
  }
  const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
  solve(solver, { timeS: 0, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true, stands: true });
  return solver;
}

/** Contours of a path of straight edges. */
function inside({ ops, coords }: { ops: ArrayLike<number>; coords: ArrayLike<number> }, x: number, y: number): boolean {
  if (ops.length === 0) return false;
  let odd = false;
  const n = coords.length / 2;
  for (let k = 0, last = n - 1; k < n; last = k++) {
    const [x0, y0, x1, y1] = [coords[last * 2], coords[last * 2 + 1], coords[k * 2], coords[k * 2 + 1]] as [number, number, number, number];
    if (y0 > y !== y1 > y && x < x0 + ((y - y0) / (y1 - y0)) * (x1 - x0)) odd = !odd;
  }
  return odd;
}
function painted(items: readonly DrawItem[], x: number, y: number): string | null {
  const clips: boolean[] = [];
  let top: string | null = null;
  for (const item of items) {
    if (item.kind === 'clip') clips.push(item.path ? inside(item.path, x, y) : true);
    else if (item.kind === 'unclip') clips.pop();
    else if (item.kind === 'shape' && clips.every(Boolean) && inside(item, x, y)) top = item.colour;
  }
  expect(clips).toEqual([]);
  return top;
}

/** The panels on the ray through a point, the nearest first, with their distance. */
function onRay({ f, c, a }: Solver, x: number, y: number): { k: number; depthM: number }[] {
  const { centreX, centreY, focalX, focalY } = a.projection;
  const ray = [(x - centreX) / focalX, -(y - centreY) / focalY, -1];
  const out: { k: number; depthM: number }[] = [];
  for (const [p, row] of c.panels.entries()) {
    const at = p * PanelAt.Stride;
    const of = (what: PanelAt) => [0, 1, 2].map((axis) => f.panels[at + what + axis] as number);
    const dot = (u: readonly number[], v: readonly number[]) => u.reduce((sum, one, axis) => sum + one * (v[axis] as number), 0);
    const [origin, right, down, front] = [of(PanelAt.Origin), of(PanelAt.Right), of(PanelAt.Down), of(PanelAt.Front)];
    const depthM = dot(origin, front) / dot(ray, front);
    if (!(depthM > 0.05)) continue;
    const on = ray.map((v, axis) => v * depthM - (origin[axis] as number));
    const px = f.panels[at + PanelAt.PxPerM] as number;
    const [u, v] = [dot(on, right) * px, dot(on, down) * px];
    if (u > 0 && v > 0 && u < (f.panels[at + PanelAt.WidthPx] as number) && v < (f.panels[at + PanelAt.HeightPx] as number))
      out.push({ k: Number((c.ids[row] as string).slice('board-'.length)), depthM });
  }
  return out.sort((p, q) => p.depthM - q.depthM);
}

/** Points at which the list has another panel on top than the ray meets; how many were looked at, of which so many with several. */
function wrong(solver: Solver): { wrong: number; points: number; several: number } {
  const { items } = drawList(solver);
  const { widthPx, heightPx } = solver.a.projection;
  let [bad, points, several] = [0, 0, 0];
  for (let i = 0; i < 40; i++)
    for (let j = 0; j < 24; j++) {
      const [x, y] = [((i + 0.37) / 40) * widthPx, ((j + 0.41) / 24) * heightPx];
      const met = onRay(solver, x, y);
      // Along the line where two cross, and just beside an edge, either may be there.
      if (met.some(({ depthM }, k) => k > 0 && depthM - (met[k - 1]?.depthM as number) < 0.03)) continue;
      const near = [-2, 2].flatMap((d) => [onRay(solver, x + d, y).length, onRay(solver, x, y + d).length]);
      if (near.some((count) => count !== met.length)) continue;
      points++;
      if (met.length > 1) several++;
      if (painted(items, x, y) !== (met[0] ? colourOf(met[0].k) : null)) bad++;
    }
  return { wrong: bad, points, several };
}

describe('panels that cross', () => {
  const cross: Board[] = [
    { position: [0, 0, -4], sizeM: [3, 2], turnDeg: 45, tiltDeg: 0 },
    { position: [0, 0, -4], sizeM: [3, 1], turnDeg: -45, tiltDeg: 0 },
  ];
  it('are cut where they do: a cross seen from the front has each one nearer on its own side', () => {
    const solver = solved(cross);
    const { items } = drawList(solver);
    const { centreX, centreY, focalX } = solver.a.projection;
    // Turned to its left by 45° a panel's right end goes away: x = 1 m at 5 m. The other's comes nearer: x = −0.5 m is at 4.5 m there, and at 3.5 m here.
    expect(painted(items, centreX + (0.5 / 3.5) * focalX, centreY)).toBe(colourOf(1));
    expect(painted(items, centreX - (0.5 / 3.5) * focalX, centreY)).toBe(colourOf(0));
    expect(wrong(solver)).toMatchObject({ wrong: 0 });
  });
  it('show the nearest at every point, by rays, whatever they are', () => {
    const part = fc.double({ min: -1, max: 1, noNaN: true });
    const board = fc.record({
      position: fc.tuple(part, part, fc.double({ min: -6, max: -2.5, noNaN: true })),
      sizeM: fc.tuple(fc.double({ min: 0.6, max: 3, noNaN: true }), fc.double({ min: 0.6, max: 2, noNaN: true })),
      turnDeg: fc.double({ min: -80, max: 80, noNaN: true }),
      tiltDeg: fc.double({ min: -60, max: 60, noNaN: true }),
    });
    let several = 0;
    fc.assert(
      fc.property(fc.array(board, { minLength: 2, maxLength: 5 }), (boards) => {
        const found = wrong(solved(boards));
        several += found.several;
        expect(found.wrong).toBe(0);
      }),
      { seed: 1, numRuns: 60 },
    );
    expect(several).toBeGreaterThan(2000);
  });
  it('are told to be covered by as much as the rays say, of either', () => {
    const slanted: Board = { position: [0.3, 0.2, -3.6], sizeM: [2, 1.4], turnDeg: -30, tiltDeg: 25 };
    const solver = solved([...cross, slanted]);
    for (const k of [0, 1, 2]) {
      let [on, under] = [0, 0];
      const { widthPx, heightPx } = solver.a.projection;
      for (let i = 0; i < 300; i++)
        for (let j = 0; j < 170; j++) {
          const met = onRay(solver, ((i + 0.5) / 300) * widthPx, ((j + 0.5) / 170) * heightPx);
          if (!met.some((one) => one.k === k)) continue;
          on++;
          if (met[0]?.k !== k) under++;
        }
      expect(under / on).toBeGreaterThan(0.1);
      const { covered } = measureReadable(solver, solver.c.ids.indexOf(`board-${k}`));
      expect(Math.abs(covered - under / on)).toBeLessThan(0.06);
    }
  });
  it('in a ring, each over the next, are cut, too', () => {
    // Four bars about a square: the top one's left end is near and its right end far, the right one's upper end near and its lower far.
    const ring: Board[] = [
      { position: [0, 0.6, -3], sizeM: [1.6, 0.3], turnDeg: 20, tiltDeg: 0 },
      { position: [0.6, 0, -3], sizeM: [0.3, 1.6], turnDeg: 0, tiltDeg: -20 },
      { position: [0, -0.6, -3], sizeM: [1.6, 0.3], turnDeg: -20, tiltDeg: 0 },
      { position: [-0.6, 0, -3], sizeM: [0.3, 1.6], turnDeg: 0, tiltDeg: 20 },
    ];
    expect(drawList(solved(ring)).items.some(({ kind }) => kind === 'clip')).toBe(true);
    expect(wrong(solved(ring)).wrong).toBe(0);
  });
  it('and all others, stay as they were: whole, and in the order of their planes', () => {
    const apart = solved([
      { position: [0, 0, -5], sizeM: [3, 2], turnDeg: 20, tiltDeg: 0 },
      { position: [0.4, 0, -3], sizeM: [1, 1], turnDeg: -20, tiltDeg: 0 },
      // It touches the first along its edge.
      { position: [0, -1.5, -5], sizeM: [3, 1], turnDeg: 20, tiltDeg: 0 },
    ]);
    expect(drawList(apart).items.some(({ kind }) => kind === 'clip')).toBe(false);
    expect(wrong(apart).wrong).toBe(0);
    const through = solved(cross, (mount, k) => (k === 0 ? { ...mount, turnDeg: 0 } : mount));
    expect(drawList(through).items.filter(({ kind }) => kind === 'panel').length).toBe(3);
  });
});
