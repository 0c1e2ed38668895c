/** Sightline: what share of the lines to an element is free, and what blocks the others. */
import type { Outcome } from '../outcome.ts';
import type { SolveContext } from '../solve-context.ts';
import { gateOf, isLost } from '../steps/gate.ts';
import { blockersOf, countOf, freeShare } from '../steps/sightline.ts';

export function explainSightline(ctx: SolveContext, i: number): Outcome {
  const [gate, { sightline, mount }] = gateOf(ctx, i);
  if (!sightline && mount.kind === 'trailing') {
    const share = ctx.m.trailShare[ctx.c.panelOf[i] as number] as number;
    return {
      passes: mount.blocked !== 'hide' || share === 1,
      facts: [{ kind: 'trails', distanceM: mount.distanceM, share, answer: mount.blocked }],
    };
  }
  if (!sightline || isLost(ctx, gate)) return { passes: sightline === undefined, facts: [{ kind: 'noPlaceToSee' }] };
  const { f } = ctx;
  // Asking is no part of the frame.
  const { rays } = f;
  const share = freeShare(ctx, gate, sightline);
  f.rays = rays;
  const lines = countOf(sightline);
  const { answer } = sightline;
  const held = ctx.m.gates.sightIn[gate] === 1;
  const neededShare = held ? sightline.leaveShare : sightline.share;
  const free = share > 0 && share >= neededShare;
  const stays = !free && held && answer === 'hide';
  return {
    passes: free || stays || answer !== 'hide',
    facts: [{ kind: 'sight', freeShare: share, neededShare, lines, blockers: blockersOf(ctx, lines), answer, stays }],
  };
}
