/**
 * Letters on letters: of two texts that lie over one another without a plate between them neither can be read. Where the one in front has
 * a plate, or lies on one, it covers the other instead. Panels are left out: of two of them the nearer is in front.
 */
import type { Label } from '@foreshore/document/types';
import { isSeen, opacityOf, paintedRows } from './draw-list.ts';
import { At, placeOf } from './frame.ts';
import { onceAFrame } from './once-a-frame.ts';
import { turnDegOf, turnedBack, within } from './pointer.ts';
import type { SolveContext } from './solve-context.ts';

/** A line's letters reach so far below its baseline, em. */
const BELOW_EM = 0.22;
const ALIGNED = { start: 0, centre: 0.5, end: 1 } as const;
/** Each line is looked at in so many places along it, and across. */
const ALONG = 24;
const ACROSS = 3;
/** What is fainter is on its way in or out. */
const FAINT = 0.3;

type Box = [left: number, top: number, right: number, bottom: number];

/** The lines of a text as they are painted, from capitals to descenders, pixels, before it is turned. */
function linesOf({ a, c, f }: SolveContext, row: number): Box[] {
  const block = a.blocks[row];
  if (!block) return [];
  const { paint } = c.elements[row] as Label;
  const { rect, emPx } = placeOf(f, row);
  const [x, y, width, height] = rect;
  const [padX, padY] = paint.plate?.padEm ?? [0, 0];
  const left = x + padX * emPx + Math.max(0, width - (block.widthEm + 2 * padX) * emPx) * ALIGNED[paint.align];
  const top = y + padY * emPx + Math.max(0, (height - (block.heightEm + 2 * padY) * emPx) / 2);
  const out: Box[] = [];
  for (const { text, xEm, baselineEm, widthEm } of block.lines) {
    if (text.trim() === '') continue;
    const baseline = top + baselineEm * emPx;
    out.push([left + xEm * emPx, baseline - block.capHeightEm * emPx, left + (xEm + widthEm) * emPx, baseline + BELOW_EM * emPx]);
  }
  return out;
}

/** Whether a row, or a group around it, has a plate that it lies on. @param paints says so of one. */
function onPlate({ c }: SolveContext, row: number, paints: (row: number) => boolean): boolean {
  for (let at = row; at >= 0; at = c.parent[at] as number) if (paints(at)) return true;
  return false;
}

function isTurned(ctx: SolveContext, row: number): boolean {
  for (let at = row; at >= 0; at = ctx.c.parent[at] as number) if (turnDegOf(ctx, at) !== 0) return true;
  return false;
}

/** Where each row stands in the order in which they are painted, and the texts that lie on no panel and are seen well. */
const textsOf = onceAFrame((ctx): { painted: Int32Array; seen: readonly number[] } => {
  const { c } = ctx;
  const painted = new Int32Array(c.count);
  const seen: number[] = [];
  paintedRows(ctx).forEach((row, k) => {
    painted[row] = k;
    if (c.elements[row]?.kind !== 'label' || (c.panelOf[row] as number) >= 0) return;
    if (isSeen(ctx, row) && opacityOf(ctx, row) >= FAINT) seen.push(row);
  });
  return { painted, seen };
});

/**
 * The greatest share of a text's letters that lie on those of others, and the row that has most of it; −1 where none has.
 * @param paints whether a row paints over what lies behind it.
 */
export function overlapOf(ctx: SolveContext, row: number, paints: (row: number) => boolean): { share: number; by: number } {
  const { c, f } = ctx;
  const none = { share: 0, by: -1 };
  if ((c.panelOf[row] as number) >= 0 || isTurned(ctx, row)) return none;
  const own = linesOf(ctx, row);
  if (own.length === 0) return none;
  let [left, top, right, bottom] = own[0] as Box;
  for (const [x0, y0, x1, y1] of own) {
    left = Math.min(left, x0);
    top = Math.min(top, y0);
    right = Math.max(right, x1);
    bottom = Math.max(bottom, y1);
  }
  const others: number[] = [];
  const plated = onPlate(ctx, row, paints);
  const { painted, seen } = textsOf(ctx);
  for (const other of seen) {
    if (c.root[other] === c.root[row]) continue;
    const at = other * At.Stride;
    const [x, y] = [f.places[at + At.RectX] as number, f.places[at + At.RectY] as number];
    const away =
      x >= right || y >= bottom || x + (f.places[at + At.RectW] as number) <= left || y + (f.places[at + At.RectH] as number) <= top;
    if (away && !isTurned(ctx, other)) continue;
    // Whichever of them is in front must not bring a ground of its own.
    if ((painted[other] as number) > (painted[row] as number) ? !onPlate(ctx, other, paints) : !plated) others.push(other);
  }
  if (others.length === 0) return none;
  const lines = others.map((other) => linesOf(ctx, other));
  const counts = new Array<number>(others.length).fill(0);
  let [met, all] = [0, 0];
  for (const [x0, y0, x1, y1] of own)
    for (let j = 0; j < ACROSS; j++)
      for (let k = 0; k < ALONG; k++) {
        const [x, y] = [x0 + ((k + 0.5) / ALONG) * (x1 - x0), y0 + ((j + 0.5) / ACROSS) * (y1 - y0)];
        all++;
        const found = others.findIndex((other, n) => {
          const [px, py] = turnedBack(ctx, other, x, y);
          return (lines[n] as Box[]).some((box) => px >= box[0] && py >= box[1] && px < box[2] && py < box[3]) && within(ctx, other, x, y);
        });
        if (found < 0) continue;
        met++;
        counts[found] = (counts[found] as number) + 1;
      }
  return { share: met / all, by: met === 0 ? -1 : (others[counts.indexOf(Math.max(...counts))] as number) };
}
