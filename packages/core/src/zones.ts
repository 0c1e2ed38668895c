/**
 * Zones about anchors: how far a point is from one, where a ray meets it, points spread over it.
 *
 * A zone turns with its anchor's node but keeps its size in metres; without one, an anchor is a point.
 */
import type { Zone } from '@foreshore/document/types';
import { type Compiled, ZoneKind, type Zones } from './compiled.ts';

export const makeZones = (count: number): Zones => ({ kind: new Uint8Array(count), size: new Float64Array(count * 3) });

export function setZone({ kind, size }: Zones, row: number, zone: Zone | undefined): void {
  if (!zone) return;
  kind[row] = { sphere: ZoneKind.Sphere, box: ZoneKind.Box, capsule: ZoneKind.Capsule, mesh: ZoneKind.Mesh }[zone.kind];
  if (zone.kind === 'sphere') size[row * 3] = zone.radiusM;
  else if (zone.kind === 'box')
    size.set(
      zone.sizeM.map((m) => m / 2),
      row * 3,
    );
  else if (zone.kind === 'capsule') size.set([zone.radiusM, zone.heightM / 2 - zone.radiusM], row * 3);
}

/** A point in the zone's own axes, from its centre. One at a time: written by `into`. */
const local = new Float64Array(3);
const ray = new Float64Array(3);

/** The part of a vector along one of the axes of the anchor's node, which are of length 1. */
function alongAxis(c: Compiled, anchor: number, axis: number, x: number, y: number, z: number): number {
  const node = c.anchorKind[anchor] === 0 ? (c.anchorFirst[anchor] as number) : -1;
  const m = node < 0 ? undefined : c.level?.worldMatrices;
  if (!m) return axis === 0 ? x : axis === 1 ? y : z;
  const at = node * 16 + axis * 4;
  const [a, b, d] = [m[at] as number, m[at + 1] as number, m[at + 2] as number];
  return (a * x + b * y + d * z) / (Math.sqrt(a * a + b * b + d * d) || 1);
}

function into(out: Float64Array, c: Compiled, anchor: number, x: number, y: number, z: number): void {
  out[0] = alongAxis(c, anchor, 0, x, y, z);
  out[1] = alongAxis(c, anchor, 1, x, y, z);
  out[2] = alongAxis(c, anchor, 2, x, y, z);
}

/** Metres from a point of the world to the zone of an anchor; 0 inside. */
export function distanceToZone(c: Compiled, anchor: number, x: number, y: number, z: number): number {
  const kind = c.zones.kind[anchor] as ZoneKind;
  const { size } = c.zones;
  const w = c.anchorWorld;
  const dx = x - (w[anchor * 3] as number);
  const dy = y - (w[anchor * 3 + 1] as number);
  const dz = z - (w[anchor * 3 + 2] as number);
  if (kind === ZoneKind.Point) return Math.sqrt(dx * dx + dy * dy + dz * dz);
  if (kind === ZoneKind.Sphere) return Math.max(0, Math.sqrt(dx * dx + dy * dy + dz * dz) - (size[anchor * 3] as number));
  if (kind === ZoneKind.Mesh) {
    const surface = c.level?.surfaceOf(c.anchorFirst[anchor] as number);
    return surface ? surface.distanceM(x, y, z) : Math.sqrt(dx * dx + dy * dy + dz * dz);
  }
  into(local, c, anchor, dx, dy, dz);
  if (kind === ZoneKind.Box) {
    let sum = 0;
    for (let k = 0; k < 3; k++) {
      const off = Math.max(0, Math.abs(local[k] as number) - (size[anchor * 3 + k] as number));
      sum += off * off;
    }
    return Math.sqrt(sum);
  }
  const reach = size[anchor * 3 + 1] as number;
  const up = local[1] as number;
  const over = up > reach ? up - reach : up < -reach ? up + reach : 0;
  return Math.max(0, Math.sqrt((local[0] as number) ** 2 + over * over + (local[2] as number) ** 2) - (size[anchor * 3] as number));
}

/** Where a ray along a sphere about a point first lies in it, metres; `maxM` where it does not. The point is given from the ray's origin. */
function alongSphere(x: number, y: number, z: number, dx: number, dy: number, dz: number, radius: number, maxM: number): number {
  const b = x * dx + y * dy + z * dz;
  const c = x * x + y * y + z * z - radius * radius;
  if (c <= 0) return 0;
  const under = b * b - c;
  if (b <= 0 || under < 0) return maxM;
  return Math.min(maxM, b - Math.sqrt(under));
}

/** How wide a mere point is to a ray that is aimed at it. */
const POINT_M = 0.05;

/** Metres along a ray (direction of length 1) to where it meets the zone of an anchor; `maxM` where it does not before. 0 inside. */
export function alongToZone(
  c: Compiled,
  anchor: number,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  maxM: number,
): number {
  const kind = c.zones.kind[anchor] as ZoneKind;
  const { size } = c.zones;
  const w = c.anchorWorld;
  const x = (w[anchor * 3] as number) - ox;
  const y = (w[anchor * 3 + 1] as number) - oy;
  const z = (w[anchor * 3 + 2] as number) - oz;
  if (kind === ZoneKind.Mesh) {
    const surface = c.level?.surfaceOf(c.anchorFirst[anchor] as number);
    if (surface) return surface.alongM(ox, oy, oz, dx, dy, dz, maxM);
  }
  if (kind === ZoneKind.Point || kind === ZoneKind.Mesh) return alongSphere(x, y, z, dx, dy, dz, POINT_M, maxM);
  if (kind === ZoneKind.Sphere) return alongSphere(x, y, z, dx, dy, dz, size[anchor * 3] as number, maxM);
  into(local, c, anchor, -x, -y, -z);
  into(ray, c, anchor, dx, dy, dz);
  if (kind === ZoneKind.Box) {
    let [near, far] = [0, maxM];
    for (let k = 0; k < 3; k++) {
      const half = size[anchor * 3 + k] as number;
      const [from, by] = [local[k] as number, ray[k] as number];
      if (by === 0) {
        if (Math.abs(from) > half) return maxM;
        continue;
      }
      const [a, b] = [(-half - from) / by, (half - from) / by];
      near = Math.max(near, Math.min(a, b));
      far = Math.min(far, Math.max(a, b));
    }
    return near <= far ? near : maxM;
  }
  return alongCapsule(size[anchor * 3] as number, size[anchor * 3 + 1] as number, maxM);
}

/** A ray and an upright capsule, both in `local` and `ray`: its middle part as a cylinder, its ends as spheres. */
function alongCapsule(radius: number, reach: number, maxM: number): number {
  const [x, y, z] = [local[0] as number, local[1] as number, local[2] as number];
  const [dx, dy, dz] = [ray[0] as number, ray[1] as number, ray[2] as number];
  const ends = Math.min(
    alongSphere(-x, reach - y, -z, dx, dy, dz, radius, maxM),
    alongSphere(-x, -reach - y, -z, dx, dy, dz, radius, maxM),
  );
  const flat = x * x + z * z - radius * radius;
  if (flat <= 0 && Math.abs(y) <= reach) return 0;
  const a = dx * dx + dz * dz;
  const b = x * dx + z * dz;
  const under = b * b - a * flat;
  if (a === 0 || under < 0) return ends;
  const t = (-b - Math.sqrt(under)) / a;
  return t >= 0 && Math.abs(y + t * dy) <= reach ? Math.min(ends, t) : ends;
}

/** Turns that spread points evenly over a disc (Vogel 1979). */
const GOLDEN_TURN = Math.PI * (3 - Math.sqrt(5));
const GOLDEN = 0.6180339887498949;
/** Lines that graze the rim of a zone see past its thing. */
const RIM = 0.9;

/**
 * Points spread evenly over a zone as it is seen from a place: over the disc that a sphere shows, the upright rectangle that a
 * capsule shows, through the inside of a box, over the surfaces of a mesh. A zone that is a point gives that, again and again.
 * @param out three numbers a point.
 */
export function pointsOfZone(
  c: Compiled,
  anchor: number,
  fromX: number,
  fromY: number,
  fromZ: number,
  count: number,
  out: Float64Array,
): void {
  const kind = c.zones.kind[anchor] as ZoneKind;
  const { size } = c.zones;
  const w = c.anchorWorld;
  const cx = w[anchor * 3] as number;
  const cy = w[anchor * 3 + 1] as number;
  const cz = w[anchor * 3 + 2] as number;
  if (kind === ZoneKind.Mesh) {
    const surface = c.level?.surfaceOf(c.anchorFirst[anchor] as number);
    if (surface) {
      surface.points(count, out);
      return;
    }
  }
  // Two directions square to the line of sight: one level, one up.
  const [fx, fy, fz] = [cx - fromX, cy - fromY, cz - fromZ];
  const flat = Math.sqrt(fx * fx + fz * fz);
  const far = Math.sqrt(flat * flat + fy * fy);
  const [rx, rz] = flat > 1e-9 ? [-fz / flat, fx / flat] : [1, 0];
  // Up is the cross product of right and forward, both of length 1.
  const [upX, upY, upZ] = far > 1e-9 ? [(-rz * fy) / far, (rz * fx - rx * fz) / far, (rx * fy) / far] : [0, 1, 0];
  for (let k = 0; k < count; k++) {
    let [x, y, z] = [0, 0, 0];
    if (kind === ZoneKind.Sphere) {
      const reach = RIM * (size[anchor * 3] as number) * Math.sqrt((k + 0.5) / count);
      const [a, b] = [reach * Math.cos(k * GOLDEN_TURN), reach * Math.sin(k * GOLDEN_TURN)];
      [x, y, z] = [a * rx + b * upX, b * upY, a * rz + b * upZ];
    } else if (kind === ZoneKind.Capsule) {
      const radius = size[anchor * 3] as number;
      const a = RIM * radius * (2 * ((k + 0.5) / count) - 1);
      const b = RIM * ((size[anchor * 3 + 1] as number) + Math.sqrt(radius * radius - a * a)) * (2 * ((k * GOLDEN + 0.5) % 1) - 1);
      [x, y, z] = [a * rx, b, a * rz];
    } else if (kind === ZoneKind.Box) {
      const half = (axis: number, share: number) => RIM * (size[anchor * 3 + axis] as number) * (2 * share - 1);
      [x, y, z] = fromAxes(
        c,
        anchor,
        half(0, (k + 0.5) / count),
        half(1, (k * GOLDEN + 0.5) % 1),
        half(2, (k * GOLDEN * GOLDEN + 0.5) % 1),
      );
    }
    out[k * 3] = cx + x;
    out[k * 3 + 1] = cy + y;
    out[k * 3 + 2] = cz + z;
  }
}

/** A vector given along the axes of the anchor's node, in the world. */
export function fromAxes(c: Compiled, anchor: number, x: number, y: number, z: number): [number, number, number] {
  // The axes are square to each other: what lies along each is found by asking for the world's.
  const back = (wx: number, wy: number, wz: number) =>
    alongAxis(c, anchor, 0, wx, wy, wz) * x + alongAxis(c, anchor, 1, wx, wy, wz) * y + alongAxis(c, anchor, 2, wx, wy, wz) * z;
  return [back(1, 0, 0), back(0, 1, 0), back(0, 0, 1)];
}
