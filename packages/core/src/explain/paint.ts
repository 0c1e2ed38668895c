/** Paint: how opaque an element is painted, and what takes from it. */
import { isMark } from '@foreshore/document/kinds';
import type { Crosshair } from '@foreshore/document/types';
import { AimState, findAim } from '../crosshair-aim.ts';
import { shownDirections } from '../directions.ts';
import { opacityOf } from '../draw-list.ts';
import type { Fact, Outcome } from '../outcome.ts';
import { styleOf } from '../pointer.ts';
import type { SolveContext } from '../solve-context.ts';

export function explainPaint(ctx: SolveContext, i: number): Outcome {
  const { c, f } = ctx;
  for (let at = i; at >= 0; at = c.parent[at] as number)
    if (c.elements[at]?.paint.opacity === 0) return { passes: false, facts: [{ kind: 'transparent', row: c.ids[at] as string }] };
  const element = c.elements[i];
  const happened = element?.kind === 'direction' ? shownDirections(ctx, i) : null;
  if (element?.kind === 'direction' && happened?.length === 0)
    return { passes: false, facts: [{ kind: 'nothingHappened', withinS: element.holdS + element.fadeS }] };
  const newest = happened?.at(-1);
  const isMarked = element?.kind === 'direction' && isMark(element);
  const points: Fact[] = !newest
    ? []
    : isMarked
      ? [{ kind: 'confirmed', agoS: newest.agoS }]
      : [
          {
            kind: 'pointsTo',
            count: happened?.length ?? 0,
            aroundDeg: Number.isNaN(newest.aroundDeg) ? null : newest.aroundDeg,
            upDeg: newest.upDeg,
          },
        ];
  const because = f.dimmed[i] ? 'dimmed' : styleOf(ctx, i).opacity < 1 ? 'pointer' : null;
  return { passes: true, facts: [{ kind: 'opaque', share: opacityOf(ctx, i), because }, ...points, ...aimedAs(ctx, i)] };
}

const STATES = {
  [AimState.Nothing]: 'nothing',
  [AimState.Reachable]: 'reachable',
  [AimState.Far]: 'far',
  [AimState.Blocked]: 'blocked',
} as const;

/** What decides how a crosshair looks: what it is aimed at, as it stands and as it is now met. */
function aimedAs(ctx: SolveContext, i: number): Fact[] {
  const { c, f } = ctx;
  const k = c.aims.indexOf(i);
  const { aim } = c.elements[i] as Crosshair;
  if (k < 0 || !aim) return [];
  const { distanceM, node, state } = findAim(ctx, i, aim);
  const stands = f.aimState[k] as AimState;
  const stops = [0, 1, 2].map((n) => f.toolStops[k * 3 + n] as number);
  const tool: Fact[] = Number.isNaN(stops[0])
    ? []
    : [
        {
          kind: 'toolStops',
          node: c.level?.nodeIds[f.toolNode[k] as number] ?? null,
          distanceM: Math.hypot(...stops.map((v, n) => v - (f.eye[n] as number))),
        },
      ];
  return [
    {
      kind: 'aims',
      state: STATES[stands],
      node: c.level?.nodeIds[node] ?? null,
      distanceM: Number.isFinite(distanceM) ? distanceM : null,
      reachM: aim.reachM,
      // What the eye could reach and the tool cannot is blocked.
      stays: (state === AimState.Reachable && tool.length > 0 ? AimState.Blocked : state) !== stands,
    },
    ...tool,
  ];
}
