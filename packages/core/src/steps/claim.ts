/**
 * Claim: the contest of prompts for one key. The least score wins: `angleDeg/coneHalfDeg + distM/rangeM − priority`; who holds
 * the claim has a bonus taken off. Ties go by id. A holder that is outdone gives way after its own `dwellS`; one that an earlier step
 * refuses, at once.
 */
import type { Element } from '@foreshore/document/types';
import type { SolveContext } from '../solve-context.ts';
import { angleDegTo } from './gaze.ts';
import { Verdict } from './names.ts';
import { rangeM } from './range.ts';

/** In place of what a prompt without a cone, or without a range, does not say. */
export const CONE_DEG = 30;
export const RANGE_M = 5;
const ROUNDING = 1e-6;

/** The score of a gate without the holder's bonus. */
export function scoreOf(ctx: SolveContext, gate: number): number {
  const { c } = ctx;
  const { range, look, claim } = c.elements[c.gated[gate] as number] as Element;
  const cone = look?.by === 'cone' ? look.halfDeg : CONE_DEG;
  const reach = range && range.leaveM > 0 ? range.leaveM : RANGE_M;
  return angleDegTo(ctx, c.gateAnchor[gate] as number) / cone + rangeM(ctx, gate, range?.from ?? 'eye') / reach - (claim?.priority ?? 0);
}

/** What is taken off the score of the one that holds the claim. */
export const bonusOf = ({ c, m }: SolveContext, gate: number): number =>
  m.gates.claimIn[gate] ? ((c.elements[c.gated[gate] as number] as Element).claim?.bonus ?? 0) : 0;

/** Whether one gate comes before another, by the scores that the frame has noted. */
function beats({ c, f }: SolveContext, one: number, other: number): boolean {
  const [a, b] = [f.claimScore[one] as number, f.claimScore[other] as number];
  return a !== b ? a < b : (c.ids[c.gated[one] as number] as string) < (c.ids[c.gated[other] as number] as string);
}

/** Runs after Sightline. @param due decide anew; else the last decision stands. */
export function decideClaims(ctx: SolveContext, due: boolean, atOnce: boolean): void {
  const { c, f, m } = ctx;
  for (let group = 0; group < c.contests.length; group++) {
    const gates = c.contests[group] as readonly number[];
    if (due) decideContest(ctx, group, gates, atOnce);
    for (let i = 0; i < gates.length; i++) {
      const gate = gates[i] as number;
      if (!f.gatePassed[gate] || m.gates.claimIn[gate]) continue;
      f.gatePassed[gate] = 0;
      const row = c.gated[gate] as number;
      if (row < c.anchoredCount) f.failed[row] = Verdict.Claim;
    }
  }
}

function decideContest(ctx: SolveContext, group: number, gates: readonly number[], atOnce: boolean): void {
  const { c, f, m } = ctx;
  const { claimIn, contestS } = m.gates;
  const most = c.document.contest?.most ?? 1;
  let held = 0;
  for (let i = 0; i < gates.length; i++) {
    const gate = gates[i] as number;
    if (!f.gatePassed[gate]) {
      claimIn[gate] = 0;
      f.claimScore[gate] = Number.NaN;
      continue;
    }
    f.claimScore[gate] = scoreOf(ctx, gate) - bonusOf(ctx, gate);
    held += claimIn[gate] as number;
  }
  for (; held < most; held++) {
    const best = extreme(ctx, gates, false, -1);
    if (best < 0) break;
    claimIn[best] = 1;
  }
  for (let swaps = 0; swaps < most; swaps++) {
    const challenger = extreme(ctx, gates, false, -1);
    const worst = extreme(ctx, gates, true, 1);
    if (challenger < 0 || worst < 0 || !beats(ctx, challenger, worst)) {
      contestS[group] = Number.NaN;
      return;
    }
    if (Number.isNaN(contestS[group])) contestS[group] = f.timeS;
    const { claim } = c.elements[c.gated[worst] as number] as Element;
    if (!atOnce && f.timeS - (contestS[group] as number) < (claim?.dwellS ?? 0) - ROUNDING) return;
    claimIn[worst] = 0;
    claimIn[challenger] = 1;
  }
  contestS[group] = Number.NaN;
}

/** Of those in a contest that hold (or do not), the first (`sign` −1) or the last (1); −1 where there is none. */
function extreme(ctx: SolveContext, gates: readonly number[], holding: boolean, sign: 1 | -1): number {
  const { f, m } = ctx;
  let found = -1;
  for (let i = 0; i < gates.length; i++) {
    const gate = gates[i] as number;
    if (!f.gatePassed[gate] || (m.gates.claimIn[gate] === 1) !== holding) continue;
    if (found < 0 || beats(ctx, gate, found) === sign < 0) found = gate;
  }
  return found;
}
