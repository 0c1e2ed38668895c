/**
 * Gates: what must be so in the world before an element shows. They are decided on ticks of 1/30 s, from the head, whatever
 * the rate of the frames; between ticks the last decision stands.
 *
 * Each gate remembers whether it is in, and since when it would say otherwise: what is in stays in for `dwellS` more. What an
 * earlier step refuses starts anew.
 */
import type { Element } from '@foreshore/document/types';
import type { SolveContext } from '../solve-context.ts';
import { Verdict } from './names.ts';

const TICKS_PER_S = 30;
/** Times are sums of steps; a tick is not missed for their rounding. */
const ROUNDING = 1e-6;
/**
 * Whether a tick lies between the last frame and this one. While time stands still, every frame decides. Both come as objects:
 * numbers that are handed to a function may be put on the heap.
 */
export const isTickDue = (last: { readonly timeS: number }, now: { readonly timeS: number }): boolean =>
  !(Math.floor(last.timeS * TICKS_PER_S + ROUNDING) === Math.floor(now.timeS * TICKS_PER_S + ROUNDING)) || now.timeS <= last.timeS;

/** What holds comes in at once; what stops holding goes out after `dwellS`, or at once. */
export function hold(
  inside: Uint8Array,
  since: Float64Array,
  gate: number,
  holds: boolean,
  dwellS: number,
  nowS: number,
  atOnce: boolean,
): boolean {
  if (holds) {
    inside[gate] = 1;
    since[gate] = Number.NaN;
  } else if (inside[gate]) {
    if (Number.isNaN(since[gate])) since[gate] = nowS;
    if (atOnce || nowS - (since[gate] as number) >= dwellS - ROUNDING) {
      inside[gate] = 0;
      since[gate] = Number.NaN;
    }
  }
  return inside[gate] === 1;
}

export function forget(inside: Uint8Array, since: Float64Array, gate: number): void {
  inside[gate] = 0;
  since[gate] = Number.NaN;
}

/** The gate of a row, and the element it is of. */
export const gateOf = ({ c }: Pick<SolveContext, 'c'>, row: number): [gate: number, element: Element] => [
  c.gateOfRow[row] as number,
  c.elements[row] as Element,
];

/** Whether what a gate is about has no place. */
export const isLost = ({ c }: Pick<SolveContext, 'c'>, gate: number): boolean => {
  const row = c.gated[gate] as number;
  return row < c.anchoredCount ? c.lost[row] === 1 : c.anchorFault[c.gateAnchor[gate] as number] !== null;
};

/** Of what is on the glass: the first gate that says no, or Verdict.Shown. What floats has its steps run one after the other. */
export function verdictOfGate(ctx: SolveContext, gate: number): Verdict {
  const { c, f, m } = ctx;
  const { range, look, sightline } = c.elements[c.gated[gate] as number] as Element;
  if (isLost(ctx, gate)) return Verdict.Attach;
  if (range && !m.gates.rangeIn[gate]) return Verdict.Range;
  if (look && !m.gates.gazeIn[gate]) return Verdict.View;
  if (sightline?.answer === 'hide' && !m.gates.sightIn[gate]) return Verdict.Sightline;
  return f.gatePassed[gate] ? Verdict.Shown : Verdict.Claim;
}
