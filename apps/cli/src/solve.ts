/** `foreshore solve`: one frame of one viewer, as numbers and as a picture of the overlay. */
import { writeFileSync } from 'node:fs';
import {
  drawList,
  eyesOf,
  freeOfLevel,
  opacityOf,
  type PanelItem,
  placeOf,
  type SolveContext,
  type Solver,
  STEPS,
  screenBox,
  screenOutline,
  Verdict,
} from '@foreshore/core';
import { paintSvg } from '@foreshore/paint';
import { type FrameOptions, frameOf } from './frame.ts';
import { UsageError } from './usage.ts';

export interface SolveOptions extends FrameOptions {
  json?: boolean;
  svg?: string;
  eye?: string;
}

const EYES = ['left', 'right'];
/** The frame as the head sees it, or one eye of a headset. */
function seenBy(solver: Solver, eye: string | undefined): SolveContext {
  if (eye === undefined) return solver;
  if (!EYES.includes(eye)) throw new UsageError(`--eye takes left or right, not "${eye}".`);
  if (solver.a.eyes.length === 0) throw new UsageError('--eye is for headsets: this viewer has one picture.');
  return eyesOf(solver)[EYES.indexOf(eye)] as SolveContext;
}

/** Stands for a page, which runs in a browser alone. */
const CROSSED = `data:image/svg+xml,${encodeURIComponent(
  '<svg xmlns="http://www.w3.org/2000/svg" width="320" height="200"><path d="M2 2H318V198H2ZL318 198M2 198L318 2" fill="#3A4352" stroke="#B9C0CA" stroke-width="4"/></svg>',
)}`;

export async function solveCommand(file: string, options: SolveOptions): Promise<string> {
  if (!options.json && !options.svg) throw new UsageError('Say what to give: --json, --svg FILE, or both.');
  const { document, solver: whole, pose, timeS, picture } = await frameOf(file, options);
  const solver = seenBy(whole, options.eye);
  if (options.svg) {
    const types = new Map(Object.values(document.pictures ?? {}).map(({ hash, type }) => [hash, type]));
    const address = (hash: string) => {
      if (types.get(hash) === 'text/html') return CROSSED;
      const bytes = picture(hash);
      return bytes && `data:${types.get(hash)};base64,${Buffer.from(bytes).toString('base64')}`;
    };
    const free = (panel: PanelItem) => (panel.through ? null : freeOfLevel(solver, solver.c.ids.indexOf(panel.element)));
    writeFileSync(options.svg, paintSvg(drawList(solver), address, free));
  }
  if (!options.json) return '';
  const elements = solver.c.ids.map((id, i) => {
    const failed = solver.f.failed[i] as Verdict;
    const { point, depthM } = placeOf(solver.f, i);
    const isOnPanel = (solver.c.panelOf[i] as number) >= 0;
    const shown = failed === Verdict.Shown;
    const seen = !Number.isNaN(point[0]) && failed !== Verdict.Attach;
    return {
      id,
      shown,
      failed: shown ? null : STEPS[failed],
      point: seen ? point : null,
      depthM: failed === Verdict.Attach ? null : depthM,
      rect: shown ? screenBox(solver, i) : null,
      // On a panel: what the upright box is about, x and y in turn, cut at the near plane.
      ...(isOnPanel && { outline: shown ? screenOutline(solver, i) : null }),
      opacity: shown ? opacityOf(solver, i) : 0,
    };
  });
  return `${JSON.stringify({ viewer: options.viewer, timeS, pose, elements }, null, 2)}\n`;
}
