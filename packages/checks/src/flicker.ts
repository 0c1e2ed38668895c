/** Flicker: an element that changes twice within two seconds, the step that did it, and the leave value that cures it. */
import { type Arranged, angleDegTo, explain, rangeM, routeDurationS, STEPS, Verdict } from '@foreshore/core';
import type { Element, Route } from '@foreshore/document';
import { type Stretch, tellingRow } from './bands.ts';
import { Replay } from './replay.ts';

export const FLICKER_S = 2;

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
    if (toS - fromS >= FLICKER_S) return [];
    const shown = verdict === Verdict.Shown;
    const after = joined[k + 2] as Stretch;
    return [{ fromS, toS, step: shown ? after.verdict : verdict, shown }];
  });
}

/** A change of leave values that keeps an element through a flicker, in words and as fields; null where none of ours does. */
export interface Cure {
  says: string;
  part: Partial<Element>;
}

/**
 * Works out the leave value from what the step measured during the flicker, and tries it on the route.
 * @param id the element's own id; of the many that it may stand for, the one that comes and goes is looked at.
 */
export function cureOf(
  arranged: Arranged,
  route: Route,
  id: string,
  flicker: Flicker,
  again: (part: Partial<Element>) => Arranged,
): Cure | null {
  const { compiled } = arranged;
  const replay = new Replay(arranged, route);
  const row = flickeringRow(replay, rowsOf(arranged, id), flicker);
  const element = compiled.elements[row];
  if (!element) return null;
  const step = STEPS[flicker.step];
  let [most, least] = [0, 1];
  const [fromS, toS] = keptThrough(flicker);
  for (let timeS = fromS; timeS <= Math.min(toS, routeDurationS(route)); timeS += 0.1) {
    replay.at(timeS);
    const gate = compiled.gateOfRow[row] as number;
    const says = explain(replay.solver, row).find((link) => link.step === step)?.says ?? '';
    if (step === 'range' && element.range) most = Math.max(most, rangeM(replay.solver, gate, element.range.from));
    else if (step === 'view' && element.look?.by === 'cone')
      most = Math.max(most, angleDegTo(replay.solver, compiled.gateAnchor[gate] as number));
    else if (step === 'view') most = Math.max(most, Number(/^([\d.]+) px outside/.exec(says)?.[1] ?? 0) / (arranged.fits[row] as number));
    else if (step === 'sightline') least = Math.min(least, 1 - Number(/covers (\d+) %/.exec(says)?.[1] ?? 100) / 100);
  }
  const cure = cureFrom(element, step ?? '', most, least, toS - fromS);
  if (!cure) return null;
  // As far as a change that cures this one could bring about another.
  const band = verdictsUntil(again(cure.part), route, id, toS + FLICKER_S);
  return flickers(band).some((other) => other.fromS < toS && other.toS > flicker.fromS) ? null : cure;
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

/** The band of one element up to a time: when it shows and by which step it does not; nothing is measured of how it reads. */
function verdictsUntil(arranged: Arranged, route: Route, id: string, untilS: number): Stretch[] {
  const rows = rowsOf(arranged, id);
  const replay = new Replay(arranged, route);
  const lastS = Math.min(untilS, routeDurationS(route));
  const out: Stretch[] = [];
  for (let k = 0; k * SAMPLE_S <= lastS; k++) {
    const timeS = k * SAMPLE_S;
    const { failed } = replay.at(timeS);
    const verdict = failed[tellingRow(failed, rows)] as number;
    const last = out.at(-1);
    if (last) last.toS = timeS;
    if (last?.verdict !== verdict) out.push({ fromS: timeS, toS: timeS, verdict, short: null });
  }
  return out;
}
const SAMPLE_S = 0.1;

/** @param keptS how long it must be kept. */
function cureFrom(element: Element, step: string, most: number, least: number, keptS: number): Cure | null {
  const { range, look, sightline, view, show, claim } = element;
  if (step === 'range' && range) {
    const leaveM = Math.ceil(most * 10 + 1) / 10;
    return { says: `goes out beyond ${leaveM} m`, part: { range: { ...range, leaveM: Math.max(leaveM, range.leaveM) } } };
  }
  if (step === 'view' && look?.by === 'cone') {
    const leaveDeg = Math.min(180, Math.ceil(most + 1));
    return { says: `goes out beyond ${leaveDeg} deg`, part: { look: { ...look, leaveDeg: Math.max(leaveDeg, look.leaveDeg) } } };
  }
  if (step === 'view') {
    const leavePx = Math.ceil(most + 4);
    return { says: `leaves ${leavePx} px farther out`, part: { view: { ...view, leavePx: Math.max(leavePx, view.leavePx) } } };
  }
  const dwellS = Math.ceil(keptS * 10 + 2) / 10;
  if (step === 'sightline' && sightline)
    return least > 0.02
      ? {
          says: `stays with ${Math.floor(least * 100)} % free`,
          part: { sightline: { ...sightline, leaveShare: Math.floor(least * 100) / 100 } },
        }
      : { says: `stays ${dwellS} s longer`, part: { sightline: { ...sightline, dwellS } } };
  if (step === 'claim' && claim) return { says: `takes over after ${dwellS} s`, part: { claim: { ...claim, dwellS } } };
  if (step === 'phase' && show)
    return { says: `lingers ${dwellS} s`, part: { show: { ...show, lingerS: Math.max(show.lingerS, dwellS) } } };
  return null;
}
