/** Range: is the viewer near enough? From the eye or the body to the zone of the anchor, or to the anchor. */

import type { SolveContext } from '../solve-context.ts';
import { distanceToZone } from '../zones.ts';
import { Verdict } from './names.ts';

/** Metres from the viewer to what a gate is about. @param from the body reaches from its feet to its eye. */
export function rangeM({ c, f }: Pick<SolveContext, 'c' | 'f'>, gate: number, from: 'eye' | 'body'): number {
  const anchor = c.gateAnchor[gate] as number;
  const y = f.eye[1] as number;
  const foot = from === 'body' ? y - c.document.body.eyeHeightM : y;
  const level = Math.max(foot, Math.min(y, c.anchorWorld[anchor * 3 + 1] as number));
  return distanceToZone(c, anchor, f.eye[0] as number, level, f.eye[2] as number);
}

/** Refuses what is out of range, and forgets what View and Size remembered of it. */
export function runRange({ c, f, m }: SolveContext, from: number, to: number): void {
  for (let i = from; i < to; i++) {
    if (f.failed[i] !== Verdict.Shown) continue;
    const gate = c.gateOfRow[i] as number;
    if (gate < 0 || !c.elements[i]?.range || m.gates.rangeIn[gate] === 1) continue;
    f.failed[i] = Verdict.Range;
    if (!f.isTick) continue;
    m.viewIn[i] = 0;
    m.sizeIn[i] = 0;
  }
}
