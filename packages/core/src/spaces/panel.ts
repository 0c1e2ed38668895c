/**
 * Panels: flat rectangles in the world, and how they are seen.
 *
 * A panel's own coordinates are its design pixels from its top left, x to its right and y down, seen from its front. The map
 * from there to a view's pixels is a homography (Hartley and Zisserman, Multiple View Geometry, 2nd ed., 2.3): with the top left
 * o, the unit vectors r to the right and n down, and k design pixels a metre, the point of (x, y) in the camera's space is
 * `R·(o + (x/k)·r + (y/k)·n − eye)`, which is linear in (x, y, 1); so are the three rows of the screen's homogeneous coordinates.
 * The depth in metres along the forward axis is a fourth row, for what must be cut at the near plane.
 */
import type { Projection } from './lens.ts';

/** Columns of a panel's place in the world: metres, and unit vectors. */
export enum PanelAt {
  /** Its top left. */
  Origin = 0,
  Right = 3,
  Down = 6,
  /** Out of its front. */
  Front = 9,
  /** Design pixels in a metre, as it stands. */
  PxPerM = 12,
  /** Design pixels. */
  WidthPx = 13,
  HeightPx = 14,
  /** 1, or -1 where it is laid the other way round, to be read from behind: its right and front are those seen from there. */
  Side = 15,
  Stride = 16,
}

/** Columns of a panel's map to one view: rows of three, for x, y and 1. */
export enum MapAt {
  X = 0,
  Y = 3,
  /** The divisor: the depth, or 1 where the lens is orthographic. */
  W = 6,
  DepthM = 9,
  /** The fourth column of the four rows above: for a design pixel out of the panel's front. */
  Front = 12,
  Stride = 16,
}

/** What of a camera a map is made with. */
export interface Seen {
  /** Rows of the rotation from the world. */
  readonly rotation: Float64Array;
  readonly eye: Float64Array;
  readonly projection: Projection;
}

/** Writes the map of the panel at `from` of `panels` to a view, at `to` of `maps`. */
export function mapPanel(panels: Float64Array, from: number, { rotation: m, eye, projection }: Seen, maps: Float64Array, to: number): void {
  const k = panels[from + PanelAt.PxPerM] as number;
  const { centreX, centreY, focalX, focalY, orthographic } = projection;
  for (let column = 0; column < 4; column++) {
    const last = column === 2;
    const at = from + (column === 0 ? PanelAt.Right : column === 1 ? PanelAt.Down : column === 2 ? PanelAt.Origin : PanelAt.Front);
    // The rows lie three numbers apart; what is out of the front, one.
    const first = to + (column === 3 ? MapAt.Front : column);
    const apart = column === 3 ? 1 : 3;
    // The eye is taken off first: far from the origin the difference keeps its digits.
    const x = last ? (panels[at] as number) - (eye[0] as number) : (panels[at] as number) / k;
    const y = last ? (panels[at + 1] as number) - (eye[1] as number) : (panels[at + 1] as number) / k;
    const z = last ? (panels[at + 2] as number) - (eye[2] as number) : (panels[at + 2] as number) / k;
    const right = (m[0] as number) * x + (m[1] as number) * y + (m[2] as number) * z;
    const up = (m[3] as number) * x + (m[4] as number) * y + (m[5] as number) * z;
    const depth = -((m[6] as number) * x + (m[7] as number) * y + (m[8] as number) * z);
    const w = orthographic ? (last ? 1 : 0) : depth;
    maps[first] = centreX * w + focalX * right;
    maps[first + apart] = centreY * w - focalY * up;
    maps[first + 2 * apart] = w;
    maps[first + 3 * apart] = depth;
  }
}

const row = (maps: Float64Array, at: number, x: number, y: number): number =>
  (maps[at] as number) * x + (maps[at + 1] as number) * y + (maps[at + 2] as number);

/** How deep a point of a panel lies, metres along the forward axis. */
export const depthOn = (maps: Float64Array, at: number, x: number, y: number): number => row(maps, at + MapAt.DepthM, x, y);

/** Where a point of a panel is seen, pixels; NaN where it is not in front of the near plane. */
export function screenPoint(maps: Float64Array, at: number, x: number, y: number, nearM: number): [number, number] {
  if (!(depthOn(maps, at, x, y) > nearM)) return [Number.NaN, Number.NaN];
  const w = row(maps, at + MapAt.W, x, y);
  return [row(maps, at + MapAt.X, x, y) / w, row(maps, at + MapAt.Y, x, y) / w];
}

/**
 * The point of a panel's plane that is seen at a pixel, design pixels; it may lie outside of the panel. NaN where the ray through
 * the pixel does not meet the plane in front of the near plane.
 */
export function panelPoint(maps: Float64Array, at: number, sx: number, sy: number, nearM: number): [number, number] {
  const of = (first: MapAt, column: number) => maps[at + first + column] as number;
  const a = (column: number) => of(MapAt.X, column) - sx * of(MapAt.W, column);
  const b = (column: number) => of(MapAt.Y, column) - sy * of(MapAt.W, column);
  const [a0, a1, a2, b0, b1, b2] = [a(0), a(1), a(2), b(0), b(1), b(2)];
  const det = a0 * b1 - a1 * b0;
  const x = (a1 * b2 - a2 * b1) / det;
  const y = (a2 * b0 - a0 * b2) / det;
  return depthOn(maps, at, x, y) > nearM && Number.isFinite(x) && Number.isFinite(y) ? [x, y] : [Number.NaN, Number.NaN];
}

/**
 * How the map stretches about a point: the 2x2 matrix of its derivatives, and its singular values, pixels for a design pixel in
 * the direction that is seen best and in the one that is seen worst.
 */
export function localScale(maps: Float64Array, at: number, x: number, y: number) {
  const w = row(maps, at + MapAt.W, x, y);
  const [sx, sy] = [row(maps, at + MapAt.X, x, y) / w, row(maps, at + MapAt.Y, x, y) / w];
  const d = (first: MapAt, s: number, column: number) =>
    ((maps[at + first + column] as number) - s * (maps[at + MapAt.W + column] as number)) / w;
  const [xx, xy, yx, yy] = [d(MapAt.X, sx, 0), d(MapAt.X, sx, 1), d(MapAt.Y, sy, 0), d(MapAt.Y, sy, 1)];
  const [sum, difference] = [Math.hypot(xx + yy, yx - xy), Math.hypot(xx - yy, yx + xy)];
  return { xx, xy, yx, yy, best: (sum + difference) / 2, worst: Math.abs(sum - difference) / 2 };
}

/** A polygon of at most so many corners, each of x and y. */
const MOST_CORNERS = 16;
let polygon = new Float64Array(MOST_CORNERS * 2);
let spare = new Float64Array(MOST_CORNERS * 2);
let corners = 0;

/** Keeps what of the polygon lies where a·x + b·y + c ≥ 0 (Sutherland and Hodgman 1974). */
function keep(a: number, b: number, c: number): void {
  let n = 0;
  for (let k = 0; k < corners; k++) {
    const x0 = polygon[k * 2] as number;
    const y0 = polygon[k * 2 + 1] as number;
    const next = (k + 1) % corners;
    const x1 = polygon[next * 2] as number;
    const y1 = polygon[next * 2 + 1] as number;
    const d0 = a * x0 + b * y0 + c;
    const d1 = a * x1 + b * y1 + c;
    if (d0 >= 0) {
      spare[n * 2] = x0;
      spare[n * 2 + 1] = y0;
      n++;
    }
    if (d0 >= 0 === d1 >= 0) continue;
    const t = d0 / (d0 - d1);
    spare[n * 2] = x0 + (x1 - x0) * t;
    spare[n * 2 + 1] = y0 + (y1 - y0) * t;
    n++;
  }
  const kept = spare;
  spare = polygon;
  polygon = kept;
  corners = n;
}

function begin(x: number, y: number, w: number, h: number): void {
  polygon[0] = x;
  polygon[1] = y;
  polygon[2] = x + w;
  polygon[3] = y;
  polygon[4] = x + w;
  polygon[5] = y + h;
  polygon[6] = x;
  polygon[7] = y + h;
  corners = 4;
}

const keepDeeper = (maps: Float64Array, at: number, nearM: number): void =>
  keep(
    maps[at + MapAt.DepthM] as number,
    maps[at + MapAt.DepthM + 1] as number,
    // What is cut lies just in front, so that it has a place.
    (maps[at + MapAt.DepthM + 2] as number) - nearM * (1 + 1e-9),
  );

/**
 * The share of a box of a panel that lies in the frame and in front of the near plane, of the box's own area, 0..1: the box is
 * cut by the frame's four sides where they meet the panel's plane. @param box x, y, width and height, from an index on: numbers that
 * are handed to a function may be put on the heap. @param marginPx the frame is larger by so much on each side.
 */
export function shareInFrame(
  maps: Float64Array,
  at: number,
  box: Float64Array,
  from: number,
  { widthPx, heightPx, nearM }: Projection,
  marginPx = 0,
): number {
  const x = box[from] as number;
  const y = box[from + 1] as number;
  const w = box[from + 2] as number;
  const h = box[from + 3] as number;
  if (!(w > 0 && h > 0)) return 0;
  begin(x, y, w, h);
  keepDeeper(maps, at, nearM);
  for (let side = 0; side < 4 && corners > 2; side++) {
    const first = at + (side < 2 ? MapAt.X : MapAt.Y);
    const bound = side === 0 || side === 2 ? -marginPx : (side === 1 ? widthPx : heightPx) + marginPx;
    const sign = side % 2 === 0 ? 1 : -1;
    keep(
      sign * ((maps[first] as number) - bound * (maps[at + MapAt.W] as number)),
      sign * ((maps[first + 1] as number) - bound * (maps[at + MapAt.W + 1] as number)),
      sign * ((maps[first + 2] as number) - bound * (maps[at + MapAt.W + 2] as number)),
    );
  }
  if (corners < 3) return 0;
  let twice = 0;
  for (let k = 0; k < corners; k++) {
    const next = (k + 1) % corners;
    twice +=
      (polygon[k * 2] as number) * (polygon[next * 2 + 1] as number) - (polygon[next * 2] as number) * (polygon[k * 2 + 1] as number);
  }
  return Math.min(1, Math.abs(twice) / 2 / (w * h));
}

/** The corners of what of a box of a panel lies in the frame, design pixels, x and y in turn; empty where nothing does. */
export function seenCorners(maps: Float64Array, at: number, x: number, y: number, w: number, h: number, projection: Projection): number[] {
  return shareInFrame(maps, at, Float64Array.of(x, y, w, h), 0, projection) > 0 ? [...polygon.subarray(0, corners * 2)] : [];
}

/** The outline of a box of a panel in pixels, cut at the near plane: x and y in turn; empty where all of it is cut. */
export function outlineOf(maps: Float64Array, at: number, x: number, y: number, w: number, h: number, nearM: number): number[] {
  begin(x, y, w, h);
  keepDeeper(maps, at, nearM);
  const out: number[] = [];
  for (let k = 0; k < corners; k++) {
    const [px, py] = [polygon[k * 2] as number, polygon[k * 2 + 1] as number];
    const divisor = row(maps, at + MapAt.W, px, py);
    out.push(row(maps, at + MapAt.X, px, py) / divisor, row(maps, at + MapAt.Y, px, py) / divisor);
  }
  return corners < 3 ? [] : out;
}

/** The point of a panel in the world, metres, from its design pixels. */
export function worldPoint(panels: Float64Array, at: number, x: number, y: number): [number, number, number] {
  const k = panels[at + PanelAt.PxPerM] as number;
  const of = (axis: number) =>
    (panels[at + PanelAt.Origin + axis] as number) +
    (x / k) * (panels[at + PanelAt.Right + axis] as number) +
    (y / k) * (panels[at + PanelAt.Down + axis] as number);
  return [of(0), of(1), of(2)];
}

/** How far from the camera, along its axis, a panel's plane is met at a pixel, metres; not a number where it is not met. */
export function depthAtPixelM(panels: Float64Array, at: number, { rotation: m, eye, projection }: Seen, x: number, y: number): number {
  const { centreX, centreY, focalX, focalY, orthographic } = projection;
  const [u, v] = [(x - centreX) / focalX, (centreY - y) / focalY];
  let [beyond, along] = [0, 0];
  for (let axis = 0; axis < 3; axis++) {
    const aside = u * (m[axis] as number) + v * (m[3 + axis] as number);
    const from = (eye[axis] as number) + (orthographic ? aside : 0);
    const front = panels[at + PanelAt.Front + axis] as number;
    beyond += front * ((panels[at + PanelAt.Origin + axis] as number) - from);
    along += front * ((orthographic ? 0 : aside) - (m[6 + axis] as number));
  }
  const depthM = beyond / along;
  return depthM > 0 && depthM < Number.POSITIVE_INFINITY ? depthM : Number.NaN;
}

/** How far the eye is before a panel's plane, metres; negative behind it. */
export function beforePanelM(panels: Float64Array, at: number, eye: ArrayLike<number>): number {
  let sum = 0;
  for (let axis = 0; axis < 3; axis++)
    sum += (panels[at + PanelAt.Front + axis] as number) * ((eye[axis] as number) - (panels[at + PanelAt.Origin + axis] as number));
  return sum;
}
