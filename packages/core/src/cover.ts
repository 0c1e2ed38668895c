/** What covers what: the share of what an element draws that others lie over, as they are painted or as panels stand. */
import { KINDS } from '@foreshore/document/kinds';
import type { Element } from '@foreshore/document/types';
import { channels } from './contrast.ts';
import { isSeen, paintedRows } from './draw-list.ts';
import { onceAFrame } from './once-a-frame.ts';
import { within } from './pointer.ts';
import { screenBox, showsThrough } from './screen-box.ts';
import type { SolveContext } from './solve-context.ts';
import { depthAtPixelM, PanelAt } from './spaces/panel.ts';
import { clippingRow } from './steps/members.ts';
import { Verdict } from './steps/names.ts';

/** Whether an element paints over what lies behind it: it has a plate, or is one. */
export function paints({ c }: SolveContext, row: number): boolean {
  const element = c.elements[row];
  const covers = element ? KINDS[element.kind].covers : 'never';
  const plate = element && 'plate' in element.paint && typeof element.paint.plate === 'object' ? element.paint.plate : null;
  return covers === 'always' || (covers === 'plate' && plate !== null && (channels(plate.colour)[3] as number) > 0.3);
}

/** What lies on a panel that is covered where another panel stands before it: which panel, or −1. */
const standsOn = ({ c }: SolveContext, row: number): number =>
  showsThrough(c.elements[c.root[row] as number] as Element) ? -1 : (c.panelOf[row] as number);

/** Panels that touch do not cover one another, metres. */
const TOUCH_M = 1e-3;

/** Whether there is nothing between what lies in it: a group without a plate. */
const isAir = ({ c }: SolveContext, row: number): boolean => {
  const element = c.elements[row];
  return element?.kind === 'instance' || (element?.kind === 'group' && element.paint.plate === null);
};

/** What a row draws: itself, or of a group without a plate what is drawn inside of it. */
export function drawnIn(ctx: SolveContext, row: number): number[] {
  if (!isAir(ctx, row)) return [row];
  return (ctx.c.members[row] ?? []).filter((member) => isSeen(ctx, member)).flatMap((member) => drawnIn(ctx, member));
}

/** The same where it need not lie on the frame; a list that scrolls is where it is seen. */
export function placedIn(ctx: SolveContext, row: number): number[] {
  const { c, f } = ctx;
  const element = c.elements[row];
  if (!isAir(ctx, row) || (element?.kind === 'group' && element.layout.scroll)) return [row];
  const isThere = (member: number): boolean => isSeen(ctx, member) || (f.failed[member] === Verdict.Place && clippingRow(ctx, member) < 0);
  return (c.members[row] ?? []).filter(isThere).flatMap((member) => placedIn(ctx, member));
}

/** The upright box about several rows as they are seen. */
function boxAbout(ctx: SolveContext, rows: readonly number[]): [number, number, number, number] {
  let [left, top, right, bottom] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const row of rows) {
    const [x, y, w, h] = screenBox(ctx, row);
    if (Number.isNaN(x)) continue;
    [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x + w), Math.max(bottom, y + h)];
  }
  return [left, top, right - left, bottom - top];
}

/** What of a frame may cover others, in the order in which it is painted, and where each outermost row stands in that order, or −1. */
const coverersOf = onceAFrame((ctx): { rows: readonly number[]; painted: Int32Array } => {
  const { c } = ctx;
  const order = paintedRows(ctx);
  const painted = new Int32Array(c.count).fill(-1);
  order.forEach((row, k) => {
    if (c.root[row] === row) painted[row] = k;
  });
  return { rows: order.filter((row) => isSeen(ctx, row) && paints(ctx, row)), painted };
});

/** The share of what an element draws that others painted after it lie over; of one on a panel, other panels that stand before it there: counted on a grid. */
export function coverOf(ctx: SolveContext, row: number): { share: number; by: number } {
  const { c, f, a } = ctx;
  const top = c.root[row] as number;
  const drawn = drawnIn(ctx, row);
  const itself = drawn.length === 1 && drawn[0] === row;
  const [x, y, w, h] = boxAbout(ctx, drawn);
  const onPanel = (c.panelOf[row] as number) >= 0;
  const panel = standsOn(ctx, row);
  const seen = { rotation: f.rotation, eye: f.eye, projection: a.projection };
  const depthM = (of: number, px: number, py: number) => depthAtPixelM(f.panels, of * PanelAt.Stride, seen, px, py);
  /** Rows that may cover, each with the panel by whose depth that is told, or −1 where it is painted after. */
  const over: { other: number; by: number }[] = [];
  const { rows, painted } = coverersOf(ctx);
  const own = painted[top] as number;
  for (const other of rows) {
    const root = c.root[other] as number;
    if (root === top) continue;
    const by = panel >= 0 ? standsOn(ctx, other) : -1;
    if (!((own >= 0 && (painted[root] as number) > own) || by >= 0)) continue;
    const rect = screenBox(ctx, other);
    if (rect[0] < x + w && rect[0] + rect[2] > x && rect[1] < y + h && rect[1] + rect[3] > y) over.push({ other, by });
  }
  if (over.length === 0) return { share: 0, by: -1 };
  const [N, M] = [20, 10];
  let [covered, all] = [0, 0];
  const counts = new Map<number, number>();
  for (let j = 0; j < M; j++)
    for (let k = 0; k < N; k++) {
      const [px, py] = [x + ((k + 0.5) / N) * w, y + ((j + 0.5) / M) * h];
      // Of a panel the upright box about it is more than itself, and a group without a plate is as good as air between its members.
      if (itself ? onPanel && !within(ctx, row, px, py) : !drawn.some((one) => within(ctx, one, px, py))) continue;
      all++;
      const hereM = panel >= 0 ? depthM(panel, px, py) - TOUCH_M : Number.NaN;
      const found = over.find(({ other, by }) => within(ctx, other, px, py) && !(by >= 0 && depthM(by, px, py) >= hereM))?.other;
      if (found === undefined) continue;
      covered++;
      counts.set(found, (counts.get(found) ?? 0) + 1);
    }
  const [by = -1] = [...counts].sort((p, q) => q[1] - p[1])[0] ?? [];
  return { share: all === 0 ? 0 : covered / all, by };
}
