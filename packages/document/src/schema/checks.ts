/** What is measured of a project when it is checked, and which findings somebody has accepted. */
import * as z from 'zod';
import { idSchema } from '../primitives.ts';
import { languageTag } from './language.ts';

const kind = z.string().min(1).max(40);
/** One thing that is another for the whole of a route. */
const variant = z.union([
  z.enum(['least', 'greatest', 'shake', 'gamepad', 'touch', 'hand']),
  z.templateLiteral(['phase:', z.string().regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/)]),
]);
export type CheckVariant = z.infer<typeof variant>;
/** A camera that turns and nods by so many degrees either way, so many times a second. */
const shake = z.strictObject({ deg: z.number().min(0.01).max(20), hz: z.number().min(0.1).max(15) });
export type Shake = z.infer<typeof shake>;

/** What painting one frame may take at most: pieces drawn, and paint laid one over the other, in screens. */
const budget = z.strictObject({ pieces: z.int().min(1).max(1_000_000), screens: z.number().min(0.01).max(1000) });
export type FrameBudget = z.infer<typeof budget>;

export const checksSchema = z.strictObject({
  /** Those that are measured; without a list, all. */
  routes: z.array(idSchema).max(2000).optional(),
  viewers: z.array(idSchema).max(2000).optional(),
  languages: z.array(languageTag).max(200).optional(),
  /** What routes are measured under beside as they were recorded, one at a time. */
  variants: z.array(variant).max(500).optional(),
  shake: shake.optional(),
  budget: budget.optional(),
  /** Phases in which nothing is shown, but for these elements and what is inside of them. */
  quiet: z.record(idSchema, z.array(idSchema).max(2000)).optional(),
  /** Kinds of findings that are not told. */
  off: z.array(kind).max(100).optional(),
  /** Findings that are as they should be, whoever looks. */
  accepted: z
    .array(
      z.strictObject({
        kind,
        element: idSchema,
        reason: z.string().trim().min(1).max(500),
        by: z.string().trim().min(1).max(80),
        /** The day it was accepted. */
        on: z.iso.date(),
      }),
    )
    .max(5000)
    .optional(),
});
export type ChecksSettings = z.infer<typeof checksSchema>;
export type Accepted = NonNullable<ChecksSettings['accepted']>[number];
