/** View: is the anchor in front of the viewer and inside the frame? What has come in stays until it is `leavePx` farther out. */

import { At } from '../frame.ts';
import { Setting } from '../settings.ts';
import type { SolveContext } from '../solve-context.ts';
import { Verdict } from './names.ts';

/** NaN, which stands for "not in front", fails every comparison. */
export const isWithin = (x: number, y: number, width: number, height: number, margin: number): boolean =>
  x >= -margin && x < width + margin && y >= -margin && y < height + margin;

export function runView({ c, a, f, m }: SolveContext, from: number, to: number): void {
  const { failed, places, isTick } = f;
  const { viewIn, sizeIn, gates } = m;
  const anyGate = c.gated.length > 0;
  const { gateOfRow, elements } = c;
  const { settings, settingsOf, projection } = a;
  const { widthPx, heightPx } = projection;
  for (let i = from; i < to; i++) {
    if (failed[i] !== Verdict.Shown) continue;
    const at = i * At.Stride;
    const margin = settings[(settingsOf[i] as number) + (viewIn[i] ? Setting.StayPx : Setting.EnterPx)] as number;
    const gate = anyGate ? (gateOfRow[i] as number) : -1;
    const isSeen = gate < 0 || !elements[i]?.look || gates.gazeIn[gate] === 1;
    if (isSeen && isWithin(places[at + At.PointX] as number, places[at + At.PointY] as number, widthPx, heightPx, margin)) {
      if (isTick) viewIn[i] = 1;
    } else {
      failed[i] = Verdict.View;
      if (!isTick) continue;
      viewIn[i] = 0;
      sizeIn[i] = 0;
    }
  }
}
