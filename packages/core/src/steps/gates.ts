/** All gates of a frame, in the order of the chain. */
import type { Element } from '@foreshore/document';
import { decideClaims } from './claim.ts';
import { forget, hold, isLost } from './gate.ts';
import { isLookedAt } from './look.ts';
import { rangeM } from './range.ts';
import { decideSightlines } from './sightline.ts';
import type { Work } from './step.ts';

/** Range and look. Runs on ticks, after phases were decided and anchors placed, before what floats is tested. */
export function decideRangeAndLook(work: Work, atOnce: boolean): void {
  const { c, f, m } = work;
  const { gates } = m;
  for (let k = 0; k < c.gated.length; k++) {
    const row = c.gated[k] as number;
    const { range, look } = c.elements[row] as Element;
    let isOpen = !isLost(work, k) && f.hidden[row] === 0;
    if (!isOpen) forget(gates.rangeIn, gates.rangeS, k);
    else if (range) {
      const bound = gates.rangeIn[k] ? range.leaveM : range.enterM;
      isOpen = hold(gates.rangeIn, gates.rangeS, k, rangeM(work, k, range.from) <= bound, range.dwellS, f.timeS, atOnce);
    }
    if (!isOpen) forget(gates.lookIn, gates.lookS, k);
    else if (look) hold(gates.lookIn, gates.lookS, k, isLookedAt(work, k, look, gates.lookIn[k] === 1), look.dwellS, f.timeS, atOnce);
  }
}

/** Sightlines and claims. Runs after Size, in every frame; decides on ticks. */
export function decideSightAndClaim(work: Work, atOnce: boolean): void {
  decideSightlines(work, work.f.isTick, atOnce);
  decideClaims(work, work.f.isTick, atOnce);
}
