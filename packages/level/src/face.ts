/**
 * The flat part of a surface about a point, as a rectangle: the triangles that lie in one plane and hang together there, and the
 * smallest rectangle about them (found at one of their hull's edges: Freeman and Shapira 1975).
 */
import type { Vec3 } from '@foreshore/core';

export interface Face {
  /** Its middle in the world, metres. */
  centre: Vec3;
  normal: Vec3;
  widthM: number;
  heightM: number;
  /** How far it is turned in its plane from having its head up, degrees clockwise seen from its front. */
  turnDeg: number;
}

/** So far off the plane, and so much out of its direction, is still in it. */
const OFF_M = 0.002;
const ALONG = 0.9995;
/** Corners nearer than this are one. */
const WELD_M = 1e-4;
/** A rectangle is one of which this share is there. */
const FILLED = 0.9;
const MOST_TRIANGLES = 400_000;

/** Out of a plane: the axes to the right and up, with the head up as far as that goes, or to the north. */
function axesOf(normal: Vec3): { right: Vec3; up: Vec3 } {
  const [x, y, z] = normal;
  const flat = Math.abs(y) > 0.999;
  const raw: Vec3 = flat ? [0, 0, -1] : [-x * y, 1 - y * y, -z * y];
  const length = Math.hypot(...raw);
  const up = raw.map((v) => v / length) as Vec3;
  const right: Vec3 = [up[1] * z - up[2] * y, up[2] * x - up[0] * z, up[0] * y - up[1] * x];
  return { right, up };
}

type Point = readonly [number, number];

function hull(points: readonly Point[]): Point[] {
  // Andrew's monotone chain.
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const cross = (o: Point, a: Point, b: Point) => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
  const half = (list: readonly Point[]): Point[] => {
    const out: Point[] = [];
    for (const p of list) {
      while (out.length >= 2 && cross(out.at(-2) as Point, out.at(-1) as Point, p) <= 1e-12) out.pop();
      out.push(p);
    }
    out.pop();
    return out;
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

/**
 * @param corners nine numbers a triangle, in the world. @param at a point on one of them, with that one's normal.
 * @returns null where what is flat there is no rectangle.
 */
export function faceAt(corners: ArrayLike<number>, at: Vec3, normal: Vec3): Face | null {
  const count = corners.length / 9;
  if (count > MOST_TRIANGLES) return null;
  const { right, up } = axesOf(normal);
  const of = (axis: Vec3, t: number, k: number) =>
    axis.reduce((sum, v, i) => sum + v * ((corners[t * 9 + k * 3 + i] as number) - (at[i] as number)), 0);
  // Those in the plane, in its own coordinates.
  const flat: Point[][] = [];
  for (let t = 0; t < count; t++) {
    if ([0, 1, 2].some((k) => Math.abs(of(normal, t, k)) > OFF_M)) continue;
    const p = [0, 1, 2].map((k): Point => [of(right, t, k), of(up, t, k)]) as [Point, Point, Point];
    const area = (p[1][0] - p[0][0]) * (p[2][1] - p[0][1]) - (p[1][1] - p[0][1]) * (p[2][0] - p[0][0]);
    // Whichever way round it is wound, but not a mere line.
    if (Math.abs(area) > 1e-10 && facesAlong(corners, t, normal)) flat.push(area > 0 ? p : [p[0], p[2], p[1]]);
  }
  const start = flat.findIndex((p) => holds(p, [0, 0]));
  if (start < 0) return null;
  // What hangs together with the one that was pointed at, by its corners.
  const key = ([x, y]: Point) => `${Math.round(x / WELD_M)} ${Math.round(y / WELD_M)}`;
  const byCorner = new Map<string, number[]>();
  flat.forEach((p, t) => {
    for (const point of p) {
      const list = byCorner.get(key(point));
      if (list) list.push(t);
      else byCorner.set(key(point), [t]);
    }
  });
  const seen = new Set([start]);
  const todo = [start];
  while (todo.length > 0)
    for (const point of flat[todo.pop() as number] as Point[])
      for (const t of byCorner.get(key(point)) ?? [])
        if (!seen.has(t)) {
          seen.add(t);
          todo.push(t);
        }
  const parts = [...seen].map((t) => flat[t] as [Point, Point, Point]);
  const area = parts.reduce((sum, [a, b, c]) => sum + ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2, 0);
  const found = smallestRectangle(hull(parts.flat()));
  if (!found || area < FILLED * found.width * found.height) return null;
  const { turn, width, height, middle } = found;
  return {
    centre: at.map((v, i) => v + middle[0] * (right[i] as number) + middle[1] * (up[i] as number)) as Vec3,
    normal,
    widthM: width,
    heightM: height,
    turnDeg: Number(((-turn * 180) / Math.PI).toFixed(3)) + 0,
  };
}

function facesAlong(corners: ArrayLike<number>, t: number, normal: Vec3): boolean {
  const edge = (k: number, i: number) => (corners[t * 9 + k * 3 + i] as number) - (corners[t * 9 + i] as number);
  const n: Vec3 = [
    edge(1, 1) * edge(2, 2) - edge(1, 2) * edge(2, 1),
    edge(1, 2) * edge(2, 0) - edge(1, 0) * edge(2, 2),
    edge(1, 0) * edge(2, 1) - edge(1, 1) * edge(2, 0),
  ];
  return Math.abs(n[0] * normal[0] + n[1] * normal[1] + n[2] * normal[2]) / (Math.hypot(...n) || 1) > ALONG;
}

function holds([a, b, c]: readonly Point[], p: Point): boolean {
  const side = (u: Point, v: Point) => (v[0] - u[0]) * (p[1] - u[1]) - (v[1] - u[1]) * (p[0] - u[0]);
  const few = -1e-6;
  return side(a as Point, b as Point) >= few && side(b as Point, c as Point) >= few && side(c as Point, a as Point) >= few;
}

/** The smallest rectangle about a hull, turned by less than an eighth of a turn from upright. */
function smallestRectangle(points: readonly Point[]): { turn: number; width: number; height: number; middle: Point } | null {
  let best: { turn: number; width: number; height: number; middle: Point } | null = null;
  for (let k = 0; k < points.length; k++) {
    const [a, b] = [points[k] as Point, points[(k + 1) % points.length] as Point];
    const edge = Math.atan2(b[1] - a[1], b[0] - a[0]);
    // A rectangle is the same turned by a quarter.
    const turn = edge - Math.round(edge / (Math.PI / 2)) * (Math.PI / 2);
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
    const xs = points.map(([x, y]) => x * cos + y * sin);
    const ys = points.map(([x, y]) => y * cos - x * sin);
    const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    const [width, height] = [right - left, high - low];
    if (best && width * height >= best.width * best.height - 1e-12) continue;
    const [mx, my] = [(left + right) / 2, (low + high) / 2];
    best = { turn, width, height, middle: [mx * cos - my * sin, mx * sin + my * cos] };
  }
  return best && best.width > 0 && best.height > 0 ? best : null;
}
