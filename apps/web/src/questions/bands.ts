/** Bands of the shown document over the chosen route, from a worker; the latest request wins. */
import type { Stretch } from '@foreshore/checks';
import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { pageCaps, usePages } from '../level/pages.ts';
import { useBenchPart } from '../state/bench.ts';
import { useProject } from '../state/project.ts';
import type { BandsReply, BandsRequest } from './bands-job.ts';
import { useEngine } from './engine-context.ts';
import { type SteadyWorker, steadyWorker } from './steady-worker.ts';

/** So long after the last change they are worked out again. */
const CALM_MS = 250;
const NONE: ReadonlyMap<string, readonly Stretch[]> = new Map();

/** The bands as last worked out; how much of those that are being worked out is done, while they are; why they could not be. */
export const useShownBands = create<{
  bands: ReadonlyMap<string, readonly Stretch[]>;
  share: number | null;
  failed: string | null;
}>(() => ({ bands: NONE, share: null, failed: null }));
const tell = useShownBands.setState;

/** Has them worked out as long as it stands. */
export function Bands(): null {
  const engine = useEngine();
  const document = useProject((s) => s.document);
  const { viewer, route } = useBenchPart('viewer', 'route');
  const letters = usePages(({ pages }) =>
    Object.values(pages)
      .map(({ capPx }) => capPx)
      .join(),
  );
  const worker = useRef<SteadyWorker<BandsRequest> | null>(null);
  const asked = useRef<BandsRequest | null>(null);
  const job = useRef(0);

  useEffect(() => {
    const made = steadyWorker<BandsRequest, BandsReply>(
      () => new Worker(new URL('./bands.worker.ts', import.meta.url), { type: 'module' }),
      'the bands',
      (data) => {
        if (data.job !== job.current) return;
        if ('share' in data) tell({ share: data.share });
        else if ('failed' in data) tell({ share: null, failed: data.failed });
        else tell({ share: null, failed: null, bands: new Map(data.ids.map((id, i) => [id, data.bands[i] ?? []] as const)) });
      },
      (again) => {
        tell({ share: null });
        if (again && asked.current) worker.current?.post(asked.current);
        else tell({ failed: 'what works them out has stopped; reload the page' });
      },
    );
    worker.current = made;
    return () => {
      made.end();
      worker.current = null;
      tell(useShownBands.getInitialState());
    };
  }, []);

  // All that bands depend on; a new name of the project is none of it.
  const [way, one] = [document?.routes[route], document?.viewers[viewer]];
  const { anchors, elements, level, feeds, phases, actions, body, glass, readability, language } = document ?? {};
  useEffect(() => {
    if (!document || !way || !one) {
      job.current++;
      tell({ bands: NONE });
      return;
    }
    const request: BandsRequest = { job: ++job.current, document, viewer, route, caps: pageCaps() };
    // After a change when nothing has changed for a moment, so that typing does not keep the worker busy.
    const ask = () => {
      asked.current = request;
      worker.current?.post(request);
    };
    if (job.current > 1) {
      const timer = setTimeout(ask, CALM_MS);
      return () => clearTimeout(timer);
    }
    // The picture comes first: both would be slower beside one another.
    let wanted = true;
    void engine.pictured.then(() => wanted && ask());
    return () => {
      wanted = false;
    };
  }, [anchors, elements, level, feeds, phases, actions, body, glass, readability, language, way, one, viewer, route, letters]);

  return null;
}
