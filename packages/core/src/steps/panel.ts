/**
 * Panels in the frame: where they stand in the world, how they are seen, and what View, Size and Place say of them. All that is
 * on a panel is laid out in its own design pixels; only its map to the screen changes from frame to frame.
 */
import type { PanelMount } from '@foreshore/document/kinds';
import type { Element } from '@foreshore/document/types';
import { At, mapAt } from '../frame.ts';
import { Setting } from '../settings.ts';
import type { SolveContext } from '../solve-context.ts';
import { beforePanelM, localScale, MapAt, mapPanel, PanelAt, type Seen, shareInFrame } from '../spaces/panel.ts';
import { Verdict } from './names.ts';
import { trail } from './trail.ts';

const RAD = Math.PI / 180;

/** Three axes being made: right, up, front. */
const axes = new Float64Array(9);
const LEVEL = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
const RIGHT = 0;
const UP = 3;
const FRONT = 6;

/** Turns two of the axes about the third: the first towards the second. */
function turn(from: number, to: number, angle: number): void {
  if (angle === 0) return;
  const cos = Math.cos(angle);
  const sin = Math.sin(angle);
  for (let k = 0; k < 3; k++) {
    const a = axes[from + k] as number;
    const b = axes[to + k] as number;
    axes[from + k] = cos * a + sin * b;
    axes[to + k] = cos * b - sin * a;
  }
}

const lengthOf = (axis: number): number => {
  let sum = 0;
  for (let k = axis; k < axis + 3; k++) sum += (axes[k] as number) ** 2;
  return Math.sqrt(sum);
};

/** Writes what is square to two axes. */
function cross(a: number, b: number, to: number): void {
  for (let k = 0; k < 3; k++) {
    const i = (k + 1) % 3;
    const j = (k + 2) % 3;
    axes[to + k] = (axes[a + i] as number) * (axes[b + j] as number) - (axes[a + j] as number) * (axes[b + i] as number);
  }
}

/** Makes right of up and front, and up square to front; level axes where they do not span. */
function square(): void {
  const front = lengthOf(FRONT);
  cross(UP, FRONT, RIGHT);
  const right = lengthOf(RIGHT);
  if (!(front > 1e-12 && right > 1e-9 * front)) {
    axes.set(LEVEL);
    return;
  }
  for (let k = 0; k < 3; k++) {
    axes[RIGHT + k] = (axes[RIGHT + k] as number) / right;
    axes[FRONT + k] = (axes[FRONT + k] as number) / front;
  }
  cross(FRONT, RIGHT, UP);
}

/** Writes a local axis as it stands in the world. */
function intoWorld({ c }: SolveContext, panel: number, local: number, to: number): void {
  const node = c.panelNode[panel] as number;
  const m = c.level?.worldMatrices;
  for (let k = 0; k < 3; k++) {
    const at = panel * 6 + local;
    axes[to + k] =
      node < 0 || !m
        ? (c.panelAxes[at + k] as number)
        : (m[node * 16 + k] as number) * (c.panelAxes[at] as number) +
          (m[node * 16 + 4 + k] as number) * (c.panelAxes[at + 1] as number) +
          (m[node * 16 + 8 + k] as number) * (c.panelAxes[at + 2] as number);
  }
}

/** Writes the top left, the axes and the scale of a panel whose own point comes to lie at a place. */
function writePanel(ctx: SolveContext, panel: number, element: Element, own: ArrayLike<number>): void {
  const { panels } = ctx.f;
  const at = panel * PanelAt.Stride;
  const { sizeM, pxPerM, sides } = element.mount as PanelMount;
  const { ownPoint, offsetPx } = element.place;
  turn(UP, RIGHT, (element.turnDeg ?? 0) * RAD);
  const w = sizeM[0] * pxPerM;
  const h = sizeM[1] * pxPerM;
  let beforeM = 0;
  for (let k = 0; k < 3; k++) beforeM += (axes[FRONT + k] as number) * ((ctx.f.eye[k] as number) - (own[k] as number));
  // From behind, what is on it reads the right way round, too: the same rectangle, from its other upper corner.
  const behind = sides === 'both' && beforeM < 0 ? 1 : 0;
  const side = 1 - 2 * behind;
  const x = ((ownPoint[0] - behind) * w - offsetPx[0]) / pxPerM;
  const y = (ownPoint[1] * h - offsetPx[1]) / pxPerM;
  for (let k = 0; k < 3; k++) {
    panels[at + PanelAt.Right + k] = side * (axes[RIGHT + k] as number);
    panels[at + PanelAt.Down + k] = -(axes[UP + k] as number);
    panels[at + PanelAt.Front + k] = side * (axes[FRONT + k] as number);
    panels[at + PanelAt.Origin + k] = (own[k] as number) - x * (axes[RIGHT + k] as number) + y * (axes[UP + k] as number);
  }
  panels[at + PanelAt.Side] = side;
  panels[at + PanelAt.PxPerM] = pxPerM;
  panels[at + PanelAt.WidthPx] = w;
  panels[at + PanelAt.HeightPx] = h;
}

const own = new Float64Array(3);

function standPanel(ctx: SolveContext, panel: number, row: number): void {
  const { c, f } = ctx;
  const element = c.elements[row] as Element;
  const { mount } = element;
  if (mount.kind !== 'standing') return;
  const anchor = (c.elementAnchor[row] as number) * 3;
  intoWorld(ctx, panel, 0, FRONT);
  intoWorld(ctx, panel, 3, UP);
  const lift = mount.liftM / (lengthOf(FRONT) || 1);
  for (let k = 0; k < 3; k++) own[k] = (c.anchorWorld[anchor + k] as number) + lift * (axes[FRONT + k] as number);
  if (mount.facing !== 'fixed') {
    const flat = mount.facing === 'upright';
    const x = (f.eye[0] as number) - (own[0] as number);
    const z = (f.eye[2] as number) - (own[2] as number);
    // Straight above or below, a panel that turns towards the viewer keeps the front of its place.
    const turns = x * x + z * z > 1e-12;
    for (let k = 0; k < 3; k++) {
      axes[UP + k] = k % 2;
      if (flat && k === 1) axes[FRONT + k] = 0;
      else if (turns) axes[FRONT + k] = (f.eye[k] as number) - (own[k] as number);
    }
  }
  square();
  turn(FRONT, RIGHT, mount.turnDeg * RAD);
  turn(UP, FRONT, -mount.tiltDeg * RAD);
  writePanel(ctx, panel, element, own);
}

/** The same of a panel whose axes are not square yet. */
const writeFacing = (ctx: SolveContext, panel: number, element: Element, at: ArrayLike<number>): void => {
  square();
  writePanel(ctx, panel, element, at);
};

/** Places all panels for the head and maps them to every view. Runs after anchors were placed and cameras aimed; allocates nothing. */
export function placePanels(ctx: SolveContext, cameras: readonly Seen[], atOnce: boolean): void {
  const { c, f, a } = ctx;
  const { panels, maps, places, count } = f;
  for (let p = 0; p < c.panels.length; p++) {
    const i = c.panels[p] as number;
    const at = p * PanelAt.Stride;
    if (i < c.anchoredCount) standPanel(ctx, p, i);
    else trail(ctx, p, i, axes, writeFacing, atOnce);
    for (let v = 0; v < cameras.length; v++) {
      const map = (v * c.panels.length + p) * MapAt.Stride;
      const camera = cameras[v] as Seen;
      mapPanel(panels, at, camera, maps, map);
      const place = (v * count + i) * At.Stride;
      places[place + At.RectX] = 0;
      places[place + At.RectY] = 0;
      places[place + At.RectW] = panels[at + PanelAt.WidthPx] as number;
      places[place + At.RectH] = panels[at + PanelAt.HeightPx] as number;
    }
    if (i >= c.anchoredCount) markOwnPoint(ctx, p, i);
    const { projection } = a;
    f.panelShare[p] = shareInFrame(maps, mapAt(f, p), places, i * At.Stride + At.RectX, projection);
  }
}

/** Panels that stand count in their own design pixels: where their anchors are seen says nothing of their size. */
export function keepUnits({ c, a, f }: SolveContext): void {
  for (let v = 0; v < f.viewCount; v++)
    for (let i = c.floatingCount; i < c.anchoredCount; i++) f.places[(v * f.count + i) * At.Stride + At.UnitPx] = a.ems[i] as number;
}

/** Writes where the own point of a panel that trails is seen, in all views, as anchors are. */
function markOwnPoint({ c, f, a }: SolveContext, panel: number, i: number): void {
  const at = panel * PanelAt.Stride;
  const { ownPoint } = (c.elements[i] as Element).place;
  const x = ownPoint[0] * (f.panels[at + PanelAt.WidthPx] as number);
  const y = ownPoint[1] * (f.panels[at + PanelAt.HeightPx] as number);
  for (let v = 0; v < f.viewCount; v++) {
    const place = (v * f.count + i) * At.Stride;
    const map = mapAt(f, panel, v);
    const of = (first: MapAt) =>
      (f.maps[map + first] as number) * x + (f.maps[map + first + 1] as number) * y + (f.maps[map + first + 2] as number);
    const depth = of(MapAt.DepthM);
    f.places[place + At.UnitPx] = a.ems[i] as number;
    f.places[place + At.DepthM] = depth;
    f.places[place + At.PointX] = depth > a.projection.nearM ? of(MapAt.X) / of(MapAt.W) : Number.NaN;
    f.places[place + At.PointY] = depth > a.projection.nearM ? of(MapAt.Y) / of(MapAt.W) : Number.NaN;
  }
}

/** Whether the head sees the front of a panel; one of two sides turns it to the head. */
export const isSeenFrom = ({ f }: Pick<SolveContext, 'f'>, panel: number): boolean =>
  beforePanelM(f.panels, panel * PanelAt.Stride, f.eye) > 0;

/** Whether enough of a panel lies about the frame for the View step. */
export function isAboutFrame({ a, f, m, c }: SolveContext, panel: number): boolean {
  if ((f.panelShare[panel] as number) > 0) return true;
  const i = c.panels[panel] as number;
  if (i >= c.anchoredCount) return false;
  const margin = a.settings[(a.settingsOf[i] as number) + (m.viewIn[i] ? Setting.StayPx : Setting.EnterPx)] as number;
  const box = i * At.Stride + At.RectX;
  return margin > 0 && shareInFrame(f.maps, mapAt(f, panel), f.places, box, a.projection, margin) > 0;
}

/** The em of a panel in pixels of the view, in its middle and along the way that is seen worst; 0 where the middle is not seen. */
export function naturalPx({ a, f, c }: SolveContext, panel: number): number {
  const at = panel * PanelAt.Stride;
  const [x, y] = [(f.panels[at + PanelAt.WidthPx] as number) / 2, (f.panels[at + PanelAt.HeightPx] as number) / 2];
  const map = mapAt(f, panel);
  const depth =
    (f.maps[map + MapAt.DepthM] as number) * x +
    (f.maps[map + MapAt.DepthM + 1] as number) * y +
    (f.maps[map + MapAt.DepthM + 2] as number);
  return depth > a.projection.nearM ? localScale(f.maps, map, x, y).worst * (a.ems[c.panels[panel] as number] as number) : 0;
}

/** View and Size of the panels that stand. */
export function runPanels(ctx: SolveContext): void {
  const { c, a, f, m } = ctx;
  const { gates } = m;
  for (let i = c.floatingCount; i < c.anchoredCount; i++) {
    if (f.failed[i] !== Verdict.Shown) continue;
    const panel = c.panelOf[i] as number;
    const gate = c.gateOfRow[i] as number;
    const isLookedAt = gate < 0 || !c.elements[i]?.look || gates.gazeIn[gate] === 1;
    if (!isLookedAt || !isSeenFrom(ctx, panel) || !isAboutFrame(ctx, panel)) {
      f.failed[i] = Verdict.View;
      if (!f.isTick) continue;
      m.viewIn[i] = 0;
      m.sizeIn[i] = 0;
      continue;
    }
    if (f.isTick) m.viewIn[i] = 1;
    const floor = a.settings[(a.settingsOf[i] as number) + (m.sizeIn[i] ? Setting.FloorHeldPx : Setting.FloorPx)] as number;
    const isLarge = !(floor > 0) || naturalPx(ctx, panel) >= floor;
    if (!isLarge) f.failed[i] = Verdict.Size;
    if (f.isTick) m.sizeIn[i] = isLarge ? 1 : 0;
  }
}

/** Place and Paint of the panels that stand. */
export function placeStanding({ c, f }: SolveContext): void {
  for (let i = c.floatingCount; i < c.anchoredCount; i++) {
    if (f.failed[i] !== Verdict.Shown) continue;
    if (!((f.panelShare[c.panelOf[i] as number] as number) > 0)) f.failed[i] = Verdict.Place;
    else if (c.unpainted[i]) f.failed[i] = Verdict.Paint;
  }
}
