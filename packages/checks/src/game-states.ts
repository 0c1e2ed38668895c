/** States of the game in which a hidden element may show: its conditions met by another value, another phase, a door moved by its feed. */
import { type Compiled, type EventValue, type StepName, valueIndex } from '@foreshore/core';
import type { Comparison, Condition, Feed, FeedValue, Show } from '@foreshore/document';
import type { GameState } from './offers.ts';

/** A state to try, and what it costs against a metre of walking. */
export interface StateToTry {
  state: GameState;
  cost: number;
}

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

/**
 * What could be tried for a row that a step refuses; whether it helps is for solving again to say.
 * @param values what feeds' values are now, in the order of `Compiled.feedIds`.
 * @param forced elements that reactions have shown or hidden.
 */
export function statesToTry(
  c: Compiled,
  row: number,
  step: StepName,
  values: readonly (FeedValue | undefined)[],
  forced: Readonly<Record<string, 'shown' | 'hidden'>> = {},
): StateToTry[] {
  if (step === 'attach') return eventsToTry(c, row);
  if (step === 'phase') return phasesToTry(c, row, forced);
  return step === 'sightline' ? clipsToTry(c, values) : [];
}

/**
 * What could happen for a row that a step refuses: feeds with another value than they have now, which counts when it comes, not before.
 * An event for a direction; a change where the row shows for a while after one.
 */
export function happeningsToTry(
  c: Compiled,
  row: number,
  step: StepName,
  values: readonly (FeedValue | undefined)[],
): { feed: string; value: FeedValue }[] {
  const out: { feed: string; value: FeedValue }[] = [];
  const happens = (id: string, at: number): void => {
    const k = valueIndex(c, id, at);
    const [key, feed] = [c.feedIds[k], c.document.feeds[id]];
    const value = feed && another(feed, values[k]);
    if (key !== undefined && value !== undefined) out.push({ feed: key, value });
  };
  const element = c.elements[row];
  if (step === 'paint' && element?.kind === 'direction' && element.source !== null) happens(element.source, row);
  if (step === 'phase')
    for (let up = row; up >= 0; up = c.parent[up] as number) for (const id of changesOf(c.elements[up]?.show)) happens(id, up);
  return out;
}
/** The feeds of which a change shows it. */
function changesOf(show: Show | undefined): string[] {
  const among = (conditions: readonly Condition[], never: boolean): string[] =>
    conditions.flatMap((one) => {
      if (one.kind === 'group') return among(one.conditions, one.need === 'none');
      return one.kind === 'changed' && !never ? [one.feed] : [];
    });
  return show ? among(show.conditions, show.need === 'none') : [];
}
/** Another value of a feed than it has; of an event, one more. Undefined where none is known. */
function another(feed: Feed, value: FeedValue | undefined): FeedValue | undefined {
  if (feed.kind === 'event') return { number: ((value as EventValue | undefined)?.number ?? 0) + 1, place: placeOf(feed) };
  if (typeof value === 'boolean') return !value;
  if (typeof value !== 'number') return undefined;
  const step = fineness(feed, value);
  const more = tidy(within(feed, value + step));
  return more === value ? tidy(within(feed, value - step)) : more;
}
/** Where an event would happen. */
const placeOf = (feed: Feed): EventValue['place'] =>
  (feed.source?.kind === 'events' ? feed.source.places[0] : (feed.initial as EventValue).place) ?? [0, 0, 0];

/** The event happens at which the element stands. */
function eventsToTry(c: Compiled, row: number): StateToTry[] {
  const top = c.root[row] as number;
  const anchor = top < c.anchoredCount ? c.anchorIds[c.elementAnchor[top] as number] : undefined;
  const described = anchor === undefined ? undefined : c.document.anchors[anchor];
  if (described?.kind !== 'event' || described.feed === null) return [];
  const feed = c.document.feeds[described.feed];
  return feed ? [{ state: { feed: described.feed, value: { number: 1, place: placeOf(feed) } }, cost: 0.5 }] : [];
}

function phasesToTry(c: Compiled, row: number, forced: Readonly<Record<string, 'shown' | 'hidden'>>): StateToTry[] {
  const { feeds, phases } = c.document;
  const out: StateToTry[] = [];
  for (let up = row; up >= 0; up = c.parent[up] as number) {
    for (const id of [c.ids[up], c.sources[up]])
      if (id !== undefined && forced[id] === 'hidden') out.push({ state: { released: id }, cost: 0.4 });
    const show: Show | undefined = c.elements[up]?.show;
    if (!show) continue;
    for (const [condition, never] of leavesOf(show.conditions, show.need === 'none')) {
      const feed = feeds[condition.feed];
      const value = feed ? meeting(condition, feed, never) : null;
      // Of a feed that has a value for each object, that of this one.
      const key = c.feedIds[valueIndex(c, condition.feed, up)];
      if (feed && key !== undefined && value !== null) out.push({ state: { feed: key, value }, cost: 1 });
    }
    if (Object.keys(show.phases).length > 0)
      for (const phase of Object.keys(phases)) if (show.phases[phase] !== 'hidden') out.push({ state: { phase }, cost: 0.9 });
  }
  return out;
}

/** What of the level a feed moves is moved, in quarters of the way, the nearest first: the whole way may be as much in the way again. */
function clipsToTry(c: Compiled, values: readonly (FeedValue | undefined)[]): StateToTry[] {
  const out: StateToTry[] = [];
  for (const clip of Object.values(c.document.level?.clips ?? {})) {
    const now = values[c.feedIds.indexOf(clip.feed)];
    if (!c.document.feeds[clip.feed] || typeof now !== 'number') continue;
    for (const end of [clip.from, clip.to])
      for (const share of [0.25, 0.5, 0.75, 1]) {
        const value = tidy(now + (end - now) * share);
        if (value !== now) out.push({ state: { feed: clip.feed, value }, cost: 0.5 + share / 2 });
      }
  }
  return out;
}
