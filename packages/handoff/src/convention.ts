/**
 * How another world counts: its axes, its unit, its lens and its screen. Inside of Foreshore there is one convention; everything that
 * leaves is turned into the chosen one here, and what comes back is turned back here.
 *
 * Their point is `p' = U·M·p`, with M the signed permutation whose rows say what of ours their axes are, and U their units a metre.
 * A rotation R becomes M·R·Mᵀ, so a camera that is not turned looks along their forward axis with their up axis up, whatever the hand.
 */
import type { Quat, Vec3 } from '@foreshore/core';
import { type Convention, conventionSchema } from '@foreshore/document';

export type { Axis, Convention } from '@foreshore/document';

/** Foreshore's own: right-handed, +Y up, looking along −Z, metres; pixels from the top left, y down. */
export const OWN: Convention = {
  name: 'Right-handed, Y up, metres',
  right: '+x',
  up: '+y',
  forward: '-z',
  unitsPerMetre: 1,
  fov: 'vertical',
  angles: 'degrees',
  quaternion: 'xyzw',
  screenOrigin: 'topLeft',
  screenY: 'down',
};
const made = (name: string, of: Partial<Convention>): Convention => ({ ...OWN, name, ...of });
/** Those that are common, named by what they are. */
export const CONVENTIONS: readonly Convention[] = [
  OWN,
  made('Right-handed, Z up, Y ahead, metres', { up: '+z', forward: '+y' }),
  made('Left-handed, Y up, Z ahead, metres', { forward: '+z', screenOrigin: 'bottomLeft', screenY: 'up' }),
  made('Left-handed, Z up, X ahead, centimetres', { right: '+y', up: '+z', forward: '+x', unitsPerMetre: 100, fov: 'horizontal' }),
  made('Right-handed, Y up, radians, scalar first', { angles: 'radians', quaternion: 'wxyz' }),
];

/** Rows of M: which of our axes each of theirs is, signed. */
function matrixOf({ right, up, forward }: Convention): [Vec3, Vec3, Vec3] {
  const rows: [Vec3, Vec3, Vec3] = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  const ours: Vec3[] = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, -1],
  ];
  [right, up, forward].forEach((theirs, k) => {
    const sign = theirs[0] === '-' ? -1 : 1;
    rows['xyz'.indexOf(theirs[1] as string)] = (ours[k] as Vec3).map((v) => v * sign + 0) as Vec3;
  });
  return rows;
}
const determinant = ([a, b, c]: [Vec3, Vec3, Vec3]): number =>
  a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0]);

/** Whether their axes are those of a right hand. */
export const isRightHanded = (convention: Convention): boolean => determinant(matrixOf(convention)) > 0;

const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const column = (m: readonly Vec3[], k: number): Vec3 => m.map((row) => row[k] as number) as Vec3;
// No −0: it would be written otherwise than 0.
const clean = (v: number): number => v + 0;

/** A direction in their world. */
export const directionOut = (c: Convention, v: Vec3): Vec3 => matrixOf(c).map((row) => clean(dot(row, v))) as Vec3;
export const directionIn = (c: Convention, v: Vec3): Vec3 => {
  const m = matrixOf(c);
  return [0, 1, 2].map((k) => clean(dot(column(m, k), v))) as Vec3;
};
/** A place in their world, in their units. */
export const pointOut = (c: Convention, p: Vec3): Vec3 => directionOut(c, p).map((v) => clean(v * c.unitsPerMetre)) as Vec3;
export const pointIn = (c: Convention, p: Vec3): Vec3 => directionIn(c, p).map((v) => clean(v / c.unitsPerMetre)) as Vec3;
/** A length in their units. */
export const lengthOut = (c: Convention, metres: number): number => metres * c.unitsPerMetre;
export const lengthIn = (c: Convention, units: number): number => units / c.unitsPerMetre;

/**
 * A rotation in their world, in their order. The axis of a turn goes as a direction does; under a mirrored M the sense of turning is
 * reversed: q = (axis·sin, cos) becomes (det(M)·M·axis·sin, cos).
 */
export function rotationOut(c: Convention, [x, y, z, w]: Quat): [number, number, number, number] {
  const side = determinant(matrixOf(c));
  const [a, b, d] = directionOut(c, [x * side, y * side, z * side]);
  return c.quaternion === 'xyzw' ? [a, b, d, w] : [w, a, b, d];
}
export function rotationIn(c: Convention, q: readonly [number, number, number, number]): Quat {
  const [x, y, z, w] = c.quaternion === 'xyzw' ? q : [q[1], q[2], q[3], q[0]];
  const side = determinant(matrixOf(c));
  const [a, b, d] = directionIn(c, [x * side, y * side, z * side]);
  return [a, b, d, w];
}

export const angleOut = (c: Convention, deg: number): number => (c.angles === 'degrees' ? deg : (deg * Math.PI) / 180);
export const angleIn = (c: Convention, angle: number): number => (c.angles === 'degrees' ? angle : (angle * 180) / Math.PI);

const RAD = Math.PI / 180;
/** The angle of view that they give a lens by, from its vertical one. With t = tan(v/2): 2·atan(t·a), 2·atan(t·√(1 + a²)). */
export function fovOut(c: Convention, verticalDeg: number, aspect: number): number {
  const t = Math.tan((verticalDeg * RAD) / 2);
  const half = c.fov === 'vertical' ? t : c.fov === 'horizontal' ? t * aspect : t * Math.hypot(1, aspect);
  return angleOut(c, (2 * Math.atan(half)) / RAD);
}
export function fovIn(c: Convention, angle: number, aspect: number): number {
  const half = Math.tan((angleIn(c, angle) * RAD) / 2);
  const t = c.fov === 'vertical' ? half : c.fov === 'horizontal' ? half / aspect : half / Math.hypot(1, aspect);
  return (2 * Math.atan(t)) / RAD;
}

/** A place on their screen, pixels. */
export function screenOut(c: Convention, [x, y]: readonly [number, number], widthPx: number, heightPx: number): [number, number] {
  if (c.screenOrigin === 'topLeft') return [x, y];
  if (c.screenOrigin === 'bottomLeft') return [x, clean(heightPx - y)];
  return [clean(x - widthPx / 2), clean(c.screenY === 'down' ? y - heightPx / 2 : heightPx / 2 - y)];
}
export function screenIn(c: Convention, [x, y]: readonly [number, number], widthPx: number, heightPx: number): [number, number] {
  if (c.screenOrigin === 'topLeft') return [x, y];
  if (c.screenOrigin === 'bottomLeft') return [x, clean(heightPx - y)];
  return [clean(x + widthPx / 2), clean(c.screenY === 'down' ? y + heightPx / 2 : heightPx / 2 - y)];
}

/** Reads a convention from JSON. @throws Error with what is wrong and where. */
export function readConvention(text: string): Convention {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new ConventionError(`The convention is no JSON: ${(error as Error).message}.`);
  }
  const read = conventionSchema.safeParse(json);
  if (read.success) return read.data;
  throw new ConventionError(read.error.issues.map(({ path, message }) => `The convention, at /${path.join('/')}: ${message}.`).join('\n'));
}
export class ConventionError extends Error {}
