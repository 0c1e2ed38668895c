/**
 * At the edge: what floats and has an edge frame is drawn to it where its anchor lies outside, or behind the viewer, and points the
 * way. Between Range and View: the steps after it take the place on the edge for the anchor's.
 *
 * The way there, in pixels of the head's view, y down, S pixels for a tangent of 1: (Sx·x, −Sy·(y − max(0, z))) with the anchor in
 * the camera's axes, z behind. In front it is the direction in which the anchor is seen; behind it bends to the lower edge. It is
 * singular only 45 degrees above straight behind: there the last way is kept.
 */
import { EdgeAt, EdgeForm } from '../edges.ts';
import { At } from '../frame.ts';
import type { SolveContext } from '../solve-context.ts';
import type { EyeView } from '../spaces/sight.ts';
import type { Camera } from './attach.ts';
import { Verdict } from './names.ts';

/** The way to an anchor never turns faster, degrees a second. */
export const MOST_TURN_DEG_PER_S = 720;
/** Less is no way, pixels. */
const LEAST_WAY = 1e-9;
const DEG = Math.PI / 180;

const between = (v: number, from: number, to: number): number => Math.max(from, Math.min(to, v));

/**
 * How far it is from a point to the frame's edge along a way of length 1, pixels; from outside of the frame, as from its nearest point.
 * A ring is about the point, which is the middle of the view.
 */
export function edgeDistance(edges: Float64Array, at: number, x: number, y: number, wayX: number, wayY: number): number {
  const left = edges[at + EdgeAt.Left] as number;
  const top = edges[at + EdgeAt.Top] as number;
  const right = edges[at + EdgeAt.Right] as number;
  const bottom = edges[at + EdgeAt.Bottom] as number;
  const form = edges[at + EdgeAt.Form] as EdgeForm;
  const radius = edges[at + EdgeAt.RadiusPx] as number;
  if (form === EdgeForm.Ring) return radius;
  const px = between(x, left, right);
  const py = between(y, top, bottom);
  if (form === EdgeForm.Ellipse) {
    const a = Math.max((right - left) / 2, LEAST_WAY);
    const b = Math.max((bottom - top) / 2, LEAST_WAY);
    const u = (px - (left + right) / 2) / a;
    const v = (py - (top + bottom) / 2) / b;
    const p = wayX / a;
    const q = wayY / b;
    const pq = p * p + q * q;
    const uv = u * p + v * q;
    return Math.max(0, (-uv + Math.sqrt(Math.max(0, uv * uv + pq * (1 - u * u - v * v)))) / pq);
  }
  const tx = wayX > 0 ? (right - px) / wayX : wayX < 0 ? (left - px) / wayX : Number.POSITIVE_INFINITY;
  const ty = wayY > 0 ? (bottom - py) / wayY : wayY < 0 ? (top - py) / wayY : Number.POSITIVE_INFINITY;
  const far = Math.max(0, Math.min(tx, ty));
  if (form !== EdgeForm.Rounded) return far;
  // Where it meets the sides near a corner, it meets the corner's circle before.
  const r = Math.min(radius, (right - left) / 2, (bottom - top) / 2);
  const hitX = px + far * wayX;
  const hitY = py + far * wayY;
  const cornerX = between(hitX, left + r, right - r);
  const cornerY = between(hitY, top + r, bottom - r);
  if (cornerX === hitX || cornerY === hitY || r < LEAST_WAY) return far;
  const u = px - cornerX;
  const v = py - cornerY;
  const along = u * wayX + v * wayY;
  const root = along * along - (u * u + v * v - r * r);
  return root <= 0 ? 0 : Math.min(far, Math.max(0, -along + Math.sqrt(root)));
}

/** The shorter way round from one angle to another, −π..π. */
const turnTo = (from: number, to: number): number => {
  const by = (to - from) % (2 * Math.PI);
  return by > Math.PI ? by - 2 * Math.PI : by < -Math.PI ? by + 2 * Math.PI : by;
};

/** @param atOnce nothing was there before: it does not turn, it is where it is. */
export function runEdges(ctx: SolveContext, cameras: readonly Camera[], from: number, to: number, atOnce: boolean): void {
  const { edged } = ctx.c;
  for (let k = 0; k < edged.length; k++) {
    const i = edged[k] as number;
    if (i < from || i >= to) continue;
    ctx.f.edgeRad[k] = Number.NaN;
    if (ctx.f.failed[i] === Verdict.Shown) toEdge(ctx, cameras, k, i, atOnce);
    else if (ctx.f.isTick) {
      ctx.m.edgeIn[k] = 0;
      ctx.m.edgeRad[k] = Number.NaN;
    }
  }
}

function toEdge({ a, c, f, m }: SolveContext, cameras: readonly Camera[], k: number, i: number, atOnce: boolean): void {
  const { rotation, eye, projection } = cameras[0] as Camera;
  const { centreX, centreY, focalX, focalY, nearM, orthographic } = projection;
  const { places } = f;
  const at = i * At.Stride;
  const anchor = (c.elementAnchor[i] as number) * 3;
  const wx = (c.anchorWorld[anchor] as number) - (eye[0] as number);
  const wy = (c.anchorWorld[anchor + 1] as number) - (eye[1] as number);
  const wz = (c.anchorWorld[anchor + 2] as number) - (eye[2] as number);
  const x = (rotation[0] as number) * wx + (rotation[1] as number) * wy + (rotation[2] as number) * wz;
  const y = (rotation[3] as number) * wx + (rotation[4] as number) * wy + (rotation[5] as number) * wz;
  const z = (rotation[6] as number) * wx + (rotation[7] as number) * wy + (rotation[8] as number) * wz;
  const awayM = Math.hypot(x, y, z);
  const e = k * EdgeAt.Stride;
  if (awayM > (a.edges[e + EdgeAt.WithinM] as number)) return;
  const inFront = -z > nearM;
  let dx = focalX * x;
  let dy = -focalY * (y - Math.max(0, z));
  const long = Math.hypot(dx, dy);
  const last = m.edgeRad[k] as number;
  let rad = long > LEAST_WAY ? Math.atan2(dy, dx) : Number.isNaN(last) ? Math.PI / 2 : last;
  /** How far from the middle the anchor is seen, pixels. */
  const reach = inFront ? (orthographic ? long : long / -z) : Number.POSITIVE_INFINITY;
  const target = rad;
  const wasIn = m.edgeIn[k] === 1;
  const most = MOST_TURN_DEG_PER_S * DEG * Math.max(0, f.timeS - m.timeS);
  const bound = edgeDistance(a.edges, e, centreX, centreY, Math.cos(target), Math.sin(target));
  const outside = reach > bound - (wasIn ? (a.edges[e + EdgeAt.LeavePx] as number) : 0);
  if (!atOnce && !Number.isNaN(last) && (outside || wasIn)) rad = last + between(turnTo(last, rad), -most, most);
  const behindhand = Math.abs(turnTo(rad, target)) > 0.5 * DEG;
  m.edgeRad[k] = rad;
  if (behindhand) f.edgesTurn = true;
  const isIn = outside || (wasIn && behindhand);
  if (f.isTick) m.edgeIn[k] = isIn ? 1 : 0;
  if (!isIn) return;
  f.edgeRad[k] = rad;
  dx = Math.cos(rad);
  dy = Math.sin(rad);
  const far = Math.min(reach, edgeDistance(a.edges, e, centreX, centreY, dx, dy));
  const pointX = centreX + far * dx;
  const pointY = centreY + far * dy;
  // What stands in for it is as far away as it is, whichever way that is.
  const depthM = Math.max(awayM, nearM);
  for (let v = 0; v < cameras.length; v++) {
    const row = (v * f.count + i) * At.Stride;
    places[row + At.DepthM] = depthM;
    if (v === 0) {
      places[at + At.PointX] = pointX;
      places[at + At.PointY] = pointY;
      places[at + At.UnitPx] = orthographic ? focalY : focalY / depthM;
      continue;
    }
    const { projection: own, rightM } = a.eyes[v - 1] as EyeView;
    places[row + At.PointX] = own.centreX + own.focalX * ((pointX - centreX) / focalX - rightM / depthM);
    places[row + At.PointY] = own.centreY + own.focalY * ((pointY - centreY) / focalY);
    places[row + At.UnitPx] = own.focalY / depthM;
  }
}
