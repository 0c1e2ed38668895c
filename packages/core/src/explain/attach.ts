/** Attach: what an element stands on. */
import { isMember, isOnHud } from '@foreshore/document/kinds';
import { AIM_PANEL, EVENT, isHudGroup } from '../compiled.ts';
import type { Fact, Outcome } from '../outcome.ts';
import { panelDistanceM } from '../screen-box.ts';
import type { SolveContext } from '../solve-context.ts';
import type { Vec3 } from '../spaces/pose.ts';

export function explainAttach(ctx: SolveContext, i: number): Outcome {
  const { c, m } = ctx;
  const mount = c.elements[i]?.mount;
  if (isOnHud(mount)) return { passes: true, facts: [{ kind: 'onHud', pin: mount.pin }] };
  // In a headset the HUD is a panel, and still the HUD.
  if (isMember(mount) && isHudGroup(mount.group)) {
    const facts: Fact[] = [{ kind: 'onHud', pin: mount.pin }];
    // What aims stands where it aims.
    if (mount.group === AIM_PANEL) facts.push({ kind: 'atDepth', distanceM: panelDistanceM(ctx, i) });
    return { passes: true, facts };
  }
  if (isMember(mount)) return { passes: true, facts: [{ kind: 'inGroup', group: c.ids[c.parent[i] as number] as string }] };
  if (mount?.kind === 'trailing') {
    const share = m.trailShare[c.panelOf[i] as number] as number;
    return { passes: true, facts: [{ kind: 'trails', distanceM: mount.distanceM, share, answer: mount.blocked }] };
  }
  const row = c.elementAnchor[i] as number;
  if (!c.lost[i]) return { passes: true, facts: [{ kind: 'at', place: [...c.anchorWorld.subarray(row * 3, row * 3 + 3)] as Vec3 }] };
  const span = c.spans.indexOf(i);
  const fault = c.anchorFault[row] ?? (span < 0 ? null : c.anchorFault[c.spanTo[span] as number]);
  if (fault) return { passes: false, facts: [{ kind: 'lost', fault }] };
  const feed = c.anchorKind[row] === EVENT ? c.feedIds[c.anchorFirst[row] as number] : undefined;
  return { passes: false, facts: [feed === undefined ? { kind: 'lost', fault: { kind: 'noLevel' } } : { kind: 'notYet', feed }] };
}
