/**
 * At rest, boxes of what floats lie on whole pixels, so that their letters are as sharp as can be and do not shimmer. At rest is what has
 * moved by less than a twentieth of a pixel since the last tick; it stays on its pixel until it would lie more than three quarters of one aside.
 */
import { At } from '../frame.ts';
import type { SolveContext } from '../solve-context.ts';
import { Verdict } from './names.ts';

const REST_PX = 0.05;
const STAYS_PX = 0.75;

/** After what floats has its place, as the head sees it. @param atOnce nothing is remembered: it is taken to rest. */
export function snapAtRest({ c, f, m }: SolveContext, atOnce: boolean): void {
  const { places } = f;
  for (let i = 0; i < c.floatingCount; i++) {
    if (f.failed[i] !== Verdict.Shown) {
      m.restX[i] = Number.NaN;
      m.snapX[i] = Number.NaN;
      continue;
    }
    const at = i * At.Stride;
    const x = places[at + At.RectX] as number;
    const y = places[at + At.RectY] as number;
    if (f.isTick) {
      const rests = atOnce || Math.hypot(x - (m.restX[i] as number), y - (m.restY[i] as number)) < REST_PX;
      m.restX[i] = x;
      m.restY[i] = y;
      const stays = Math.abs(x - (m.snapX[i] as number)) < STAYS_PX && Math.abs(y - (m.snapY[i] as number)) < STAYS_PX;
      if (!rests) m.snapX[i] = Number.NaN;
      else if (!stays) {
        m.snapX[i] = Math.round(x);
        m.snapY[i] = Math.round(y);
      }
    }
    if (Number.isNaN(m.snapX[i] as number)) continue;
    places[at + At.RectX] = m.snapX[i] as number;
    places[at + At.RectY] = m.snapY[i] as number;
  }
}
