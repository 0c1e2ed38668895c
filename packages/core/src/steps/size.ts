/**
 * Size: how large is it for this viewer, and is that enough to bother? The em before its limits is so many pixels, plus so many
 * metres at the anchor's depth; one by angle is larger toward the edges of the screen, where the eye is farther away.
 */

import { At } from '../frame.ts';
import { Setting, SettingFlag } from '../settings.ts';
import type { SolveContext } from '../solve-context.ts';
import { pixelsPerMetre } from '../spaces/lens.ts';
import { scaleForAngle } from '../spaces/screen.ts';
import { Verdict } from './names.ts';

function limit(rows: Float64Array, row: number, natural: number): number {
  const least = rows[row + Setting.LeastPx] as number;
  const greatest = rows[row + Setting.GreatestPx] as number;
  return natural < least ? least : Math.min(natural, greatest);
}

/** The em of a row before its limits, pixels, as the head sees it. */
export function naturalEm({ a, f }: Pick<SolveContext, 'a' | 'f'>, i: number): number {
  const { settings: rows } = a;
  const from = a.settingsOf[i] as number;
  const at = i * At.Stride;
  const perMetre = pixelsPerMetre(a.projection, f.places[at + At.DepthM] as number);
  const em = (rows[from + Setting.EmPx] as number) + (rows[from + Setting.EmM] as number) * perMetre;
  const byAngle = ((rows[from + Setting.Flags] as number) & SettingFlag.ByAngle) !== 0;
  return byAngle ? em * scaleForAngle(a.eye, f.places[at + At.PointX] as number, f.places[at + At.PointY] as number) : em;
}

/** Writes the em of an element as the head sees it. */
export function sizeIn(ctx: SolveContext, i: number): void {
  ctx.f.places[i * At.Stride + At.UnitPx] = limit(ctx.a.settings, ctx.a.settingsOf[i] as number, naturalEm(ctx, i));
}

/** Refuses what is smaller than its floor. Before it, `At.UnitPx` holds the pixels that a metre takes at the anchor; after it, the em. */
export function runSize({ a, f, m }: SolveContext, from: number, to: number): void {
  const { failed, places, isTick } = f;
  const held = m.sizeIn;
  const { settings: rows, settingsOf, anyByAngle } = a;
  for (let i = from; i < to; i++) {
    if (failed[i] !== Verdict.Shown) continue;
    const row = settingsOf[i] as number;
    const at = i * At.Stride;
    let natural = (rows[row + Setting.EmPx] as number) + (rows[row + Setting.EmM] as number) * (places[at + At.UnitPx] as number);
    if (anyByAngle && ((rows[row + Setting.Flags] as number) & SettingFlag.ByAngle) !== 0)
      natural *= scaleForAngle(a.eye, places[at + At.PointX] as number, places[at + At.PointY] as number);
    if (natural >= (rows[row + (held[i] ? Setting.FloorHeldPx : Setting.FloorPx)] as number)) {
      places[at + At.UnitPx] = limit(rows, row, natural);
      if (isTick) held[i] = 1;
    } else {
      failed[i] = Verdict.Size;
      if (isTick) held[i] = 0;
    }
  }
}
