/** Sightline: what share of the lines from the eye to the thing is free? Only what all earlier steps let pass casts rays. */
import type { Element, Sightline } from '@foreshore/document/types';
import { At } from '../frame.ts';
import type { Blocker } from '../outcome.ts';
import type { SolveContext } from '../solve-context.ts';
import { PanelAt } from '../spaces/panel.ts';
import { pointsOfZone } from '../zones.ts';
import { forget, hold, isLost } from './gate.ts';
import { Verdict } from './names.ts';
import { placeAnyway } from './place.ts';

const MOST = 64;
/** Where the lines last asked for end, three numbers each; and the node that blocks each, or −1. */
const ends = new Float64Array(MOST * 3);
const blockers = new Int32Array(MOST);

/** How many lines there are: one to an anchor without extent. */
export const countOf = ({ to, samples }: Sightline): number => (to === 'anchor' ? 1 : samples);

function endsOf(ctx: SolveContext, gate: number, sightline: Sightline): void {
  const { c, f } = ctx;
  const anchor = c.gateAnchor[gate] as number;
  const count = countOf(sightline);
  if (sightline.to === 'anchor') for (let k = 0; k < 3; k++) ends[k] = c.anchorWorld[anchor * 3 + k] as number;
  else if (sightline.to === 'zone') pointsOfZone(c, anchor, f.eye[0] as number, f.eye[1] as number, f.eye[2] as number, count, ends);
  else boxPoints(ctx, c.gated[gate] as number, count);
}

/** Points of a panel, in a grid, row by row. */
function panelPoints(panels: Float64Array, at: number, count: number): void {
  const [w, h] = [panels[at + PanelAt.WidthPx] as number, panels[at + PanelAt.HeightPx] as number];
  const k = panels[at + PanelAt.PxPerM] as number;
  const columns = Math.max(1, Math.round(Math.sqrt((count * w) / h)));
  const rows = Math.ceil(count / columns);
  for (let i = 0; i < count; i++) {
    const x = ((((i % columns) + 0.5) / columns) * w) / k;
    const y = (((Math.floor(i / columns) + 0.5) / rows) * h) / k;
    for (let axis = 0; axis < 3; axis++)
      ends[i * 3 + axis] =
        (panels[at + PanelAt.Origin + axis] as number) +
        x * (panels[at + PanelAt.Right + axis] as number) +
        y * (panels[at + PanelAt.Down + axis] as number);
  }
}

/** Points of the element's own box, as if it stood at its anchor's distance: in a grid, row by row. */
function boxPoints(ctx: SolveContext, row: number, count: number): void {
  const { c, f, a } = ctx;
  const panel = c.panelOf[row] as number;
  if (panel >= 0) {
    panelPoints(f.panels, panel * PanelAt.Stride, count);
    return;
  }
  placeAnyway(ctx, row);
  const at = row * At.Stride;
  const place = (column: number) => f.places[at + column] as number;
  const { rotation, eye } = f;
  const { centreX, centreY, focalX, focalY, orthographic } = a.projection;
  const columns = Math.max(1, Math.round(Math.sqrt((count * Math.max(place(At.RectW), 1)) / Math.max(place(At.RectH), 1))));
  const rows = Math.ceil(count / columns);
  const depth = place(At.DepthM);
  const scale = orthographic ? 1 : depth;
  for (let k = 0; k < count; k++) {
    const x = place(At.RectX) + (((k % columns) + 0.5) / columns) * place(At.RectW);
    const y = place(At.RectY) + ((Math.floor(k / columns) + 0.5) / rows) * place(At.RectH);
    const u = ((x - centreX) / focalX) * scale;
    const v = ((centreY - y) / focalY) * scale;
    for (let axis = 0; axis < 3; axis++)
      ends[k * 3 + axis] =
        (eye[axis] as number) +
        u * (rotation[axis] as number) +
        v * (rotation[3 + axis] as number) -
        depth * (rotation[6 + axis] as number);
  }
}

/** Casts all lines of a gate; the share that is free. */
export function freeShare(ctx: SolveContext, gate: number, sightline: Sightline): number {
  const { c, f } = ctx;
  const count = countOf(sightline);
  const { level } = c;
  if (!level) return 1;
  endsOf(ctx, gate, sightline);
  let free = 0;
  for (let k = 0; k < count; k++) {
    const blocker = level.sightline(
      f.eye[0] as number,
      f.eye[1] as number,
      f.eye[2] as number,
      ends[k * 3] as number,
      ends[k * 3 + 1] as number,
      ends[k * 3 + 2] as number,
      c.ownNodes[gate] ?? null,
    );
    blockers[k] = blocker;
    if (blocker < 0) free++;
  }
  f.rays += count;
  return free / count;
}

/** Of the lines last cast: the nodes that block some, and the share of all lines each blocks, the most first. */
export function blockersOf({ c }: Pick<SolveContext, 'c'>, count: number): Blocker[] {
  const lines = new Map<number, number>();
  for (let k = 0; k < count; k++) {
    const node = blockers[k] as number;
    if (node >= 0) lines.set(node, (lines.get(node) ?? 0) + 1);
  }
  return [...lines].sort((p, q) => q[1] - p[1]).map(([node, n]) => ({ node: c.level?.nodeIds[node] ?? '', share: n / count }));
}

/** A line of sight as far as it goes. */
export interface SightLine {
  from: [number, number, number];
  to: [number, number, number];
  /** The node that blocks it, or null. */
  blocker: string | null;
}
/** The lines of a row's Sightline step, or the one to its anchor where it has none; for whoever draws them. */
export function sightLines(ctx: SolveContext, row: number): SightLine[] {
  const { c, f } = ctx;
  const gate = c.gateOfRow[row] as number;
  if (gate < 0 || isLost(ctx, gate)) return [];
  const sightline: Sightline = c.elements[row]?.sightline ?? {
    to: 'anchor',
    samples: 1,
    share: 1,
    leaveShare: 1,
    answer: 'hide',
    dwellS: 0,
  };
  freeShare(ctx, gate, sightline);
  const from = [...f.eye] as SightLine['from'];
  return Array.from({ length: countOf(sightline) }, (_, k) => ({
    from,
    to: [...ends.subarray(k * 3, k * 3 + 3)] as SightLine['to'],
    blocker: (blockers[k] as number) < 0 ? null : (c.level?.nodeIds[blockers[k] as number] ?? null),
  }));
}

/** Whether all that comes before Sightline lets a gate's row pass. */
function isReached(ctx: SolveContext, gate: number): boolean {
  const { c, f, m } = ctx;
  const row = c.gated[gate] as number;
  if (row < c.anchoredCount) return f.failed[row] === Verdict.Shown;
  const { range, look } = c.elements[row] as Element;
  return !isLost(ctx, gate) && !f.hidden[row] && (!range || m.gates.rangeIn[gate] === 1) && (!look || m.gates.gazeIn[gate] === 1);
}

/** Runs after Size, for all gates at once. @param due decide anew; else the last decision stands. */
export function decideSightlines(ctx: SolveContext, due: boolean, atOnce: boolean): void {
  const { c, f, m } = ctx;
  const { gates } = m;
  for (let k = 0; k < c.gated.length; k++) {
    const row = c.gated[k] as number;
    const { sightline, show } = c.elements[row] as Element;
    const reached = isReached(ctx, k);
    f.gatePassed[k] = reached ? 1 : 0;
    if (!sightline) continue;
    if (due && !reached) forget(gates.sightIn, gates.sightS, k);
    if (!reached) continue;
    if (due) {
      const share = freeShare(ctx, k, sightline);
      const needed = gates.sightIn[k] ? sightline.leaveShare : sightline.share;
      hold(gates.sightIn, gates.sightS, k, share >= needed && share > 0, sightline.dwellS, f.timeS, atOnce);
    }
    const blocked = gates.sightIn[k] === 0;
    if (sightline.answer === 'dim') f.dimmed[row] = blocked || (show !== undefined && f.dimmed[row]) ? 1 : 0;
    if (!blocked || sightline.answer !== 'hide') continue;
    f.gatePassed[k] = 0;
    if (row < c.anchoredCount) f.failed[row] = Verdict.Sightline;
  }
}
