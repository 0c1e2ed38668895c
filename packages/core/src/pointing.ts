/**
 * What points, and what it points at. Every source is a ray with an origin, a direction and a reach: the mouse through a pixel of
 * the picture, the middle of the view, a hand, the head. What gets it is the nearest by depth, walls included.
 *
 * A ray from the eye is a pixel of the head's view; a hand's is met with each element's plane in the world, and the place where it
 * meets it is looked up as that pixel of the head's view at which it is seen.
 */
import type { Document, Element } from '@foreshore/document/types';
import { makeHit } from './level.ts';
import { metOn, rowUnder, takingRow } from './pointer.ts';
import { type RaySource, reachOf, type Side } from './reach.ts';
import { showsThrough } from './screen-box.ts';
import type { SolveContext } from './solve-context.ts';
import { PanelAt } from './spaces/panel.ts';
import type { Vec3 } from './spaces/pose.ts';
import type { Ray } from './spaces/project.ts';

/** What points besides the mouse in a project. */
export const sourcesOf = ({ ray }: Pick<Document, 'ray'>): readonly RaySource[] => ray?.sources ?? [];
/** Where the project does not say how long the head stays on something to press it, seconds. */
export const DWELL_S = 1;
export const dwellOf = ({ ray }: Pick<Document, 'ray'>): number => ray?.dwellS ?? DWELL_S;

/** How a source points: through a pixel of the head's view, or along a ray of its own. */
export type Pointing = { x: number; y: number } | Ray;
const isRay = (pointing: Pointing): pointing is Ray => 'origin' in pointing;

/** What a source has met. */
export interface Met {
  /** The row that has it; −1: it goes to the world. */
  row: number;
  /** The pixel of the head's view at which that place is seen. */
  x: number;
  y: number;
  /** The place in the world; null on the HUD of a screen. */
  at: Vec3 | null;
  /** From where the ray begins, metres; 0 on the HUD of a screen. */
  distanceM: number;
}

const dot = (a: Readonly<Vec3>, b: Readonly<Vec3>): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const along = ({ origin, direction }: Ray, t: number): Vec3 => [
  origin[0] + t * direction[0],
  origin[1] + t * direction[1],
  origin[2] + t * direction[2],
];

/** The pixel of the head's view at which a place is seen; NaN where it is not in front. */
function pixelOf({ f, a }: Pick<SolveContext, 'f' | 'a'>, place: Readonly<Vec3>): [number, number] {
  const { rotation: m, eye } = f;
  const { centreX, centreY, focalX, focalY, nearM, orthographic } = a.projection;
  const way = [0, 1, 2].map((k) => (place[k] as number) - (eye[k] as number)) as Vec3;
  const of = (row: number) => (m[row] as number) * way[0] + (m[row + 1] as number) * way[1] + (m[row + 2] as number) * way[2];
  const depth = -of(6);
  if (!(depth > nearM)) return [Number.NaN, Number.NaN];
  const scale = orthographic ? 1 : 1 / depth;
  return [centreX + focalX * of(0) * scale, centreY - focalY * of(3) * scale];
}

/** How far along a ray the plane of an outermost element is met, metres; NaN where it is not. A panel's own; of what floats, square to the head at its anchor. */
function planeAlong({ c, f }: SolveContext, top: number, { origin, direction }: Ray): number {
  const panel = c.panelOf[top] as number;
  const read = (from: ArrayLike<number>, at: number): Vec3 => [from[at] as number, from[at + 1] as number, from[at + 2] as number];
  const at = panel * PanelAt.Stride;
  const normal = panel >= 0 ? read(f.panels, at + PanelAt.Front) : read(f.forward, 0);
  const on = panel >= 0 ? read(f.panels, at + PanelAt.Origin) : read(c.anchorWorld, (c.elementAnchor[top] as number) * 3);
  const t = (dot(normal, on) - dot(normal, origin)) / dot(normal, direction);
  return t > 0 && Number.isFinite(t) ? t : Number.NaN;
}

const hit = makeHit();
/** A ray that meets nothing is followed so far, metres. */
const FAR_M = 1000;
/** A surface stands before what lies on it only if it is nearer than this, metres. */
const ON_SURFACE_M = 0.02;

/** How far along a ray the level is met, metres; infinite where it is not. */
function levelAlong({ c }: SolveContext, { origin, direction }: Ray): number {
  return c.level?.castRay([...origin], [...direction], FAR_M, hit) ? hit.distanceM : Number.POSITIVE_INFINITY;
}

function metByRay(ctx: SolveContext, ray: Ray): Met {
  const { c, f } = ctx;
  const wallM = levelAlong(ctx, ray);
  let [row, nearestM] = [-1, Number.POSITIVE_INFINITY];
  for (let k = f.orderCount - 1; k >= 0; k--) {
    const top = f.order[k] as number;
    const t = planeAlong(ctx, top, ray);
    const covers = !showsThrough(c.elements[top] as Element) && wallM < t - ON_SURFACE_M;
    if (!(t < nearestM) || covers) continue;
    const [x, y] = pixelOf(ctx, along(ray, t));
    const found = Number.isNaN(x) ? -1 : takingRow(ctx, top, x, y);
    if (found >= 0) [row, nearestM] = [found, t];
  }
  const distanceM = row >= 0 ? nearestM : wallM;
  const at = Number.isFinite(distanceM) ? along(ray, distanceM) : null;
  const [x, y] = at ? pixelOf(ctx, at) : [Number.NaN, Number.NaN];
  return { row, x, y, at, distanceM };
}

function metAt(ctx: SolveContext, x: number, y: number): Met {
  const { c, f } = ctx;
  const row = rowUnder(ctx, x, y);
  const panel = row < 0 ? -1 : (c.panelOf[row] as number);
  const top = row < 0 ? -1 : (c.root[row] as number);
  if (panel >= 0) return { row, x, y, ...(metOn(ctx, panel, x, y) ?? { at: null, distanceM: 0 }) };
  if (top >= 0 && top < c.anchoredCount) {
    const at = (c.elementAnchor[top] as number) * 3;
    const place = [...c.anchorWorld.subarray(at, at + 3)] as Vec3;
    return { row, x, y, at: place, distanceM: Math.hypot(...place.map((v, k) => v - (f.eye[k] as number))) };
  }
  return { row, x, y, at: null, distanceM: 0 };
}

/** What a source points at in the frame just solved, with its order by depth. */
export const metBy = (ctx: SolveContext, pointing: Pointing): Met =>
  isRay(pointing) ? metByRay(ctx, pointing) : metAt(ctx, pointing.x, pointing.y);

/** The pixel at which a source meets the plane of a row, wherever in it that is: a slider is held beyond its panel's edge. NaN where it does not. */
export function pixelOnPlane(ctx: SolveContext, row: number, pointing: Pointing): [number, number] {
  if (!isRay(pointing)) return [pointing.x, pointing.y];
  const t = planeAlong(ctx, ctx.c.root[row] as number, pointing);
  return Number.isNaN(t) ? [Number.NaN, Number.NaN] : pixelOf(ctx, along(pointing, t));
}

/** The ray from the eye through a pixel of the head's view. */
export function eyeRay({ f, a }: Pick<SolveContext, 'f' | 'a'>, x: number, y: number): Ray {
  const { rotation: m, eye } = f;
  const { centreX, centreY, focalX, focalY, orthographic } = a.projection;
  const [u, v] = [(x - centreX) / focalX, (centreY - y) / focalY];
  const aside = [0, 1, 2].map((k) => u * (m[k] as number) + v * (m[3 + k] as number)) as Vec3;
  const ahead = [0, 1, 2].map((k) => -(m[6 + k] as number)) as Vec3;
  if (orthographic) return { origin: aside.map((by, k) => (eye[k] as number) + by) as Vec3, direction: ahead };
  const long = Math.hypot(u, v, 1);
  return { origin: [...eye] as Vec3, direction: ahead.map((by, k) => (by + (aside[k] as number)) / long) as Vec3 };
}

/** Where the ray from the eye through a pixel meets the plane of a row's outermost element; null where it does not. */
export function placeOnPlane(ctx: SolveContext, row: number, x: number, y: number): Vec3 | null {
  const ray = eyeRay(ctx, x, y);
  const t = planeAlong(ctx, ctx.c.root[row] as number, ray);
  return Number.isNaN(t) ? null : along(ray, t);
}

/** Whether what was met lies beyond the ray's reach: of what stands or trails on a panel. */
export const isBeyondReach = ({ c }: SolveContext, { row, distanceM }: Met): boolean =>
  row >= 0 && (c.panelOf[row] as number) >= 0 && distanceM > reachOf(c.document);

/** Where the middle of the view is: aiming and the head point there. */
export const middleOf = ({ a }: Pick<SolveContext, 'a'>): { x: number; y: number } => ({
  x: a.projection.centreX,
  y: a.projection.centreY,
});

/** Where a hand rests: to its side of the eye, below it and ahead, metres along the way one faces. */
const RESTS: Record<Side, Vec3> = { left: [-0.2, -0.35, 0.3], right: [0.2, -0.35, 0.3] };
const RAD = Math.PI / 180;

/**
 * A hand's ray: from where the project's feeds put it, or where it rests; along the feeds' angles, or else towards a place.
 * Metres to the right, up and ahead are along the way one faces, level; so are angles.
 * @param towards what a hand without feeds for its angles points at; without it, ahead.
 */
export function handRay({ c, f }: SolveContext, side: Side, towards: Readonly<Vec3> | null = null): Ray {
  const feeds = c.document.ray?.hands?.[side];
  const value = (id: string | null | undefined): number | null => {
    const found = id ? f.values[c.feedIds.indexOf(id)] : null;
    return typeof found === 'number' ? found : null;
  };
  const rest = RESTS[side];
  const [right, up, ahead] = [feeds?.rightM, feeds?.upM, feeds?.aheadM].map((id, k) => value(id) ?? (rest[k] as number)) as Vec3;
  const [sin, cos] = facing(f.rotation);
  const origin: Vec3 = [
    (f.eye[0] as number) + right * cos + ahead * sin,
    (f.eye[1] as number) + up,
    (f.eye[2] as number) + right * sin - ahead * cos,
  ];
  const [left, raised] = [value(feeds?.leftDeg), value(feeds?.upDeg)];
  if (left === null && raised === null && towards) {
    const way = towards.map((v, k) => v - (origin[k] as number)) as Vec3;
    const length = Math.hypot(...way);
    if (length > 1e-6) return { origin, direction: way.map((v) => v / length) as Vec3 };
  }
  const [yaw, pitch] = [(left ?? 0) * RAD, (raised ?? 0) * RAD];
  // Ahead is (sin, 0, −cos); turned to the left about the vertical.
  const [x, z] = [sin * Math.cos(yaw) - cos * Math.sin(yaw), -(cos * Math.cos(yaw) + sin * Math.sin(yaw))];
  return { origin, direction: [x * Math.cos(pitch), Math.sin(pitch), z * Math.cos(pitch)] };
}

/** Sine and cosine of the way one faces, clockwise from north (−z) seen from above. Looking straight up or down, the way that the top of the head or the chin tells. */
function facing(m: ArrayLike<number>): [number, number] {
  const [fx, fz] = [-(m[6] as number), -(m[8] as number)];
  const level = Math.hypot(fx, fz);
  if (level > 1e-3) return [fx / level, -fz / level];
  const sign = (m[7] as number) > 0 ? 1 : -1;
  const [ux, uz] = [sign * (m[3] as number), sign * (m[5] as number)];
  const flat = Math.hypot(ux, uz) || 1;
  return [ux / flat, -uz / flat];
}
