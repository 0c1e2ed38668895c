/**
 * A lens brought to a frame of so many pixels.
 *
 * With the camera-space point p and d = −p.z, every lens of the document maps by
 * `x = centreX + focalX·u`, `y = centreY − focalY·v`, where (u, v) = (p.x/d, p.y/d) for a perspective and
 * (p.x, p.y) for an orthographic lens. Off-axis half-angles follow OpenXR and WebXR: left and down are negative.
 * Derivation: `x = W·(u − tanL)/(tanR − tanL)`, `y = H·(tanU − v)/(tanU − tanD)`.
 */
import type { Lens } from '@foreshore/document/types';

export interface Projection {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly orthographic: boolean;
  /** Pixels for a tangent of 1 (perspective) or for a metre (orthographic). */
  readonly focalX: number;
  readonly focalY: number;
  /** Where the forward axis meets the frame, pixels. */
  readonly centreX: number;
  readonly centreY: number;
  /** Metres along the forward axis; what lies at or before it is not drawn. */
  readonly nearM: number;
}

const RAD = Math.PI / 180;

/** Half-extents of the view at distance 1 (perspective) or in metres (orthographic); left and down are negative. */
export interface Extents {
  left: number;
  right: number;
  up: number;
  down: number;
}

export function lensExtents(lens: Lens, aspect: number): Extents {
  if (lens.kind === 'offAxis')
    return {
      left: Math.tan(lens.leftDeg * RAD),
      right: Math.tan(lens.rightDeg * RAD),
      up: Math.tan(lens.upDeg * RAD),
      down: Math.tan(lens.downDeg * RAD),
    };
  if (lens.kind === 'orthographic') {
    const h = lens.halfHeightM;
    return { left: -h * aspect, right: h * aspect, up: h, down: -h };
  }
  const designed = lens.designAspect ?? aspect;
  const t = Math.tan((lens.fovDeg * RAD) / 2);
  // Tangent of half the vertical angle in the design frame; fovH = 2·atan(t·a), fovDiag = 2·atan(t·sqrt(1+a²)).
  const tanV = lens.fovAxis === 'vertical' ? t : lens.fovAxis === 'horizontal' ? t / designed : t / Math.hypot(1, designed);
  const tanH = tanV * designed;
  const held = lens.hold === 'vertical' ? tanV : lens.hold === 'horizontal' ? tanH / aspect : Math.max(tanV, tanH / aspect);
  return { left: -held * aspect, right: held * aspect, up: held, down: -held };
}

/** @throws RangeError where the lens has no width or height. */
export function projectionOf(lens: Lens, widthPx: number, heightPx: number): Projection {
  const e = lensExtents(lens, widthPx / heightPx);
  const [spanX, spanY] = [e.right - e.left, e.up - e.down];
  if (!(spanX > 0 && spanY > 0))
    throw new RangeError(`The lens is ${spanX} wide and ${spanY} high: right must lie right of left, and up above down.`);
  return {
    widthPx,
    heightPx,
    orthographic: lens.kind === 'orthographic',
    focalX: widthPx / spanX,
    focalY: heightPx / spanY,
    centreX: (-e.left * widthPx) / spanX,
    centreY: (e.up * heightPx) / spanY,
    nearM: lens.nearM,
  };
}

/**
 * Half-angles from a WebXR projection matrix (column-major):
 * tanR = (m8+1)/m0, tanL = (m8−1)/m0, tanU = (m9+1)/m5, tanD = (m9−1)/m5.
 */
export function lensFromMatrix(m: ArrayLike<number>, nearM: number): Lens {
  const at = (i: number) => m[i] ?? Number.NaN;
  const deg = (tan: number) => Math.atan(tan) / RAD;
  return {
    kind: 'offAxis',
    leftDeg: deg((at(8) - 1) / at(0)),
    rightDeg: deg((at(8) + 1) / at(0)),
    upDeg: deg((at(9) + 1) / at(5)),
    downDeg: deg((at(9) - 1) / at(5)),
    nearM,
  };
}

/** Pixels a metre takes at a depth in metres, upwards. */
export const pixelsPerMetre = (projection: Projection, depthM: number): number =>
  projection.orthographic ? projection.focalY : projection.focalY / depthM;
