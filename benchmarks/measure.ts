/** What every benchmark shares: medians of repeated runs, and one row of the report. */
import { PerformanceObserver } from 'node:perf_hooks';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

export interface Row {
  name: string;
  /** How many things were handled in one run. */
  n: number;
  medianMs: number;
  /** Against what the row's name says, measured in the same run; null where there is nothing to compare with. */
  ratio: number | null;
  /** Further figures, each with its unit in its name. */
  [figure: string]: number | string | null;
}

/** Seeded numbers, 0..1: the same every time (Lehmer 1951, with the multiplier of Park and Miller 1988). */
export function dice(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? (sorted[middle] as number) : ((sorted[middle - 1] as number) + (sorted[middle] as number)) / 2;
}

/** Medians in milliseconds of several functions run in turn, A B C A B C, so that a drift of the machine touches all alike. */
export function timeInTurn(runs: number, functions: readonly (() => void)[]): number[] {
  for (let warm = 0; warm < Math.max(3, runs / 4); warm++) for (const one of functions) one();
  const times: number[][] = functions.map(() => []);
  for (let run = 0; run < runs; run++)
    functions.forEach((one, k) => {
      const before = performance.now();
      one();
      times[k]?.push(performance.now() - before);
    });
  return times.map(median);
}

// The flag may be missing where the script is run without npm.
setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;

const BATCHES = 8;

/**
 * Bytes allocated for each of `frames` warm frames, the least of several batches: what a frame itself allocates is in
 * every batch, while the engine's own background work (compiling, above all) falls into some of them.
 */
export function bytesPerFrame(frames: number, frame: () => void): number {
  for (let warm = 0; warm < 1000; warm++) frame();
  let least = Number.POSITIVE_INFINITY;
  for (let batch = 0; batch < BATCHES; batch++) {
    collect();
    const before = process.memoryUsage().heapUsed;
    for (let k = 0; k < frames; k++) frame();
    least = Math.min(least, (process.memoryUsage().heapUsed - before) / frames);
  }
  return least;
}

/** How many collections happen during `frames` frames, as the engine itself counts them. */
export async function collectionsDuring(frames: number, frame: () => void): Promise<number> {
  let seen = 0;
  const observer = new PerformanceObserver((list) => {
    seen += list.getEntries().length;
  });
  collect();
  // The observer hears of collections a turn later; the forced one before it must not be counted.
  await new Promise((resolve) => setImmediate(resolve));
  observer.observe({ entryTypes: ['gc'] });
  for (let k = 0; k < frames; k++) frame();
  await new Promise((resolve) => setImmediate(resolve));
  observer.disconnect();
  return seen;
}
