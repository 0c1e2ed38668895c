/**
 * What a viewer sees with: one screen, one part of a split screen, or the two eyes of a headset about one head.
 *
 * A headset's decisions are taken from its head: a view from between the eyes, as wide as both of them together and with the
 * same pixels for a tangent of 1, so that what is laid out for the head is as large in each eye. `lens` is the left eye's; the
 * right eye's is its mirror image.
 */
import type { Lens, Viewer } from '@foreshore/document/types';
import { lensExtents, type Projection, projectionOf } from './lens.ts';
import { type Box, type EyePoint, eyePoint, pixelsPerDegree, safeBox } from './screen.ts';

/** One eye of a headset. */
export interface EyeView {
  /** How far it is to the right of the middle between both, metres. */
  readonly rightM: number;
  readonly projection: Projection;
  readonly eye: EyePoint;
  readonly safe: Box;
}

export interface Sight {
  readonly projection: Projection;
  /** Where the player's eye is before the picture, for angles. */
  readonly eye: EyePoint;
  readonly pixelsPerDegree: number;
  readonly safe: Box;
  /** Left and right, where it is a headset. */
  readonly eyes: readonly EyeView[];
}

/** A part of a split screen, pixels of the whole. */
export interface PartBox {
  x: number;
  y: number;
  widthPx: number;
  heightPx: number;
}

/** How many pictures a viewer's screen is split into; 1 where it is not. */
export const partCount = (viewer: Viewer): number => (viewer.kind === 'split' ? viewer.players.length : 1);

/** The part that whoever looks through the viewer sits before: the first whose camera goes nowhere of its own. */
export const ownPart = (viewer: Viewer): number =>
  viewer.kind === 'split'
    ? Math.max(
        0,
        viewer.players.findIndex(({ route }) => route === null),
      )
    : 0;

/** Whether a viewer sees several pictures: two eyes, or the parts of a split screen. */
export const seesSeveral = (viewer: Viewer): boolean => viewer.kind !== 'screen';

/** How large all that a viewer sees is, pixels: both eyes beside one another, or the whole of a split screen. */
export const wholeSize = (viewer: Viewer): { widthPx: number; heightPx: number } =>
  viewer.kind === 'headset' ? { widthPx: 2 * viewer.widthPx, heightPx: viewer.heightPx } : viewer;

/** Where a part lies on the viewer's screen: columns from the left, rows from the top, a grid in the order of reading. */
export function partBox(viewer: Viewer, part: number): PartBox {
  const { widthPx, heightPx } = viewer;
  if (viewer.kind !== 'split') return { x: 0, y: 0, widthPx, heightPx };
  const count = viewer.players.length;
  const columns = viewer.arrangement === 'columns' ? count : viewer.arrangement === 'rows' ? 1 : 2;
  const rows = Math.ceil(count / columns);
  const [column, row] = [part % columns, Math.floor(part / columns)];
  const from = (length: number, of: number, k: number) => Math.round((length * k) / of);
  const [x, y] = [from(widthPx, columns, column), from(heightPx, rows, row)];
  return { x, y, widthPx: from(widthPx, columns, column + 1) - x, heightPx: from(heightPx, rows, row + 1) - y };
}

const mirrored = (lens: Lens): Lens => (lens.kind === 'offAxis' ? { ...lens, leftDeg: -lens.rightDeg, rightDeg: -lens.leftDeg } : lens);

/** The eye at the lens's own centre: angles between pixels are those between their rays. */
const eyeAt = ({ centreX, centreY, focalX, focalY }: Projection): EyePoint => ({
  x: centreX,
  y: centreY,
  distancePx: focalY,
  across: focalY / focalX,
});

const within = ({ safeArea }: Viewer, widthPx: number, heightPx: number): Box => ({
  left: safeArea.left * widthPx,
  top: safeArea.top * heightPx,
  right: (1 - safeArea.right) * widthPx,
  bottom: (1 - safeArea.bottom) * heightPx,
});

function headsetSight(viewer: Extract<Viewer, { kind: 'headset' }>): Sight {
  const { widthPx, heightPx, lens, eyeDistanceM } = viewer;
  const eyes = [-0.5, 0.5].map((side): EyeView => {
    const projection = projectionOf(side < 0 ? lens : mirrored(lens), widthPx, heightPx);
    return { rightM: side * eyeDistanceM, projection, eye: eyeAt(projection), safe: within(viewer, widthPx, heightPx) };
  });
  const one = (eyes[0] as EyeView).projection;
  const { left, right } = lensExtents(lens, widthPx / heightPx);
  const half = one.focalX * Math.max(-left, right);
  const projection = { ...one, widthPx: 2 * half, centreX: half };
  return { projection, eye: eyeAt(projection), pixelsPerDegree: pixelsPerDegree(viewer), safe: within(viewer, 2 * half, heightPx), eyes };
}

/** @param part which part of a split screen; without it, one's own. */
export function sightOf(viewer: Viewer, part = ownPart(viewer)): Sight {
  if (viewer.kind === 'headset') return headsetSight(viewer);
  const { x, y, widthPx, heightPx } = partBox(viewer, part);
  const [whole, safe] = [eyePoint(viewer), safeBox(viewer)];
  return {
    projection: projectionOf(viewer.lens, widthPx, heightPx),
    // The player sits before the middle of the whole screen.
    eye: { ...whole, x: whole.x - x, y: whole.y - y },
    pixelsPerDegree: pixelsPerDegree(viewer),
    safe: {
      left: Math.max(0, safe.left - x),
      top: Math.max(0, safe.top - y),
      right: Math.min(widthPx, safe.right - x),
      bottom: Math.min(heightPx, safe.bottom - y),
    },
    eyes: [],
  };
}
