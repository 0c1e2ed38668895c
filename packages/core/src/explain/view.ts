/** View: where the anchor lies about the frame, and whether it is looked at. */
import type { Look } from '@foreshore/document/types';
import { placeOf } from '../frame.ts';
import type { Fact, Outcome } from '../outcome.ts';
import { panelDistanceM, screenBox } from '../screen-box.ts';
import { Setting } from '../settings.ts';
import type { SolveContext } from '../solve-context.ts';
import { beforePanelM, PanelAt } from '../spaces/panel.ts';
import { aimed, angleDegTo, isLookedAt } from '../steps/gaze.ts';
import { isAboutFrame, isSeenFrom } from '../steps/panel.ts';
import { rangeM } from '../steps/range.ts';
import { isWithin } from '../steps/view.ts';

export function explainView(ctx: SolveContext, i: number): Outcome {
  const panel = (ctx.c.parent[i] as number) < 0 ? (ctx.c.panelOf[i] as number) : -1;
  const framed: Outcome =
    panel >= 0 ? explainPanel(ctx, i, panel) : i < ctx.c.anchoredCount ? explainFrame(ctx, i) : { passes: true, facts: [] };
  const gate = ctx.c.gateOfRow[i] as number;
  const look = ctx.c.elements[i]?.look;
  if (!framed.passes || gate < 0 || !look) return framed;
  const held = ctx.m.gates.gazeIn[gate] === 1;
  return { passes: isLookedAt(ctx, gate, look, held) || held, facts: [...framed.facts, gazeFact(ctx, gate, look, held)] };
}

/** Of a panel: whether its front is seen, and how much of it lies in the frame. */
function explainPanel(ctx: SolveContext, i: number, panel: number): Outcome {
  const { f, a } = ctx;
  const at = panel * PanelAt.Stride;
  if (!isSeenFrom(ctx, panel)) return { passes: false, facts: [{ kind: 'backOfPanel', behindM: -beforePanelM(f.panels, at, f.eye) }] };
  const share = f.panelShare[panel] as number;
  const passes = isAboutFrame(ctx, panel);
  if (share > 0 || passes) return { passes, facts: [{ kind: 'panelInFrame', share, distanceM: panelDistanceM(ctx, i) }] };
  const [x, y, w, h] = screenBox(ctx, i);
  if (Number.isNaN(x)) return { passes, facts: [{ kind: 'behind', byM: panelDistanceM(ctx, i) }] };
  const { widthPx, heightPx } = a.projection;
  return { passes, facts: [{ kind: 'outside', outPx: Math.max(-(x + w), x - widthPx, -(y + h), y - heightPx), allowedPx: 0 }] };
}

function gazeFact(ctx: SolveContext, gate: number, look: Look, held: boolean): Fact {
  const { c } = ctx;
  const angleDeg = angleDegTo(ctx, c.gateAnchor[gate] as number);
  if (look.by === 'cone') return { kind: 'cone', angleDeg, boundDeg: held ? look.leaveDeg : look.halfDeg };
  const { reachM } = look;
  const { distanceM, blocker } = aimed(ctx, gate, Number.POSITIVE_INFINITY);
  if (!Number.isFinite(distanceM)) return { kind: 'notAimed', missDeg: angleDeg, distanceM: rangeM(ctx, gate, 'eye'), reachM };
  if (blocker >= 0) return { kind: 'aimBlocked', node: c.level?.nodeIds[blocker] ?? '', distanceM, reachM };
  return { kind: 'aimed', distanceM, reachM };
}

/** What stands at the edge of the frame is there whatever lies between. */
function atEdge({ c, f }: SolveContext, i: number): Outcome | null {
  if (c.edged.length === 0 || Number.isNaN(f.edgeRad[c.edged.indexOf(i)] ?? Number.NaN)) return null;
  const anchor = (c.elementAnchor[i] as number) * 3;
  const way = [0, 1, 2].map((k) => (c.anchorWorld[anchor + k] as number) - (f.eye[k] as number));
  const along = (row: number) => way.reduce((sum, v, k) => sum + v * (f.rotation[row * 3 + k] as number), 0);
  const [x, y, z] = [along(0), along(1), along(2)];
  const degrees = (rad: number) => (rad * 180) / Math.PI;
  return {
    passes: true,
    facts: [
      {
        kind: 'atEdge',
        rightDeg: degrees(Math.atan2(x, -z)),
        upDeg: degrees(Math.atan2(y, Math.hypot(x, z))),
        distanceM: Math.hypot(x, y, z),
      },
    ],
  };
}

function explainFrame(ctx: SolveContext, i: number): Outcome {
  const edge = atEdge(ctx, i);
  if (edge) return edge;
  const { a, f, m } = ctx;
  const { point, depthM } = placeOf(f, i);
  const [x, y] = point;
  const { widthPx, heightPx, nearM } = a.projection;
  if (!(depthM > nearM))
    return { passes: false, facts: [depthM < 0 ? { kind: 'behind', byM: -depthM } : { kind: 'beforeNear', aheadM: depthM, nearM }] };
  const allowedPx = a.settings[(a.settingsOf[i] as number) + (m.viewIn[i] ? Setting.StayPx : Setting.EnterPx)] as number;
  const outPx = Math.max(-x, x - widthPx, -y, y - heightPx);
  const passes = isWithin(x, y, widthPx, heightPx, allowedPx);
  // Inside of the frame, and yet not far enough inside of it.
  return { passes, facts: [outPx > 0 || !passes ? { kind: 'outside', outPx, allowedPx } : { kind: 'ahead', depthM }] };
}
