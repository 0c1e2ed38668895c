/** Paint: how opaque an element is painted, and what takes from it. */
import { opacityOf } from '../draw-list.ts';
import type { Outcome } from '../outcome.ts';
import { styleOf } from '../pointer.ts';
import type { SolveContext } from '../solve-context.ts';

export function explainPaint(ctx: SolveContext, i: number): Outcome {
  const { c, f } = ctx;
  for (let at = i; at >= 0; at = c.parent[at] as number)
    if (c.elements[at]?.paint.opacity === 0) return { passes: false, facts: [{ kind: 'transparent', row: c.ids[at] as string }] };
  const because = f.dimmed[i] ? 'dimmed' : styleOf(ctx, i).opacity < 1 ? 'pointer' : null;
  return { passes: true, facts: [{ kind: 'opaque', share: opacityOf(ctx, i), because }] };
}
