/** States of the game in which a hidden element may show: its conditions met by another value, another phase, a door moved by its feed. */
import { type Compiled, formatValue, type StepName } from '@foreshore/core';
import type { Comparison, Condition, Feed, FeedValue, Show } from '@foreshore/document';

/** A feed at another value, or another phase. */
export type State = { says: string; cost: number } & ({ feed: string; value: FeedValue } | { phase: string });

/** A feed's own finest sensible step: about a hundredth of its range or of its size, as a power of ten. */
const fineness = ({ range, initial }: Feed, value: number): number => {
  // What is counted goes on by one.
  if (!range && Number.isInteger(value) && Number.isInteger(initial)) return 1;
  return 10 ** Math.floor(Math.log10(Math.max(range ? range[1] - range[0] : Math.abs(value), 0.5) / 50));
};
const tidy = (value: number): number => Number(value.toPrecision(12));
const within = ({ range }: Feed, value: number): number => (range ? Math.min(range[1], Math.max(range[0], value)) : value);

/** The value next to the bound at which a comparison holds, or with `never` does not; null where there is none to name. */
export function meeting(condition: Comparison, feed: Feed, never = false): FeedValue | null {
  const { is, value: bound } = condition;
  if (typeof bound === 'boolean') return (is === 'equals') !== never ? bound : !bound;
  if (typeof bound !== 'number') return (is === 'equals') !== never ? bound : null;
  const step = fineness(feed, bound);
  const [more, less] = [tidy(within(feed, bound + step)), tidy(within(feed, bound - step))];
  if (is === 'equals' || is === 'differs') return (is === 'equals') !== never ? bound : more === bound ? less : more;
  if (is === 'below') return never ? bound : less;
  if (is === 'atMost') return never ? more : bound;
  if (is === 'above') return never ? bound : more;
  return never ? less : bound;
}

const leavesOf = (conditions: readonly Condition[], never: boolean): [Comparison, boolean][] =>
  conditions.flatMap((c): [Comparison, boolean][] =>
    c.kind === 'group' ? leavesOf(c.conditions, c.need === 'none') : c.kind === 'compare' ? [[c, never]] : [],
  );

const at = (feed: Feed, value: FeedValue): string => `${feed.name} ${formatValue(value)}${feed.unit ? ` ${feed.unit}` : ''}`;

/**
 * What could be tried for a row that a step refuses; whether it helps is for solving again to say.
 * @param values what feeds are worth now, in the order of `Compiled.feedIds`.
 */
export function statesToTry(c: Compiled, row: number, step: StepName, values: readonly (FeedValue | undefined)[]): State[] {
  const { feeds, phases, level } = c.document;
  const out: State[] = [];
  if (step === 'phase') {
    for (let up = row; up >= 0; up = c.parent[up] as number) {
      const show: Show | undefined = c.elements[up]?.show;
      if (!show) continue;
      for (const [condition, never] of leavesOf(show.conditions, show.need === 'none')) {
        const feed = feeds[condition.feed];
        const value = feed ? meeting(condition, feed, never) : null;
        if (feed && value !== null) out.push({ says: at(feed, value), cost: 1, feed: condition.feed, value });
      }
      if (Object.keys(show.phases).length > 0)
        for (const [phase, { name }] of Object.entries(phases))
          if (show.phases[phase] !== 'hidden') out.push({ says: `in ${name}`, cost: 0.9, phase });
    }
    return out;
  }
  if (step !== 'sightline') return out;
  for (const clip of Object.values(level?.clips ?? {})) {
    const feed = feeds[clip.feed];
    const now = values[c.feedIds.indexOf(clip.feed)];
    if (!feed || typeof now !== 'number') continue;
    // In quarters of the way, nearest first: the whole way may be as much in the way again.
    for (const end of [clip.from, clip.to])
      for (const share of [0.25, 0.5, 0.75, 1]) {
        const value = tidy(now + (end - now) * share);
        if (value !== now) out.push({ says: at(feed, value), cost: 0.5 + share / 2, feed: clip.feed, value });
      }
  }
  return out;
}
