/** Flicker: an element that changes twice within two seconds, the step that did it, and the leave value that cures it. */
import { type Arranged, explain, factIn, type Link, routeDurationS, STEPS, TICK_S, Verdict } from '@foreshore/core';
import type { Element, Route } from '@foreshore/document';
import { type Stretch, tellingRow } from './bands.ts';
import { Replay } from './replay.ts';
import { roundDown, roundUp } from './rounding.ts';

export const FLICKER_S = 2;
/** Bands are sampled every third tick, as in a check. */
const TICKS = 3;
/** Of a time in ticks. */
const ROUNDING = 1e-6;

export interface Flicker {
  fromS: number;
  toS: number;
  /** The step (index into STEPS) that took the element away: for so short a time, or after so short a time. */
  step: number;
  /** It was shown for so short a time, not hidden. */
  shown: boolean;
}

/** Where a band goes there and back within two seconds; what lies at an end of the route has no back. */
export function flickers(band: readonly Stretch[]): Flicker[] {
  // Readable or not, it is shown.
  const joined: Stretch[] = [];
  for (const b of band) {
    const last = joined.at(-1);
    const same = last && (last.verdict === Verdict.Shown) === (b.verdict === Verdict.Shown);
    if (same) last.toS = b.toS;
    else joined.push({ ...b });
  }
  return joined.slice(1, -1).flatMap(({ fromS, toS, verdict }, k): Flicker[] => {
    // Sums of ticks end in rounding.
    if (toS - fromS >= FLICKER_S - 1e-9) return [];
    const shown = verdict === Verdict.Shown;
    const after = joined[k + 2] as Stretch;
    return [{ fromS, toS, step: shown ? after.verdict : verdict, shown }];
  });
}

/** How restless an element is: changes of place and blinks, for each minute that it is shown; null where it is never shown. */
export function unrest(band: readonly Stretch[]): { moves: number; blinks: number } | null {
  const shown = band.filter(({ verdict }) => verdict === Verdict.Shown);
  const minutes = shown.reduce((sum, { fromS, toS }) => sum + toS - fromS, 0) / 60;
  if (!(minutes > 0)) return null;
  return { moves: shown.reduce((sum, { moves = 0 }) => sum + moves, 0) / minutes, blinks: flickers(band).length / minutes };
}

/** The leave value, or the time, that a cure changes; `value` in the unit of the field. */
export type CureField =
  | 'leaveM'
  | 'leaveDeg'
  | 'leavePx'
  | 'leaveShare'
  | 'sightDwellS'
  | 'claimDwellS'
  | 'lingerS'
  | 'sizeLeavePx'
  | 'reachDwellS';

/** How a route is walked through by what is arranged so. */
type Replayed = (arranged: Arranged) => Replay;
const asRecorded =
  (route: Route): Replayed =>
  (arranged) =>
    new Replay(arranged, route);

/** A change that keeps an element through a flicker. */
export interface Cure {
  field: CureField;
  value: number;
  part: Partial<Element>;
}

/** What the step measured while the element must be kept: the farthest, and the least free share of the sight. */
interface Extent {
  distanceM: number;
  angleDeg: number;
  outPx: number;
  freeShare: number;
  emPx: number;
}

/**
 * Works out the leave value from what the step measured during the flicker, and tries it on the route.
 * @param id the element's own id; of the many that it may stand for, the one that comes and goes is looked at.
 * @param replayed the route as it is walked through: under a variant, where it flickers there.
 */
export function cureOf(
  arranged: Arranged,
  route: Route,
  id: string,
  flicker: Flicker,
  again: (part: Partial<Element>) => Arranged,
  replayed: Replayed = asRecorded(route),
): Cure | null {
  const { compiled } = arranged;
  const replay = replayed(arranged);
  const row = flickeringRow(replay, rowsOf(arranged, id), flicker);
  const element = compiled.elements[row];
  const step = STEPS[flicker.step];
  if (!element || !step) return null;
  const extent: Extent = { distanceM: 0, angleDeg: 0, outPx: 0, freeShare: 1, emPx: Number.POSITIVE_INFINITY };
  const [fromS, toS] = keptThrough(flicker);
  const fit = arranged.fits[row] as number;
  // At every tick: what lies between two samples of the band may be farther out than either.
  const lastTick = Math.floor(Math.min(toS, routeDurationS(route)) / TICK_S + ROUNDING);
  for (let tick = Math.round(fromS / TICK_S); tick <= lastTick; tick++) {
    replay.at(tick * TICK_S);
    widen(
      extent,
      explain(replay.solver, row).find((link) => link.step === step),
      fit,
    );
  }
  const cure = cureFrom(element, step, extent, toS - fromS);
  if (!cure) return null;
  // As far as a change that cures this one could bring about another.
  const band = bandUntil(replayed(again(cure.part)), id, Math.min(toS + FLICKER_S, routeDurationS(route)));
  return flickers(band).some((other) => other.fromS < toS && other.toS > flicker.fromS) ? null : cure;
}

function widen(extent: Extent, link: Link | undefined, fit: number): void {
  const facts = link?.facts ?? [];
  extent.distanceM = Math.max(extent.distanceM, factIn(facts, 'distance')?.distanceM ?? 0);
  extent.angleDeg = Math.max(extent.angleDeg, factIn(facts, 'cone')?.angleDeg ?? 0);
  extent.outPx = Math.max(extent.outPx, (factIn(facts, 'outside')?.outPx ?? 0) / fit);
  extent.freeShare = Math.min(extent.freeShare, factIn(facts, 'sight')?.freeShare ?? 1);
  extent.emPx = Math.min(extent.emPx, (factIn(facts, 'belowFloor')?.px ?? Number.POSITIVE_INFINITY) / fit);
}

/** How long it must be kept that the flicker is none: through the gap, or for two seconds in all. */
const keptThrough = ({ fromS, toS, shown }: Flicker): [number, number] => (shown ? [toS, fromS + FLICKER_S + 0.1] : [fromS, toS]);

const rowsOf = ({ compiled }: Arranged, id: string): number[] => compiled.sources.flatMap((source, row) => (source === id ? [row] : []));

/** Of the rows of an element the one that shows for a moment, or that is away for one. */
function flickeringRow(replay: Replay, rows: readonly number[], { fromS, toS }: Flicker): number {
  for (const timeS of [(fromS + toS) / 2, fromS - 0.1, toS + 0.1]) {
    const { failed } = replay.at(Math.max(0, timeS));
    const shown = rows.find((row) => failed[row] === Verdict.Shown);
    if (shown !== undefined) return shown;
  }
  return rows[0] ?? -1;
}

/** The band of one element up to a time, as a check samples it: when it shows and by which step it does not; nothing is measured of how it reads. */
export function bandUntil(replay: Replay, id: string, lastS: number): Stretch[] {
  const rows = rowsOf(replay.solver.a, id);
  const out: Stretch[] = [];
  const samples = Math.ceil(lastS / (TICKS * TICK_S) - ROUNDING);
  for (let k = 0; k <= samples; k++) {
    // A whole number of ticks: at a time beside one, what was remembered would be gone through again.
    const timeS = Math.min(lastS, k * TICKS * TICK_S);
    const { failed } = replay.at(timeS);
    const verdict = failed[tellingRow(failed, rows)] as number;
    const last = out.at(-1);
    if (last) last.toS = timeS;
    if (last?.verdict !== verdict) out.push({ fromS: timeS, toS: timeS, verdict, short: null });
  }
  return out;
}
/** @param keptS how long it must be kept. */
function cureFrom(element: Element, step: (typeof STEPS)[number], most: Extent, keptS: number): Cure | null {
  const { range, look, sightline, view, show, claim, size } = element;
  const dwellS = roundUp(keptS + 0.15, 0.1);
  if (step === 'range' && range) {
    const value = Math.max(range.leaveM, roundUp(most.distanceM + 0.1, 0.1));
    return { field: 'leaveM', value, part: { range: { ...range, leaveM: value } } };
  }
  // Being looked at is told first where it is what fails: the frame's own outside is 0 then.
  if (step === 'view' && look?.by === 'cone' && most.outPx === 0) {
    const value = Math.min(180, Math.max(look.leaveDeg, roundUp(most.angleDeg + 1, 1)));
    return { field: 'leaveDeg', value, part: { look: { ...look, leaveDeg: value } } };
  }
  if (step === 'view' && look?.by === 'aim' && most.outPx === 0)
    return { field: 'reachDwellS', value: dwellS, part: { look: { ...look, dwellS } } };
  if (step === 'view') {
    const value = Math.max(view.leavePx, roundUp(most.outPx - view.outsidePx + 4, 1));
    return { field: 'leavePx', value, part: { view: { ...view, leavePx: value } } };
  }
  if (step === 'size' && Number.isFinite(most.emPx)) {
    const value = Math.min(size.hideBelowPx, Math.max(size.leavePx, roundUp(size.hideBelowPx - most.emPx + 0.1, 0.1)));
    return { field: 'sizeLeavePx', value, part: { size: { ...size, leavePx: value } as Element['size'] } };
  }
  if (step === 'sightline' && sightline) {
    const value = roundDown(most.freeShare, 0.01);
    return value > 0.02
      ? { field: 'leaveShare', value, part: { sightline: { ...sightline, leaveShare: Math.min(sightline.leaveShare, value) } } }
      : { field: 'sightDwellS', value: dwellS, part: { sightline: { ...sightline, dwellS } } };
  }
  if (step === 'claim' && claim) return { field: 'claimDwellS', value: dwellS, part: { claim: { ...claim, dwellS } } };
  if (step === 'phase' && show) {
    const value = Math.max(show.lingerS, dwellS);
    return { field: 'lingerS', value, part: { show: { ...show, lingerS: value } } };
  }
  return null;
}
