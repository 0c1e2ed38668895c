import type { Document, Viewer } from '@foreshore/document/types';
import { lensExtents } from './lens.ts';

const METRES_PER_INCH = 0.0254;

/** Pixels a degree of the desk monitor that the glass is designed on where the document does not say otherwise: 1920 x 1080, 27 in at 0.6 m. */
const DESIGN_PIXELS_PER_DEGREE = 33.6;

/**
 * Pixels of the viewer for one design pixel, by the project's fit or another. It depends on the screen alone, never on the lens
 * or the camera; a headset has no screen to fit, and goes by the angle.
 * @param frame the pixels of the picture; of a split screen, those of one part.
 */
export function fitScale(
  glass: Document['glass'],
  viewer: Viewer,
  fit: Document['glass']['fit'] = glass.fit,
  frame: { widthPx: number; heightPx: number } = viewer,
): number {
  if (fit === 'angle' || viewer.kind === 'headset')
    return pixelsPerDegree(viewer) / (glass.designPixelsPerDegree ?? DESIGN_PIXELS_PER_DEGREE);
  const [byWidth, byHeight] = [frame.widthPx / glass.widthPx, frame.heightPx / glass.heightPx];
  return fit === 'width' ? byWidth : fit === 'height' ? byHeight : Math.min(byWidth, byHeight);
}

/**
 * Pixels for one degree at the player's eye, at the screen's centre: 2·r·tan(0.5°)·(pixels per metre of the display); of a
 * headset on its axis, downwards: H/(tanU − tanD)·π/180.
 */
export function pixelsPerDegree(viewer: Viewer): number {
  if (viewer.kind === 'headset') {
    const { up, down } = lensExtents(viewer.lens, viewer.widthPx / viewer.heightPx);
    return ((viewer.heightPx / (up - down)) * Math.PI) / 180;
  }
  const pixelsPerMetre = Math.hypot(viewer.widthPx, viewer.heightPx) / (viewer.diagonalIn * METRES_PER_INCH);
  return 2 * viewer.distanceM * Math.tan(Math.PI / 360) * pixelsPerMetre;
}

/**
 * Where the player's eye is before the flat screen, in pixels of the screen: straight before its middle.
 *
 * Toward the edges of a flat screen the same length is smaller at the eye than in the middle: it is farther away and seen
 * aslant. So angles are reckoned where a thing stands, never by the pixels per degree of the middle.
 */
export interface EyePoint {
  x: number;
  y: number;
  /** Pixels before the screen. */
  distancePx: number;
  /** How many pixels down are as long as one across: 1 but for a headset whose pixels are not square. */
  across: number;
}
export const eyePoint = (viewer: Exclude<Viewer, { kind: 'headset' }>): EyePoint => ({
  x: viewer.widthPx / 2,
  y: viewer.heightPx / 2,
  distancePx: (viewer.distanceM * Math.hypot(viewer.widthPx, viewer.heightPx)) / (viewer.diagonalIn * METRES_PER_INCH),
  across: 1,
});

const ARCMIN = (60 * 180) / Math.PI;

/** The angle at the eye of an upright length on the screen, arcmin: the difference of the two elevations seen in the plane through the eye and the length. */
export function uprightArcmin(eye: EyePoint, x: number, top: number, bottom: number): number {
  const away = Math.hypot((x - eye.x) * eye.across, eye.distancePx);
  return Math.abs(Math.atan((bottom - eye.y) / away) - Math.atan((top - eye.y) / away)) * ARCMIN;
}

/** The angle at the eye between two points of the screen, degrees. */
export function degreesBetween(eye: EyePoint, x0: number, y0: number, x1: number, y1: number): number {
  const [ax, ay, bx, by, d] = [(x0 - eye.x) * eye.across, y0 - eye.y, (x1 - eye.x) * eye.across, y1 - eye.y, eye.distancePx];
  const cross = Math.hypot(ay * d - by * d, bx * d - ax * d, ax * by - ay * bx);
  return (Math.atan2(cross, ax * bx + ay * by + d * d) * 180) / Math.PI;
}

/**
 * How much longer a small upright length must be at a place of the screen than in its middle to be as large at the eye: with
 * r the way from the eye to the place and h its part in the horizontal plane, r²/(h·distance).
 */
export function scaleForAngle(eye: EyePoint, x: number, y: number): number {
  const dx = (x - eye.x) * eye.across;
  const dy = y - eye.y;
  const { distancePx } = eye;
  const across = dx * dx + distancePx * distancePx;
  return (across + dy * dy) / (Math.sqrt(across) * distancePx);
}

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** The part of the frame that is surely seen, pixels. */
export const safeBox = (viewer: Viewer): Box => ({
  left: viewer.safeArea.left * viewer.widthPx,
  top: viewer.safeArea.top * viewer.heightPx,
  right: (1 - viewer.safeArea.right) * viewer.widthPx,
  bottom: (1 - viewer.safeArea.bottom) * viewer.heightPx,
});

/** `at`, moved so that a length lies between two bounds; centred between them where it does not fit. */
export const clampSpan = (at: number, length: number, from: number, to: number): number =>
  length > to - from ? (from + to - length) / 2 : at < from ? from : at + length > to ? to - length : at;
