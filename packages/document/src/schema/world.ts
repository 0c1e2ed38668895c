/** Lenses, anchors, and how an element is carried by one and sized. */
import * as z from 'zod';
import { zoneSchema } from '../gates.ts';
import { atLeastZero, fraction, idSchema, name, order, positive, vec3 } from '../primitives.ts';

const fov = z.number().gt(0).lt(180);
const halfAngle = z.number().gt(-90).lt(90);
export const lensSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('perspective'),
    /** Field of view along `fovAxis`, degrees, as seen at `designAspect`. */
    fovDeg: fov,
    fovAxis: z.enum(['vertical', 'horizontal', 'diagonal']),
    /** What stays when the frame's aspect differs from `designAspect`: `whole` keeps all of the design frame in view. */
    hold: z.enum(['vertical', 'horizontal', 'whole']),
    /** Width over height for which `fovDeg` is meant; null: that of the frame itself. */
    designAspect: positive.nullable(),
    nearM: positive,
  }),
  z.strictObject({
    kind: z.literal('offAxis'),
    /** Half-angles in degrees from the forward axis; left and down are negative. */
    leftDeg: halfAngle,
    rightDeg: halfAngle,
    upDeg: halfAngle,
    downDeg: halfAngle,
    nearM: positive,
  }),
  z.strictObject({ kind: z.literal('orthographic'), halfHeightM: positive, nearM: positive }),
]);

/**
 * An anchor that jitters is steadied: as slowly as `cutoffHz` while it rests, faster by `perMps` for every metre a second that it moves.
 */
const steadySchema = z.strictObject({ cutoffHz: z.number().min(0.05).max(60), perMps: atLeastZero.max(1000) });
const placed = { name, order, zone: zoneSchema.optional(), steady: steadySchema.optional() };
export const anchorSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('surface'),
    ...placed,
    /** The node the surface belongs to if it can move; null: position and normal are in the world. */
    node: z.string().min(1).nullable(),
    position: vec3,
    normal: vec3.refine((n) => Math.abs(Math.hypot(...n) - 1) < 1e-3, 'a normal has length 1'),
  }),
  z.strictObject({ kind: z.literal('node'), ...placed, node: z.string().min(1), /** In the node's own space. */ offset: vec3 }),
  z.strictObject({ kind: z.literal('midpoint'), ...placed, first: idSchema, second: idSchema }),
  /** Every node that matches: what is mounted on it stands at each of them. */
  z.strictObject({
    kind: z.literal('nodes'),
    ...placed,
    /** Of the node's name; * stands for any characters, ? for one. */
    pattern: z.string().min(1).max(200),
    /** A property in the node's extras, as `key` or `key=value`; null: any node of that name. */
    property: z.string().min(1).max(200).nullable(),
    /** In each node's own space. */
    offset: vec3,
  }),
  /** Where an event happened last; before the first one there is no such place. */
  z.strictObject({ kind: z.literal('event'), ...placed, feed: idSchema.nullable(), /** In the world. */ offset: vec3 }),
]);

/** Below this the Size step says no; it takes `leavePx` less than that to hide again. Design pixels of the em. */
const sizeFloor = { hideBelowPx: atLeastZero, leavePx: atLeastZero };
export const sizeSchema = z.discriminatedUnion('rule', [
  z.strictObject({ rule: z.literal('screen'), emPx: positive, ...sizeFloor }),
  z.strictObject({ rule: z.literal('angle'), emArcmin: positive, ...sizeFloor }),
  z
    .strictObject({ rule: z.literal('world'), emM: positive, leastPx: atLeastZero, greatestPx: positive, ...sizeFloor })
    .refine((s) => s.leastPx <= s.greatestPx, { path: ['leastPx'], message: 'the least size is larger than the greatest' }),
]);

/** What standing and trailing panels have alike. */
const panel = {
  /** Width and height, metres. */
  sizeM: z.tuple([positive.max(1000), positive.max(1000)]),
  /** Text density: how many of the panel's own design pixels a metre has. Another size leaves letters their height. */
  pxPerM: positive.max(100_000),
  /** The distance from which it is meant to be read, metres: angles of what lies on it are reckoned there. */
  readM: positive.max(1000),
  /** `front`: from behind it is not there. */
  sides: z.enum(['front', 'both']),
  /** What is on it is laid out so large that the smallest of what acts is large enough for a hand's ray, from where it is read. */
  raySized: z.boolean().optional(),
};

/** How an element is carried. Where its own point comes to lie is said by its pin and its offset, whatever the mount. */
export const mountSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('floating'), anchor: idSchema }),
  z.strictObject({
    kind: z.literal('glass'),
    /** The box that pins are fractions of: the whole screen, or what of it is surely seen. */
    within: z.enum(['screen', 'safe']),
    pin: z.tuple([fraction, fraction]),
    /** Takes the parent's whole width, its whole height, less the offset at both sides. */
    stretch: z.tuple([z.boolean(), z.boolean()]),
  }),
  z.strictObject({
    kind: z.literal('inside'),
    group: idSchema,
    /** Where the group lays its members out freely; a row or a column places them itself. */
    pin: z.tuple([fraction, fraction]),
    stretch: z.tuple([z.boolean(), z.boolean()]),
  }),
  /** A panel that stands in the level, its own point on an anchor. */
  z.strictObject({
    kind: z.literal('standing'),
    anchor: idSchema,
    ...panel,
    /** `fixed`: as the surface, or the node, of its anchor lies. `upright`: turns about the vertical towards the viewer; `full`: wholly. */
    facing: z.enum(['fixed', 'upright', 'full']),
    /** From there: to its own left about its upright axis, then its head backwards, degrees. */
    turnDeg: z.number().min(-360).max(360),
    tiltDeg: z.number().min(-180).max(180),
    /** Off the surface, along its normal, metres. */
    liftM: z.number().min(-1000).max(1000),
    /** The flat rectangle of the level that it was placed on, width and height, metres: what an inset is reckoned from. */
    faceM: z.tuple([positive.max(1000), positive.max(1000)]).optional(),
  }),
  /** A panel that stays in a direction from the viewer's head. */
  z.strictObject({
    kind: z.literal('trailing'),
    ...panel,
    distanceM: positive.max(1000),
    /** Where its own point lies from straight ahead: to the right, and up, degrees. */
    rightDeg: z.number().min(-180).max(180),
    upDeg: z.number().min(-89).max(89),
    /** Time constant with which it comes after the head, seconds; 0: rigid. */
    followS: atLeastZero.max(10),
    /** It stays while the head is turned by less than this from it, degrees. */
    deadDeg: z.number().min(0).max(90),
    /** `upright`: its sides stay vertical; `head`: it rolls and nods with the head. */
    keeps: z.enum(['upright', 'head']),
    /** Where the level is in the way: comes nearer at the same size to the eye, but no nearer than `leastM`; or is hidden, dimmed, or shows through. */
    blocked: z.enum(['nearer', 'hide', 'dim', 'show']),
    leastM: positive.max(1000),
  }),
]);
