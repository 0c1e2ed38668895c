/** What is measured of a project when it is checked, and which findings somebody has accepted. */
import { z } from 'zod';
import { idSchema } from '../primitives.ts';
import { languageTag } from './language.ts';

const kind = z.string().min(1).max(40);
export const checksSchema = z.strictObject({
  /** Those that are measured; without a list, all. */
  routes: z.array(idSchema).max(2000).optional(),
  viewers: z.array(idSchema).max(2000).optional(),
  languages: z.array(languageTag).max(200).optional(),
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
