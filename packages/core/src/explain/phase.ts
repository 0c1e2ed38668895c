/** Phase: what the state of the game, the conditions on feeds, and reactions say of an element. */
import type { Condition, Show } from '@foreshore/document/types';
import type { FailedCondition, Outcome } from '../outcome.ts';
import type { SolveContext } from '../solve-context.ts';
import { whyAbsent } from '../steps/form.ts';

/** What joined conditions come to, where the next one stands in the list of all, and the first that keeps them from holding. */
interface Judged {
  holds: boolean;
  next: number;
  failed: FailedCondition | null;
}

/** @param at of the first of these among all conditions; groups take no place of their own. */
function judge({ c, f, m }: SolveContext, { need, conditions }: Pick<Show, 'need' | 'conditions'>, at: number): Judged {
  let next = at;
  let count = 0;
  let failed: FailedCondition | null = null;
  const never = need === 'none';
  for (const condition of conditions) {
    const here = next;
    const inner = condition.kind === 'group' ? judge({ c, f, m } as SolveContext, condition, here) : null;
    const holds = inner ? inner.holds : m.conditionIn[here] === 1;
    next = inner ? inner.next : here + 1;
    if (holds) count++;
    if (failed === null && holds === never)
      failed = inner ? (inner.failed ?? { kind: 'joined' }) : leaf(condition as Leaf, f.values[c.conditionFeed[here] as number], never);
  }
  const holds = need === 'all' ? count === conditions.length : need === 'any' ? count > 0 || conditions.length === 0 : count === 0;
  return { holds, next, failed: holds ? null : failed };
}

type Leaf = Exclude<Condition, { kind: 'group' }>;
const leaf = (condition: Leaf, value: SolveContext['f']['values'][number], never: boolean): FailedCondition =>
  condition.kind === 'changed'
    ? { kind: 'changed', feed: condition.feed, withinS: condition.withinS, never }
    : { kind: 'compare', condition, value: value ?? null, never };

export function explainPhase(ctx: SolveContext, i: number): Outcome {
  const { c, f, m } = ctx;
  const forced = f.forcedRows.includes(i) ? (f.forced[c.ids[i] as string] ?? f.forced[c.sources[i] as string]) : undefined;
  if (forced) return { passes: forced === 'shown', facts: [{ kind: 'forced', shown: forced === 'shown' }] };
  const { show, only } = c.elements[i] ?? {};
  if (only && ctx.a.absent[i]) return { passes: false, facts: [{ kind: 'otherForm', ...whyAbsent(ctx, i), only }] };
  if (!show) return { passes: true, facts: [{ kind: 'always' }] };
  const says = f.phase === null ? undefined : show.phases[f.phase];
  if (says === 'hidden') return { passes: false, facts: [{ kind: 'phase', phase: f.phase, does: 'hides' }] };
  const s = c.shows.indexOf(i);
  const { holds, failed } = judge(ctx, show, c.firstCondition[s] as number);
  if (!holds) {
    const leftS = show.lingerS - (f.timeS - (m.heldS[s] as number));
    if (show.lingerS > 0 && leftS >= 0) return { passes: true, facts: [{ kind: 'lingers', leftS, condition: failed }] };
    return { passes: false, facts: [{ kind: 'conditionFails', condition: failed }] };
  }
  if (says === 'dimmed') return { passes: true, facts: [{ kind: 'phase', phase: f.phase, does: 'dims' }] };
  return {
    passes: true,
    facts: [show.conditions.length ? { kind: 'conditionsHold' } : { kind: 'phase', phase: f.phase, does: 'shows' }],
  };
}
