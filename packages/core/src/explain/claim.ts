/** Claim: who has the key, and by how much. */
import type { Outcome } from '../outcome.ts';
import type { SolveContext } from '../solve-context.ts';
import { bonusOf, scoreOf } from '../steps/claim.ts';
import { gateOf } from '../steps/gate.ts';

export function explainClaim(ctx: SolveContext, i: number): Outcome {
  const { c, f, m } = ctx;
  const [gate] = gateOf(ctx, i);
  const contest = c.contests.find((gates) => gates.includes(gate)) ?? [];
  const score = (k: number) => scoreOf(ctx, k) - bonusOf(ctx, k);
  const nameOf = (k: number): string => c.ids[c.gated[k] as number] as string;
  const own = score(gate);
  const others = contest.filter((k) => k !== gate && f.gatePassed[k]);
  if (m.gates.claimIn[gate]) {
    const next = contest.filter((k) => k !== gate && !Number.isNaN(f.claimScore[k])).sort((p, q) => score(p) - score(q))[0];
    return {
      passes: true,
      facts: [next === undefined ? { kind: 'unrivalled' } : { kind: 'holds', rival: nameOf(next), by: score(next) - own }],
    };
  }
  const holders = others.filter((k) => m.gates.claimIn[k]).sort((p, q) => score(q) - score(p));
  const most = c.document.contest?.most ?? 1;
  const worst = holders[0];
  if (holders.length < most || worst === undefined) return { passes: true, facts: [{ kind: 'unrivalled' }] };
  const rival = nameOf(worst);
  if (own < score(worst)) return { passes: false, facts: [{ kind: 'takesOver', rival }] };
  return { passes: false, facts: [{ kind: 'lostTo', rival, by: own - score(worst), byWithout: scoreOf(ctx, gate) - scoreOf(ctx, worst) }] };
}
