/**
 * Variants under which a route is measured beside as it was recorded: one thing at a time is another, for the whole of the route. All feeds
 * at one of their ends, the player uses another device, the camera shakes, or the game is in one phase.
 */
import type { Pose } from '@foreshore/core';
import { type CheckVariant, DEVICES, type Device, type Document, type FeedValue, inOrder, type Shake } from '@foreshore/document';
import { valuesAtEnd } from './extremes.ts';

/** A turn of the camera from side to side of half a degree, three times a second: at its fastest 9.4 degrees a second. */
export const SHAKE: Shake = { deg: 0.5, hz: 3 };
/** It nods so much more slowly than it turns, that the two do not meet again soon: the golden ratio. */
const SLOWER = (Math.sqrt(5) - 1) / 2;

/** What a route is recorded with. */
const RECORDED_DEVICE: Device = 'keyboard';

/** What is another. */
export interface Otherwise {
  held?: Readonly<Record<string, FeedValue>>;
  phase?: string;
  device?: Device;
  shake?: Shake;
}

export const phaseVariant = (id: string): CheckVariant => `phase:${id}`;
/** The phase that a variant is; null: it is none. */
export const phaseOf = (variant: CheckVariant): string | null => (variant.startsWith('phase:') ? variant.slice('phase:'.length) : null);

/** All variants that there are for a document, in the order in which they are told. */
export const variantsFor = (document: Document): CheckVariant[] => [
  'least',
  'greatest',
  ...DEVICES.flatMap((device) => (device === RECORDED_DEVICE ? [] : [device])),
  'shake',
  ...inOrder(document.phases).map(([id]) => phaseVariant(id)),
];

/** @param variant undefined: as it was recorded. */
export function otherwise(document: Document, variant: CheckVariant | undefined): Otherwise {
  if (variant === undefined) return {};
  const phase = phaseOf(variant);
  if (phase !== null) return { phase };
  if (variant === 'least' || variant === 'greatest') return { held: valuesAtEnd(document, variant) };
  if (variant === 'shake') return { shake: document.checks?.shake ?? SHAKE };
  const device = DEVICES.find((one) => one === variant);
  return device ? { device } : {};
}

type Rotation = Pose['rotation'];
/** A turn about one's own upright (1) or rightward (0) axis, as a quaternion. */
function turnAbout(axis: 0 | 1, deg: number): Rotation {
  const half = (deg * Math.PI) / 360;
  const turn: Rotation = [0, 0, 0, Math.cos(half)];
  turn[axis] = Math.sin(half);
  return turn;
}
/** Hamilton's product: the second turn about the axes of the first. */
const then = ([ax, ay, az, aw]: Rotation, [bx, by, bz, bw]: Rotation): Rotation => [
  aw * bx + ax * bw + ay * bz - az * by,
  aw * by - ax * bz + ay * bw + az * bx,
  aw * bz + ax * by - ay * bx + az * bw,
  aw * bw - ax * bx - ay * by - az * bz,
];

/** Where a camera looks while it shakes: turned about its own upright axis and nodding, each by a sine of so many degrees. */
export function shaken({ position, rotation }: Pose, timeS: number, { deg, hz }: Shake): Pose {
  const angle = 2 * Math.PI * hz * timeS;
  const yaw = turnAbout(1, deg * Math.sin(angle));
  const nod = turnAbout(0, deg * Math.sin(SLOWER * angle + 1));
  return { position, rotation: then(then(rotation, yaw), nod) };
}
