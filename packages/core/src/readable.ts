/**
 * Readability of what is shown: how large its letters are at the player's eye and in pixels, how well they stand out from what
 * is really behind them, how much of it others cover, whether it is cut off, how fast it moves while it should be read.
 *
 * Thresholds: character height ISO 9241-303; contrast WCAG 2.2, 1.4.3; cut off and safe area by title-safe practice; speed,
 * because pursuit fails as it quickens; pixels and cover are the project's own choice.
 */
import type { Document, Element, Label } from '@foreshore/document';
import { channels, contrastRatio, leastContrast, luminance, over, type Rgb } from './contrast.ts';
import { isSeen, opacityOf, paintedRows } from './draw-list.ts';
import { formatArcmin, formatPixels } from './format.ts';
import { At, placeOf } from './frame.ts';
import { lookOf } from './pointer.ts';
import type { Work } from './steps/step.ts';

export interface Limits {
  leastArcmin: number;
  leastPx: number;
  contrast: number;
  /** Of letters of 24 px and more, or 18.66 px where they are bold. */
  contrastLarge: number;
  mostCovered: number;
  mostDegPerS: number;
}
export const LIMITS: Limits = { leastArcmin: 16, leastPx: 9, contrast: 4.5, contrastLarge: 3, mostCovered: 0.1, mostDegPerS: 15 };
export const limitsOf = ({ readability }: Pick<Document, 'readability'>): Limits => ({ ...LIMITS, ...readability });

export interface Readability {
  /** Of the smallest of its texts; infinite where it has none. */
  capArcmin: number;
  capPx: number;
  /** The row of that text, and of the one that stands out least; −1 where it has none. */
  smallest: number;
  faintest: number;
  /** The worst tenth of it; infinite where it has no text. */
  contrast: number;
  contrastNeeded: number;
  /** The share of its box that others lie over, and the row of the one that covers the most, or −1. */
  covered: number;
  coveredBy: number;
  /** How far it reaches out of the screen, or out of the safe area where it is on the glass. */
  cutPx: number;
  degPerS: number;
  /** What falls short, the worst first; empty where it can be read. */
  faults: Shortfall[];
}
/** What about it falls short, and by how much in words. */
export interface Shortfall {
  kind: 'small' | 'contrast' | 'covered' | 'cut' | 'speed';
  says: string;
}

/** The rows of texts that are shown in an element. */
function textsIn(work: Work, row: number): number[] {
  const { c } = work;
  const out: number[] = [];
  const below = (at: number): void => {
    if (!isSeen(work, at)) return;
    if (c.elements[at]?.kind === 'label') out.push(at);
    for (const member of c.members[at] ?? []) below(member);
  };
  below(row);
  return out;
}

/** Points across a box at which the backdrop is asked for: columns and rows. */
const COLUMNS = 6;
const ROWS = 4;
const origin: [number, number, number] = [0, 0, 0];
const direction: [number, number, number] = [0, 0, 0];
const seen: [number, number, number] = [0, 0, 0];

/**
 * Contrast of a text with what is really behind it: the level's colour along the ray of each of 24 points, with the plates of
 * the text and of the groups around it laid over. The third worst of the 24 is its worst tenth.
 */
export function contrastBehind(work: Work, row: number): number {
  const { c, f, a } = work;
  const label = c.elements[row] as Label;
  const plates: { colour: string; opacity: number }[] = [];
  for (let at = row; at >= 0; at = c.parent[at] as number) {
    const element = c.elements[at];
    if ((element?.kind === 'label' || element?.kind === 'group') && element.paint.plate)
      plates.unshift({ colour: lookOf(work, at).plate ?? element.paint.plate.colour, opacity: opacityOf(work, at) });
  }
  const opacity = opacityOf(work, row);
  const ink = lookOf(work, row).text ?? label.paint.colour;
  const [x, y, w, h] = placeOf(f, row, f.viewCount).rect;
  const { centreX, centreY, focalX, focalY, orthographic } = a.projection;
  const { rotation, eye } = f;
  const ratios: number[] = [];
  for (let j = 0; j < ROWS; j++)
    for (let k = 0; k < COLUMNS; k++) {
      const u = (x + ((k + 0.5) / COLUMNS) * w - centreX) / focalX;
      const v = (centreY - (y + ((j + 0.5) / ROWS) * h)) / focalY;
      const length = orthographic ? 1 : Math.hypot(u, v, 1);
      for (let axis = 0; axis < 3; axis++) {
        // The rows of the rotation are the camera's own axes in the world.
        const [right, up, back] = [rotation[axis] as number, rotation[3 + axis] as number, rotation[6 + axis] as number];
        direction[axis] = orthographic ? -back : (u * right + v * up - back) / length;
        origin[axis] = (eye[axis] as number) + (orthographic ? u * right + v * up : 0);
      }
      c.level?.colourAt(origin, direction, seen);
      let ground: Rgb = c.level ? [seen[0] / 255, seen[1] / 255, seen[2] / 255] : [0.5, 0.5, 0.5];
      for (const plate of plates) ground = over(plate.colour, plate.opacity, ground);
      const letters = luminance(over(ink, opacity, ground));
      const plain = contrastRatio(letters, luminance(ground));
      const { outline } = label.paint;
      ratios.push(outline ? Math.max(plain, contrastRatio(letters, luminance(over(outline.colour, opacity, ground)))) : plain);
    }
  return ratios.sort((p, q) => p - q)[Math.floor(ratios.length / 10)] as number;
}

/** How fast an element moves at the player's eye because the head does, degrees a second: from where its anchor was before. */
export function sweepOf({ c, f, a, m }: Work, row: number): number {
  const top = c.root[row] as number;
  if (top >= c.floatingCount || !(m.wasS > 0)) return 0;
  const anchor = (c.elementAnchor[top] as number) * 3;
  const [x, y, z] = [0, 1, 2].map((k) => (c.anchorWorld[anchor + k] as number) - (m.wasEye[k] as number)) as [number, number, number];
  const along = (k: number) =>
    (m.wasRotation[k] as number) * x + (m.wasRotation[k + 1] as number) * y + (m.wasRotation[k + 2] as number) * z;
  const depth = -along(6);
  const { point } = placeOf(f, top, f.viewCount);
  if (!(depth > a.projection.nearM) || Number.isNaN(point[0])) return 0;
  const scale = a.projection.orthographic ? 1 : 1 / depth;
  const dx = point[0] - (a.projection.centreX + a.projection.focalX * along(0) * scale);
  const dy = point[1] - (a.projection.centreY - a.projection.focalY * along(3) * scale);
  return Math.hypot(dx, dy) / (60 * a.pixelsPerArcmin) / m.wasS;
}

/** Whether an element paints over what lies behind it: it has a plate, or is one. */
function paints({ c }: Work, row: number): boolean {
  const element = c.elements[row];
  if (element?.kind === 'label' || element?.kind === 'group')
    return element.paint.plate !== null && (channels(element.paint.plate.colour)[3] as number) > 0.3;
  return element?.kind === 'picture' || element?.kind === 'gauge' || element?.kind === 'toggle' || element?.kind === 'slider';
}

/** The share of an element's box that others painted after it lie over: counted on a grid. */
function coverOf(work: Work, row: number): { share: number; by: number } {
  const { c, f } = work;
  const top = c.root[row] as number;
  const [x, y, w, h] = placeOf(f, row, f.viewCount).rect;
  const over: [number, readonly [number, number, number, number]][] = [];
  let after = false;
  for (const other of paintedRows(work)) {
    if (c.root[other] === top) after = true;
    else if (after && isSeen(work, other) && paints(work, other)) {
      const { rect } = placeOf(f, other, f.viewCount);
      if (rect[0] < x + w && rect[0] + rect[2] > x && rect[1] < y + h && rect[1] + rect[3] > y) over.push([other, rect]);
    }
  }
  if (over.length === 0) return { share: 0, by: -1 };
  const [N, M] = [20, 10];
  let covered = 0;
  const counts = new Map<number, number>();
  for (let j = 0; j < M; j++)
    for (let k = 0; k < N; k++) {
      const [px, py] = [x + ((k + 0.5) / N) * w, y + ((j + 0.5) / M) * h];
      const found = over.find(([, [l, t, ow, oh]]) => px >= l && px < l + ow && py >= t && py < t + oh);
      if (!found) continue;
      covered++;
      counts.set(found[0], (counts.get(found[0]) ?? 0) + 1);
    }
  const [by = -1] = [...counts].sort((p, q) => q[1] - p[1])[0] ?? [];
  return { share: covered / (N * M), by };
}

/** Measures one element of the frame just solved. */
export function measureReadable(work: Work, row: number): Readability {
  const { c, f, a } = work;
  const limits = limitsOf(c.document);
  let [capArcmin, capPx, contrast, contrastNeeded] = [
    Number.POSITIVE_INFINITY,
    Number.POSITIVE_INFINITY,
    Number.POSITIVE_INFINITY,
    limits.contrast,
  ];
  let [smallest, faintest] = [-1, -1];
  for (const text of textsIn(work, row)) {
    const label = c.elements[text] as Label;
    const em = f.places[((f.viewCount > 1 ? f.viewCount * f.count : 0) + text) * At.Stride + At.EmPx] as number;
    const cap = em * (a.blocks[text]?.capHeightEm ?? 0.7);
    if (cap < capPx) [capPx, capArcmin, smallest] = [cap, cap / a.pixelsPerArcmin, text];
    const needed = em >= (label.paint.weight >= 700 ? 18.66 : 24) ? limits.contrastLarge : limits.contrast;
    // Whatever is behind it, it stands out: no ray is needed to know.
    const surely = leastContrast(a, text) ?? 1;
    const found = surely >= needed ? surely : contrastBehind(work, text);
    if (faintest < 0 || found / needed < contrast / contrastNeeded) [contrast, contrastNeeded, faintest] = [found, needed, text];
  }
  const degPerS = sweepOf(work, row);
  const { share: covered, by: coveredBy } = coverOf(work, row);
  const [x, y, w, h] = placeOf(f, row, f.viewCount).rect;
  const bounds =
    (c.root[row] as number) >= c.floatingCount ? a.safe : { left: 0, top: 0, right: a.projection.widthPx, bottom: a.projection.heightPx };
  const { mount } = c.elements[row] as Element;
  const stretched = mount.kind === 'glass' && mount.stretch.some(Boolean);
  const out = stretched ? 0 : Math.max(0, bounds.left - x, bounds.top - y, x + w - bounds.right, y + h - bounds.bottom);
  const cutPx = out > 0.5 ? out : 0;
  const faults: Shortfall[] = [];
  const short = (kind: Shortfall['kind'], says: string) => faults.push({ kind, says });
  if (capArcmin < limits.leastArcmin) short('small', `${formatArcmin(capArcmin)} arcmin, too small: needs ${limits.leastArcmin}`);
  else if (capPx < limits.leastPx) short('small', `${formatPixels(capPx)} px, too small: needs ${limits.leastPx}`);
  if (contrast < contrastNeeded) short('contrast', `${contrast.toFixed(1)}:1 behind it, needs ${contrastNeeded}`);
  if (covered > limits.mostCovered) short('covered', `${c.elements[coveredBy]?.name} covers ${Math.round(covered * 100)} %`);
  if (cutPx > 0) short('cut', `${formatPixels(cutPx)} px ${bounds === a.safe ? 'outside the safe area' : 'cut off'}`);
  if (degPerS > limits.mostDegPerS) short('speed', `moves ${degPerS.toFixed(0)} deg/s, at most ${limits.mostDegPerS}`);
  return { capArcmin, capPx, smallest, faintest, contrast, contrastNeeded, covered, coveredBy, cutPx, degPerS, faults };
}
