/** A band tells, for one element over one route, when it is shown and else which step said no. */
import {
  type Arranged,
  type Compiled,
  isHudGroup,
  measureReadable,
  routeDurationS,
  type Shortfall,
  TICK_S,
  Verdict,
} from '@foreshore/core';
import type { Route } from '@foreshore/document';
import { Replay } from './replay.ts';

export interface Stretch {
  fromS: number;
  toS: number;
  /** The step that said no (index into STEPS), or Verdict.Shown. */
  verdict: number;
  /** Of what is shown: why it could not be read, in a word, or null. */
  short: Shortfall['kind'] | null;
  /** How often it changed its place about its anchor, where it keeps apart from others; absent: never. */
  moves?: number;
}

/** Bands are sampled every third tick: every 0.1 s; how well one could read, every fifth time. */
const TICKS = 3;
const READ_EVERY = 5;
/** Samples a part. */
const PART = 10;

/** The elements that bands are for, by the document's ids: one for an element that stands at many nodes, too. */
export const bandIds = (compiled: Compiled): string[] => [...new Set(compiled.sources)].filter((id) => !isHudGroup(id));

/** The row that tells of an element that may stand for many: one that is shown; else the one refused last. */
export function tellingRow(failed: Uint8Array, rows: readonly number[]): number {
  let best = rows[0] as number;
  for (const row of rows) if ((failed[row] as number) > (failed[best] as number)) best = row;
  return best;
}

/** Bands of all elements, in the order of `bandIds`. */
export function bands(arranged: Arranged, route: Route): Stretch[][] {
  const work = bandsInParts(arranged, route);
  for (;;) {
    const part = work.next();
    if (part.done) return part.value;
  }
}

/** The same a second of the route at a time; between them it tells how far it is, 0..1, and may be left. */
export function* bandsInParts(arranged: Arranged, route: Route): Generator<number, Stretch[][]> {
  const { compiled } = arranged;
  const rows = bandIds(compiled).map((id) => compiled.sources.flatMap((source, row) => (source === id ? [row] : [])));
  const out: Stretch[][] = rows.map(() => []);
  const durationS = routeDurationS(route);
  const replay = new Replay(arranged, route);
  const samples = Math.max(1, Math.ceil(durationS / (TICKS * TICK_S) - 1e-9));
  /** The row that told of each, and at which of its places that was. */
  const told = new Int32Array(rows.length).fill(-1);
  const places = new Uint8Array(rows.length);
  const { apartAt } = replay.solver.m;
  for (let s = 0; s <= samples; s++) {
    const timeS = Math.min(durationS, s * TICKS * TICK_S);
    const { failed } = replay.at(timeS);
    for (let i = 0; i < rows.length; i++) {
      const list = out[i] as Stretch[];
      const last = list.at(-1);
      const row = tellingRow(failed, rows[i] as number[]);
      const verdict = failed[row] as number;
      const reads = s % READ_EVERY === 0 || last?.verdict !== Verdict.Shown;
      const short =
        verdict !== Verdict.Shown ? null : reads ? (measureReadable(replay.solver, row).faults[0]?.kind ?? null) : (last as Stretch).short;
      if (last) last.toS = timeS;
      if (last?.verdict !== verdict || last.short !== short) list.push({ fromS: timeS, toS: timeS, verdict, short });
      const isShown = verdict === Verdict.Shown;
      const now = list.at(-1) as Stretch;
      if (isShown && told[i] === row && places[i] !== apartAt[row]) now.moves = (now.moves ?? 0) + 1;
      told[i] = isShown ? row : -1;
      places[i] = apartAt[row] as number;
    }
    if (s % PART === 0) yield s / samples;
  }
  return out;
}

/** The share of the route during which an element is shown. */
export const shownShare = (band: readonly Stretch[]): number => {
  const total = band.reduce((sum, b) => sum + b.toS - b.fromS, 0);
  return total > 0 ? band.reduce((sum, b) => sum + (b.verdict === Verdict.Shown ? b.toS - b.fromS : 0), 0) / total : 0;
};

/** The share of the route during which an element is shown and could be read. */
export const readableShare = (band: readonly Stretch[]): number =>
  shownShare(band.map((b) => (b.short === null ? b : { ...b, verdict: 0 })));
