/** Lines in the world that show a zone and a range, for whoever draws them: each a row of points, three numbers a point. */
import { type Compiled, ZoneKind } from './compiled.ts';
import type { Vec3 } from './spaces/pose.ts';
import { fromAxes } from './zones.ts';

const TURN = 40;

/** A circle of which a and b are two radii square to each other. */
function circle(centre: Vec3, a: Vec3, b: Vec3, from = 0, to = 1): Vec3[] {
  const steps = Math.ceil(TURN * (to - from));
  return Array.from({ length: steps + 1 }, (_, k) => {
    const angle = 2 * Math.PI * (from + ((to - from) * k) / steps);
    return centre.map((v, i) => v + Math.cos(angle) * (a[i] as number) + Math.sin(angle) * (b[i] as number)) as Vec3;
  });
}

const anchorPlace = ({ anchorWorld }: Compiled, anchor: number): Vec3 => [...anchorWorld.subarray(anchor * 3, anchor * 3 + 3)] as Vec3;

/** The zone of an anchor as lines; of a mere point there are none. */
export function zoneLines(c: Compiled, anchor: number): Vec3[][] {
  const { kind, size } = c.zones;
  const centre = anchorPlace(c, anchor);
  const [p, q, r] = [size[anchor * 3] as number, size[anchor * 3 + 1] as number, size[anchor * 3 + 2] as number];
  const axis = (x: number, y: number, z: number): Vec3 => fromAxes(c, anchor, x, y, z);
  const off = (v: Vec3): Vec3 => centre.map((k, i) => k + (v[i] as number)) as Vec3;
  if (kind[anchor] === ZoneKind.Sphere)
    return [
      circle(centre, axis(p, 0, 0), axis(0, p, 0)),
      circle(centre, axis(p, 0, 0), axis(0, 0, p)),
      circle(centre, axis(0, p, 0), axis(0, 0, p)),
    ];
  if (kind[anchor] === ZoneKind.Box) {
    const corner = (x: number, y: number, z: number) => off(axis(x * p, y * q, z * r));
    const ring = (y: number) => [corner(-1, y, -1), corner(1, y, -1), corner(1, y, 1), corner(-1, y, 1), corner(-1, y, -1)];
    const posts = [-1, 1].flatMap((x) => [-1, 1].map((z) => [corner(x, -1, z), corner(x, 1, z)]));
    return [ring(-1), ring(1), ...posts];
  }
  if (kind[anchor] === ZoneKind.Mesh) return c.level?.surfaceOf(c.anchorFirst[anchor] as number)?.edges() ?? [];
  if (kind[anchor] !== ZoneKind.Capsule) return [];
  const [top, foot] = [off(axis(0, q, 0)), off(axis(0, -q, 0))];
  const side = (a: Vec3): Vec3[] => [
    ...circle(top, a, axis(0, p, 0), 0, 0.5),
    ...circle(foot, a, axis(0, p, 0), 0.5, 1),
    top.map((v, i) => v + (a[i] as number)) as Vec3,
  ];
  return [side(axis(p, 0, 0)), side(axis(0, 0, p)), circle(top, axis(p, 0, 0), axis(0, 0, p)), circle(foot, axis(p, 0, 0), axis(0, 0, p))];
}

/** A level ring about an anchor: where a viewer stands that is just so far from its zone. Of a box and a mesh about as far. */
export function rangeRing(c: Compiled, anchor: number, distanceM: number, y: number): Vec3[] {
  const { kind, size } = c.zones;
  const [x, , z] = anchorPlace(c, anchor);
  const [p, , r] = [size[anchor * 3] as number, 0, size[anchor * 3 + 2] as number];
  const radius =
    kind[anchor] === ZoneKind.Sphere || kind[anchor] === ZoneKind.Capsule ? p : kind[anchor] === ZoneKind.Box ? Math.max(p, r) : 0;
  const reach = distanceM + radius;
  return circle([x, y, z], [reach, 0, 0], [0, 0, reach]);
}
