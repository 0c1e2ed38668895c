/**
 * Readability of what is shown: how large its letters are at the player's eye and in pixels, how well they stand out from what
 * is really behind them, how much of it others cover, whether it is cut off, how fast it moves while it should be read. In a
 * headset by the eye that sees it worse, and how far away it is for both.
 *
 * Thresholds: character height ISO 9241-303; contrast WCAG 2.2, 1.4.3; cut off and safe area by title-safe practice; speed,
 * because pursuit fails as it quickens; distance and vergence in a headset Shibata et al. 2011; that what a ray points at counts by
 * its angle, Kopper et al. 2010 (International Journal of Human-Computer Studies 68), the bound of 1.5 degrees as well as pixels and
 * cover the project's own choice.
 */
import { isOnHud, isOnPanel } from '@foreshore/document/kinds';
import type { Document, Element, Label, PageElement } from '@foreshore/document/types';
import { AIM_PANEL } from './compiled.ts';
import { contrastOfText, strokeContrast } from './contrast-seen.ts';
import { coverOf, drawnIn, paints, placedIn } from './cover.ts';
import { isSeen } from './draw-list.ts';
import { eyesOf } from './eyes.ts';
import { At, mapAt, placeOf } from './frame.ts';
import { wanted } from './layout/tree.ts';
import { makeHit } from './level.ts';
import type { Shortfall } from './outcome.ts';
import { overlapOf } from './overlap.ts';
import { pointerOf } from './pointer.ts';
import { isHand, LEAST_TARGET_DEG, reachOf } from './reach.ts';
import { panelDistanceM, screenBox, showsThrough } from './screen-box.ts';
import type { SolveContext } from './solve-context.ts';
import { localScale, PanelAt, screenPoint, seenCorners, worldPoint } from './spaces/panel.ts';
import type { Vec3 } from './spaces/pose.ts';
import { degreesBetween, uprightArcmin } from './spaces/screen.ts';
import { Verdict } from './steps/names.ts';

export interface Limits {
  leastArcmin: number;
  leastPx: number;
  contrast: number;
  /** Of letters of 24 px and more, or 18.66 px where they are bold. */
  contrastLarge: number;
  mostCovered: number;
  mostDegPerS: number;
  leastTargetDeg: number;
  /** In a headset, metres; and how much the angle between the eyes' directions may differ from that to what is looked at. */
  nearestM: number;
  farthestM: number;
  mostVergenceDeg: number;
}
export const LIMITS: Limits = {
  leastArcmin: 16,
  leastPx: 9,
  contrast: 4.5,
  contrastLarge: 3,
  mostCovered: 0.1,
  mostDegPerS: 15,
  leastTargetDeg: LEAST_TARGET_DEG,
  nearestM: 0.5,
  farthestM: 20,
  mostVergenceDeg: 1,
};
const limitsBy = new WeakMap<object, Limits>();
export function limitsOf({ readability }: Pick<Document, 'readability'>): Limits {
  if (!readability) return LIMITS;
  let limits = limitsBy.get(readability);
  if (!limits) limitsBy.set(readability, (limits = { ...LIMITS, ...readability }));
  return limits;
}

/** From which em on letters are large, WCAG 2.2, 1.4.3 (18 pt, or 14 pt bold, at 96 px an inch). */
export const isLarge = (emPx: number, weight: number): boolean => emPx >= (weight >= 700 ? 18.66 : 24);

export interface Readability {
  /** On a panel: how wide letters are for their height at the worst corner; 1 seen square on, and for all else. */
  widthShare: number;
  /** Of the smallest of its texts; infinite where it has none. */
  capArcmin: number;
  capPx: number;
  /** The row of that text, and of the one that stands out least; −1 where it has none. */
  smallest: number;
  faintest: number;
  /** The worst tenth of it; infinite where it has no text. */
  contrast: number;
  contrastNeeded: number;
  /** The share of what it draws that others lie over, and the row of the one that covers the most, or −1. */
  covered: number;
  coveredBy: number;
  /** How far it is cut off by the screen, the safe area, a group that clips, or a text box: the most of these, pixels. */
  cutPx: number;
  degPerS: number;
  /** In a headset: which eye sees it worse, 0 the left, 1 the right; −1 for all else. */
  eye: -1 | 0 | 1;
  /** What falls short, in the order above; empty where it can be read. */
  faults: Shortfall[];
}

/** The rows of texts, or of pages, that are shown in an element. @param scrolled those in lists that scroll, too. */
function textsIn(ctx: SolveContext, row: number, scrolled: boolean, kind: 'label' | 'page' = 'label'): number[] {
  const { c } = ctx;
  const out: number[] = [];
  const below = (at: number): void => {
    if (!isSeen(ctx, at)) return;
    const element = c.elements[at];
    if (element?.kind === kind) out.push(at);
    if (!scrolled && element?.kind === 'group' && element.layout.scroll) return;
    for (const member of c.members[at] ?? []) below(member);
  };
  below(row);
  return out;
}

/** The least height of capitals on a page, in its row's own pixels; infinite where it has no text, NaN where that is not known. */
export function pageCapPx({ a, c, f }: Pick<SolveContext, 'a' | 'c' | 'f'>, row: number): number {
  const element = c.elements[row] as PageElement;
  const file = c.document.pictures?.[element.page ?? ''];
  // A crossed frame stands for none.
  if (!file) return Number.POSITIVE_INFINITY;
  const [, , w, h] = placeOf(f, row).rect;
  return (a.text.pageCapPx?.(file.hash) ?? Number.NaN) * Math.min(w / file.widthPx, h / file.heightPx);
}

/** Whether a label says nothing. */
const isEmptyText = ({ a }: SolveContext, row: number): boolean => a.blocks[row]?.lines.every(({ text }) => text.trim() === '') === true;

const corner = (v: number, from: number, to: number): number => Math.max(from, Math.min(to, v));

/**
 * The height of a text's capitals at the player's eye, arcmin: the least of those in the corners of its box, as far as these lie
 * on the screen. Toward the edges of a flat screen the same pixels are smaller.
 */
export function capArcminAt(ctx: SolveContext, row: number, capPx: number): number {
  const { a, c, f } = ctx;
  if ((c.panelOf[row] as number) >= 0) return onPanelAt(ctx, row, capPx).arcmin;
  const [x, y, w, h] = placeOf(f, row).rect;
  const { widthPx, heightPx } = a.projection;
  let least = Number.POSITIVE_INFINITY;
  for (const at of [x, x + w])
    for (const top of [y, y + h - capPx]) {
      const [px, py] = [corner(at, 0, widthPx), corner(top, 0, heightPx - capPx)];
      least = Math.min(least, uprightArcmin(a.eye, px, py, py + capPx));
    }
  return least;
}

/**
 * A height on a panel as it is seen where that is worst: at the corners of what of a row's box lies in the frame. By the map's own
 * derivatives there (see `localScale`): in pixels, as an angle at the eye, and how wide letters are for their height, 1 seen square on.
 */
export function onPanelAt({ a, c, f }: SolveContext, row: number, height: number): { px: number; arcmin: number; widthShare: number } {
  const map = mapAt(f, c.panelOf[row] as number);
  const [x, y, w, h] = placeOf(f, row).rect;
  const corners = seenCorners(f.maps, map, x, y, w, h, a.projection);
  const worst = { px: Number.POSITIVE_INFINITY, arcmin: Number.POSITIVE_INFINITY, widthShare: 1 };
  for (let k = 0; k < corners.length; k += 2) {
    const [px, py] = [corners[k] as number, corners[k + 1] as number];
    const [sx, sy] = screenPoint(f.maps, map, px, py, a.projection.nearM);
    const { xx, yx, xy, yy } = localScale(f.maps, map, px, py);
    const [dx, dy] = [(xy * height) / 2, (yy * height) / 2];
    worst.px = Math.min(worst.px, 2 * Math.hypot(dx, dy));
    worst.arcmin = Math.min(worst.arcmin, degreesBetween(a.eye, sx - dx, sy - dy, sx + dx, sy + dy) * 60);
    worst.widthShare = Math.min(worst.widthShare, Math.hypot(xx, yx) / Math.hypot(xy, yy));
  }
  return worst;
}

/** Sight lines to what lies on a panel: columns and rows. */
const LINES_ACROSS = 5;
const LINES_DOWN = 3;
/** The share of what a row of a panel draws that the level stands before, by the area, and the node that does most of it. */
function levelBefore(ctx: SolveContext, row: number): { share: number; node: string } {
  const { c, f } = ctx;
  const { level } = c;
  if (!level) return { share: 0, node: '' };
  const areas = new Map<number, number>();
  let [blocked, all] = [0, 0];
  const at = (c.panelOf[row] as number) * PanelAt.Stride;
  for (const drawn of drawnIn(ctx, row)) {
    const [x, y, w, h] = placeOf(f, drawn).rect;
    for (let j = 0; j < LINES_DOWN; j++)
      for (let k = 0; k < LINES_ACROSS; k++) {
        const to = worldPoint(f.panels, at, x + ((k + 0.5) / LINES_ACROSS) * w, y + ((j + 0.5) / LINES_DOWN) * h);
        const node = level.sightline(f.eye[0] as number, f.eye[1] as number, f.eye[2] as number, ...to);
        all += w * h;
        if (node < 0) continue;
        blocked += w * h;
        areas.set(node, (areas.get(node) ?? 0) + w * h);
      }
  }
  const [most = -1] = [...areas].sort((p, q) => q[1] - p[1])[0] ?? [];
  return { share: all > 0 ? blocked / all : 0, node: level.nodeIds[most] ?? '' };
}

/** The angle between the directions to a place from two others, degrees. */
function turnOf(places: Float64Array, at: number, from: ArrayLike<number>, to: ArrayLike<number>): number {
  const way = (eye: ArrayLike<number>) => [0, 1, 2].map((k) => (places[at + k] as number) - (eye[k] as number)) as [number, number, number];
  const [p, q] = [way(from), way(to)];
  const cross = Math.hypot(p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]);
  return (Math.atan2(cross, p[0] * q[0] + p[1] * q[1] + p[2] * q[2]) * 180) / Math.PI;
}

/** Where the box of a measure line is in the world: on the line, at its own depth. */
function onLine({ projection }: SolveContext['a'], f: SolveContext['f'], row: number): Float64Array {
  const { point, depthM } = placeOf(f, row);
  const by = projection.orthographic ? 1 : depthM;
  const local = [
    ((point[0] - projection.centreX) / projection.focalX) * by,
    ((projection.centreY - point[1]) / projection.focalY) * by,
    -depthM,
  ];
  return Float64Array.from(
    [0, 1, 2],
    (k) => (f.eye[k] as number) + local.reduce((sum, v, r) => sum + v * (f.rotation[r * 3 + k] as number), 0),
  );
}

/** How fast an element moves at the player's eye because the head does, degrees a second: from where its anchor was before. The eyes of a headset follow what stands in the world
 * while the head turns: there it is by how far it moves in the world's own directions. */
export function sweepOf({ c, f, a, m }: SolveContext, row: number): number {
  const top = c.root[row] as number;
  if (top >= c.anchoredCount || !(m.wasS > 0)) return 0;
  // What stands at the edge of the frame stays there.
  if (c.edged.length > 0 && !Number.isNaN(f.edgeRad[c.edged.indexOf(top)] ?? Number.NaN)) return 0;
  const [places, at] = c.spans.includes(top) ? [onLine(a, f, top), 0] : [c.anchorWorld, (c.elementAnchor[top] as number) * 3];
  if (a.eyes.length > 0) return turnOf(places, at, m.wasEye, f.eye) / m.wasS;
  const [x, y, z] = [0, 1, 2].map((k) => (places[at + k] as number) - (m.wasEye[k] as number)) as [number, number, number];
  const along = (k: number) =>
    (m.wasRotation[k] as number) * x + (m.wasRotation[k + 1] as number) * y + (m.wasRotation[k + 2] as number) * z;
  const depth = -along(6);
  const { point } = placeOf(f, top);
  if (!(depth > a.projection.nearM) || Number.isNaN(point[0])) return 0;
  const scale = a.projection.orthographic ? 1 : 1 / depth;
  const wasX = a.projection.centreX + a.projection.focalX * along(0) * scale;
  const wasY = a.projection.centreY - a.projection.focalY * along(3) * scale;
  return degreesBetween(a.eye, wasX, wasY, point[0], point[1]) / m.wasS;
}

type Bounds = { left: number; top: number; right: number; bottom: number };
const beyond = (rect: readonly number[], { left, top, right, bottom }: Bounds): number => {
  const [x, y, w, h] = rect as [number, number, number, number];
  return Math.max(0, left - x, top - y, x + w - right, y + h - bottom);
};
/** Less than this is rounding. */
const LEAST_CUT_PX = 0.5;

type Cut = Extract<Shortfall, { kind: 'cut' }>;

/** How far one of what a row draws is cut off by the screen, by the safe area (on the HUD), and by groups around the row that clip. */
function cutsOf(ctx: SolveContext, row: number, drawn: number): Cut[] {
  const { c, f, a } = ctx;
  const out: Cut[] = [];
  const { rect } = placeOf(f, drawn);
  const { mount } = c.elements[row] as Element;
  const onHud = (c.root[row] as number) >= c.anchoredCount && (c.panelOf[row] as number) < 0;
  // What is stretched over the screen is meant to reach its edges.
  const stretched = isOnHud(mount) && mount.stretch.some(Boolean);
  const screen = beyond(screenBox(ctx, drawn), { left: 0, top: 0, right: a.projection.widthPx, bottom: a.projection.heightPx });
  const safe = onHud ? beyond(rect, a.safe) : 0;
  if (!stretched && screen > LEAST_CUT_PX) out.push({ kind: 'cut', at: 'screen', value: screen });
  else if (!stretched && safe > LEAST_CUT_PX) out.push({ kind: 'cut', at: 'safeArea', value: safe });
  for (let by = c.clipper[row] as number; by >= 0; by = c.clipper[by] as number) {
    const [x, y, w, h] = placeOf(f, by).rect;
    const value = beyond(rect, { left: x, top: y, right: x + w, bottom: y + h });
    if (value > LEAST_CUT_PX) out.push({ kind: 'cut', at: 'group', value, by: c.ids[by] as string });
  }
  return out;
}

/** Of each kind of edge the most. */
function mostCut(cuts: readonly Cut[]): Cut[] {
  const most = new Map<string, Cut>();
  for (const cut of cuts) {
    const key = cut.at === 'group' ? `group ${cut.by}` : cut.at;
    if (cut.value > (most.get(key)?.value ?? 0)) most.set(key, cut);
  }
  return [...most.values()];
}

/**
 * What the Place step finds short of one row: cut off by the screen, by the safe area (on the HUD), by a group that clips, or by
 * its own text box; letters that no font has. Its box must stand in the frame. A group without a plate is as good as air between its
 * members: it is cut off where one of these is.
 */
export function placeShortfalls(ctx: SolveContext, row: number): Shortfall[] {
  const { c, f, a } = ctx;
  const out: Shortfall[] = mostCut(placedIn(ctx, row).flatMap((drawn) => cutsOf(ctx, row, drawn)));
  const { rect } = placeOf(f, row);
  const panel = c.panelOf[row] as number;
  const isPanel = panel >= 0 && (c.parent[row] as number) < 0;
  // A text that needs more than its panel runs out over its edges.
  const isText = isPanel && c.elements[row]?.kind === 'label';
  const needed = isText ? Math.max(wanted(a.tree, row, 0) - rect[2], wanted(a.tree, row, 1) - rect[3], 0) : 0;
  const over = Math.max((a.overflow[row] as number) * (a.fits[row] as number), needed > LEAST_CUT_PX ? needed : 0);
  if (over > 0 || a.blocks[row]?.cut) out.push({ kind: 'cut', at: 'textBox', value: over });
  const missing = a.blocks[row]?.missing ?? [];
  if (missing.length > 0) out.push({ kind: 'glyphs', missing });
  return out;
}

/** Whether something on a panel that acts on the pointer lies beyond its reach. */
function reachShort(ctx: SolveContext, row: number): Shortfall | null {
  const { c } = ctx;
  const acts = (at: number): boolean => pointerOf(ctx, at).takes === 'acts' || (c.members[at] ?? []).some(acts);
  if (!acts(row)) return null;
  const value = panelDistanceM(ctx, row);
  const bound = reachOf(c.document);
  return value > bound ? { kind: 'reach', value, bound } : null;
}

/** How far a ray is followed to what is looked at, metres: beyond it, the eyes' directions are as good as parallel. */
const FAR_M = 1000;
const hit = makeHit();

/** How far from the head a row is, metres: the panel it lies on, or its anchor; NaN where it is at no distance. */
function distanceOf(ctx: SolveContext, row: number): number {
  const { c, f } = ctx;
  if ((c.panelOf[row] as number) >= 0) return panelDistanceM(ctx, row);
  const top = c.root[row] as number;
  if (top >= c.anchoredCount) return Number.NaN;
  const at = (c.elementAnchor[top] as number) * 3;
  return Math.hypot(...[0, 1, 2].map((k) => (c.anchorWorld[at + k] as number) - (f.eye[k] as number)));
}

/**
 * How far away that is which the player looks at while reading a row: what trails the head is glanced at while the eyes are on
 * what lies straight ahead; all else is itself looked at, unless the level stands before it.
 */
function lookedAtM(ctx: SolveContext, row: number, distanceM: number): number {
  const { c, f } = ctx;
  if (!c.level) return distanceM;
  const origin: Vec3 = [f.eye[0] as number, f.eye[1] as number, f.eye[2] as number];
  const top = c.root[row] as number;
  if (top >= c.anchoredCount) {
    const [x, y, z] = f.forward as unknown as Vec3;
    return c.level.castRay(origin, [x, y, z], FAR_M, hit) ? hit.distanceM : FAR_M;
  }
  const at = (c.elementAnchor[top] as number) * 3;
  const way = origin.map((v, k) => ((c.anchorWorld[at + k] as number) - v) / distanceM) as Vec3;
  return c.level.castRay(origin, way, distanceM, hit) ? hit.distanceM : distanceM;
}

/** The angle between the directions of two eyes to something straight ahead, degrees: 2·atan(e/2d). */
const vergenceDeg = (eyesM: number, distanceM: number): number => (2 * Math.atan(eyesM / (2 * distanceM)) * 180) / Math.PI;

/** Eyes turn to nothing that is nearer than this, metres: the near point of convergence is 5 cm in most grown people (Scheiman et al. 2003). */
const NEAR_POINT_M = 0.05;

/** What of a row's distance is hard on two eyes. */
function depthShortfalls(ctx: SolveContext, row: number): Shortfall[] {
  const [left, right] = ctx.a.eyes;
  const distanceM = distanceOf(ctx, row);
  if (!left || !right || Number.isNaN(distanceM)) return [];
  const { nearestM, farthestM, mostVergenceDeg } = limitsOf(ctx.c.document);
  if (distanceM < nearestM) return [{ kind: 'tooNear', value: distanceM, bound: nearestM }];
  // What aims is where that is which is aimed at; the eyes look there anyway.
  const aims = ctx.c.ids[ctx.c.root[row] as number] === AIM_PANEL;
  if (distanceM > farthestM && !aims) return [{ kind: 'tooFar', value: distanceM, bound: farthestM }];
  const eyesM = right.rightM - left.rightM;
  const lookedAt = lookedAtM(ctx, row, distanceM);
  // Nobody looks at it: the head goes through a wall, or a door that is shut.
  if (lookedAt < NEAR_POINT_M) return [];
  const value = Math.abs(vergenceDeg(eyesM, distanceM) - vergenceDeg(eyesM, lookedAt));
  return value > mostVergenceDeg ? [{ kind: 'vergence', value, bound: mostVergenceDeg, distanceM, lookedAtM: lookedAt }] : [];
}

/** Whether something is read worse than something else: more falls short, or its letters are smaller for what is asked. */
function isWorse(one: Readability, other: Readability, { leastArcmin, leastPx }: Limits): boolean {
  if (one.faults.length !== other.faults.length) return one.faults.length > other.faults.length;
  const share = ({ capArcmin, capPx }: Readability) => Math.min(capArcmin / leastArcmin, capPx / leastPx);
  const [a, b] = [share(one), share(other)];
  return a === b ? one.contrast < other.contrast : a < b;
}

/** The angle between two places seen from the head, degrees. */
function degreesAcross({ f }: SolveContext, p: Readonly<Vec3>, q: Readonly<Vec3>): number {
  const way = (to: Readonly<Vec3>) => to.map((v, k) => v - (f.eye[k] as number)) as Vec3;
  const [a, b] = [way(p), way(q)];
  const cross = Math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]);
  return (Math.atan2(cross, a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) * 180) / Math.PI;
}

/** The smaller side of a row on a panel with what is added to it for the pointer, as an angle in the world, degrees. */
export function targetDeg(ctx: SolveContext, row: number): number {
  const { c, f } = ctx;
  const at = (c.panelOf[row] as number) * PanelAt.Stride;
  const [x, y, w, h] = placeOf(f, row).rect;
  const { padPx } = pointerOf(ctx, row);
  const point = (u: number, v: number) => worldPoint(f.panels, at, x + w / 2 + u * (w / 2 + padPx), y + h / 2 + v * (h / 2 + padPx));
  return Math.min(degreesAcross(ctx, point(-1, 0), point(1, 0)), degreesAcross(ctx, point(0, -1), point(0, 1)));
}

/** What is on a panel is used from as far as it is read, and a little more: of a wide panel not every part is as near as its middle. */
const USED_WITHIN = 1.1;

/** The smallest of what acts in a row on a panel, where it is too small for a hand's ray. */
function targetShort(ctx: SolveContext, row: number): Shortfall | null {
  const { c, f } = ctx;
  if (!c.document.ray?.sources?.some(isHand)) return null;
  const { leastTargetDeg: bound } = limitsOf(c.document);
  // Farther away than it is read from, it is not meant to be used either.
  const mount = c.elements[c.root[row] as number]?.mount;
  if (isOnPanel(mount) && panelDistanceM(ctx, row) > mount.readM * USED_WITHIN) return null;
  let short: Shortfall | null = null;
  const below = (at: number): void => {
    if (f.failed[at] !== Verdict.Shown) return;
    const value = pointerOf(ctx, at).takes === 'acts' ? targetDeg(ctx, at) : Number.POSITIVE_INFINITY;
    if (value < bound && !(short && 'value' in short && short.value <= value))
      short = { kind: 'target', value, bound, row: c.ids[at] as string };
    for (const member of c.members[at] ?? []) below(member);
  };
  below(row);
  return short;
}

/** What is measured of a row. */
interface Asks {
  /** False leaves out the contrast with the level, which costs a ray a point. */
  contrast?: boolean;
  /** False leaves out what its texts tell of themselves (`OF_TEXTS`); in a headset they decide which eye sees it worse, and are measured. */
  texts?: boolean;
}

/** What falls short of the texts of an element: of a group, the texts tell it themselves. */
export const OF_TEXTS: ReadonlySet<Shortfall['kind']> = new Set(['small', 'contrast', 'overlaps', 'empty', 'glyphs', 'unmeasured']);

/** Measures one row of the frame just solved; in a headset as the eye does that sees it worse. */
export function measureReadable(ctx: SolveContext, row: number, asks: Asks = {}): Readability {
  if (ctx.a.eyes.length === 0) return measureIn(ctx, row, asks);
  const [left, right] = eyesOf(ctx).map((eye, k) => ({ ...measureIn(eye, row, { ...asks, texts: true }), eye: k as 0 | 1 })) as [
    Readability,
    Readability,
  ];
  const worse = isWorse(right, left, limitsOf(ctx.c.document)) ? right : left;
  const degPerS = sweepOf(ctx, row);
  const { mostDegPerS } = limitsOf(ctx.c.document);
  const faults = [...worse.faults.filter(({ kind }) => kind !== 'speed'), ...depthShortfalls(ctx, row)];
  if (degPerS > mostDegPerS) faults.push({ kind: 'speed', value: degPerS, bound: mostDegPerS });
  return { ...worse, degPerS, faults };
}

/** The same in one picture. */
function measureIn(ctx: SolveContext, row: number, { contrast: asksLevel = true, texts: asksTexts = true }: Asks): Readability {
  const { c, f, a } = ctx;
  const limits = limitsOf(c.document);
  let [capArcmin, capPx, contrast, contrastNeeded] = [
    Number.POSITIVE_INFINITY,
    Number.POSITIVE_INFINITY,
    Number.POSITIVE_INFINITY,
    limits.contrast,
  ];
  let [smallest, faintest] = [-1, -1];
  let widthShare = 1;
  const said = asksTexts ? textsIn(ctx, row, true).filter((text) => !isEmptyText(ctx, text)) : [];
  const pages = asksTexts ? textsIn(ctx, row, true, 'page') : [];
  /** Takes the height of capitals in a row, in the row's own pixels; gives it as it is seen. */
  const take = (of: number, height: number): number => {
    const seenAt = (c.panelOf[of] as number) >= 0 ? onPanelAt(ctx, of, height) : null;
    const cap = seenAt?.px ?? height;
    const arcmin = seenAt?.arcmin ?? capArcminAt(ctx, of, cap);
    if (seenAt) widthShare = Math.min(widthShare, seenAt.widthShare);
    // The one that is farthest from what is asked, in either unit.
    const worse =
      Math.min(arcmin / limits.leastArcmin, cap / limits.leastPx) < Math.min(capArcmin / limits.leastArcmin, capPx / limits.leastPx);
    if (worse) [capPx, capArcmin, smallest] = [cap, arcmin, of];
    return cap;
  };
  const unmeasured: number[] = [];
  for (const page of pages) {
    const height = pageCapPx(ctx, page);
    if (Number.isNaN(height)) unmeasured.push(page);
    else if (height > 0 && Number.isFinite(height)) take(page, height);
  }
  for (const text of said) {
    const label = c.elements[text] as Label;
    const em = f.places[text * At.Stride + At.UnitPx] as number;
    const onPanel = (c.panelOf[text] as number) >= 0;
    const height = em * (a.blocks[text]?.capHeightEm ?? 0.7);
    const cap = take(text, height);
    if (!asksLevel) continue;
    const needed = isLarge(onPanel ? (em * cap) / height : em, label.paint.weight) ? limits.contrastLarge : limits.contrast;
    const found = contrastOfText(ctx, text, needed);
    if (faintest < 0 || found / needed < contrast / contrastNeeded) [contrast, contrastNeeded, faintest] = [found, needed, text];
  }
  // What is drawn to be seen, not read, needs as much as large letters do (WCAG 2.2, 1.4.11).
  if (c.elements[row]?.kind === 'crosshair' && asksLevel)
    [contrast, contrastNeeded, faintest] = [strokeContrast(ctx, row), limits.contrastLarge, row];
  const degPerS = sweepOf(ctx, row);
  const { share: covered, by: coveredBy } = coverOf(ctx, row);
  const faults: Shortfall[] = [];
  if (asksTexts && c.elements[row]?.kind === 'label' && said.length === 0) faults.push({ kind: 'empty' });
  for (const page of unmeasured) faults.push({ kind: 'unmeasured', row: c.ids[page] as string });
  if (capArcmin < limits.leastArcmin) faults.push({ kind: 'small', unit: 'arcmin', value: capArcmin, bound: limits.leastArcmin });
  else if (capPx < limits.leastPx) faults.push({ kind: 'small', unit: 'px', value: capPx, bound: limits.leastPx });
  if (contrast < contrastNeeded) faults.push({ kind: 'contrast', value: contrast, bound: contrastNeeded });
  if (covered > limits.mostCovered)
    faults.push({ kind: 'covered', value: covered, bound: limits.mostCovered, by: c.ids[coveredBy] as string });
  const overlap = said
    .map((text) => overlapOf(ctx, text, (other) => paints(ctx, other)))
    .reduce((most, one) => (one.share > most.share ? one : most), { share: 0, by: -1 });
  if (overlap.share > limits.mostCovered)
    faults.push({ kind: 'overlaps', value: overlap.share, bound: limits.mostCovered, by: c.ids[overlap.by] as string });
  if ((c.panelOf[row] as number) >= 0) {
    const before = showsThrough(c.elements[c.root[row] as number] as Element) ? { share: 0, node: '' } : levelBefore(ctx, row);
    if (before.share > limits.mostCovered)
      faults.push({ kind: 'behindLevel', value: before.share, bound: limits.mostCovered, node: before.node });
    for (const short of [reachShort(ctx, row), targetShort(ctx, row)]) if (short) faults.push(short);
  }
  const places = placeShortfalls(ctx, row);
  // Of a group: what of its texts is cut off. What a list scrolls can be come to.
  for (const text of textsIn(ctx, row, false))
    if (text !== row) for (const one of placeShortfalls(ctx, text)) if (!places.some(({ kind }) => kind === one.kind)) places.push(one);
  faults.push(...places);
  if (degPerS > limits.mostDegPerS) faults.push({ kind: 'speed', value: degPerS, bound: limits.mostDegPerS });
  const cutPx = places.reduce((most, one) => (one.kind === 'cut' ? Math.max(most, one.value) : most), 0);
  return {
    widthShare,
    capArcmin,
    capPx,
    smallest,
    faintest,
    contrast,
    contrastNeeded,
    covered,
    coveredBy,
    cutPx,
    degPerS,
    eye: -1,
    faults,
  };
}
