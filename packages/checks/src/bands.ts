/** A band tells, for one element over one route, when it is shown and else which step said no. */
import { type Arranged, type Compiled, routeDurationS, TICK_S, Verdict } from '@foreshore/core';
import type { Route } from '@foreshore/document';
import { Replay } from './replay.ts';

export interface Stretch {
  fromS: number;
  toS: number;
  /** The step that said no (index into STEPS), or Verdict.Shown. */
  verdict: number;
}

/** Bands are sampled every third tick: every 0.1 s. */
const TICKS = 3;

/** The elements that bands are for, by the document's ids: one for an element that stands at many nodes, too. */
export const bandIds = (compiled: Compiled): string[] => [...new Set(compiled.sources)];

/** What an element came to that may stand for many: shown where any of them is; else the step that the one refused last came to. */
function verdictOf(failed: Uint8Array, rows: readonly number[]): number {
  let most = 0;
  for (const row of rows) most = Math.max(most, failed[row] as number);
  return most;
}

/** Bands of all elements, in the order of `bandIds`. `onProgress` may be told how far it is, 0..1. */
export function bands(arranged: Arranged, route: Route, onProgress?: (share: number) => void): Stretch[][] {
  const { compiled } = arranged;
  const rows = bandIds(compiled).map((id) => compiled.sources.flatMap((source, row) => (source === id ? [row] : [])));
  const out: Stretch[][] = rows.map(() => []);
  const durationS = routeDurationS(route);
  const replay = new Replay(arranged, route);
  const samples = Math.max(1, Math.ceil(durationS / (TICKS * TICK_S) - 1e-9));
  for (let s = 0; s <= samples; s++) {
    const timeS = Math.min(durationS, s * TICKS * TICK_S);
    const { failed } = replay.at(timeS);
    for (let i = 0; i < rows.length; i++) {
      const list = out[i] as Stretch[];
      const last = list.at(-1);
      const verdict = verdictOf(failed, rows[i] as number[]);
      if (last && last.verdict === verdict) last.toS = timeS;
      else {
        if (last) last.toS = timeS;
        list.push({ fromS: timeS, toS: timeS, verdict });
      }
    }
    if (s % 50 === 0) onProgress?.(s / samples);
  }
  return out;
}

/** The share of the route during which an element is shown. */
export const shownShare = (band: readonly Stretch[]): number => {
  const total = band.reduce((sum, b) => sum + b.toS - b.fromS, 0);
  return total > 0 ? band.reduce((sum, b) => sum + (b.verdict === Verdict.Shown ? b.toS - b.fromS : 0), 0) / total : 0;
};
