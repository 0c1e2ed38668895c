/** Cameras as WebGL and WebXR have them: column-major matrices of the view (world to camera) and of the projection. */
import type { Pose, Projection } from '@foreshore/core';

/** The pose of a camera from its view matrix, written into `out`. The matrix must turn and move, and nothing else. */
export function poseFromView(m: ArrayLike<number>, out: Pose): Pose {
  const at = (i: number) => m[i] as number;
  for (let i = 0; i < 3; i++) out.position[i] = -(at(i * 4) * at(12) + at(i * 4 + 1) * at(13) + at(i * 4 + 2) * at(14));
  // The rotation camera to world is the transpose: its element (row, column) is m[row * 4 + column]. Quaternion after Shepperd 1978.
  const trace = at(0) + at(5) + at(10);
  const q = out.rotation;
  if (trace > 0) {
    const s = 2 * Math.sqrt(trace + 1);
    q[3] = s / 4;
    q[0] = (at(9) - at(6)) / s;
    q[1] = (at(2) - at(8)) / s;
    q[2] = (at(4) - at(1)) / s;
    return out;
  }
  const i = at(0) >= at(5) && at(0) >= at(10) ? 0 : at(5) >= at(10) ? 1 : 2;
  const j = (i + 1) % 3;
  const k = (i + 2) % 3;
  const s = 2 * Math.sqrt(1 + at(i * 5) - at(j * 5) - at(k * 5));
  q[i] = s / 4;
  q[j] = (at(i * 4 + j) + at(j * 4 + i)) / s;
  q[k] = (at(i * 4 + k) + at(k * 4 + i)) / s;
  q[3] = (at(k * 4 + j) - at(j * 4 + k)) / s;
  return out;
}

/** Whether a matrix says the same lens as was taken from it before. */
export const isSameLens = (m: ArrayLike<number>, known: Float64Array): boolean => {
  for (let k = 0; k < 16; k++) if (m[k] !== known[k]) return false;
  return true;
};

/**
 * A lens from its matrix, on a frame of so many pixels. With u = p.x/d: x = W/2·(1 + m0·u − m8), and likewise upwards; the near plane
 * is m14/(m10 − 1), for depth that runs from −1 to 1, turned round, and without an end alike.
 */
export function projectionFromMatrix(m: ArrayLike<number>, widthPx: number, heightPx: number): Projection {
  const at = (i: number) => m[i] as number;
  const orthographic = at(15) === 1;
  return {
    widthPx,
    heightPx,
    orthographic,
    focalX: (widthPx * at(0)) / 2,
    focalY: (heightPx * at(5)) / 2,
    centreX: (widthPx / 2) * (orthographic ? 1 + at(12) : 1 - at(8)),
    centreY: (heightPx / 2) * (orthographic ? 1 - at(13) : 1 + at(9)),
    nearM: orthographic ? (at(14) + 1) / at(10) : at(14) / (at(10) - 1),
  };
}
