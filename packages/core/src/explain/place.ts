/** Place: where the box of an element lies on the frame, and how much of it is cut off. */
import type { Fact, Outcome } from '../outcome.ts';
import { placeShortfalls } from '../readable.ts';
import { screenBox } from '../screen-box.ts';
import type { SolveContext } from '../solve-context.ts';
import { clippingRow, isRowOnFrame } from '../steps/members.ts';
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
  const by = clippingRow(ctx, i);
  if (by >= 0) return { passes: false, facts: [box, { kind: 'clippedAway', group: c.ids[by] as string }] };
  const short = placeShortfalls(ctx, i);
  const px = Math.hypot(ctx.f.apartX[i] as number, ctx.f.apartY[i] as number);
  const made: Fact[] = px > 0 ? [{ kind: 'madeRoom', px }] : [];
  return { passes: true, short: short.length > 0, facts: [box, ...made, ...short.map((of): Fact => ({ kind: 'short', of }))] };
}
