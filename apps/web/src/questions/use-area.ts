/** The readable area of the selected element, from a worker, coarse first. */
import { type Area, areaShare, CONTOURS, contour } from '@foreshore/checks';
import { limitsOf, type Vec3 } from '@foreshore/core';
import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { rowFor } from '../engine/rows.ts';
import { useBench, useBenchPart } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import { endsWithPage } from '../state/page-worker.ts';
import { useProject } from '../state/project.ts';
import type { Answer, Ask } from './asks-job.ts';
import { sender } from './document-link.ts';
import { useEngine } from './engine-context.ts';
import { frameAsked } from './use-asked.ts';

export interface ShownArea {
  area: Area;
  /** One a contour, in the order of CONTOURS: lines on the ground. */
  lines: [Vec3, Vec3][][];
  share: number;
  squareM: number;
  /** A coarse one, while the fine one is worked out. */
  coarse: boolean;
}
/** What is shown of it, wherever it is shown. */
export const useArea = create<{ shown: ShownArea | null; waiting: boolean }>(() => ({ shown: null, waiting: false }));

const COUNTS = [60, 200];

export function useReadableArea(): void {
  const engine = useEngine();
  const document = useProject((s) => s.document);
  const {
    selection,
    area: wanted,
    areaOf,
    node,
    viewer,
    timeS,
    playing,
    route,
    language,
    device,
  } = useBenchPart('selection', 'node', 'area', 'areaOf', 'viewer', 'timeS', 'playing', 'route', 'language', 'device');
  const { held, phase } = useLive();
  const job = useRef(0);
  // While time goes on it stands as it was.
  const atS = playing ? -1 : Math.round(timeS * 2);
  useEffect(() => {
    if (playing && wanted !== 'off') return;
    job.current++;
    useArea.setState({ shown: null, waiting: false });
    const id = areaOf ?? selection;
    if (wanted === 'off' || !id || !document?.elements[id]) return;
    const solver = engine.frameOf(viewer);
    const row = solver ? solver.c.ids[rowFor(solver, id)] : undefined;
    if (!row) return;
    useArea.setState({ waiting: true });
    const worker = new Worker(new URL('./asks.worker.ts', import.meta.url), { type: 'module' });
    const end = endsWithPage(worker);
    const mine = job.current;
    worker.addEventListener('message', ({ data }: MessageEvent<Answer>) => {
      if (job.current !== mine || !('area' in data)) return;
      const coarse = data.count !== COUNTS.at(-1);
      const { area } = data;
      const shown = area && {
        area,
        lines: CONTOURS.map((level) => contour(area, level)),
        ...areaShare(area, limitsOf(document).leastArcmin),
        coarse,
      };
      useArea.setState({ shown, waiting: coarse });
      engine.invalidate();
      if (!coarse) end();
    });
    const send = sender<Ask>((ask) => worker.postMessage(ask));
    const viewers = wanted === 'all' ? Object.keys(document.viewers) : [viewer];
    for (const count of COUNTS) {
      const ask: Ask = { kind: 'area', job: mine, count, viewers, ...frameAsked(engine, document, row) };
      send(ask);
    }
    return end;
  }, [wanted, areaOf ?? selection, node, document, viewer, atS, playing, route, language, device, held, phase]);
}

/** Draws the area of an element, or none; it stays while others are selected. */
export const showArea = (area: 'off' | 'viewer' | 'all', id: string | null): void =>
  useBench.setState({ area, areaOf: area === 'off' ? null : id });
