/** Which element has the pointer, how that makes elements look, and what pressing one does. */
import type { Action, Document, FeedValue, Pointer } from '@foreshore/document';
import { formatValue } from './format.ts';
import { At } from './frame.ts';
import { Verdict } from './steps/names.ts';
import { compare } from './steps/phase.ts';
import type { Work } from './steps/step.ts';

const BLOCKS: Pointer = { takes: 'blocks', action: null, padPx: 0, pointed: {}, pressed: {} };
export const pointerOf = (work: Pick<Work, 'c'>, row: number): Pointer => work.c.elements[row]?.pointer ?? BLOCKS;

/**
 * The row that has the pointer at a place in the viewer's pixels, or −1 where it goes to the world: the front-most shown
 * element that does not pass it on. A group without a plate draws nothing and passes by itself, unless it acts.
 */
export function rowUnder(work: Work, x: number, y: number): number {
  const { c, f } = work;
  // The glass lies in front of all that floats; within each, what is painted later lies in front.
  for (let i = c.count - 1; i >= c.floatingCount; i--) if ((c.root[i] as number) >= c.floatingCount && takes(work, i, x, y)) return i;
  for (let k = f.orderCount - 1; k >= 0; k--) {
    const top = f.order[k] as number;
    for (let i = c.count - 1; i >= c.floatingCount; i--) if (c.root[i] === top && takes(work, i, x, y)) return i;
    if (takes(work, top, x, y)) return top;
  }
  return -1;
}

function takes({ c, f, a, head }: Work, row: number, x: number, y: number): boolean {
  if (f.failed[row] !== Verdict.Shown) return false;
  const element = c.elements[row];
  const pointer = element?.pointer ?? BLOCKS;
  if (pointer.takes === 'passes' || (pointer.takes === 'blocks' && element?.kind === 'group' && !element.paint.plate)) return false;
  const pad = pointer.padPx * a.fit;
  const at = (head + row) * At.Stride;
  const left = (f.places[at + At.RectX] as number) - pad;
  const top = (f.places[at + At.RectY] as number) - pad;
  return (
    x >= left &&
    y >= top &&
    x < left + (f.places[at + At.RectW] as number) + 2 * pad &&
    y < top + (f.places[at + At.RectH] as number) + 2 * pad
  );
}

/** The row that would act when this one is pressed: itself, or the nearest group around it that acts; −1 where none does. */
export function actingRow(work: Pick<Work, 'c'>, row: number): number {
  for (let at = row; at >= 0; at = work.c.parent[at] as number) {
    const { takes: what } = pointerOf(work, at);
    if (what === 'acts') return at;
  }
  return -1;
}

/** How an element looks now: what it, or a group around it that is pointed at or pressed, says. The inner one goes first. */
export function lookOf(work: Pick<Work, 'c' | 'f'>, row: number): { plate?: string; text?: string; opacity: number } {
  const out: { plate?: string; text?: string; opacity: number } = { opacity: 1 };
  const { c, f } = work;
  for (let at = row; at >= 0; at = c.parent[at] as number) {
    if (at !== f.pointedRow) continue;
    const pointer = c.elements[at]?.pointer;
    if (!pointer) continue;
    const look = f.pressedRow === at ? { ...pointer.pointed, ...pointer.pressed } : pointer.pointed;
    if (at === row && look.plate !== undefined) out.plate = look.plate;
    if (look.text !== undefined) out.text = look.text;
    // Groups multiply onto their members anyway.
    if (at === row && look.opacity !== undefined) out.opacity = look.opacity;
  }
  return out;
}

/** What became of an action: feeds that take on values, the phase, and what was done, in words. */
export interface Reacted {
  values: Record<string, FeedValue>;
  /** Null: unchanged. */
  phase: string | null;
  did: string[];
}

/** Actions that send actions end here: it is a loop. */
const MOST_SENT = 32;

/** Works out what the bench does on an action. Reactions run in order, each seeing what those before it did. */
export function react(document: Document, action: string, valuesNow: Readonly<Record<string, FeedValue | undefined>>): Reacted {
  const out: Reacted = { values: {}, phase: null, did: [] };
  let sent = 0;
  const worth = (feed: string): FeedValue | undefined => out.values[feed] ?? valuesNow[feed];
  const holds = (reaction: Action['reactions'][number]): boolean =>
    reaction.when.every((condition) => condition.kind === 'compare' && compare(condition, worth(condition.feed), false));
  const run = (id: string): void => {
    if (++sent > MOST_SENT) {
      if (sent === MOST_SENT + 1) out.did.push(`stopped after ${MOST_SENT} actions: they send each other in a loop`);
      return;
    }
    const found = document.actions?.[id];
    for (const reaction of found?.reactions ?? []) {
      if (sent > MOST_SENT) return;
      if (!holds(reaction)) {
        out.did.push(`did not ${reaction.kind}: its condition does not hold`);
        continue;
      }
      if (reaction.kind === 'send') run(reaction.action);
      else if (reaction.kind === 'phase') {
        out.phase = reaction.phase;
        out.did.push(`phase ${document.phases[reaction.phase]?.name ?? reaction.phase}`);
      } else {
        const name = document.feeds[reaction.feed]?.name ?? reaction.feed;
        const before = worth(reaction.feed);
        if (reaction.kind === 'add' && typeof before !== 'number') {
          out.did.push(`did not add to ${name}: it is not a number`);
          continue;
        }
        const value = reaction.kind === 'set' ? reaction.value : (before as number) + reaction.by;
        out.values[reaction.feed] = value;
        out.did.push(`${name} ${formatValue(value)}`);
      }
    }
  };
  run(action);
  return out;
}
