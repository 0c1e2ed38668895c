/** What a change did to elements that it did not touch: a frame before it and one after it, at the same moment, row by row. */
import { measureReadable, type Shortfall, type SolveContext, screenBox, Verdict } from '@foreshore/core';
import { type Document, groupOf, sameJson } from '@foreshore/document';

/** How a row stands in a frame. */
export interface Standing {
  element: string;
  shown: boolean;
  /** Left, top, width and height, the viewer's pixels; null where it is not shown, or takes no room. */
  box: readonly [number, number, number, number] | null;
  /** What of it falls short. */
  short: readonly Shortfall['kind'][];
}

/** Rows of a frame by their ids. */
export type Standings = ReadonlyMap<string, Standing>;

/** What happened to a row. */
export type Effect =
  | { kind: 'hidden' | 'shown' }
  /** It is shown as before, and this falls short now. */
  | { kind: 'short'; short: Shortfall['kind'] }
  /** By so many pixels: its middle, or the longer of its sides. */
  | { kind: 'moved' | 'resized'; px: number };
export type SideEffect = { element: string } & Effect;

/** Less is not seen: boxes at rest lie on whole pixels, others are rounded when they are painted. */
const SEEN_PX = 0.5;

/** How a row stands. @param faults whether what falls short of it is measured. */
export function standingOf(frame: SolveContext, row: number, faults: boolean): Standing {
  const shown = frame.f.failed[row] === Verdict.Shown;
  const box = shown ? screenBox(frame, row) : null;
  return {
    element: frame.c.sources[row] as string,
    shown,
    box: box && !Number.isNaN(box[0]) ? box : null,
    short: shown && faults ? measureReadable(frame, row).faults.map(({ kind }) => kind) : [],
  };
}

/** How everything in a frame stands, a row at a time: whoever must not be silent for long stops in between, as long as the frame stands. */
export function* standingsInParts(frame: SolveContext): Generator<void, Standings> {
  const out = new Map<string, Standing>();
  for (let row = 0; row < frame.f.count; row++) {
    out.set(frame.c.ids[row] as string, standingOf(frame, row, true));
    yield;
  }
  return out;
}

/** Whether all that can be seen of two elements is the same: not what they are called on the bench. */
const looksSame = (a: Document['elements'][string], b: Document['elements'][string]): boolean =>
  sameJson({ ...a, name: '' }, { ...b, name: '' });

/** Whether an element, or a group that carries it, is another than it was: what happens to it was meant. */
export function isTouched(id: string, was: Document, now: Document): boolean {
  for (let at: string | null = id; at !== null; ) {
    const [before, after]: (Document['elements'][string] | undefined)[] = [was.elements[at], now.elements[at]];
    if (!before || !after || (before !== after && !looksSame(before, after))) return true;
    at = groupOf(after);
  }
  return false;
}

/** How much each kind weighs: of what happened to the rows of one element the worst is told. */
const WEIGHT: Record<Effect['kind'], number> = { hidden: 3, short: 2, shown: 1, resized: 0, moved: 0 };
const pixels = (effect: Effect): number => ('px' in effect ? effect.px : 0);
/** The worse goes before, for sorting. */
export const worseFirst = (a: Effect, b: Effect): number => WEIGHT[b.kind] - WEIGHT[a.kind] || pixels(b) - pixels(a);

/** By how many pixels a box moved, and by how many it grew or shrank. */
function pixelsBetween([x0, y0, w0, h0]: NonNullable<Standing['box']>, [x1, y1, w1, h1]: NonNullable<Standing['box']>) {
  const resized = Math.max(Math.abs(w1 - w0), Math.abs(h1 - h0));
  return { resized, moved: Math.hypot(x1 - x0 + (w1 - w0) / 2, y1 - y0 + (h1 - h0) / 2) };
}

/** The worst that happened to a row; null: nothing that is seen. */
export function betweenRows(before: Standing, after: Standing): Effect | null {
  if (before.shown !== after.shown) return { kind: after.shown ? 'shown' : 'hidden' };
  const short = after.short.find((kind) => !before.short.includes(kind));
  if (short) return { kind: 'short', short };
  if (!before.box || !after.box) return null;
  const { resized, moved } = pixelsBetween(before.box, after.box);
  if (Math.max(resized, moved) < SEEN_PX) return null;
  // What moves far may be a pixel smaller there, and what grows moves its middle.
  return moved > resized ? { kind: 'moved', px: moved } : { kind: 'resized', px: resized };
}

/** Whether this very thing happened to a row, whatever else did; of pixels, at least half as many. */
export function happened(effect: Effect, before: Standing, after: Standing): boolean {
  if ('px' in effect)
    return before.box !== null && after.box !== null && pixelsBetween(before.box, after.box)[effect.kind] >= effect.px / 2;
  if ('short' in effect) return before.shown && after.short.includes(effect.short) && !before.short.includes(effect.short);
  return before.shown !== after.shown && after.shown === (effect.kind === 'shown');
}

/**
 * What a change did to elements that it did not touch, one for each, the worst first.
 * @param before, after the same viewer at the same moment. Rows that only one of them has are of elements that came or went.
 */
export function sideEffects(before: Standings, after: Standings, was: Document, now: Document): SideEffect[] {
  const worst = new Map<string, SideEffect>();
  for (const [row, standing] of after) {
    const former = before.get(row);
    const effect = former && betweenRows(former, standing);
    const { element } = standing;
    if (!effect || isTouched(element, was, now)) continue;
    const known = worst.get(element);
    if (!known || worseFirst(effect, known) < 0) worst.set(element, { element, ...effect });
  }
  return [...worst.values()].sort(worseFirst);
}
