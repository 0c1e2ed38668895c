/** Readable: could the player read it here? It refuses nothing: what falls short is shown, and told. */
import type { Outcome } from '../outcome.ts';
import { measureReadable } from '../readable.ts';
import type { SolveContext } from '../solve-context.ts';
import { Verdict } from '../steps/names.ts';

export function explainReadable(ctx: SolveContext, i: number): Outcome {
  if (ctx.f.failed[i] !== Verdict.Shown) return { passes: true, facts: [{ kind: 'notShown' }] };
  const { capArcmin, capPx, contrast, widthShare, eye, faults } = measureReadable(ctx, i);
  if (faults.length > 0) return { passes: true, short: true, facts: faults.map((of) => ({ kind: 'short', of })) };
  // Of pictures nothing is measured.
  if (ctx.c.elements[i]?.kind === 'crosshair' && Number.isFinite(contrast)) return { passes: true, facts: [{ kind: 'strokes', contrast }] };
  if (!Number.isFinite(capPx)) return { passes: true, facts: [{ kind: 'nothingToRead' }] };
  return { passes: true, facts: [{ kind: 'reads', arcmin: capArcmin, px: capPx, contrast, widthShare, eye }] };
}
