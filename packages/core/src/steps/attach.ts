/** Attach: is there a place in the world to stand on, and where is it seen? */
import { At } from '../frame.ts';
import type { SolveContext } from '../solve-context.ts';
import type { Projection } from '../spaces/lens.ts';
import { type Pose, worldToCamera } from '../spaces/pose.ts';
import { Verdict } from './names.ts';

/** A view made ready for many points: rotation, eye and lens as plain numbers. */
export interface Camera {
  readonly rotation: Float64Array;
  readonly eye: Float64Array;
  projection: Projection;
}

export const makeCamera = (projection: Projection): Camera => ({ rotation: new Float64Array(9), eye: new Float64Array(3), projection });

export function aimCamera(camera: Camera, projection: Projection, pose: Pose): void {
  worldToCamera(pose.rotation, camera.rotation);
  camera.eye[0] = pose.position[0];
  camera.eye[1] = pose.position[1];
  camera.eye[2] = pose.position[2];
  camera.projection = projection;
}

/** Projects the anchors of elements `from <= i < to` into rows `row + i`; what is not in front of the near plane gets NaN for its point. */
export function projectAnchors(ctx: SolveContext, camera: Camera, row: number, from: number, to: number): void {
  const { places } = ctx.f;
  const { anchorWorld, elementAnchor } = ctx.c;
  const { rotation, eye } = camera;
  const m0 = rotation[0] as number;
  const m1 = rotation[1] as number;
  const m2 = rotation[2] as number;
  const m3 = rotation[3] as number;
  const m4 = rotation[4] as number;
  const m5 = rotation[5] as number;
  const m6 = rotation[6] as number;
  const m7 = rotation[7] as number;
  const m8 = rotation[8] as number;
  const eyeX = eye[0] as number;
  const eyeY = eye[1] as number;
  const eyeZ = eye[2] as number;
  const { centreX, centreY, focalX, focalY, nearM, orthographic } = camera.projection;
  for (let i = from; i < to; i++) {
    const anchor = (elementAnchor[i] as number) * 3;
    const at = (row + i) * At.Stride;
    // The eye is taken off first: far from the origin the difference keeps its digits.
    const x = (anchorWorld[anchor] as number) - eyeX;
    const y = (anchorWorld[anchor + 1] as number) - eyeY;
    const z = (anchorWorld[anchor + 2] as number) - eyeZ;
    const d = -(m6 * x + m7 * y + m8 * z);
    places[at + At.DepthM] = d;
    if (d > nearM) {
      const scale = orthographic ? 1 : 1 / d;
      places[at + At.UnitPx] = focalY * scale;
      places[at + At.PointX] = centreX + focalX * (m0 * x + m1 * y + m2 * z) * scale;
      places[at + At.PointY] = centreY - focalY * (m3 * x + m4 * y + m5 * z) * scale;
    } else {
      places[at + At.PointX] = Number.NaN;
      places[at + At.PointY] = Number.NaN;
    }
  }
}

/** Refuses what has no place, and what its phase hides. Forgets what View and Size remembered of it. */
export function runAttach({ c, f, m }: SolveContext, from: number, to: number): void {
  const { lost } = c;
  const { failed, hidden } = f;
  if (!c.anyLost && c.shows.length === 0 && f.forcedRows.length === 0) {
    failed.fill(Verdict.Shown, from, to);
    return;
  }
  for (let i = from; i < to; i++) {
    if (lost[i] || hidden[i]) {
      failed[i] = lost[i] ? Verdict.Attach : Verdict.Phase;
      if (!f.isTick) continue;
      m.viewIn[i] = 0;
      m.sizeIn[i] = 0;
    } else failed[i] = Verdict.Shown;
  }
}
