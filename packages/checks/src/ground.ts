/**
 * The ground about what is placed that can be walked to from the routes of a project, in cells, and how much of it a route comes near.
 * Cells are found by walking: from where a route goes, on to every neighbour that a body comes to without a wall or a drop before it.
 */
import { type Compiled, type Level, makeHit, placeAnchors, routeDurationS, routePose, type Vec3 } from '@foreshore/core';
import type { Document, Route } from '@foreshore/document';

export interface Ground {
  cellM: number;
  /** Cells, three numbers each: the middle of it, x and z, and the ground's height there, metres. */
  cells: Float32Array;
  /** 1 where something is placed near it: the rest only leads there. */
  counts: Uint8Array;
  /** 1 where a route comes near. */
  reached: Uint8Array;
  /** The cell from which each was come to, or −1; how many of unreached cells a way to it leads through. */
  from: Int32Array;
  through: Int32Array;
}

/** A route that passes a cell no farther off has been there. */
export const NEAR_M = 5;
/** And no higher or lower. */
const HEIGHT_M = 3;
/** Ground so near to a place at which something stands is about it. */
export const ABOUT_M = 20;
/** Cells are as small as this, and larger where there would be more of them. */
const CELL_M = 2;
const MOST_CELLS = 12_000;
const EVERY_S = 0.5;

const DOWN: Vec3 = [0, -1, 0];
const hit = makeHit();

/** Where one stands after so many metres straight on over the ground from a place of the eye; null where a wall or a drop is before it. */
export function walkedTo(level: Level | null, body: Document['body'], eye: Vec3, x: number, z: number): Vec3 | null {
  if (!level) return [eye[0] + x, eye[1], eye[2] + z];
  const { eyeHeightM, stepM, radiusM } = body;
  const length = Math.hypot(x, z);
  const at: Vec3 = [...eye];
  const pieces = Math.max(1, Math.ceil(length / 0.4));
  for (let k = 1; k <= pieces; k++) {
    const feet = at[1] - eyeHeightM;
    const knee: Vec3 = [at[0], feet + stepM + 0.1, at[2]];
    if (level.castRay(knee, [x / length, 0, z / length], length / pieces + radiusM, hit)) return null;
    at[0] += x / pieces;
    at[2] += z / pieces;
    if (!level.castRay([at[0], feet + stepM, at[2]], DOWN, 2 * stepM + 0.1, hit)) return null;
    at[1] = hit.position[1] + eyeHeightM;
  }
  return at;
}

/** The place of the eye over the ground below; null where there is none within so many metres. */
function onGround(level: Level, eyeHeightM: number, [x, y, z]: Vec3): Vec3 | null {
  return level.castRay([x, y + 0.2, z], DOWN, eyeHeightM + 12, hit) ? [x, hit.position[1] + eyeHeightM, z] : null;
}

const WAYS = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;

/** Places at which elements stand, with the level as it is. */
function placesOf(c: Compiled): Vec3[] {
  placeAnchors(c);
  const anchors = new Set([...c.elementAnchor.subarray(0, c.anchoredCount), ...c.gateAnchor]);
  return [...anchors].flatMap((row) => {
    if (row < 0 || c.anchorFault[row]) return [];
    return [[...c.anchorWorld.subarray(row * 3, row * 3 + 3)] as Vec3];
  });
}

/** @returns null without a level, or where no route goes on foot: then there is no ground to speak of. The level stands as it is. */
export function groundOf(c: Compiled, routes: readonly Route[]): Ground | null {
  const { level, document } = c;
  const { body } = document;
  if (!level) return null;
  const passed: Vec3[] = [];
  for (const route of routes)
    for (let timeS = 0; timeS <= routeDurationS(route); timeS += EVERY_S) {
      const { position } = routePose(route, timeS);
      const eye = onGround(level, body.eyeHeightM, position);
      // Who flies over it has not been there.
      if (eye && Math.abs(eye[1] - position[1]) <= HEIGHT_M) passed.push(eye);
    }
  const places = placesOf(c);
  if (passed.length === 0 || places.length === 0) return null;
  const of = (k: 0 | 2, most: (...v: number[]) => number): number =>
    [...passed, ...places].reduce((m, p) => most(m, p[k]), passed[0]?.[k] ?? 0);
  const [west, east, north, south] = [of(0, Math.min), of(0, Math.max), of(2, Math.min), of(2, Math.max)];
  const isWithin = (x: number, z: number): boolean =>
    x > west - ABOUT_M && x < east + ABOUT_M && z > north - ABOUT_M && z < south + ABOUT_M;
  const cellM = Math.max(CELL_M, Math.sqrt(((east - west + 2 * ABOUT_M) * (south - north + 2 * ABOUT_M)) / MOST_CELLS));
  const eyes: Vec3[] = [];
  const index = new Set<string>();
  const from: number[] = [];
  const add = (cell: readonly [number, number], eye: Vec3, by: number): void => {
    // Storeys above one another are cells of their own.
    const key = `${cell[0]} ${cell[1]} ${Math.round(eye[1] / HEIGHT_M)}`;
    if (index.has(key) || eyes.length >= 2 * MOST_CELLS) return;
    index.add(key);
    eyes.push(eye);
    from.push(by);
  };
  const cellOf = ([x, , z]: Vec3): [number, number] => [Math.floor(x / cellM), Math.floor(z / cellM)];
  for (const eye of passed) add(cellOf(eye), eye, -1);
  for (let k = 0; k < eyes.length; k++) {
    const eye = eyes[k] as Vec3;
    const [i, j] = cellOf(eye);
    for (const [di, dj] of WAYS) {
      const [x, z] = [(i + di + 0.5) * cellM, (j + dj + 0.5) * cellM];
      const there = isWithin(x, z) ? walkedTo(level, body, eye, x - eye[0], z - eye[2]) : null;
      if (there) add([i + di, j + dj], there, k);
    }
  }
  const [isNear, isAbout] = [nearness(passed, NEAR_M, HEIGHT_M), nearness(places, ABOUT_M, Number.POSITIVE_INFINITY)];
  const counts = Uint8Array.from(eyes, (eye) => (isAbout(eye) ? 1 : 0));
  const reached = Uint8Array.from(eyes, (eye) => (isNear(eye) ? 1 : 0));
  const through = new Int32Array(eyes.length);
  for (let k = 0; k < eyes.length; k++) {
    if (reached[k]) continue;
    const by = from[k] as number;
    through[k] = (counts[k] as number) + (by >= 0 ? (through[by] as number) : 0);
  }
  const cells = Float32Array.from(eyes.flatMap(([x, y, z]) => [x, z, y - body.eyeHeightM]));
  return { cellM, cells, counts, reached, from: Int32Array.from(from), through };
}

/** Whether a place is near to one of many. */
function nearness(places: readonly Vec3[], nearM: number, heightM: number): (place: Vec3) => boolean {
  const boxes = new Map<string, Vec3[]>();
  const box = (x: number, z: number): string => `${Math.floor(x / nearM)} ${Math.floor(z / nearM)}`;
  for (const place of places) {
    const key = box(place[0], place[2]);
    const list = boxes.get(key);
    if (list) list.push(place);
    else boxes.set(key, [place]);
  }
  const about = [-nearM, 0, nearM];
  return ([x, y, z]) =>
    about.some((dx) =>
      about.some((dz) =>
        (boxes.get(box(x + dx, z + dz)) ?? []).some((p) => Math.hypot(p[0] - x, p[2] - z) <= nearM && Math.abs(p[1] - y) <= heightM),
      ),
    );
}

/** How much of the ground about what is placed there is, square metres, and the share of it that a route comes near, 0..1. */
export function sharesOf({ counts, reached, cellM }: Ground): { squareM: number; reached: number } {
  let [all, near] = [0, 0];
  for (let k = 0; k < counts.length; k++) {
    if (!counts[k]) continue;
    all++;
    near += reached[k] as number;
  }
  return { squareM: all * cellM * cellM, reached: all === 0 ? 1 : near / all };
}

/** Farther than this a way over the ground does not lead, metres. */
const MOST_WAY_M = 150;

/** Places of the eye of a way from where routes go through as much ground as can be that none reaches; null where all is reached. */
export function wayOverGround({ cells, from, through, counts, reached, cellM }: Ground, eyeHeightM: number): Vec3[] | null {
  let end = -1;
  const lengths = new Int32Array(from.length);
  for (let k = 0; k < from.length; k++) {
    const by = from[k] as number;
    lengths[k] = reached[k] || by < 0 ? 0 : (lengths[by] as number) + 1;
    if (reached[k] || !counts[k] || (lengths[k] as number) * cellM > MOST_WAY_M) continue;
    if (end < 0 || (through[k] as number) > (through[end] as number)) end = k;
  }
  if (end < 0) return null;
  const out: Vec3[] = [];
  for (let k = end; k >= 0; k = from[k] as number) {
    out.push([cells[k * 3] as number, (cells[k * 3 + 2] as number) + eyeHeightM, cells[k * 3 + 1] as number]);
    if (reached[k]) break;
  }
  return out.reverse();
}
