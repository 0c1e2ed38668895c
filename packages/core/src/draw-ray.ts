/** Rays as they are seen: a hand's beam, as wide as it is in the world, and the tip on what is pointed at, as large as it is at the eye. */
import type { Document } from '@foreshore/document/types';
import type { DrawItem } from './draw-items.ts';
import { discOnPanel } from './draw-panel.ts';
import { mapAt } from './frame.ts';
import type { Met } from './pointing.ts';
import type { RaySource } from './reach.ts';
import type { SolveContext } from './solve-context.ts';
import { PanelAt } from './spaces/panel.ts';
import type { Vec3 } from './spaces/pose.ts';
import { PATH_CLOSE, PATH_LINE, PATH_MOVE } from './text.ts';

export interface DrawnRay {
  source: RaySource;
  /** Where the beam begins; null where the source is at the eye, and has none. */
  from: Vec3 | null;
  /** Its direction, of length 1, where it has a beam. */
  direction: Vec3 | null;
  met: Met;
  /** It is the source used last; others are drawn fainter. */
  uses: boolean;
  /** How much of staying is done, 0..1. */
  dwelt: number;
}

export type Beam = NonNullable<NonNullable<Document['ray']>['beam']>;
export type Tip = NonNullable<NonNullable<Document['ray']>['tip']>;
export const BEAM: Beam = { when: 'always', widthMm: 6, colour: '#FBF8F0' };
export const TIP: Tip = { arcmin: 40, colour: '#FBF8F0' };
const EDGE = '#15233B';
/** What stands for a paint that is missing. */
const MISSING = ['#BF3F2B', '#FBF8F0'] as const;
const DASHES = 24;
const FAINT = 0.45;
/** A beam that meets nothing is seen as far as the ray reaches. */
const endOf = ({ from, direction, met }: DrawnRay, reachM: number): Vec3 | null => {
  if (!from || !direction) return null;
  const distance = met.at && met.distanceM < reachM ? met.distanceM : reachM;
  return from.map((v, k) => v + distance * (direction[k] as number)) as Vec3;
};

interface Seen {
  x: number;
  y: number;
  depth: number;
}
/** A place in the camera's own axes: to the right, up, and along the view. */
function inCamera({ f }: SolveContext, place: readonly number[]): [number, number, number] {
  const m = f.rotation;
  const way = [0, 1, 2].map((k) => (place[k] as number) - (f.eye[k] as number)) as Vec3;
  const of = (row: number) => (m[row] as number) * way[0] + (m[row + 1] as number) * way[1] + (m[row + 2] as number) * way[2];
  return [of(0), of(3), -of(6)];
}
function seenAt({ a }: SolveContext, [right, up, depth]: readonly [number, number, number]): Seen {
  const { centreX, centreY, focalX, focalY, orthographic } = a.projection;
  const scale = orthographic ? 1 : 1 / depth;
  return { x: centreX + focalX * right * scale, y: centreY - focalY * up * scale, depth };
}

/** A strip between two places in the world, as wide at each as it is there; cut at the near plane. */
function strip(
  items: DrawItem[],
  ctx: SolveContext,
  from: readonly number[],
  to: readonly number[],
  widthM: number,
  colour: string,
  opacity: number,
): void {
  const { nearM, focalY, orthographic } = ctx.a.projection;
  let [p, q] = [inCamera(ctx, from), inCamera(ctx, to)];
  const cut = (a: typeof p, b: typeof p): typeof p => {
    if (a[2] > nearM) return a;
    const t = (nearM * 1.001 - a[2]) / (b[2] - a[2]);
    return a.map((v, k) => v + t * ((b[k] as number) - v)) as typeof p;
  };
  if (!(p[2] > nearM || q[2] > nearM)) return;
  [p, q] = [cut(p, q), cut(q, p)];
  const [a, b] = [seenAt(ctx, p), seenAt(ctx, q)];
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length = Math.hypot(dx, dy);
  if (!(length > 0.01)) return;
  const half = ({ depth }: Seen) => Math.max(0.5, (widthM / 2) * (orthographic ? focalY : focalY / depth));
  const [nx, ny] = [-dy / length, dx / length];
  const [wide, narrow] = [half(a), half(b)];
  items.push({
    kind: 'shape',
    element: 'ray',
    ops: Uint8Array.of(PATH_MOVE, PATH_LINE, PATH_LINE, PATH_LINE, PATH_CLOSE),
    coords: Float64Array.of(
      a.x + nx * wide,
      a.y + ny * wide,
      b.x + nx * narrow,
      b.y + ny * narrow,
      b.x - nx * narrow,
      b.y - ny * narrow,
      a.x - nx * wide,
      a.y - ny * wide,
    ),
    colour,
    opacity,
    evenOdd: false,
  });
}

function drawBeam(items: DrawItem[], ctx: SolveContext, ray: DrawnRay, { when, widthMm, colour }: Beam, reachM: number): void {
  const end = endOf(ray, reachM);
  if (!ray.from || !end || when === 'never' || (when === 'onTarget' && ray.met.row < 0)) return;
  const opacity = ray.uses ? 1 : FAINT;
  const at = (t: number) => (ray.from as Vec3).map((v, k) => v + t * ((end[k] as number) - v));
  if (colour !== null) {
    strip(items, ctx, ray.from, end, (widthMm + 3) / 1000, EDGE, 0.5 * opacity);
    strip(items, ctx, ray.from, end, widthMm / 1000, colour, opacity);
    return;
  }
  for (let k = 0; k < DASHES; k++)
    strip(items, ctx, at(k / DASHES), at((k + 1) / DASHES), widthMm / 1000, MISSING[k % 2] as string, opacity);
}

/** A disc on what is met: lying on the panel, or square to the view. */
function disc(items: DrawItem[], ctx: SolveContext, { met }: DrawnRay, at: Vec3, radiusM: number, colour: string, opacity: number): void {
  const { c, f, a } = ctx;
  const panel = met.row < 0 ? -1 : (c.panelOf[met.row] as number);
  if (panel >= 0) {
    // Its place on the panel is the same for every eye.
    const from = panel * PanelAt.Stride;
    const k = f.panels[from + PanelAt.PxPerM] as number;
    const of = (axis: PanelAt) =>
      [0, 1, 2].reduce((sum, i) => sum + (f.panels[from + axis + i] as number) * ((at[i] as number) - (f.panels[from + i] as number)), 0) *
      k;
    const path = discOnPanel(f.maps, mapAt(f, panel), of(PanelAt.Right), of(PanelAt.Down), radiusM * k, a.projection.nearM);
    if (path) items.push({ kind: 'shape', element: 'ray', ...path, colour, opacity, evenOdd: false });
    return;
  }
  const place = inCamera(ctx, at);
  if (!(place[2] > a.projection.nearM)) return;
  const { x, y, depth } = seenAt(ctx, place);
  const r = radiusM * (a.projection.orthographic ? a.projection.focalY : a.projection.focalY / depth);
  items.push({ kind: 'plate', element: 'ray', x: x - r, y: y - r, width: 2 * r, height: 2 * r, radius: r, colour, opacity });
}

function drawTip(items: DrawItem[], ctx: SolveContext, ray: DrawnRay, { arcmin, colour }: Tip): void {
  const { at, row } = ray.met;
  // What is at the eye has its crosshair; its tip is seen on what it can use.
  if (!at || (ray.from === null && row < 0)) return;
  const eyeM = Math.hypot(...at.map((v, k) => v - (ctx.f.eye[k] as number)));
  const radiusM = eyeM * Math.tan((arcmin / 60 / 2) * (Math.PI / 180));
  const opacity = ray.uses ? 1 : FAINT;
  if (colour === null)
    for (const [k, share] of [1, 0.66, 0.33].entries()) disc(items, ctx, ray, at, radiusM * share, MISSING[k % 2] as string, opacity);
  else {
    disc(items, ctx, ray, at, radiusM * 1.3, EDGE, opacity);
    disc(items, ctx, ray, at, radiusM, colour, opacity);
  }
  if (!(ray.dwelt > 0)) return;
  const place = inCamera(ctx, at);
  const { x, y, depth } = seenAt(ctx, place);
  const r = radiusM * 1.9 * (ctx.a.projection.orthographic ? ctx.a.projection.focalY : ctx.a.projection.focalY / depth);
  const arc = { kind: 'arc' as const, element: 'ray', x, y, radius: r, fromRad: 0, opacity };
  items.push(
    { ...arc, widthPx: r * 0.42, toRad: 2 * Math.PI, colour: EDGE },
    { ...arc, widthPx: r * 0.28, toRad: 2 * Math.PI * ray.dwelt, colour: colour ?? MISSING[0] },
  );
}

/** Draws rays over all else, as one view sees them: of a headset as either eye does. @param reachM as far as a beam is seen that meets nothing. */
export function drawRays(items: DrawItem[], ctx: SolveContext, rays: readonly DrawnRay[], reachM: number): void {
  const { ray } = ctx.c.document;
  for (const one of rays) {
    drawBeam(items, ctx, one, ray?.beam ?? BEAM, reachM);
    drawTip(items, ctx, one, ray?.tip ?? TIP);
  }
}
