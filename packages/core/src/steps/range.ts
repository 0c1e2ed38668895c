/** Range: is the viewer near enough? From the eye or the body to the zone of the anchor, or to the anchor. */
import { formatMetres } from '../format.ts';
import { distanceToZone } from '../zones.ts';
import { gateOf, isLost } from './gate.ts';
import { Verdict } from './names.ts';
import type { Outcome, Step, Work } from './step.ts';

/** Metres from the viewer to what a gate is about. @param from the body reaches from its feet to its eye. */
export function rangeM({ c, f }: Pick<Work, 'c' | 'f'>, gate: number, from: 'eye' | 'body'): number {
  const anchor = c.gateAnchor[gate] as number;
  const y = f.eye[1] as number;
  const foot = from === 'body' ? y - c.document.body.eyeHeightM : y;
  const level = Math.max(foot, Math.min(y, c.anchorWorld[anchor * 3 + 1] as number));
  return distanceToZone(c, anchor, f.eye[0] as number, level, f.eye[2] as number);
}

function run({ c, f, m }: Work, from: number, to: number): void {
  for (let i = from; i < to; i++) {
    if (f.failed[i] !== Verdict.Shown) continue;
    const gate = c.gateOfRow[i] as number;
    if (gate >= 0 && c.elements[i]?.range && m.gates.rangeIn[gate] === 0) f.failed[i] = Verdict.Range;
  }
}

function explain(work: Work, i: number): Outcome {
  const [gate, { range }] = gateOf(work, i);
  if (!range) return { passes: true, says: 'at any distance' };
  if (isLost(work, gate)) return { passes: false, says: 'has no place to be near to' };
  const distance = rangeM(work, gate, range.from);
  const bound = work.m.gates.rangeIn[gate] ? range.leaveM : range.enterM;
  const inside = distance === 0 ? 'in its zone' : `${formatMetres(distance)} of ${formatMetres(bound)} m`;
  if (distance > bound && work.m.gates.rangeIn[gate]) return { passes: true, says: `${inside}, stays a moment` };
  return { passes: distance <= bound, says: inside };
}

export const range: Step = { name: 'range', applies: ({ c }, i) => c.elements[i]?.range !== undefined, run, explain };
