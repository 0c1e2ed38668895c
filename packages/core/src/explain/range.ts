/** Range: how far the viewer is from what an element is about. */
import type { Outcome } from '../outcome.ts';
import type { SolveContext } from '../solve-context.ts';
import { gateOf, isLost } from '../steps/gate.ts';
import { rangeM } from '../steps/range.ts';

export function explainRange(ctx: SolveContext, i: number): Outcome {
  const [gate, { range }] = gateOf(ctx, i);
  if (!range) return { passes: true, facts: [{ kind: 'anyDistance' }] };
  if (isLost(ctx, gate)) return { passes: false, facts: [{ kind: 'noPlace' }] };
  const distanceM = rangeM(ctx, gate, range.from);
  const held = ctx.m.gates.rangeIn[gate] === 1;
  const boundM = held ? range.leaveM : range.enterM;
  const stays = distanceM > boundM && held;
  return { passes: distanceM <= boundM || stays, facts: [{ kind: 'distance', distanceM, boundM, stays }] };
}
