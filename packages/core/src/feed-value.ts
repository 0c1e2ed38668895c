/** Values of feeds: events told from lists, and two values compared. */
import type { FeedValue } from '@foreshore/document/types';

/** An event's value: how many have happened, and where the last one did, metres; null where that has no place. */
export type EventValue = Extract<FeedValue, { number: number }>;
export const isEvent = (value: FeedValue | undefined): value is EventValue => typeof value === 'object' && !Array.isArray(value);

/** Lists are the same where their lines are; an event is the same as long as no other has happened. */
export function sameValue(a: FeedValue | undefined, b: FeedValue | undefined): boolean {
  if (a === b) return true;
  if (isEvent(a) && isEvent(b)) return a.number === b.number && [0, 1, 2].every((k) => a.place?.[k] === b.place?.[k]);
  if (!Array.isArray(a) || !Array.isArray(b) || a.length !== b.length) return false;
  for (let k = 0; k < a.length; k++) if (a[k] !== b[k]) return false;
  return true;
}
