/** What would show the selected element where it is hidden, from a worker; asked once the picture stands. */
import type { Offer } from '@foreshore/checks';
import { useEffect, useRef, useState } from 'react';
import { useBench } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import { shownDocument, useProject } from '../state/project.ts';
import type { Answer, Ask } from '../workers/asks-job.ts';
import { useEngine } from './context.ts';
import { rowFor } from './places.ts';

/** So long nothing has changed. */
const STILL_MS = 200;

/** Null while the answer is awaited, or where there is nothing to ask. */
export function useOffers(): Offer[] | null {
  const engine = useEngine();
  const document = useProject(shownDocument);
  const { selection, info, mode, playing, viewer, pose, timeS, route, language, device } = useBench();
  const { held, phase, forced } = useLive();
  const hidden = selection !== null && info !== null && !info.selectionShown && info.links.some(({ state }) => state === 'no');
  const worker = useRef<Worker | null>(null);
  const job = useRef(0);
  const [offers, setOffers] = useState<Offer[] | null>(null);

  useEffect(() => () => worker.current?.terminate(), []);

  useEffect(() => {
    job.current++;
    setOffers(null);
    if (!hidden || !document || mode === 'try' || playing) return;
    const timer = setTimeout(() => {
      const solver = engine.frameOf(viewer);
      const row = solver ? solver.c.ids[rowFor(solver, selection)] : undefined;
      if (!row) return;
      if (!worker.current) {
        worker.current = new Worker(new URL('../workers/asks.worker.ts', import.meta.url), { type: 'module' });
        worker.current.addEventListener('message', ({ data }: MessageEvent<Answer>) => {
          if (data.job === job.current) setOffers('offers' in data ? data.offers : []);
        });
      }
      const ask: Ask = {
        kind: 'offers',
        job: job.current,
        document,
        viewer,
        language: language ?? document.language,
        device,
        row,
        pose: engine.pose(),
        timeS,
        route,
        phase: engine.phase(),
        held,
        forced,
      };
      worker.current.postMessage(ask);
    }, STILL_MS);
    return () => clearTimeout(timer);
  }, [hidden, selection, document, mode, playing, viewer, pose, timeS, route, language, device, held, phase, forced]);
  return offers;
}
