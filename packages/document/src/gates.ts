/** What must be so in the world before an element shows: how near, looked at, in sight, not outdone by another; and what a key does on it. */
import * as z from 'zod';
import { atLeastZero, fraction, idSchema, positive, vec3 } from './primitives.ts';

/** A part of the world about an anchor. It turns with the anchor's node and keeps its size in metres. */
export const zoneSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('sphere'), radiusM: positive }),
  /** Along the node's axes, centred on the anchor. */
  z.strictObject({ kind: z.literal('box'), sizeM: vec3.refine((v) => v.every((m) => m > 0), 'a box has three lengths above 0') }),
  /** Upright along the node's y axis; `heightM` from end to end. */
  z
    .strictObject({ kind: z.literal('capsule'), radiusM: positive, heightM: positive })
    .refine((c) => c.heightM >= 2 * c.radiusM, { path: ['heightM'], message: 'a capsule is at least as high as it is wide' }),
  /** The node's own surfaces. */
  z.strictObject({ kind: z.literal('mesh') }),
]);

/** What holds goes on holding for so long after the leave value was passed. */
const dwellS = atLeastZero.max(10);

export const rangeSchema = z
  .strictObject({
    /** Measured to the zone, or to the anchor where it has none; inside of the zone it is 0. */
    from: z.enum(['eye', 'body']),
    enterM: atLeastZero,
    leaveM: atLeastZero,
    dwellS,
  })
  .refine((r) => r.leaveM >= r.enterM, {
    path: ['leaveM'],
    message: 'it would leave before it has come in: the leave distance is the greater',
  });

export const lookSchema = z.discriminatedUnion('by', [
  z
    .strictObject({
      by: z.literal('cone'),
      /** Between the viewer's forward axis and the anchor, in the world. */
      halfDeg: positive.max(180),
      leaveDeg: positive.max(180),
      dwellS,
    })
    .refine((c) => c.leaveDeg >= c.halfDeg, { path: ['leaveDeg'], message: 'the leave angle is the greater' }),
  /** The ray along the viewer's forward axis meets the zone within reach, and no surface before it: the test that a press makes. */
  z.strictObject({ by: z.literal('aim'), reachM: positive, dwellS }),
]);

export const sightlineSchema = z
  .strictObject({
    /** Lines go to the anchor, to points of its zone, or to points of the element's own box at the anchor's distance. */
    to: z.enum(['anchor', 'zone', 'element']),
    samples: z.int().min(1).max(64),
    /** Shows with at least this share of the lines free; stays with at least the lesser one. */
    share: fraction,
    leaveShare: fraction,
    /** What a block does. */
    answer: z.enum(['hide', 'dim', 'through']),
    dwellS,
  })
  .refine((s) => s.leaveShare <= s.share, { path: ['leaveShare'], message: 'the share it stays with is the lesser' });

/** Takes part in the contest for its key. */
export const claimSchema = z.strictObject({
  /** Taken off the score, of which the least wins. */
  priority: z.number().min(-100).max(100),
  /** Taken off the score of the one that holds the claim. */
  bonus: atLeastZero.max(10),
  dwellS,
});

export const pressSchema = z.strictObject({
  action: idSchema.nullable(),
  how: z.enum(['press', 'hold', 'repeat']),
  /** Of `hold`: how long. Of `repeat`: within what time all presses fall. */
  holdS: positive.max(60),
  /** Of `repeat`. */
  times: z.int().min(2).max(100),
});

/** Of an element that floats, or of one on the glass that is about an anchor. */
export const gates = {
  /** On the glass: the anchor that range, look, sightline and claim are about. */
  about: idSchema.optional(),
  range: rangeSchema.optional(),
  look: lookSchema.optional(),
  sightline: sightlineSchema.optional(),
  claim: claimSchema.optional(),
  press: pressSchema.optional(),
};
export const GATES = ['range', 'look', 'sightline', 'claim', 'press'] as const;

/** The devices a player may use, each with its own way of saying which key. */
export const DEVICES = ['keyboard', 'gamepad', 'touch', 'hand'] as const;
export type Device = (typeof DEVICES)[number];

/** Which key of each device sends an action. */
export const keysSchema = z.strictObject({
  /** By its place (UI Events `code`), or a button of the pointer. */
  keyboard: z
    .string()
    .regex(/^([A-Z][A-Za-z0-9]{1,39}|Pointer(Left|Middle|Right))$/, 'a key is written by its place, as in "KeyE" or "PointerLeft"'),
  /** A button of the standard mapping (W3C Gamepad). */
  gamepad: z.int().min(0).max(16),
  touch: z.enum(['tap', 'doubleTap']),
  /** A button of the `xr-standard` mapping (WebXR Gamepads Module). */
  hand: z.int().min(0).max(5),
  /** In place of the drawn key. */
  pictures: z.partialRecord(z.enum(DEVICES), idSchema).optional(),
});

/** How many prompts hold their key at once, and whether all contend with all or only those for the same key. */
export const contestSchema = z.strictObject({ among: z.enum(['key', 'all']), most: z.int().min(1).max(20) });

export type Zone = z.infer<typeof zoneSchema>;
export type Range = z.infer<typeof rangeSchema>;
export type Look = z.infer<typeof lookSchema>;
export type Sightline = z.infer<typeof sightlineSchema>;
export type Claim = z.infer<typeof claimSchema>;
export type Press = z.infer<typeof pressSchema>;
export type Keys = z.infer<typeof keysSchema>;
