/** What the bench does on an action: reactions that set feeds, change the phase, show and hide. */
import { keyAt } from '@foreshore/document/key-at';
import type { Action, Document, FeedValue, Reaction } from '@foreshore/document/types';
import { compare } from './steps/phase.ts';

/** One thing that a reaction did, or did not do. */
export type Done =
  | { kind: 'set'; feed: string; value: FeedValue }
  /** A number is on its way to a value. */
  | { kind: 'run'; feed: string; to: number; overS: number }
  | { kind: 'phase'; phase: string }
  | { kind: 'show'; element: string; shown: 'shown' | 'hidden' }
  | { kind: 'motion'; element: string }
  /** Its condition does not hold. */
  | { kind: 'conditionFails'; reaction: Reaction['kind'] }
  /** What is not a number cannot be added to. */
  | { kind: 'notNumber'; feed: string }
  /** Actions that send each other without end were stopped after so many. */
  | { kind: 'loop'; after: number };

/** What became of an action: feeds that take on values, the phase, and what was done. */
export interface Reacted {
  values: Record<string, FeedValue>;
  /** Null: unchanged. */
  phase: string | null;
  /** Elements shown or hidden, by id. */
  forced: Record<string, 'shown' | 'hidden'>;
  /** Elements whose motion of entering is played, by id. */
  played: string[];
  /** Feeds that run to a number in so many seconds. */
  runs: Record<string, { to: number; overS: number }>;
  did: Done[];
}

/** Actions that send actions end here: it is a loop. */
const MOST_SENT = 32;

/** The one of two numbers that a value is farther from; the first, where it is no number. */
const farther = ([a, b]: readonly [number, number], value: FeedValue | undefined): number =>
  typeof value === 'number' && Math.abs(value - a) < Math.abs(value - b) ? b : a;

/** Works out what the bench does on an action. Reactions run in order, each seeing what those before it did. @param shownNow whether an element is shown before. @param target what the action was sent at. */
export function react(
  document: Document,
  action: string,
  valuesNow: Readonly<Record<string, FeedValue | undefined>>,
  shownNow: (element: string) => boolean = () => true,
  target: string | null = null,
): Reacted {
  const out: Reacted = { values: {}, runs: {}, phase: null, forced: {}, played: [], did: [] };
  let sent = 0;
  const valueSoFar = (feed: string): FeedValue | undefined => out.values[feed] ?? out.runs[feed]?.to ?? valuesNow[feed];
  /** Of a feed that has a value for each object, that of the target. */
  const own = (feed: string): string => {
    const key = keyAt(feed, target);
    return document.feeds[feed]?.each && Object.hasOwn(valuesNow, key) ? key : feed;
  };
  const holds = (reaction: Action['reactions'][number]): boolean =>
    reaction.when.every((condition) => compare(condition, valueSoFar(own(condition.feed)), false));
  const run = (id: string): void => {
    if (++sent > MOST_SENT) {
      if (sent === MOST_SENT + 1) out.did.push({ kind: 'loop', after: MOST_SENT });
      return;
    }
    const found = document.actions?.[id];
    for (const reaction of found?.reactions ?? []) {
      if (sent > MOST_SENT) return;
      // What is meant for another target is nothing that was done.
      if (reaction.target !== undefined && reaction.target !== target) continue;
      if (!holds(reaction)) {
        out.did.push({ kind: 'conditionFails', reaction: reaction.kind });
        continue;
      }
      if (reaction.kind === 'send') run(reaction.action);
      else if (reaction.kind === 'phase') {
        out.phase = reaction.phase;
        out.did.push({ kind: 'phase', phase: reaction.phase });
      } else if (reaction.kind === 'show' || reaction.kind === 'motion') {
        if (reaction.kind === 'motion') {
          out.played.push(reaction.element);
          out.did.push({ kind: 'motion', element: reaction.element });
          continue;
        }
        const before = out.forced[reaction.element] ?? (shownNow(reaction.element) ? 'shown' : 'hidden');
        const now = reaction.shown === 'other' ? (before === 'shown' ? 'hidden' : 'shown') : reaction.shown;
        out.forced[reaction.element] = now;
        out.did.push({ kind: 'show', element: reaction.element, shown: now });
      } else {
        const feed = own(reaction.feed);
        const before = valueSoFar(feed);
        if (reaction.kind === 'add' && typeof before !== 'number') {
          out.did.push({ kind: 'notNumber', feed });
          continue;
        }
        const value =
          reaction.kind === 'set'
            ? reaction.value
            : reaction.kind === 'add'
              ? (before as number) + reaction.by
              : farther(reaction.values, before);
        const overS = reaction.kind === 'add' ? undefined : reaction.overS;
        if (overS !== undefined && typeof value === 'number') {
          out.runs[feed] = { to: value, overS };
          out.did.push({ kind: 'run', feed, to: value, overS });
          continue;
        }
        out.values[feed] = value;
        out.did.push({ kind: 'set', feed, value });
      }
    }
  };
  run(action);
  return out;
}
