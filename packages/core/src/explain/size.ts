/** Size: how large an element is for the viewer. */
import { Setting } from '../arrange.ts';
import { At } from '../frame.ts';
import type { Fact, Outcome } from '../outcome.ts';
import { capArcminAt } from '../readable.ts';
import type { SolveContext } from '../solve-context.ts';
import { placeRow } from '../steps/place.ts';
import { naturalEm, sizeIn } from '../steps/size.ts';

export function explainSize(ctx: SolveContext, i: number): Outcome {
  const { a, c, f, m, head } = ctx;
  const fact = (em: number): Fact => {
    const capEm = a.blocks[i]?.capHeightEm;
    if (capEm === undefined) return { kind: 'designPixel', px: em };
    return { kind: 'capitals', px: em * capEm, arcmin: capArcminAt(ctx, i, em * capEm) };
  };
  const at = (head + i) * At.Stride;
  if (i >= c.floatingCount) return { passes: true, facts: [fact(f.places[at + At.UnitPx] as number)] };
  sizeIn(ctx, i, head);
  placeRow(ctx, i);
  const row = a.settingsOf[i] as number;
  const depthM = f.places[at + At.DepthM] as number;
  if (!(depthM > a.projection.nearM)) return { passes: true, facts: [{ kind: 'noSizeBehind' }] };
  const natural = naturalEm(ctx, i, head);
  const floorPx = a.settings[row + (m.sizeIn[i] ? Setting.FloorHeldPx : Setting.FloorPx)] as number;
  if (natural < floorPx) return { passes: false, facts: [{ kind: 'belowFloor', px: natural, floorPx }] };
  return { passes: true, facts: [fact(f.places[at + At.UnitPx] as number)] };
}
