import type { Document, Viewer } from '@foreshore/document';

const METRES_PER_INCH = 0.0254;

/** Pixels of the viewer for one design pixel. */
export function fitScale(glass: Document['glass'], widthPx: number, heightPx: number): number {
  const [byWidth, byHeight] = [widthPx / glass.widthPx, heightPx / glass.heightPx];
  return glass.fit === 'width' ? byWidth : glass.fit === 'height' ? byHeight : Math.min(byWidth, byHeight);
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
