/** What is asked of the worker about the selected element in the frame that stands: what would show it, what would mend it. */
import type { Mend, Offer, Refused } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { useEffect, useState } from 'react';
import type { Engine } from '../engine/engine.ts';
import { rowFor } from '../engine/rows.ts';
import { pageCaps } from '../level/pages.ts';
import { useBench, useBenchPart } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import { shownDocument, useProject } from '../state/project.ts';
import { askWorker } from './asks.ts';
import type { Answer } from './asks-job.ts';
import { useEngine } from './engine-context.ts';

/** What a question about the present frame says of it. @param row the row's id. */
export function frameAsked(engine: Engine, document: Document, row: string) {
  const { timeS, route, language, device, pose } = useBench.getState();
  const { held, phase: chosenPhase } = useLive.getState();
  return {
    document,
    caps: pageCaps(),
    language: language ?? document.language,
    device,
    row,
    pose: engine.pose(),
    timeS,
    route,
    riding: pose === null && document.routes[route] !== undefined,
    chosenPhase,
    phase: engine.phase(),
    held,
  };
}

/** So long nothing has changed. */
const STILL_MS = 200;

/** Null while the answer is awaited, or where nothing is asked. @param wanted whether there is something to ask now. */
function useAsked<A>(kind: 'offers' | 'mends', wanted: boolean, read: (answer: Answer) => A): A | null {
  const engine = useEngine();
  const document = useProject(shownDocument);
  const { selection, node, mode, playing, viewer, pose, timeS, route, language, device } = useBenchPart(
    'selection',
    'node',
    'mode',
    'playing',
    'viewer',
    'pose',
    'timeS',
    'route',
    'language',
    'device',
  );
  const { held, phase, forced } = useLive();
  const [answers, setAnswers] = useState<A | null>(null);

  useEffect(() => {
    setAnswers(null);
    if (!wanted || !document || selection === null || mode === 'try' || playing) return;
    let forget = () => {};
    const timer = setTimeout(() => {
      const solver = engine.frameOf(viewer);
      const row = solver ? solver.c.ids[rowFor(solver, selection)] : undefined;
      if (!row) return;
      const frame = { ...frameAsked(engine, document, row), forced };
      const question = kind === 'offers' ? { kind, viewer, ...frame } : { kind, ...frame };
      forget = askWorker(question, (answer) => setAnswers(read(answer)));
    }, STILL_MS);
    return () => {
      clearTimeout(timer);
      forget();
    };
  }, [wanted, selection, node, document, mode, playing, viewer, pose, timeS, route, language, device, held, phase, forced]);
  return answers;
}

const offersIn = (answer: Answer): Offer[] => ('offers' in answer ? answer.offers : []);
export interface MendsTold {
  mends: readonly Mend[];
  /** What was tried beside them. */
  refused: readonly Refused[];
}
const mendsIn = (answer: Answer): MendsTold => ('mends' in answer ? answer : { mends: [], refused: [] });

/** What would show the selection, where it is hidden at the chosen viewer. */
export function useOffers(): Offer[] | null {
  const hidden = useBench(
    ({ selection, info }) => selection !== null && info !== null && !info.selectionShown && info.links.some(({ state }) => state === 'no'),
  );
  return useAsked('offers', hidden, offersIn);
}

/** What would make the selection readable, where it is shown but falls short at some viewer. */
export function useMends(): MendsTold | null {
  const short = useBench(
    ({ selection, info }) => selection !== null && info?.selectionShown === true && info.verdicts.some(({ faults }) => faults.length > 0),
  );
  return useAsked('mends', short, mendsIn);
}
