/** Readable: could the player read it here? It refuses nothing: what falls short is shown, and said. */
import { formatArcmin, formatPixels } from '../format.ts';
import { measureReadable } from '../readable.ts';
import { Verdict } from './names.ts';
import type { Outcome, Step, Work } from './step.ts';

function explain(work: Work, i: number): Outcome {
  if (work.f.failed[i] !== Verdict.Shown) return { passes: true, says: 'told once it is shown' };
  const { capArcmin, capPx, contrast, faults } = measureReadable(work, i);
  if (faults[0]) return { passes: false, says: faults.map((fault) => fault.says).join('; ') };
  if (!Number.isFinite(capPx)) return { passes: true, says: 'nothing to read, nothing over it' };
  return { passes: true, says: `${formatArcmin(capArcmin)} arcmin, ${formatPixels(capPx)} px, ${contrast.toFixed(1)}:1` };
}

export const readable: Step = { name: 'readable', applies: ({ c }, i) => c.elements[i]?.kind !== 'screenPaint', run: () => {}, explain };
