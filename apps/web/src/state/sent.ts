/** What a game has sent in its last minute, a curve for each feed. */
import type { FeedValue } from '@foreshore/document';
import type { GameFrame } from '@foreshore/handoff/game';

export interface SentValue {
  /** The game's time, seconds. */
  at: number;
  value: FeedValue | undefined;
}
export type Sent = Readonly<Record<string, readonly SentValue[]>>;

/** So much of a game's time is kept. */
export const SENT_S = 60;
/** Values nearer to one another than this are one, the later: a curve of a minute has no room for more. */
const APART_S = 0.1;

/** With what a frame says. Where the clock goes back the game has begun anew, and so do the curves. */
export function noted(sent: Sent, { timeS, values }: Pick<GameFrame, 'timeS' | 'values'>): Sent {
  const lastS = Math.max(Number.NEGATIVE_INFINITY, ...Object.values(sent).map((curve) => curve.at(-1)?.at ?? Number.NEGATIVE_INFINITY));
  const before = timeS < lastS ? {} : sent;
  const out: Record<string, readonly SentValue[]> = {};
  for (const feed of new Set([...Object.keys(before), ...Object.keys(values)])) {
    const curve = before[feed] ?? [];
    const [earlier, last] = [curve.at(-2), curve.at(-1)];
    // The last one moves on with time until it is far enough from the one before it.
    const moves = last !== undefined && earlier !== undefined && last.at - earlier.at < APART_S;
    const from = curve.findIndex(({ at }) => at >= timeS - SENT_S);
    const kept = from < 0 ? [] : curve.slice(from, moves ? -1 : undefined);
    out[feed] = [...kept, { at: timeS, value: values[feed] }];
  }
  return out;
}
