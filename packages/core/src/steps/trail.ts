/**
 * Panels that trail the viewer: in a direction from the head, at a distance, coming after it softly or rigidly, and nearer where
 * the level is in the way.
 */
import type { Element } from '@foreshore/document/types';
import { AIM_PANEL, HUD_PANEL } from '../compiled.ts';
import { makeHit } from '../level.ts';
import type { SolveContext } from '../solve-context.ts';
import { PanelAt } from '../spaces/panel.ts';
import type { Vec3 } from '../spaces/pose.ts';
import { Verdict } from './names.ts';

const DEG = 180 / Math.PI;

/**
 * How an angle comes after another over a step in which that one runs straight from x0 to x1: it stays while it is less than
 * `dead` away, and beyond that comes after with the time constant τ. Exact, so that no rate of frames changes it: with the rest
 * u = |x − y| − dead on its side and w the speed of x away from y, u' = w − u/τ, so u = (u0 − wτ)·e^(−t/τ) + wτ, until u is 0; inside,
 * y stands still until x has run through the zone.
 */
export function followed(y0: number, x0: number, x1: number, dtS: number, tauS: number, dead: number): number {
  const v = dtS > 0 ? (x1 - x0) / dtS : 0;
  let [y, x, left] = [y0, x0, dtS];
  // Two sides and the zone between: no straight run passes more than three.
  for (let pass = 0; pass < 4; pass++) {
    const side = x >= y ? 1 : -1;
    const u = side * (x - y) - dead;
    if (u > 1e-12 && tauS > 0) {
      const w = side * v * tauS;
      const untilS = w < 0 ? tauS * Math.log((u - w) / -w) : Number.POSITIVE_INFINITY;
      if (untilS >= left) return x + v * left - side * (dead + (u - w) * Math.exp(-left / tauS) + w);
      x += v * untilS;
      y = x - side * dead;
      left -= untilS;
      continue;
    }
    if (u > 0) y = x - side * dead;
    // Inside of the zone, or at its edge: stands still until x has come to the edge that it runs to.
    const to = y + (v >= 0 ? 1 : -1) * dead;
    const runS = v === 0 ? Number.POSITIVE_INFINITY : (to - x) / v;
    if (runS >= left) return y;
    x = to;
    left -= runS;
    if (tauS === 0) return x + v * left - (v >= 0 ? 1 : -1) * dead;
    // At the edge and running on: what is beyond begins at nothing.
    const w = v * tauS;
    return x + v * left - (v >= 0 ? 1 : -1) * dead - w * (1 - Math.exp(-left / tauS));
  }
  return y;
}

/** An angle as near to another as turns of 360 degrees bring it. */
const near = (angle: number, to: number): number => angle - 360 * Math.round((angle - to) / 360);

/** How the head is turned, degrees: to the left, up, and over to its left. */
function headAngles(rotation: Float64Array, out: Float64Array): void {
  const of = (k: number) => rotation[k] as number;
  // The rows are the camera's right, up and back.
  const yaw = Math.atan2(of(6), of(8));
  const pitch = Math.asin(Math.max(-1, Math.min(1, -of(7))));
  const [cos, sin] = [Math.cos(yaw), Math.sin(yaw)];
  const level = of(0) * cos - of(2) * sin;
  const upX = Math.sin(pitch) * sin;
  const upZ = Math.sin(pitch) * cos;
  const raised = of(0) * upX + of(1) * Math.cos(pitch) + of(2) * upZ;
  out[0] = yaw * DEG;
  out[1] = pitch * DEG;
  out[2] = Math.atan2(raised, level) * DEG;
}

const head = new Float64Array(3);
const turned = new Float64Array(9);
const own = new Float64Array(3);
const corners = new Float64Array(9);

/** The axes (right, up, back; each three numbers) of a head turned so. */
function axesOf(yawDeg: number, pitchDeg: number, rollDeg: number, out: Float64Array): void {
  const [y, p, r] = [yawDeg / DEG, pitchDeg / DEG, rollDeg / DEG];
  const [cy, sy, cp, sp, cr, sr] = [Math.cos(y), Math.sin(y), Math.cos(p), Math.sin(p), Math.cos(r), Math.sin(r)];
  const right = [cy, 0, -sy];
  const up = [sp * sy, cp, sp * cy];
  for (let k = 0; k < 3; k++) {
    out[k] = (right[k] as number) * cr + (up[k] as number) * sr;
    out[3 + k] = (up[k] as number) * cr - (right[k] as number) * sr;
  }
  out[6] = sy * cp;
  out[7] = -sp;
  out[8] = cy * cp;
}

/** Whether a panel is still on its way after the head, or back from a wall: a picture of it a moment later would be another. */
export function isOnItsWay({ c, m }: Pick<SolveContext, 'c' | 'm'>, panel: number): boolean {
  const mount = c.elements[c.panels[panel] as number]?.mount;
  if (mount?.kind !== 'trailing') return false;
  const angles = mount.followS > 0 ? (mount.keeps === 'head' ? 3 : 2) : 0;
  for (let k = panel * 3; k < panel * 3 + angles; k++)
    if (Math.abs((m.trailHead[k] as number) - (m.trailDeg[k] as number)) > mount.deadDeg + NEAR_DEG) return true;
  return (m.trailFree[panel] as number) - (m.trailShare[panel] as number) > NEAR_SHARE;
}
/** Nearer than this it is there. */
const NEAR_DEG = 0.02;
const NEAR_SHARE = 1e-3;

/** So much nearer than the level a panel stays, metres; and with this time constant it goes back to its distance. */
const CLEAR_M = 0.02;
const RETURN_S = 0.25;

/**
 * Places a panel that trails. @param write writes a panel from its own point and the axes right, up and front.
 */
export function trail(
  ctx: SolveContext,
  panel: number,
  row: number,
  axes: Float64Array,
  write: (ctx: SolveContext, panel: number, element: Element, own: Float64Array) => void,
  atOnce: boolean,
): void {
  const { c, f, m } = ctx;
  const element = c.elements[row] as Element;
  const { mount } = element;
  if (mount.kind !== 'trailing') return;
  const dtS = atOnce ? 0 : Math.max(0, f.timeS - m.timeS);
  headAngles(f.rotation, head);
  const at = panel * 3;
  for (let k = 0; k < 3; k++) {
    const before = m.trailHead[at + k] as number;
    const now = atOnce ? (head[k] as number) : near(head[k] as number, before);
    m.trailDeg[at + k] = atOnce ? now : followed(m.trailDeg[at + k] as number, before, now, dtS, mount.followS, mount.deadDeg);
    m.trailHead[at + k] = now;
  }
  const rolls = mount.keeps === 'head';
  axesOf(m.trailDeg[at] as number, m.trailDeg[at + 1] as number, rolls ? (m.trailDeg[at + 2] as number) : 0, turned);
  const [side, high] = [mount.rightDeg / DEG, mount.upDeg / DEG];
  for (let k = 0; k < 3; k++) {
    const way =
      Math.cos(high) * (Math.sin(side) * (turned[k] as number) - Math.cos(side) * (turned[6 + k] as number)) +
      Math.sin(high) * (turned[3 + k] as number);
    own[k] = (f.eye[k] as number) + mount.distanceM * way;
    axes[6 + k] = -way;
    axes[3 + k] = rolls ? (turned[3 + k] as number) : k === 1 ? 1 : 0;
  }
  write(ctx, panel, element, own);
  m.trailShare[panel] = c.ids[row] === AIM_PANEL ? aimShare(ctx, panel, mount, dtS) : leftShare(ctx, panel, mount, dtS);
  if (mount.blocked === 'nearer') bringNearer(ctx, panel, m.trailShare[panel] as number);
}

/** The panel's top left, top right and bottom left, in `corners`. */
function takeCorners(panels: Float64Array, at: number): void {
  const [w, h, k] = [PanelAt.WidthPx, PanelAt.HeightPx, PanelAt.PxPerM].map((column) => panels[at + column] as number) as [
    number,
    number,
    number,
  ];
  for (let axis = 0; axis < 3; axis++) {
    const o = panels[at + PanelAt.Origin + axis] as number;
    corners[axis] = o;
    corners[3 + axis] = o + (w / k) * (panels[at + PanelAt.Right + axis] as number);
    corners[6 + axis] = o + (h / k) * (panels[at + PanelAt.Down + axis] as number);
  }
}

/** A panel comes nearer at once and goes back softly. @param free of its way: so much is free now. */
function softly(
  { m }: SolveContext,
  panel: number,
  free: number,
  { distanceM, leastM }: { distanceM: number; leastM: number },
  dtS: number,
): number {
  const allowed = free < 1 ? Math.max(leastM / distanceM, free - CLEAR_M / distanceM) : 1;
  const before = m.trailShare[panel] as number;
  m.trailFree[panel] = allowed;
  return !(before < allowed) ? Math.min(1, allowed) : Math.min(1, allowed - (allowed - before) * Math.exp(-dtS / RETURN_S));
}

const hit = makeHit();
const from: Vec3 = [0, 0, 0];
const ahead: Vec3 = [0, 0, 0];

/** The share of its way that what aims goes: to the level, or to a panel, where the middle of the view meets it. */
function aimShare(ctx: SolveContext, panel: number, mount: { distanceM: number; leastM: number }, dtS: number): number {
  const { c, f } = ctx;
  const { panels, eye, forward } = f;
  for (let axis = 0; axis < 3; axis++) {
    from[axis] = eye[axis] as number;
    ahead[axis] = forward[axis] as number;
  }
  let free = c.level?.castRay(from, ahead, mount.distanceM, hit) ? hit.distanceM / mount.distanceM : 1;
  for (let p = 0; p < c.panels.length; p++) {
    const row = c.panels[p] as number;
    if (p === panel || c.ids[row] === HUD_PANEL || f.failed[row] !== Verdict.Shown) continue;
    const at = p * PanelAt.Stride;
    let [towards, beyond] = [0, 0];
    for (let axis = 0; axis < 3; axis++) {
      const front = panels[at + PanelAt.Front + axis] as number;
      towards += front * (forward[axis] as number);
      beyond += front * ((panels[at + PanelAt.Origin + axis] as number) - (eye[axis] as number));
    }
    const far = beyond / towards;
    if (!(far > 0 && far < free * mount.distanceM)) continue;
    let [x, y] = [0, 0];
    for (let axis = 0; axis < 3; axis++) {
      const on = (eye[axis] as number) + far * (forward[axis] as number) - (panels[at + PanelAt.Origin + axis] as number);
      x += on * (panels[at + PanelAt.Right + axis] as number);
      y += on * (panels[at + PanelAt.Down + axis] as number);
    }
    const k = panels[at + PanelAt.PxPerM] as number;
    const inside =
      x >= 0 && y >= 0 && x * k <= (panels[at + PanelAt.WidthPx] as number) && y * k <= (panels[at + PanelAt.HeightPx] as number);
    if (inside) free = far / mount.distanceM;
  }
  return softly(ctx, panel, free, mount, dtS);
}

/** The share of its way to the panel that the level leaves free; once it was less, it comes back softly. */
function leftShare(ctx: SolveContext, panel: number, mount: { blocked: string; distanceM: number; leastM: number }, dtS: number): number {
  const { c, f } = ctx;
  const { panels, eye } = f;
  const at = panel * PanelAt.Stride;
  if (!c.level || mount.blocked === 'show') return 1;
  takeCorners(panels, at);
  const free = c.level.nearestShare(eye[0] as number, eye[1] as number, eye[2] as number, corners);
  return mount.blocked === 'nearer' ? softly(ctx, panel, free, mount, dtS) : free;
}

/** Brings a panel nearer to the eye and makes it as much smaller: every point of it stays on its ray. */
function bringNearer({ f }: SolveContext, panel: number, share: number): void {
  const { panels, eye } = f;
  const at = panel * PanelAt.Stride;
  for (let k = 0; k < 3; k++) {
    const e = eye[k] as number;
    panels[at + PanelAt.Origin + k] = e + share * ((panels[at + PanelAt.Origin + k] as number) - e);
  }
  panels[at + PanelAt.PxPerM] = (panels[at + PanelAt.PxPerM] as number) / share;
}
