/** `foreshore solve`: one frame of one viewer, as numbers and as a picture of the overlay. */
import { writeFileSync } from 'node:fs';
import { drawList, opacityOf, placeOf, STEPS, Verdict } from '@foreshore/core';
import { paintSvg } from '@foreshore/paint';
import { type FrameOptions, frameOf } from './frame.ts';
import { UsageError } from './usage.ts';

export interface SolveOptions extends FrameOptions {
  json?: boolean;
  svg?: string;
}

export async function solveCommand(file: string, options: SolveOptions): Promise<string> {
  if (!options.json && !options.svg) throw new UsageError('Say what to give: --json, --svg FILE, or both.');
  const { document, solver, pose, timeS, picture } = await frameOf(file, options);
  if (options.svg) {
    const types = new Map(Object.values(document.pictures ?? {}).map(({ hash, type }) => [hash, type]));
    const address = (hash: string) => {
      const bytes = picture(hash);
      return bytes && `data:${types.get(hash)};base64,${Buffer.from(bytes).toString('base64')}`;
    };
    writeFileSync(options.svg, paintSvg(drawList(solver), address));
  }
  if (!options.json) return '';
  const elements = solver.c.ids.map((id, i) => {
    const failed = solver.f.failed[i] as Verdict;
    const { point, depthM, rect } = placeOf(solver.f, i);
    const shown = failed === Verdict.Shown;
    const seen = !Number.isNaN(point[0]) && failed !== Verdict.Attach;
    return {
      id,
      shown,
      failed: shown ? null : STEPS[failed],
      point: seen ? point : null,
      depthM: failed === Verdict.Attach ? null : depthM,
      rect: shown ? rect : null,
      opacity: shown ? opacityOf(solver, i) : 0,
    };
  });
  return `${JSON.stringify({ viewer: options.viewer, timeS, pose, elements }, null, 2)}\n`;
}
