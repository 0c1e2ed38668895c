/**
 * Mounting an element otherwise, so that nothing jumps: it keeps the place and the size that it has in the present view, as far as
 * the other mount can have them.
 */
import { headingOf, makeHit, type Pose, pixelsPerMetre, placeOf, type Solver, screenBox, screenRay, type Vec3 } from '@foreshore/core';
import {
  type Anchor,
  type Document,
  type Element,
  freeId,
  isAnchored,
  isOnPanel,
  KINDS,
  type Mount,
  orderAfter,
  type PanelMount,
  reparented,
} from '@foreshore/document';
import type { LevelModel } from '@foreshore/level';

/** What is carried otherwise, and an anchor that it needs. */
export interface Carried {
  element: Element;
  anchor: { id: string; anchor: Anchor } | null;
}

/** How far away it comes to stand where it has no distance of its own, metres. */
const DISTANCE_M = 2;
/** As near to a wall as it may come then. */
const OFF_WALL_M = 0.05;

interface Seen {
  solver: Solver;
  row: number;
  pose: Pose;
  level: LevelModel;
}

/** Pixels of the viewer for one of an element's own design pixels, as it is seen now. */
function unitNow({ solver, row }: Seen): number {
  const { c, a, f } = solver;
  const top = c.root[row] as number;
  const [, , w] = screenBox(solver, row);
  const { rect } = placeOf(f, row);
  if ((c.panelOf[row] as number) >= 0) return w / Math.max(rect[2], 1e-9);
  return top >= c.anchoredCount
    ? (a.fits[top] as number)
    : KINDS[(c.elements[top] as Element).kind].size === 'em'
      ? (a.fits[top] as number)
      : placeOf(f, top).emPx;
}

/** The size of a text, or of a design pixel, in design pixels of which one takes so many pixels of the viewer. */
function sizeAs({ solver, row }: Seen, element: Element, unit: number): Element['size'] {
  const { c, f } = solver;
  const { hideBelowPx, leavePx } = element.size;
  const scale = (c.panelOf[row] as number) >= 0 ? unitNow({ solver, row } as Seen) : 1;
  const px = placeOf(f, row).emPx * scale;
  // A group is laid out in design pixels; only over an anchor do these have a size of their own.
  const emPx = Number((px / unit).toFixed(3));
  return { rule: 'screen', emPx: Math.max(0.05, emPx), hideBelowPx, leavePx };
}

const rounded = (v: number, digits = 4): number => Number(v.toPrecision(digits));
const degrees = (v: number): number => Number(v.toFixed(2));

/** A panel of what is seen now at a distance: its metres, its density, and its size in design pixels. */
function panelOf(
  seen: Seen,
  element: Element,
  distanceM: number,
): { mount: Pick<PanelMount, 'sizeM' | 'pxPerM' | 'readM' | 'sides'>; size: Element['size'] } {
  const { solver, row } = seen;
  if (isOnPanel(element.mount)) {
    // One panel as another: as large to the eye at the new distance.
    const { sizeM, pxPerM, readM, sides } = element.mount;
    const [, , w] = screenBox(solver, row);
    const share = w / pixelsPerMetre(solver.a.projection, distanceM) / sizeM[0];
    return {
      mount: { sizeM: [rounded(sizeM[0] * share), rounded(sizeM[1] * share)], pxPerM: rounded(pxPerM / share, 6), readM, sides },
      size: element.size,
    };
  }
  const [, , w, h] = screenBox(solver, row);
  const perMetre = pixelsPerMetre(solver.a.projection, distanceM);
  const unit = unitNow(seen);
  const size = element.kind === 'group' ? element.size : sizeAs(seen, element, unit);
  return {
    mount: {
      sizeM: [rounded(w / perMetre), rounded(h / perMetre)],
      pxPerM: rounded(perMetre / unit, 6),
      readM: rounded(distanceM, 3),
      sides: 'front',
    },
    size,
  };
}

/** How far away an element stands now, metres; null where it has no distance. */
function distanceNow({ solver, row }: Seen): number | null {
  const { c, f } = solver;
  const top = c.root[row] as number;
  if (top >= c.anchoredCount && (c.panelOf[top] as number) < 0) return null;
  const { depthM } = placeOf(f, top);
  return depthM > 0 ? depthM : null;
}

/** The ray through an element's own point as it is seen, and how far along it the level is. */
function ahead({ solver, row, pose, level }: Seen, element: Element): { origin: Vec3; direction: Vec3; freeM: number } {
  const [x, y, w, h] = screenBox(solver, row);
  const { ownPoint } = element.place;
  const ray = screenRay(solver.a.projection, pose, x + ownPoint[0] * w, y + ownPoint[1] * h);
  const hit = makeHit();
  const freeM = level.castRay(ray.origin, ray.direction, 1000, hit) ? hit.distanceM : Number.POSITIVE_INFINITY;
  return { ...ray, freeM };
}

const anchorNow = (element: Element): string | null => (isAnchored(element.mount) ? element.mount.anchor : (element.about ?? null));

/** An element carried in the world: over an anchor, standing, or trailing. Null where it has no box in the present view. */
export function carriedAs(
  kind: Extract<Mount['kind'], 'floating' | 'standing' | 'trailing'>,
  document: Document,
  id: string,
  seen: Seen,
): Carried | null {
  const element = document.elements[id];
  if (!element || Number.isNaN(screenBox(seen.solver, seen.row)[0])) return null;
  const known = anchorNow(element);
  const depth = distanceNow(seen);
  const { direction, origin, freeM } = ahead(seen, element);
  const distanceM = depth ?? Math.max(0.3, Math.min(DISTANCE_M, freeM - OFF_WALL_M));
  const kept = { ...element.place, leader: null, stay: 'free' as const };
  if (kind === 'trailing') {
    const { mount, size } = panelOf(seen, element, distanceM);
    const { yawDeg, pitchDeg } = headingOf(seen.pose.rotation);
    const yaw = (Math.atan2(-direction[0], -direction[2]) * 180) / Math.PI;
    const pitch = (Math.asin(Math.max(-1, Math.min(1, direction[1]))) * 180) / Math.PI;
    const turned = ((yawDeg - yaw + 540) % 360) - 180;
    const trailing: Mount = {
      kind,
      ...mount,
      distanceM: rounded(distanceM),
      rightDeg: degrees(turned),
      upDeg: degrees(Math.max(-89, Math.min(89, pitch - pitchDeg))),
      followS: 0.25,
      deadDeg: 0,
      keeps: 'upright',
      blocked: 'nearer',
      leastM: rounded(Math.min(0.4, distanceM / 2)),
    };
    return { element: { ...reparented(element, trailing, { ...kept, offsetPx: [0, 0] }), size } as Element, anchor: null };
  }
  const made = known === null ? anchorAhead(document, element, seen, origin, direction, distanceM) : null;
  const anchor = known ?? (made as { id: string }).id;
  const offset: [number, number] = made ? [0, 0] : element.place.offsetPx;
  if (kind === 'standing') {
    const { mount, size } = panelOf(seen, element, distanceM);
    const standing: Mount = { kind, anchor, ...mount, facing: made ? 'fixed' : 'full', turnDeg: 0, tiltDeg: 0, liftM: 0 };
    return { element: { ...reparented(element, standing, { ...kept, offsetPx: offset }), size } as Element, anchor: made };
  }
  const unit = unitNow(seen);
  const fit = fitOf(seen);
  const out = reparented(
    element,
    { kind, anchor },
    { ...kept, offsetPx: made ? [0, 0] : (offset.map((v) => Math.round((v * unit) / fit)) as [number, number]) },
  );
  // Over an anchor, all but a text say how many of the viewer's design pixels one of their own takes.
  const size =
    KINDS[element.kind].size === 'em' ? sizeAs(seen, element, fit) : { ...sizeAs(seen, element, fit), emPx: rounded(unit / fit) };
  return { element: { ...hugging(out, seen), size } as Element, anchor: made };
}

const fitOf = ({ solver }: Seen): number => solver.a.fit;

/** A group that filled its panel keeps that size where it is as large as its layout says. */
export function hugging(element: Element, { solver, row }: Pick<Seen, 'solver' | 'row'>): Element {
  const top = solver.c.elements[row];
  if (element.kind !== 'group' || !isOnPanel(top?.mount)) return element;
  const [, , w, h] = placeOf(solver.f, row).rect;
  return { ...element, layout: { ...element.layout, widthPx: Math.round(w), heightPx: Math.round(h) } };
}

/** An anchor in the air before the viewer, whose front looks back along the view. */
function anchorAhead(
  document: Document,
  element: Element,
  { solver }: Seen,
  origin: Vec3,
  direction: Vec3,
  depthM: number,
): { id: string; anchor: Anchor } {
  const back = [...solver.f.rotation.subarray(6, 9)] as Vec3;
  const along = -direction.reduce((sum, v, k) => sum + v * (back[k] as number), 0);
  const position = origin.map((v, k) => Number((v + ((direction[k] as number) * depthM) / along).toFixed(4))) as Vec3;
  const name = element.name;
  return {
    id: freeId(document.anchors, name),
    anchor: { kind: 'surface', name, order: orderAfter(document.anchors), node: null, position, normal: back },
  };
}
