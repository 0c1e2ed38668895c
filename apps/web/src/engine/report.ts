/** What the present frame comes to for whoever shows it: the selection's chain, and every viewer's verdict on it. */
import { explain, measureReadable, type Pose, placeOf, type SolveContext, type Solver, Verdict as Step, screenBox } from '@foreshore/core';
import { type FrameInfo, useBench, type Verdict } from '../state/bench.ts';
import type { Seen } from './frames.ts';
import { nodeAmong, rowFor } from './rows.ts';

/** What a report needs of the frames. */
export interface ReportHost {
  viewers(): string[];
  frameOf(viewer: string): Solver | null;
  allSeen(viewer: string): Seen[];
  pose(): Pose;
}

/** @param whose with `own`, what other viewers show of the same selection stands as it was: at rest it is asked for again. */
export function report(host: ReportHost, solver: Solver, whose: 'own' | 'all'): FrameInfo {
  const { selection, viewer: chosen, info: last } = useBench.getState();
  const row = selection === null ? -1 : rowFor(solver, selection);
  let shownCount = 0;
  for (let i = 0; i < solver.f.count; i++) if (solver.f.failed[i] === Step.Shown) shownCount++;
  const pose = host.pose();
  const others = whose === 'own' ? (last?.others ?? []) : shownByOthers(host, chosen);
  const nothing = { row: null, node: null, links: [], verdicts: [], point: null, rect: null, selectionShown: false };
  if (row < 0) return { ...nothing, others, shownCount, pose };
  const links = explain(solver, row);
  const { point } = placeOf(solver.f, row);
  const rect = screenBox(solver, row);
  const inFront = !Number.isNaN(point[0]);
  const stands = whose === 'own' && last?.row === solver.c.ids[row];
  const verdicts = host.viewers().flatMap((viewer): Verdict[] => {
    if (viewer !== chosen && stands) return last?.verdicts.filter((verdict) => verdict.viewer === viewer) ?? [];
    const own = host.frameOf(viewer);
    if (!own) return [];
    const id = solver.c.ids[row] as string;
    // The eyes of a headset are judged together; of a split screen, the player who reads it worst.
    const frames = own.a.eyes.length > 0 ? [own] : host.allSeen(viewer).map(({ frame }) => frame);
    return [worst(frames.map((one) => verdictOf(one, id, viewer, one === solver ? links : null)))];
  });
  // The other viewers moved the shared level to the same time, so the places above still hold.
  return {
    row: solver.c.ids[row] as string,
    node: nodeAmong(solver, row),
    links,
    verdicts,
    others,
    shownCount,
    point: inFront ? point : null,
    rect: Number.isNaN(rect[0]) || !(inFront || (solver.c.panelOf[row] as number) >= 0) ? null : rect,
    selectionShown: solver.f.failed[row] === Step.Shown,
    pose,
  };
}

/** Of several players, the one who is shown it and reads it worst; where none is, oneself. */
function worst(verdicts: readonly Verdict[]): Verdict {
  const [first] = verdicts as [Verdict];
  const shown = verdicts.filter((one) => one.shown);
  return shown.reduce(
    (least, one) =>
      one.faults.length > least.faults.length || (one.faults.length === least.faults.length && one.capArcmin < least.capArcmin)
        ? one
        : least,
    shown[0] ?? first,
  );
}

function verdictOf(solver: SolveContext, id: string, viewer: string, known: FrameInfo['links'] | null): Verdict {
  const row = solver.c.ids.indexOf(id);
  const shown = solver.f.failed[row] === Step.Shown;
  const read = shown ? measureReadable(solver, row) : null;
  const no = shown ? undefined : (known ?? explain(solver, row)).find(({ state }) => state === 'no');
  return {
    viewer,
    shown,
    no: no ?? null,
    faults: read?.faults ?? [],
    capArcmin: read && Number.isFinite(read.capArcmin) ? read.capArcmin : 0,
  };
}

function shownByOthers(host: ReportHost, chosen: string): FrameInfo['others'] {
  return host.viewers().flatMap((viewer) => {
    const one = viewer === chosen ? null : host.frameOf(viewer);
    if (!one) return [];
    const shown = new Set<string>();
    for (let i = 0; i < one.f.count; i++) if (one.f.failed[i] === Step.Shown) shown.add(one.c.sources[i] as string);
    return [{ viewer, shown }];
  });
}
