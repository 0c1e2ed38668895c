/** Place: where the box of an element lies on the frame, and how much of it is cut off. */
import { Gathered } from '../frame.ts';
import type { Fact, Outcome } from '../outcome.ts';
import { placeShortfalls } from '../readable.ts';
import { screenBox } from '../screen-box.ts';
import type { SolveContext } from '../solve-context.ts';
import { awayM, detailMeasure } from '../steps/form.ts';
import { clippingRow, isRowOnFrame } from '../steps/members.ts';
import { Verdict } from '../steps/names.ts';
import { placeRow } from '../steps/place.ts';

export function explainPlace(ctx: SolveContext, i: number): Outcome {
  const { a, c } = ctx;
  const { widthPx, heightPx } = a.projection;
  // Boxes of the HUD and of members are in the frame whether they are shown or not; a floating one is worked out for the asking.
  if (i < c.floatingCount) placeRow(ctx, i);
  const [x, y, w, h] = screenBox(ctx, i);
  if (Number.isNaN(x)) return { passes: false, facts: [{ kind: 'noPlaceBehind' }] };
  const box: Fact = { kind: 'box', widthPx: w, heightPx: h };
  // What a group paints beyond itself may be on the frame though its own box is not.
  const decides = (c.parent[i] as number) < 0 || c.members[i]?.length === 0;
  if (decides && !isRowOnFrame(ctx, i))
    return { passes: false, facts: [box, { kind: 'offFrame', byPx: Math.max(x - widthPx, y - heightPx, -(x + w), -(y + h)) }] };
  const taken = i < c.floatingCount ? (ctx.f.apartBy[i] as number) : -1;
  if (taken >= 0) return { passes: false, facts: [box, { kind: 'noRoom', by: c.ids[taken] as string }] };
  const gathered = i < c.floatingCount ? gatheredFact(ctx, i) : null;
  if (gathered) return { passes: false, facts: [box, gathered] };
  const by = clippingRow(ctx, i);
  if (by >= 0) return { passes: false, facts: [box, { kind: 'clippedAway', group: c.ids[by] as string }] };
  const short = placeShortfalls(ctx, i);
  const px = Math.hypot(ctx.f.apartX[i] as number, ctx.f.apartY[i] as number);
  const made: Fact[] = px > 0 ? [{ kind: 'madeRoom', px }] : [];
  const form = c.formed.indexOf(i);
  const detail = c.elements[i]?.place.detail;
  if (form >= 0 && detail)
    made.push({
      kind: 'inDetail',
      detail: ctx.m.detail[form] as number,
      of: detail.at.length + 1,
      by: detail.by,
      value: detailMeasure(ctx, i, detail.by),
    });
  const many = i < c.floatingCount ? (ctx.f.standsFor[i] as number) : 1;
  if (many > 1) made.push({ kind: 'standsFor', count: many });
  return { passes: true, short: short.length > 0, facts: [box, ...made, ...short.map((of): Fact => ({ kind: 'short', of }))] };
}

/** Why one of many of its kind is not shown. */
function gatheredFact(ctx: SolveContext, i: number): Fact | null {
  const { c, f, m } = ctx;
  const most = c.elements[i]?.place.many?.most;
  if (f.gathered[i] === Gathered.Beyond && most) {
    const distanceM = awayM(ctx, i);
    const others = c.crowds.find(({ rows }) => rows.includes(i))?.rows ?? [];
    // Merged ones are shown as well, by those that stand for them.
    const isCounted = (row: number): boolean => most.among === 'all' || f.failed[row] === Verdict.Shown || f.gathered[row] !== Gathered.No;
    const nth = others.filter((row) => row !== i && isCounted(row) && awayM(ctx, row) < distanceM).length + 1;
    return { kind: 'beyondNearest', most: most.count, among: most.among, distanceM, nth: Math.max(nth, most.count + 1) };
  }
  const into = m.mergedInto[i] as number;
  return f.gathered[i] === Gathered.Merged ? { kind: 'mergedInto', into: c.ids[into] as string, count: f.standsFor[into] as number } : null;
}
