/** What fields are made of: names, numbers with their bounds, places, colours, values of feeds. */
import { generateKeyBetween } from 'fractional-indexing';
import * as z from 'zod';

/** An id is a key of a collection. It starts with a letter or digit, so it can never be a key that JavaScript objects carry themselves. */
export const idSchema = z
  .string()
  .regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/, 'an id has 1 to 64 letters, digits, hyphens or underscores and starts with a letter or digit')
  .refine((id) => id !== 'constructor', 'this id is reserved');
export const name = z.string().min(1).max(200);
/** A fractional index (`a0`, `a1`, `a0V`): between any two there is room for another. */
export const order = z.string().min(1).max(200).refine(isOrder, 'an order is a fractional index such as "a0" or "a0V"');

function isOrder(key: string): boolean {
  try {
    return generateKeyBetween(key, null) > key;
  } catch {
    return false;
  }
}
export const positive = z.number().positive();
export const atLeastZero = z.number().nonnegative();
export const fraction = z.number().min(0).max(1);
/** Of letters: 400 is regular, 700 bold. */
export const weight = z.int().min(100).max(900).multipleOf(100);
export const vec2 = z.tuple([z.number(), z.number()]);
export const vec3 = z.tuple([z.number(), z.number(), z.number()]);
export const unitQuat = z
  .tuple([z.number(), z.number(), z.number(), z.number()])
  .refine((q) => Math.abs(Math.hypot(...q) - 1) < 1e-3, 'a rotation is a quaternion [x, y, z, w] of length 1');
export const colour = z.string().regex(/^#[0-9A-Fa-f]{6}([0-9A-Fa-f]{2})?$/, 'a colour is written #RRGGBB or #RRGGBBAA');

/** Something that happened at a place in the world, metres, or at no place; `number` counts them, and 0 says that none has happened yet. */
export const eventValue = z.strictObject({ number: z.int().nonnegative(), place: vec3.nullable() });
/** A list is shown as lines. */
export const feedValue = z.union([z.number(), z.string().max(4000), z.boolean(), z.array(z.string().max(400)).max(200), eventValue]);

export const comparison = z.enum(['below', 'atMost', 'above', 'atLeast', 'equals', 'differs']);
export const need = z.enum(['all', 'any', 'none']);
export const compared = z.strictObject({
  kind: z.literal('compare'),
  feed: idSchema,
  is: comparison,
  value: z.union([z.number(), z.string().max(400), z.boolean()]),
  /** A number must come back this much farther before the condition stops holding. */
  leave: atLeastZero,
});
