/** Bands of the shown document over the chosen route, from a worker; the latest request wins. */
import type { Stretch } from '@foreshore/checks';
import { useEffect, useRef, useState } from 'react';
import { create } from 'zustand';
import { useBench } from '../state/bench.ts';
import { useProject } from '../state/project.ts';
import type { BandsReply, BandsRequest } from '../workers/bands-job.ts';

const NONE: ReadonlyMap<string, readonly Stretch[]> = new Map();

/** The bands as last worked out, for whoever tells of one element. */
export const useShownBands = create<{ bands: ReadonlyMap<string, readonly Stretch[]> }>(() => ({ bands: NONE }));

export function useBands(): { bands: ReadonlyMap<string, readonly Stretch[]>; share: number | null; failed: string | null } {
  const document = useProject((s) => s.document);
  const { viewer, route } = useBench();
  const worker = useRef<Worker | null>(null);
  const job = useRef(0);
  const busy = useRef(false);
  const next = useRef<BandsRequest | null>(null);
  const [bands, setBands] = useState(NONE);
  const [share, setShare] = useState<number | null>(null);
  const [failed, setFailed] = useState<string | null>(null);

  useEffect(() => {
    const made = new Worker(new URL('../workers/bands.worker.ts', import.meta.url), { type: 'module' });
    worker.current = made;
    const send = () => {
      const request = next.current;
      next.current = null;
      busy.current = request !== null;
      if (request) made.postMessage(request);
    };
    made.addEventListener('message', ({ data }: MessageEvent<BandsReply>) => {
      if ('share' in data) {
        setShare(data.share);
        return;
      }
      setShare(null);
      if (data.job === job.current) {
        if ('failed' in data) setFailed(data.failed);
        else {
          setFailed(null);
          const made = new Map(data.ids.map((id, i) => [id, data.bands[i] ?? []] as const));
          setBands(made);
          useShownBands.setState({ bands: made });
        }
      }
      send();
    });
    made.addEventListener('error', (event) => {
      setShare(null);
      setFailed(event.message || 'the worker stopped');
      busy.current = false;
    });
    return () => {
      made.terminate();
      worker.current = null;
      busy.current = false;
    };
  }, []);

  const [anchors, elements, level, way, one] = [
    document?.anchors,
    document?.elements,
    document?.level,
    document?.routes[route],
    document?.viewers[viewer],
  ];
  useEffect(() => {
    if (!document || !way || !one) {
      setBands(NONE);
      return;
    }
    const request: BandsRequest = { job: ++job.current, document, viewer, route };
    if (busy.current) next.current = request;
    else {
      busy.current = true;
      worker.current?.postMessage(request);
    }
  }, [anchors, elements, level, way, one, viewer, route]);

  return { bands, share, failed };
}
