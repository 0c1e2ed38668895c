/** Phase: does the element apply in this state of the game, and do its conditions on feeds hold? */
import type { Comparison, Condition, FeedValue, Show } from '@foreshore/document';
import { formatValue, isEvent, sameValue } from '../format.ts';
import type { Outcome, Step, Work } from './step.ts';

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
function decide(conditions: readonly Condition[], { c, f, m }: Work, fresh: boolean): void {
  for (let k = 0; k < conditions.length; k++) {
    const condition = conditions[k] as Condition;
    if (condition.kind === 'group') {
      decide(condition.conditions, { c, f, m } as Work, fresh);
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
export function decidePhases(work: Work): void {
  const { c, f, m } = work;
  const fresh = Number.isNaN(m.timeS);
  for (let s = 0; s < c.shows.length; s++) {
    const row = c.shows[s] as number;
    const show = c.elements[row]?.show as Show;
    const first = c.firstCondition[s] as number;
    at = first;
    decide(show.conditions, work, fresh);
    f.joined[s] = joined(show, m.conditionIn, first) ? 1 : 0;
    if (f.joined[s]) m.heldS[s] = f.timeS;
    const says = f.phase === null ? undefined : show.phases[f.phase];
    const holds = f.joined[s] === 1 || (show.lingerS > 0 && f.timeS - (m.heldS[s] as number) <= show.lingerS);
    f.hidden[row] = says === 'hidden' || !holds ? 1 : 0;
    f.dimmed[row] = says === 'dimmed' ? 1 : 0;
  }
  force(work);
}

/** What a reaction has shown or hidden goes before phases and conditions. */
function force({ c, f }: Work): void {
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

const WORDS = {
  below: 'below',
  atMost: 'at most',
  above: 'above',
  atLeast: 'at least',
  equals: 'equal to',
  differs: 'other than',
} as const;

function explain({ c, f, m }: Work, i: number): Outcome {
  const forced = f.forcedRows.includes(i) ? (f.forced[c.ids[i] as string] ?? f.forced[c.sources[i] as string]) : undefined;
  if (forced) return { passes: forced === 'shown', says: `${forced} by a reaction` };
  const show = c.elements[i]?.show;
  if (!show) return { passes: true, says: 'in every phase' };
  const phase = f.phase === null ? null : (c.document.phases[f.phase]?.name ?? f.phase);
  const says = f.phase === null ? undefined : show.phases[f.phase];
  if (says === 'hidden') return { passes: false, says: `hidden in ${phase}` };
  const s = c.shows.indexOf(i);
  const first = c.firstCondition[s] as number;
  if (!joined(show, m.conditionIn, first)) {
    at = first;
    const why = culprit(show, c, f, m) ?? 'its conditions do not hold';
    const left = show.lingerS - (f.timeS - (m.heldS[s] as number));
    if (show.lingerS > 0 && left >= 0) return { passes: true, says: `lingers ${left.toFixed(1)} s more: ${why}` };
    return { passes: false, says: why };
  }
  if (says === 'dimmed') return { passes: true, says: `dimmed in ${phase}` };
  return { passes: true, says: show.conditions.length ? 'its conditions hold' : `shown in ${phase ?? 'every phase'}` };
}

/** The first condition that keeps the rest from being joined, in words; null where they are. Walks on from `at`. */
function culprit({ need, conditions }: Joined, c: Work['c'], f: Work['f'], m: Work['m']): string | null {
  const start = at;
  const first = at;
  const holds = joined({ need, conditions }, m.conditionIn, first);
  const end = at;
  at = start;
  let found: string | null = null;
  for (const condition of conditions) {
    const began = at;
    const one = condition.kind === 'group' ? joinedFrom(condition, m.conditionIn) : m.conditionIn[at++] === 1;
    if (found !== null || one !== (need === 'none')) continue;
    if (condition.kind === 'group') {
      const after = at;
      at = began;
      found = culprit(condition, c, f, m) ?? 'none of what is joined may hold';
      at = after;
    } else found = wordsOf(condition, f.values[c.conditionFeed[began] as number], c, need === 'none');
  }
  at = end;
  return holds ? null : found;
}

function wordsOf(condition: Exclude<Condition, { kind: 'group' }>, value: FeedValue | undefined, c: Work['c'], never: boolean): string {
  const feed = c.document.feeds[condition.feed];
  const name = feed?.name ?? condition.feed;
  if (condition.kind === 'changed') return `${name} has ${never ? '' : 'not '}changed within ${condition.withinS} s`;
  const unit = feed?.unit ? ` ${feed.unit}` : '';
  return `${name} ${value === undefined ? 'has no value' : `${formatValue(value)}${unit}`}, ${never ? 'must not be' : 'needs'} ${WORDS[condition.is]} ${formatValue(condition.value)}${unit}`;
}

/** `decidePhases` has decided; what is hidden is told to the frame by the steps that begin it (attach, and members for all others). */
export const phase: Step = { name: 'phase', applies: () => true, run: () => {}, explain };
