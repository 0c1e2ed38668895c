/** Where something is and how it is turned: metres and a unit quaternion [x, y, z, w]. */
export type Vec3 = [number, number, number];
export type Quat = [number, number, number, number];
export interface Pose {
  position: Vec3;
  rotation: Quat;
}

/** Turn about +Y by `yawDeg` (counter-clockwise seen from above), then up by `pitchDeg`. */
export function lookingPose(position: Vec3, yawDeg: number, pitchDeg: number): Pose {
  const [y, p] = [(yawDeg * Math.PI) / 360, (pitchDeg * Math.PI) / 360];
  const [sy, cy, sp, cp] = [Math.sin(y), Math.cos(y), Math.sin(p), Math.cos(p)];
  return { position, rotation: [cy * sp, sy * cp, -sy * sp, cy * cp] };
}

/** The pose at `from` that looks at `to`, upright. */
export function poseTowards(from: Vec3, to: Vec3): Pose {
  const [x, y, z] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  return lookingPose([...from], (Math.atan2(-x, -z) * 180) / Math.PI, (Math.atan2(y, Math.hypot(x, z)) * 180) / Math.PI);
}

/** Heading and tilt of a pose's forward axis, degrees; the opposite of `lookingPose` for upright poses. */
export function headingOf(rotation: Quat): { yawDeg: number; pitchDeg: number } {
  const f = rotate(rotation, [0, 0, -1]);
  return { yawDeg: (Math.atan2(-f[0], -f[2]) * 180) / Math.PI, pitchDeg: (Math.asin(Math.max(-1, Math.min(1, f[1]))) * 180) / Math.PI };
}

/** v turned by q: v + 2w(q×v) + 2 q×(q×v). */
export function rotate(q: Quat, v: Vec3): Vec3 {
  const [x, y, z, w] = q;
  const tx = 2 * (y * v[2] - z * v[1]);
  const ty = 2 * (z * v[0] - x * v[2]);
  const tz = 2 * (x * v[1] - y * v[0]);
  return [v[0] + w * tx + y * tz - z * ty, v[1] + w * ty + z * tx - x * tz, v[2] + w * tz + x * ty - y * tx];
}

/** The rotation that turns by `b` and then by `a` (Hamilton's product). */
export const quaternionProduct = ([ax, ay, az, aw]: Quat, [bx, by, bz, bw]: Quat): Quat => [
  aw * bx + ax * bw + ay * bz - az * by,
  aw * by - ax * bz + ay * bw + az * bx,
  aw * bz + ax * by - ay * bx + az * bw,
  aw * bw - ax * bx - ay * by - az * bz,
];

/** On the straight line between two poses, turned along the shortest arc. @param t 0 at the first, 1 at the second. */
export function between(a: Pose, b: Pose, t: number): Pose {
  const mix = (k: 0 | 1 | 2) => a.position[k] + (b.position[k] - a.position[k]) * t;
  return { position: [mix(0), mix(1), mix(2)], rotation: slerp(a.rotation, b.rotation, t) };
}

/** Between two rotations along the shorter way (Shoemake 1985). */
export function slerp(a: Quat, b: Quat, t: number): Quat {
  let dot = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const sign = dot < 0 ? -1 : 1;
  dot *= sign;
  let [wa, wb] = [1 - t, t];
  if (dot < 0.9995) {
    const angle = Math.acos(dot);
    [wa, wb] = [Math.sin(wa * angle) / Math.sin(angle), Math.sin(wb * angle) / Math.sin(angle)];
  }
  wb *= sign;
  const q: Quat = [wa * a[0] + wb * b[0], wa * a[1] + wb * b[1], wa * a[2] + wb * b[2], wa * a[3] + wb * b[3]];
  const length = Math.hypot(...q);
  return [q[0] / length, q[1] / length, q[2] / length, q[3] / length];
}

/** The rows of the rotation world to camera (the transpose of the pose's matrix), row by row into `out[0..8]`. */
export function worldToCamera(rotation: Quat, out: Float64Array): void {
  // Read one by one: taking a tuple apart allocates until the function is compiled, and it runs once a frame.
  const x = rotation[0];
  const y = rotation[1];
  const z = rotation[2];
  const w = rotation[3];
  // A quaternion that is a little off length 1 is taken at its direction.
  const s = 2 / (x * x + y * y + z * z + w * w);
  out[0] = 1 - s * (y * y + z * z);
  out[1] = s * (x * y + z * w);
  out[2] = s * (x * z - y * w);
  out[3] = s * (x * y - z * w);
  out[4] = 1 - s * (x * x + z * z);
  out[5] = s * (y * z + x * w);
  out[6] = s * (x * z + y * w);
  out[7] = s * (y * z - x * w);
  out[8] = 1 - s * (x * x + y * y);
}
