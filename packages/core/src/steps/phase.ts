/** Phase: does the element apply in this state of the game, and do its conditions on feeds hold? */
import type { Condition, FeedValue, Show } from '@foreshore/document';
import { formatValue } from '../format.ts';
import type { Outcome, Step, Work } from './step.ts';

/** What a dimmed element keeps of its opacity. */
export const DIMMED = 0.35;

/** Whether a comparison holds. @param held whether it held before: then it must come back by the leave value. */
export const compare = (condition: Extract<Condition, { kind: 'compare' }>, value: FeedValue | undefined, held: boolean): boolean => {
  const { is, value: bound } = condition;
  if (value === undefined) return false;
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

/** @param held what every condition came to, those of this element from `first` on. */
function joined(show: Show, held: Uint8Array, first: number): boolean {
  const { length } = show.conditions;
  let count = 0;
  for (let k = 0; k < length; k++) count += held[first + k] as number;
  return show.need === 'all' ? count === length : show.need === 'any' ? count > 0 || length === 0 : count === 0;
}

/** Decides for all elements that have something to say, before the other steps run: writes `hidden` and `dimmed` of the frame. */
export function decidePhases({ c, f, m }: Work): void {
  const fresh = Number.isNaN(m.timeS);
  for (let s = 0; s < c.shows.length; s++) {
    const row = c.shows[s] as number;
    const show = c.elements[row]?.show as Show;
    const first = c.firstCondition[s] as number;
    for (let k = 0; k < show.conditions.length; k++) {
      const condition = show.conditions[k] as Condition;
      const at = first + k;
      const value = f.values[c.conditionFeed[at] as number];
      if (condition.kind === 'compare') m.conditionIn[at] = compare(condition, value, m.conditionIn[at] === 1) ? 1 : 0;
      else {
        if (!fresh && m.lastValues[at] !== value) m.changedS[at] = f.timeS;
        m.lastValues[at] = value;
        m.conditionIn[at] = f.timeS - (m.changedS[at] as number) <= condition.withinS ? 1 : 0;
      }
    }
    if (joined(show, m.conditionIn, first)) m.heldS[s] = f.timeS;
    const says = f.phase === null ? undefined : show.phases[f.phase];
    const holds = f.timeS - (m.heldS[s] as number) <= show.lingerS;
    f.hidden[row] = says === 'hidden' || !holds ? 1 : 0;
    f.dimmed[row] = says === 'dimmed' ? 1 : 0;
  }
}

const WORDS = {
  below: 'below',
  atMost: 'at most',
  above: 'above',
  atLeast: 'at least',
  equals: 'equal to',
  differs: 'other than',
} as const;

function explain({ c, f, m }: Work, i: number): Outcome {
  const show = c.elements[i]?.show;
  if (!show) return { passes: true, says: 'in every phase' };
  const phase = f.phase === null ? null : (c.document.phases[f.phase]?.name ?? f.phase);
  const says = f.phase === null ? undefined : show.phases[f.phase];
  if (says === 'hidden') return { passes: false, says: `hidden in ${phase}` };
  const s = c.shows.indexOf(i);
  const first = c.firstCondition[s] as number;
  const holds = (k: number) => m.conditionIn[first + k] === 1;
  if (!joined(show, m.conditionIn, first)) {
    const k = show.need === 'none' ? show.conditions.findIndex((_, at) => holds(at)) : show.conditions.findIndex((_, at) => !holds(at));
    const condition = show.conditions[Math.max(0, k)];
    const why = condition ? wordsOf(condition, f.values[c.conditionFeed[first + Math.max(0, k)] as number], c, show.need === 'none') : '';
    const left = show.lingerS - (f.timeS - (m.heldS[s] as number));
    if (left >= 0) return { passes: true, says: `lingers ${left.toFixed(1)} s more: ${why}` };
    return { passes: false, says: why };
  }
  if (says === 'dimmed') return { passes: true, says: `dimmed in ${phase}` };
  return { passes: true, says: show.conditions.length ? 'its conditions hold' : `shown in ${phase ?? 'every phase'}` };
}

function wordsOf(condition: Condition, value: FeedValue | undefined, c: Work['c'], never: boolean): string {
  const feed = c.document.feeds[condition.feed];
  const name = feed?.name ?? condition.feed;
  if (condition.kind === 'changed') return `${name} has ${never ? '' : 'not '}changed within ${condition.withinS} s`;
  const unit = feed?.unit ? ` ${feed.unit}` : '';
  return `${name} ${value === undefined ? 'has no value' : `${formatValue(value)}${unit}`}, ${never ? 'must not be' : 'needs'} ${WORDS[condition.is]} ${formatValue(condition.value)}${unit}`;
}

/** `decidePhases` has decided; what is hidden is told to the frame by the steps that begin it (attach, and members for all others). */
export const phase: Step = { name: 'phase', applies: () => true, run: () => {}, explain };
