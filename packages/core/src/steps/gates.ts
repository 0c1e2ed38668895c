/** All gates of a frame, in the order of the chain. */
import type { Element } from '@foreshore/document/types';
import type { SolveContext } from '../solve-context.ts';
import { decideClaims } from './claim.ts';
import { forget, hold, isLost } from './gate.ts';
import { isLookedAt } from './gaze.ts';
import { rangeM } from './range.ts';
import { decideSightlines } from './sightline.ts';

/** Range and look. Runs on ticks, after phases were decided and anchors placed, before what floats is tested. */
export function decideRangeAndGaze(ctx: SolveContext, atOnce: boolean): void {
  const { c, f, m } = ctx;
  const { gates } = m;
  for (let k = 0; k < c.gated.length; k++) {
    const row = c.gated[k] as number;
    const { range, look } = c.elements[row] as Element;
    let isOpen = !isLost(ctx, k) && f.hidden[row] === 0;
    if (!isOpen) forget(gates.rangeIn, gates.rangeS, k);
    else if (range) {
      const bound = gates.rangeIn[k] ? range.leaveM : range.enterM;
      isOpen = hold(gates.rangeIn, gates.rangeS, k, rangeM(ctx, k, range.from) <= bound, range.dwellS, f.timeS, atOnce);
    }
    if (!isOpen) forget(gates.gazeIn, gates.gazeS, k);
    else if (look) hold(gates.gazeIn, gates.gazeS, k, isLookedAt(ctx, k, look, gates.gazeIn[k] === 1), look.dwellS, f.timeS, atOnce);
  }
}

/** Sightlines and claims. Runs after Size, in every frame; decides on ticks. */
export function decideSightAndClaim(ctx: SolveContext, atOnce: boolean): void {
  decideSightlines(ctx, ctx.f.isTick, atOnce);
  decideClaims(ctx, ctx.f.isTick, atOnce);
}
