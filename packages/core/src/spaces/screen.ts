import type { Document, Viewer } from '@foreshore/document';

const METRES_PER_INCH = 0.0254;

/** Pixels a degree of the desk monitor that the glass is designed on where the document does not say otherwise: 1920 x 1080, 27 in at 0.6 m. */
const DESIGN_PIXELS_PER_DEGREE = 33.6;

/** Pixels of the viewer for one design pixel, by the project's fit or another. It depends on the screen alone, never on the lens or the camera. */
export function fitScale(glass: Document['glass'], viewer: Viewer, fit: Document['glass']['fit'] = glass.fit): number {
  if (fit === 'angle') return pixelsPerDegree(viewer) / (glass.designPixelsPerDegree ?? DESIGN_PIXELS_PER_DEGREE);
  const [byWidth, byHeight] = [viewer.widthPx / glass.widthPx, viewer.heightPx / glass.heightPx];
  return fit === 'width' ? byWidth : fit === 'height' ? byHeight : Math.min(byWidth, byHeight);
}

/** Pixels for one degree at the player's eye, at the screen's centre: 2·r·tan(0.5°)·(pixels per metre of the display). */
export function pixelsPerDegree(viewer: Viewer): number {
  const pixelsPerMetre = Math.hypot(viewer.widthPx, viewer.heightPx) / (viewer.diagonalIn * METRES_PER_INCH);
  return 2 * viewer.distanceM * Math.tan(Math.PI / 360) * pixelsPerMetre;
}

/** A length on the viewer's screen as an angle at the player's eye, arcmin. */
export const arcminOf = (viewer: Viewer, lengthPx: number): number => (lengthPx / pixelsPerDegree(viewer)) * 60;

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
