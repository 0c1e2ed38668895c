/** Pressing the keys of prompts: at once, held for a time, or several times; cancelled when the prompt loses its claim. */
import type { Press } from '@foreshore/document/types';
import type { SolveContext } from './solve-context.ts';
import { Verdict } from './steps/names.ts';

/** A press that goes on. */
export interface Pressing {
  /** The row's id. */
  readonly row: string;
  readonly press: Press;
  /** Of `hold`: when the key went down. Of `repeat`: when it first did. */
  readonly sinceS: number;
  readonly count: number;
}

/** The row of the prompt that has a key now: shown, with its claim, its action among those of the key; −1 where there is none. Where several hold keys, the first by id. */
export function promptFor({ c, f }: Pick<SolveContext, 'c' | 'f'>, isKeyOf: (action: string | null) => boolean): number {
  let found = -1;
  for (let k = 0; k < c.gated.length; k++) {
    const row = c.gated[k] as number;
    const press = c.elements[row]?.press;
    if (!press || f.failed[row] !== Verdict.Shown || !isKeyOf(press.action)) continue;
    if (found < 0 || (c.ids[row] as string) < (c.ids[found] as string)) found = row;
  }
  return found;
}

export interface Pressed {
  /** What goes on, or null. */
  now: Pressing | null;
  /** The press is complete: its action is sent. */
  sent: boolean;
}

/** A key went down on a prompt. @param before what went on until then. */
export function keyDown({ c }: Pick<SolveContext, 'c'>, row: number, timeS: number, before: Pressing | null): Pressed {
  const press = c.elements[row]?.press;
  const id = c.ids[row];
  if (!press || id === undefined) return { now: null, sent: false };
  if (press.how === 'press') return { now: null, sent: true };
  if (press.how === 'hold') return { now: { row: id, press, sinceS: timeS, count: 0 }, sent: false };
  const goesOn = before?.row === id && timeS - before.sinceS <= press.holdS;
  const count = goesOn ? before.count + 1 : 1;
  if (count >= press.times) return { now: null, sent: true };
  return { now: { row: id, press, sinceS: goesOn ? before.sinceS : timeS, count }, sent: false };
}

/** Time goes on: a held key completes its time, presses that come too slowly are forgotten, a prompt that is not shown any more cancels. */
export function pressOn({ c, f }: Pick<SolveContext, 'c' | 'f'>, pressing: Pressing, timeS: number): Pressed {
  const row = c.ids.indexOf(pressing.row);
  if (row < 0 || f.failed[row] !== Verdict.Shown) return { now: null, sent: false };
  const gone = timeS - pressing.sinceS;
  // A sum of steps may fall a rounding short of the time.
  if (pressing.press.how === 'hold')
    return gone >= pressing.press.holdS - 1e-9 ? { now: null, sent: true } : { now: pressing, sent: false };
  return { now: gone > pressing.press.holdS ? null : pressing, sent: false };
}

/** The key went up: what has to be held is given up. */
export const keyUp = (pressing: Pressing): Pressing | null => (pressing.press.how === 'hold' ? null : pressing);

/** How much of a press is done, 0..1. */
export const pressShare = ({ press, sinceS, count }: Pressing, timeS: number): number =>
  press.how === 'hold' ? Math.max(0, Math.min(1, (timeS - sinceS) / press.holdS)) : count / press.times;

/** What an action is sent at: the node that the prompt's anchor is on, or the anchor's own id. */
export function targetOf({ c }: Pick<SolveContext, 'c'>, row: number): string | null {
  let gate = -1;
  for (let at = row; at >= 0 && gate < 0; at = c.parent[at] as number) gate = c.gateOfRow[at] as number;
  const anchor = gate < 0 ? -1 : (c.gateAnchor[gate] as number);
  if (anchor < 0) return null;
  const node = c.anchorKind[anchor] === 0 ? (c.anchorFirst[anchor] as number) : -1;
  return (node >= 0 ? c.level?.nodeIds[node] : c.anchorIds[anchor]?.split('@')[0]) ?? null;
}
