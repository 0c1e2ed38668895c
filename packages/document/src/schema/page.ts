/** A page as content of an element. */
import * as z from 'zod';
import { atLeastZero, fraction, idSchema } from '../primitives.ts';
import { common, extent } from './common.ts';

export const pageSchema = z.strictObject({
  kind: z.literal('page'),
  ...common,
  /** One of the project's pages; null: none chosen yet. Used in several places it is one page, that runs once. */
  page: idSchema.nullable(),
  /** The page is drawn as large as fits, in the middle. */
  widthPx: extent,
  heightPx: extent,
  paint: z.strictObject({ radiusPx: atLeastZero, opacity: fraction }),
});
