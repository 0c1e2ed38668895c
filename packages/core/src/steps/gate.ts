/**
 * Gates: what must be so in the world before an element shows. They are decided on ticks of 1/30 s, from the head, whatever
 * the rate of the frames; between ticks the last decision stands.
 *
 * Each gate remembers whether it is in, and since when it would say otherwise: what is in stays in for `dwellS` more. What an
 * earlier step refuses starts anew.
 */
import type { Element } from '@foreshore/document';
import { Verdict } from './names.ts';
import type { Work } from './step.ts';

/** One of each a gate. */
export class GateMemory {
  readonly rangeIn: Uint8Array;
  readonly rangeS: Float64Array;
  readonly lookIn: Uint8Array;
  readonly lookS: Float64Array;
  readonly sightIn: Uint8Array;
  readonly sightS: Float64Array;
  readonly claimIn: Uint8Array;
  /** One a contest: since when somebody else would win. */
  readonly contestS: Float64Array;

  constructor(gates: number, contests: number) {
    this.rangeIn = new Uint8Array(gates);
    this.rangeS = new Float64Array(gates).fill(Number.NaN);
    this.lookIn = new Uint8Array(gates);
    this.lookS = new Float64Array(gates).fill(Number.NaN);
    this.sightIn = new Uint8Array(gates);
    this.sightS = new Float64Array(gates).fill(Number.NaN);
    this.claimIn = new Uint8Array(gates);
    this.contestS = new Float64Array(contests).fill(Number.NaN);
  }

  restore(from: GateMemory): void {
    this.rangeIn.set(from.rangeIn);
    this.rangeS.set(from.rangeS);
    this.lookIn.set(from.lookIn);
    this.lookS.set(from.lookS);
    this.sightIn.set(from.sightIn);
    this.sightS.set(from.sightS);
    this.claimIn.set(from.claimIn);
    this.contestS.set(from.contestS);
  }
}

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
export const gateOf = ({ c }: Pick<Work, 'c'>, row: number): [gate: number, element: Element] => [
  c.gateOfRow[row] as number,
  c.elements[row] as Element,
];

/** Whether what a gate is about has no place. */
export const isLost = ({ c }: Pick<Work, 'c'>, gate: number): boolean => {
  const row = c.gated[gate] as number;
  return row < c.floatingCount ? c.lost[row] === 1 : c.anchorFault[c.gateAnchor[gate] as number] !== null;
};

/** Of what is on the glass: the first gate that says no, or Verdict.Shown. What floats has its steps run one after the other. */
export function verdictOfGate(work: Work, gate: number): Verdict {
  const { c, f, m } = work;
  const { range, look, sightline } = c.elements[c.gated[gate] as number] as Element;
  if (isLost(work, gate)) return Verdict.Attach;
  if (range && !m.gates.rangeIn[gate]) return Verdict.Range;
  if (look && !m.gates.lookIn[gate]) return Verdict.View;
  if (sightline?.answer === 'hide' && !m.gates.sightIn[gate]) return Verdict.Sightline;
  return f.gatePassed[gate] ? Verdict.Shown : Verdict.Claim;
}
