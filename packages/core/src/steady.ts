/**
 * Anchors that jitter, steadied: a low-pass filter whose cutoff rises with speed, so that what rests is calm and what moves hardly lags
 * (the 1 euro filter; Casiez, Roussel and Vogel, CHI 2012), over places in the world: the camera's own movement is not filtered.
 *
 * What is remembered is written at ticks; between two ticks the filter runs on from the last one. So the same is remembered at the same
 * tick whatever the rate of frames.
 */
import { MIDPOINT, type Steady } from './compiled.ts';
import type { SolveContext } from './solve-context.ts';

/** Cutoff of the filter over speeds, Hz. */
const SPEED_CUTOFF_HZ = 1;
/** After a longer pause it begins anew, seconds. */
const PAUSE_S = 0.5;

/** What share of the way a low-pass filter goes in a time: exact for an input that stands. */
export const shareIn = (cutoffHz: number, stepS: number): number => 1 - Math.exp(-2 * Math.PI * cutoffHz * stepS);
/** How far behind what is steadied is, at a steady speed: the time constant of its filter, milliseconds. */
export const lagMs = ({ cutoffHz, perMps }: Steady, speedMps: number): number => 1000 / (2 * Math.PI * (cutoffHz + perMps * speedMps));

/** After anchors have been placed as they are. */
export function steadyAnchors({ c, f, m }: SolveContext): void {
  const { steadied, anchorKind, anchorFirst, anchorSecond, anchorWorld } = c;
  const stepS = f.timeS - m.steadyS;
  const begins = !(stepS >= 0 && stepS <= PAUSE_S);
  for (let k = 0; k < steadied.length; k++) {
    const a = steadied[k] as number;
    const to = a * 3;
    if (anchorKind[a] === MIDPOINT) {
      const first = (anchorFirst[a] as number) * 3;
      const second = (anchorSecond[a] as number) * 3;
      for (let i = 0; i < 3; i++) anchorWorld[to + i] = ((anchorWorld[first + i] as number) + (anchorWorld[second + i] as number)) / 2;
    }
    const steady = c.steadies[k];
    if (!steady) continue;
    const own = k * 3;
    let speed = 0;
    for (let i = 0; i < 3; i++) {
      const raw = anchorWorld[to + i] as number;
      const before = m.steadyRaw[own + i] as number;
      const was = m.steadySpeed[own + i] as number;
      const now = begins || stepS === 0 ? was : was + shareIn(SPEED_CUTOFF_HZ, stepS) * ((raw - before) / stepS - was);
      if (f.isTick) {
        m.steadyRaw[own + i] = raw;
        m.steadySpeed[own + i] = begins ? 0 : now;
      }
      speed += now * now;
    }
    const share = begins ? 1 : shareIn(steady.cutoffHz + steady.perMps * Math.sqrt(speed), stepS);
    for (let i = 0; i < 3; i++) {
      const raw = anchorWorld[to + i] as number;
      const was = m.steadyAt[own + i] as number;
      const now = begins ? raw : was + share * (raw - was);
      if (f.isTick) m.steadyAt[own + i] = now;
      anchorWorld[to + i] = now;
    }
  }
  if (f.isTick) m.steadyS = f.timeS;
}
