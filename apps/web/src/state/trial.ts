/** Mends that are tried together on all that was measured, part by part: one trial at a time; another, or leaving, lets it go. */
import {
  type CheckRun,
  checkParts,
  type FindingMend,
  partKey,
  type Trial,
  type TrialTold,
  trialOf,
  variantsFor,
  withMend,
} from '@foreshore/checks';
import { diff } from '@foreshore/document';
import { create } from 'zustand';
import { api } from './api.ts';
import { useProject } from './project.ts';

interface TrialStore {
  /** Those that are tried, one or several. */
  mends: readonly FindingMend[] | null;
  parts: number;
  done: number;
  /** Once all of it was tried. */
  told: TrialTold | null;
  failed: string | null;
}
const none: TrialStore = { mends: null, parts: 0, done: 0, told: null, failed: null };
export const useTrial = create<TrialStore>(() => none);
const set = useTrial.setState;

/** So many parts are asked for at once; the server takes them in turns. */
const AT_ONCE = 2;
let going: AbortController | null = null;

/** @param mends nothing ends where others are tried meanwhile. */
export function endTrial(mends: readonly FindingMend[]): void {
  if (useTrial.getState().mends === mends) letGo();
}
function letGo(): void {
  going?.abort();
  going = null;
  set(none);
}

/** @param run whose parts are tried; the project is as the server has it. */
export async function startTrial(mends: readonly FindingMend[], run: CheckRun): Promise<void> {
  letGo();
  const { id, document, revision } = useProject.getState();
  if (!id || !document) return;
  const stop = new AbortController();
  going = stop;
  const patch = diff(document, mends.reduce(withMend, document));
  // Of what was measured some may not be there any more.
  const there = new Set(checkParts(document, { variants: variantsFor(document) }).map(partKey));
  const waiting = run.parts.filter((part) => there.has(partKey(part)));
  set({ ...none, mends, parts: waiting.length });
  const trials: Trial[] = [];
  const one = async (): Promise<void> => {
    for (let part = waiting.shift(); part; part = waiting.shift()) {
      trials.push(await api.checkTrial(id, revision, patch, part, stop.signal));
      if (going === stop) set({ done: trials.length });
    }
  };
  try {
    await Promise.all(Array.from({ length: AT_ONCE }, one));
    if (going === stop) set({ told: trialOf(run, trials) });
  } catch (error) {
    if (going === stop) set({ failed: (error as Error).message });
    stop.abort();
  }
}
