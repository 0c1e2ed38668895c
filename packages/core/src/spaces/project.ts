/** World to frame and back, for one point at a time. The frame's own loop (steps/attach.ts) does the same on flat arrays. */
import type { Projection } from './lens.ts';
import { type Pose, rotate, type Vec3, worldToCamera } from './pose.ts';

export interface ScreenPoint {
  /** Pixels, origin top left, y down; NaN where the point is not in front of the near plane. */
  x: number;
  y: number;
  /** Along the forward axis, metres; negative behind. */
  depthM: number;
  /** Farther along the forward axis than the near plane. */
  inFront: boolean;
  /** In front and 0 <= x < W, 0 <= y < H. */
  inFrame: boolean;
}

export interface Ray {
  origin: Vec3;
  /** Of length 1. */
  direction: Vec3;
}

/** A projector for one pose: the rotation is prepared once. */
export function projector(projection: Projection, pose: Pose): (x: number, y: number, z: number) => ScreenPoint {
  const m = new Float64Array(9);
  worldToCamera(pose.rotation, m);
  const [px, py, pz] = pose.position;
  const [m0 = 0, m1 = 0, m2 = 0, m3 = 0, m4 = 0, m5 = 0, m6 = 0, m7 = 0, m8 = 0] = m;
  return (x, y, z) => {
    const [rx, ry, rz] = [x - px, y - py, z - pz];
    const depthM = -(m6 * rx + m7 * ry + m8 * rz);
    if (!(depthM > projection.nearM)) return { x: Number.NaN, y: Number.NaN, depthM, inFront: false, inFrame: false };
    const scale = projection.orthographic ? 1 : 1 / depthM;
    const sx = projection.centreX + projection.focalX * (m0 * rx + m1 * ry + m2 * rz) * scale;
    const sy = projection.centreY - projection.focalY * (m3 * rx + m4 * ry + m5 * rz) * scale;
    return { x: sx, y: sy, depthM, inFront: true, inFrame: sx >= 0 && sx < projection.widthPx && sy >= 0 && sy < projection.heightPx };
  };
}

export const projectPoint = (projection: Projection, pose: Pose, p: Vec3): ScreenPoint => projector(projection, pose)(p[0], p[1], p[2]);

/** The point that stands at a pixel at a depth in metres along the forward axis. */
export function unprojectPoint(projection: Projection, pose: Pose, x: number, y: number, depthM: number): Vec3 {
  const scale = projection.orthographic ? 1 : depthM;
  const local: Vec3 = [
    ((x - projection.centreX) / projection.focalX) * scale,
    ((projection.centreY - y) / projection.focalY) * scale,
    -depthM,
  ];
  const r = rotate(pose.rotation, local);
  return [pose.position[0] + r[0], pose.position[1] + r[1], pose.position[2] + r[2]];
}

/** The ray through a pixel: from the eye for a perspective lens, from the eye's plane for an orthographic one. */
export function screenRay(projection: Projection, pose: Pose, x: number, y: number): Ray {
  const u = (x - projection.centreX) / projection.focalX;
  const v = (projection.centreY - y) / projection.focalY;
  if (projection.orthographic) return { origin: unprojectPoint(projection, pose, x, y, 0), direction: rotate(pose.rotation, [0, 0, -1]) };
  const length = Math.hypot(u, v, 1);
  return { origin: [...pose.position], direction: rotate(pose.rotation, [u / length, v / length, -1 / length]) };
}
