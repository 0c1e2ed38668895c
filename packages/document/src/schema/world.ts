/** Lenses, anchors, and how an element is carried by one and sized. */
import { z } from 'zod';
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

const placed = { name, order, zone: zoneSchema.optional() };
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
]);
