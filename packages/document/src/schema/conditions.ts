/** Conditions on feeds, joined to any depth, and in which phases something shows. */
import * as z from 'zod';
import { atLeastZero, compared, idSchema, need, positive } from '../primitives.ts';

/** Holds for so long after the feed's value has changed. */
export const changedLately = z.strictObject({ kind: z.literal('changed'), feed: idSchema, withinS: positive });
export interface ConditionGroup {
  kind: 'group';
  need: 'all' | 'any' | 'none';
  conditions: Condition[];
}
export type Condition = z.infer<typeof compared> | z.infer<typeof changedLately> | ConditionGroup;
/** Conditions joined once more, to any depth. */
const joined: z.ZodType<ConditionGroup> = z.lazy(() =>
  z.strictObject({ kind: z.literal('group'), need, conditions: z.array(condition).max(40) }),
);
export const condition: z.ZodType<Condition> = z.union([compared, changedLately, joined]);

/** When an element applies. Without it, always. */
export const showSchema = z.strictObject({
  /** What a phase does to it; phases that are not named show it. */
  phases: z.record(idSchema, z.enum(['hidden', 'dimmed'])),
  /** Which of the conditions must hold. */
  need,
  conditions: z.array(condition).max(40),
  /** It stays this long after the conditions stopped holding. */
  lingerS: atLeastZero,
});
