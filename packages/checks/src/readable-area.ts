/**
 * The readable area of an element: all the places on the ground from which it is shown and its letters are high enough, to
 * somebody who stands there and looks at it. A grid of cells, each solved like a frame with empty memory, and contours of
 * character height through them. Contests are left out: another prompt that takes the key is no matter of where one stands.
 */
import {
  type Arranged,
  arrangedLike,
  type Compiled,
  compile,
  type Inputs,
  inputsFor,
  type Level,
  Memory,
  makeHit,
  makeSolver,
  measureReadable,
  poseTowards,
  type Solver,
  solve,
  type Vec3,
  Verdict,
} from '@foreshore/core';
import { type Document, type Element, isMember } from '@foreshore/document';

export interface Area {
  /** The corner of the first cell, metres; cells go along x, then along z. */
  x: number;
  z: number;
  cellM: number;
  /** Cells along each side. */
  count: number;
  /** Character height at the player's eye, arcmin; 0 where it is not shown; NaN where one cannot stand. */
  arcmin: Float32Array;
  /** Height of the ground, metres. */
  ground: Float32Array;
}

/** Heights at which contours are drawn, arcmin. */
export const CONTOURS = [30, 22, 16] as const;
/** Without a range, as far as this. */
const FARTHEST_M = 60;

/** The document with one element and what is inside of it, without its claim. */
function alone({ document, level, sources, root }: Compiled, row: number): Compiled {
  const top = sources[root[row] as number] as string;
  const keep = new Set([top]);
  for (let grown = true; grown; ) {
    grown = false;
    for (const [id, e] of Object.entries(document.elements)) {
      if (keep.has(id)) {
        if (e.kind === 'instance' && !keep.has(e.of)) {
          keep.add(e.of);
          grown = true;
        }
      } else if (isMember(e.mount) && keep.has(e.mount.group)) {
        keep.add(id);
        grown = true;
      }
    }
  }
  const elements = Object.fromEntries(
    Object.entries(document.elements).flatMap(([id, e]) => {
      const { claim: _, ...rest } = e;
      return keep.has(id) ? [[id, rest as Element]] : [];
    }),
  );
  return compile({ ...document, elements } as Document, level);
}

const DOWN: Vec3 = [0, -1, 0];
const hit = makeHit();

/** The ground to stand on in a column, nearest in height to `nearY`; NaN where there is none with room for a body above it. */
export function standingHeight(level: Level | null, x: number, z: number, nearY: number, heightM: number): number {
  if (!level) return 0;
  let best = Number.NaN;
  let from = nearY + 30;
  for (let layer = 0; layer < 6; layer++) {
    if (!level.castRay([x, from, z], DOWN, 80, hit)) break;
    const y = hit.position[1];
    const isFlat = hit.normal[1] > 0.6;
    if (
      isFlat &&
      (Number.isNaN(best) || Math.abs(y - nearY) < Math.abs(best - nearY)) &&
      level.sightline(x, y + 0.1, z, x, y + heightM, z) < 0
    )
      best = y;
    from = y - 0.02;
  }
  return best;
}

/** The value of a place: arcmin of character height, 0 where the element is not shown. */
export function arcminAt(solver: Solver, row: number, inputs: Inputs, eye: Vec3, target: Vec3): number {
  solver.m.restore(new Memory(solver.m.counts));
  solve(solver, { ...inputs, head: poseTowards(eye, target), stands: true, depthOrder: false });
  if (solver.f.failed[row] !== Verdict.Shown) return 0;
  const { capArcmin } = measureReadable(solver, row);
  // What has no letters is read wherever it is shown.
  return Number.isFinite(capArcmin) ? capArcmin : 60;
}

export interface AreaAsked {
  /** One a viewer; with several, the least of them counts. */
  arranged: readonly Arranged[];
  inputs: Inputs;
  row: string;
  /** Cells along each side. */
  count: number;
}

/** @param onRows told now and then how much of it there is, 0..1; false stops. */
export function readableArea({ arranged, inputs: asked, row: id, count }: AreaAsked, onRows?: (share: number) => boolean): Area | null {
  const first = arranged[0];
  if (!first) return null;
  const { compiled } = first;
  const whole = compiled.ids.indexOf(id);
  if (whole < 0) return null;
  const one = alone(compiled, whole);
  const inputs = inputsFor(asked, compiled, one);
  const row = one.ids.indexOf(id);
  const solvers = arranged.map((a) => makeSolver(arrangedLike(a, one)));
  const top = one.root[row] as number;
  const gate = one.gateOfRow[top] as number;
  const anchor = gate >= 0 ? (one.gateAnchor[gate] as number) : top < one.anchoredCount ? (one.elementAnchor[top] as number) : -1;
  if (row < 0 || anchor < 0 || one.anchorFault[anchor]) return null;
  // Places anchors that move.
  solve(solvers[0] as Solver, inputs);
  const target = [...one.anchorWorld.subarray(anchor * 3, anchor * 3 + 3)] as Vec3;
  const { range } = one.elements[top] as Element;
  const size = one.zones.size.subarray(anchor * 3, anchor * 3 + 3);
  const reach = range ? range.enterM + Math.max(...size) + 0.5 : FARTHEST_M;
  const { eyeHeightM } = one.document.body;
  const cellM = (2 * reach) / count;
  const area: Area = {
    x: target[0] - reach,
    z: target[2] - reach,
    cellM,
    count,
    arcmin: new Float32Array(count * count).fill(Number.NaN),
    ground: new Float32Array(count * count).fill(Number.NaN),
  };
  for (let j = 0; j < count; j++) {
    for (let i = 0; i < count; i++) {
      const [x, z] = [area.x + (i + 0.5) * cellM, area.z + (j + 0.5) * cellM];
      const y = standingHeight(one.level, x, z, target[1] - 1, eyeHeightM);
      if (Number.isNaN(y)) continue;
      area.ground[j * count + i] = y;
      let least = Number.POSITIVE_INFINITY;
      for (const solver of solvers) {
        least = Math.min(least, arcminAt(solver, solver.c.ids.indexOf(id), inputs, [x, y + eyeHeightM, z], target));
        if (least === 0) break;
      }
      area.arcmin[j * count + i] = least;
    }
    if (onRows && j % 8 === 7 && !onRows((j + 1) / count)) return null;
  }
  return area;
}

/** The share of the ground from which it can be read, and how large that is. */
export function areaShare({ arcmin, cellM }: Area, leastArcmin: number): { share: number; squareM: number } {
  let [stands, reads] = [0, 0];
  for (const v of arcmin) {
    if (Number.isNaN(v)) continue;
    stands++;
    if (v >= leastArcmin) reads++;
  }
  return { share: stands ? reads / stands : 0, squareM: reads * cellM * cellM };
}

/**
 * Lines through a grid where the character height passes a value, on the ground: marching squares over the cells' middles. Where
 * one side is not shown at all there is nothing to interpolate, and the line runs half way.
 */
export function contour({ x, z, cellM, count, arcmin, ground }: Area, level: number): [Vec3, Vec3][] {
  const out: [Vec3, Vec3][] = [];
  const at = (i: number, j: number) => arcmin[j * count + i] as number;
  const point = (i: number, j: number, k: number, l: number): Vec3 => {
    const [a, b] = [at(i, j), at(k, l)];
    const t = a > 0 && b > 0 ? (level - a) / (b - a) : 0.5;
    const mix = (p: number, q: number) => p + (q - p) * t;
    const [ya, yb] = [ground[j * count + i] as number, ground[l * count + k] as number];
    return [x + (mix(i, k) + 0.5) * cellM, mix(ya, yb) + 0.04, z + (mix(j, l) + 0.5) * cellM];
  };
  for (let j = 0; j + 1 < count; j++)
    for (let i = 0; i + 1 < count; i++) {
      const corners = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)];
      // Round a stone that one cannot stand on nothing changes.
      if (corners.some(Number.isNaN)) continue;
      const inside = corners.map((v) => v >= level);
      const sides: (() => Vec3)[] = [
        () => point(i, j, i + 1, j),
        () => point(i + 1, j, i + 1, j + 1),
        () => point(i, j + 1, i + 1, j + 1),
        () => point(i, j, i, j + 1),
      ];
      const crossed = [0, 1, 2, 3].filter((k) => inside[k] !== inside[(k + 1) % 4]);
      for (let k = 0; k + 1 < crossed.length; k += 2) {
        const [p, q] = [sides[crossed[k] as number], sides[crossed[k + 1] as number]];
        if (p && q) out.push([p(), q()]);
      }
    }
  return out;
}
