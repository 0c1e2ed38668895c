/** What a gauge shows of its feed's value: a share of the whole, softened in time, with the loss just suffered behind it. */
import type { Element, FeedValue, Gauge } from '@foreshore/document/types';
import type { SolveContext } from './solve-context.ts';

/** How the value of a gauge's feed stands. Whatever is not fine must look like that, never like full or empty. */
export enum GaugeState {
  Fine = 0,
  /** No feed, or one without a value. */
  Missing = 1,
  /** The value is not a number. */
  NotNumber = 2,
  /** Beyond its empty or its full end. */
  Under = 3,
  Over = 4,
}

/** What follows a feed between two of its values: how it does is said by the fields that its kind has. */
interface Follower {
  kind: Element['kind'];
  source: string | null;
  empty: number;
  full: number;
  /** Follows with this time constant; 0: at once. */
  smoothS?: number;
  ghost?: Gauge['ghost'];
  /** Rises at once and falls by this share of the whole a second; null: it follows at once. */
  fallPerS?: number | null;
  /** Rises at once and falls with this time constant. */
  recoverS?: number;
}

export const shareOf = ({ empty, full }: { empty: number; full: number }, value: number): number => (value - empty) / (full - empty);

export function gaugeState(gauge: { empty: number; full: number }, value: FeedValue | undefined): GaugeState {
  if (value === undefined) return GaugeState.Missing;
  if (typeof value !== 'number' || !Number.isFinite(value)) return GaugeState.NotNumber;
  const share = shareOf(gauge, value);
  // Rounding of a value that stands at an end is not beyond it.
  return share < -1e-9 ? GaugeState.Under : share > 1 + 1e-9 ? GaugeState.Over : GaugeState.Fine;
}

/** The colour a value is painted in: of the first threshold it is below, else the fill. A value at a bound belongs to what is above. */
export const gaugeColour = (gauge: Gauge, value: number): string =>
  gauge.thresholds.find(({ below }) => value < below)?.colour ?? gauge.paint.fill;

/**
 * Moves all gauges on by the step of the frame. The smoothing is exact for a value that runs straight over the step:
 * with v = (x1 − x0)/dt, y1 = x1 − vτ + (y0 − x0 + vτ)·e^(−dt/τ). With empty memory they stand at their value.
 * What rises at once and falls with a time constant takes the greater of its value and that.
 */
export function moveGauges({ c, f, m }: SolveContext): void {
  const fresh = Number.isNaN(m.timeS);
  const dt = fresh ? 0 : f.timeS - m.timeS;
  for (let g = 0; g < c.gauges.length; g++) {
    const gauge = c.elements[c.gauges[g] as number] as Element as Follower;
    const value = f.values[c.gaugeFeed[g] as number];
    // Without a feed, screen paint is always there in full.
    const always = gauge.kind === 'screenPaint' && gauge.source === null;
    const state = always ? GaugeState.Fine : gaugeState(gauge, value);
    f.gaugeState[g] = state;
    if (always) {
      f.gaugeShare[g] = 1;
      continue;
    }
    if (state === GaugeState.Missing || state === GaugeState.NotNumber) {
      m.gaugeIn[g] = 0;
      f.gaugeShare[g] = 0;
      f.gaugeGhost[g] = 0;
      continue;
    }
    const target = Math.max(0, Math.min(1, shareOf(gauge, value as number)));
    if (fresh || !m.gaugeIn[g] || dt < 0) {
      m.gaugeIn[g] = 1;
      m.gaugeShown[g] = target;
      m.gaugeGhost[g] = target;
      m.gaugeDropS[g] = Number.NEGATIVE_INFINITY;
    } else if (dt > 0) {
      const before = m.gaugeTarget[g] as number;
      const was = m.gaugeShown[g] as number;
      const smoothed = smooth(was, before, target, gauge.smoothS ?? gauge.recoverS ?? 0, dt);
      m.gaugeShown[g] = gauge.recoverS === undefined ? smoothed : Math.max(target, smoothed);
      if (target < before) m.gaugeDropS[g] = f.timeS;
      if (gauge.fallPerS != null) m.gaugeShown[g] = m.gaugeGhost[g] = Math.max(target, (m.gaugeGhost[g] as number) - gauge.fallPerS * dt);
      else if (gauge.fallPerS === undefined) moveGhost(m, g, gauge.ghost ?? null, f.timeS, dt);
    }
    m.gaugeTarget[g] = target;
    f.gaugeShare[g] = Math.max(0, Math.min(1, m.gaugeShown[g] as number));
    f.gaugeGhost[g] = m.gaugeGhost[g] as number;
  }
}

/** Where a value that followed `was` stands after a step in which its target ran evenly from `before` to `target`. */
function smooth(was: number, before: number, target: number, tau: number, dt: number): number {
  const rate = (target - before) / dt;
  return tau > 0 ? target - rate * tau + (was - before + rate * tau) * Math.exp(-dt / tau) : target;
}

/** The ghost stands for its hold after the last drop, then runs off evenly; it is never less than what is shown. */
function moveGhost(m: SolveContext['m'], g: number, ghost: Gauge['ghost'], timeS: number, dt: number): void {
  const shown = m.gaugeShown[g] as number;
  const runs = ghost ? Math.max(0, Math.min(dt, timeS - (m.gaugeDropS[g] as number) - ghost.holdS)) * ghost.perS : 1;
  m.gaugeGhost[g] = Math.max(shown, (m.gaugeGhost[g] as number) - runs);
}
