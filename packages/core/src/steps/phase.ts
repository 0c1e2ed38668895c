/** Phase: does the element apply in this state of the game, and do its conditions on feeds hold? */
import type { Comparison, Condition, FeedValue, Show } from '@foreshore/document/types';
import { isEvent, sameValue } from '../feed-value.ts';
import type { SolveContext } from '../solve-context.ts';

/** What a dimmed element keeps of its opacity. */
export const DIMMED = 0.35;

/** Whether a comparison holds. @param held whether it held before: then it must come back by the leave value. */
export const compare = (condition: Comparison, value: FeedValue | undefined, held: boolean): boolean => {
  const { is, value: bound } = condition;
  if (value === undefined) return false;
  // Of an event, how many have happened.
  if (isEvent(value)) return compare(condition, value.number, held);
  if (is === 'equals') return value === bound;
  if (is === 'differs') return value !== bound;
  if (typeof value !== 'number' || typeof bound !== 'number') return false;
  // What holds must come back by the leave value before it stops.
  const slack = held ? condition.leave : 0;
  if (is === 'below') return value < bound + slack;
  if (is === 'atMost') return value <= bound + slack;
  if (is === 'above') return value > bound - slack;
  return value >= bound - slack;
};

type Joined = Pick<Show, 'need' | 'conditions'>;
let at = 0;

/** @param held what every condition came to, those of this element from `at` on, groups' own left out. */
function joinedFrom({ need, conditions }: Joined, held: Uint8Array): boolean {
  let count = 0;
  for (let k = 0; k < conditions.length; k++) {
    const condition = conditions[k] as Condition;
    if (condition.kind === 'group' ? joinedFrom(condition, held) : held[at++] === 1) count++;
  }
  return need === 'all' ? count === conditions.length : need === 'any' ? count > 0 || conditions.length === 0 : count === 0;
}
function joined(show: Joined, held: Uint8Array, first: number): boolean {
  at = first;
  return joinedFrom(show, held);
}

/** Decides whether each condition holds, from `at` on. */
function decide(conditions: readonly Condition[], { c, f, m }: SolveContext, fresh: boolean): void {
  for (let k = 0; k < conditions.length; k++) {
    const condition = conditions[k] as Condition;
    if (condition.kind === 'group') {
      decide(condition.conditions, { c, f, m } as SolveContext, fresh);
      continue;
    }
    const value = f.values[c.conditionFeed[at] as number];
    if (condition.kind === 'compare') m.conditionIn[at] = compare(condition, value, m.conditionIn[at] === 1) ? 1 : 0;
    else {
      if (!fresh && !sameValue(m.lastValues[at], value)) m.changedS[at] = f.timeS;
      m.lastValues[at] = value;
      m.conditionIn[at] = f.timeS - (m.changedS[at] as number) <= condition.withinS ? 1 : 0;
    }
    at++;
  }
}

/** Decides for all elements that have something to say, before the other steps run: writes `hidden` and `dimmed` of the frame. */
export function decidePhases(ctx: SolveContext): void {
  const { c, f, m } = ctx;
  const fresh = Number.isNaN(m.timeS);
  for (let s = 0; s < c.shows.length; s++) {
    const row = c.shows[s] as number;
    const show = c.elements[row]?.show as Show;
    const first = c.firstCondition[s] as number;
    at = first;
    decide(show.conditions, ctx, fresh);
    f.joined[s] = joined(show, m.conditionIn, first) ? 1 : 0;
    if (f.joined[s]) m.heldS[s] = f.timeS;
    const says = f.phase === null ? undefined : show.phases[f.phase];
    const holds = f.joined[s] === 1 || (show.lingerS > 0 && f.timeS - (m.heldS[s] as number) <= show.lingerS);
    f.hidden[row] = says === 'hidden' || !holds ? 1 : 0;
    f.dimmed[row] = says === 'dimmed' ? 1 : 0;
  }
  force(ctx);
}

/** What a reaction has shown or hidden goes before phases and conditions. */
function force({ c, f }: SolveContext): void {
  for (let k = 0; k < f.forcedRows.length; k++) {
    const row = f.forcedRows[k] as number;
    if (c.elements[row]?.show === undefined) f.hidden[row] = 0;
  }
  f.forcedRows.length = 0;
  for (const id in f.forced) {
    for (let row = 0; row < c.count; row++) {
      if (c.ids[row] !== id && c.sources[row] !== id) continue;
      // Inside of an instance, all rows have its name; only the outermost is shown or hidden.
      if (c.sources[c.parent[row] as number] === id) continue;
      f.hidden[row] = f.forced[id] === 'hidden' ? 1 : 0;
      f.forcedRows.push(row);
    }
  }
}
