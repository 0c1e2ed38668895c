/** Size: how large is it for this viewer, and is that enough to bother? */
import { Row } from '../arrange.ts';
import { formatArcmin, formatPixels } from '../format.ts';
import { At } from '../frame.ts';
import { pixelsPerMetre } from '../spaces/lens.ts';
import { Verdict } from './names.ts';
import type { Outcome, Step, Work } from './step.ts';

/** The em before its limits, pixels. */
const naturalEm = (rows: Float64Array, row: number, perMetre: number): number =>
  (rows[row + Row.EmPx] as number) + (rows[row + Row.EmM] as number) * perMetre;

function limit(rows: Float64Array, row: number, natural: number): number {
  const least = rows[row + Row.LeastPx] as number;
  const greatest = rows[row + Row.GreatestPx] as number;
  return natural < least ? least : Math.min(natural, greatest);
}

/** Writes the em of an element for one view's row. */
export function sizeIn({ a, f }: Work, i: number, row: number): void {
  const at = (row + i) * At.Stride;
  f.places[at + At.EmPx] = limit(
    a.rows,
    i * Row.Stride,
    naturalEm(a.rows, i * Row.Stride, pixelsPerMetre(a.projection, f.places[at + At.DepthM] as number)),
  );
}

function run({ a, f, m, head }: Work, from: number, to: number): void {
  const { failed, places, isTick } = f;
  const held = m.sizeIn;
  const { rows } = a;
  for (let i = from; i < to; i++) {
    if (failed[i] !== Verdict.Shown) continue;
    const row = i * Row.Stride;
    const at = (head + i) * At.Stride;
    const natural = naturalEm(rows, row, places[at + At.EmPx] as number);
    if (natural >= (rows[row + (held[i] ? Row.FloorHeldPx : Row.FloorPx)] as number)) {
      places[at + At.EmPx] = limit(rows, row, natural);
      if (isTick) held[i] = 1;
    } else {
      failed[i] = Verdict.Size;
      if (isTick) held[i] = 0;
    }
  }
}

function explain(work: Work, i: number): Outcome {
  const { a, c, f, m, head } = work;
  const says = (em: number): string => {
    const capEm = a.blocks[i]?.capHeightEm;
    if (capEm === undefined) return `${formatPixels(em)} px for a design pixel`;
    return `capitals ${formatPixels(em * capEm)} px, ${formatArcmin((em * capEm) / a.pixelsPerArcmin)} arcmin`;
  };
  if (i >= c.floatingCount) return { passes: true, says: says(f.places[(head + i) * At.Stride + At.EmPx] as number) };
  sizeIn(work, i, head);
  const [row, at] = [i * Row.Stride, (head + i) * At.Stride];
  const depthM = f.places[at + At.DepthM] as number;
  const natural = naturalEm(a.rows, row, pixelsPerMetre(a.projection, depthM));
  const floor = a.rows[row + (m.sizeIn[i] ? Row.FloorHeldPx : Row.FloorPx)] as number;
  if (!(depthM > a.projection.nearM)) return { passes: true, says: 'has no size behind the viewer' };
  if (natural < floor) return { passes: false, says: `text ${formatPixels(natural)} px, hidden below ${formatPixels(floor)} px` };
  return { passes: true, says: says(f.places[at + At.EmPx] as number) };
}

export const size: Step = { name: 'size', applies: ({ c }, i) => i < c.floatingCount || c.elements[i]?.kind === 'label', run, explain };
