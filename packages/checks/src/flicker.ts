/** Flicker: an element that changes twice within two seconds, the step that did it, and the leave value that cures it. */
import { type Arranged, angleDegTo, explain, rangeM, STEPS, Verdict } from '@foreshore/core';
import type { Element, Route } from '@foreshore/document';
import { bands, type Stretch } from './bands.ts';
import { Replay } from './replay.ts';

export const FLICKER_S = 2;

export interface Flicker {
  fromS: number;
  toS: number;
  /** The step (index into STEPS) that took the element away, or let it in, for so short a time. */
  step: number;
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
    const around = joined[k] as Stretch;
    return [{ fromS, toS, step: verdict === Verdict.Shown ? around.verdict : verdict }];
  });
}

/** A change of leave values that keeps an element through a flicker, in words and as fields; null where none of ours does. */
export interface Cure {
  says: string;
  part: Partial<Element>;
}

/** Works out the leave value from what the step measured during the flicker, and tries it. @param row the row that flickers. */
export function cureOf(
  arranged: Arranged,
  route: Route,
  id: string,
  flicker: Flicker,
  again: (part: Partial<Element>) => Arranged,
): Cure | null {
  const { compiled } = arranged;
  const row = compiled.ids.indexOf(id);
  const element = compiled.elements[row];
  if (!element) return null;
  const step = STEPS[flicker.step];
  const replay = new Replay(arranged, route);
  let [most, least] = [0, 1];
  for (let timeS = flicker.fromS; timeS <= flicker.toS; timeS += 0.1) {
    replay.at(timeS);
    const gate = compiled.gateOfRow[row] as number;
    const says = explain(replay.solver, row).find((link) => link.step === step)?.says ?? '';
    if (step === 'range' && element.range) most = Math.max(most, rangeM(replay.solver, gate, element.range.from));
    else if (step === 'view' && element.look?.by === 'cone')
      most = Math.max(most, angleDegTo(replay.solver, compiled.gateAnchor[gate] as number));
    else if (step === 'view') most = Math.max(most, Number(/^([\d.]+) px outside/.exec(says)?.[1] ?? 0) / (arranged.fits[row] as number));
    else if (step === 'sightline') least = Math.min(least, 1 - Number(/covers (\d+) %/.exec(says)?.[1] ?? 100) / 100);
  }
  const cure = cureFrom(element, step ?? '', most, least, flicker);
  if (!cure) return null;
  const band = bandOf(again(cure.part), route, id);
  return flickers(band).some(({ fromS, toS }) => fromS < flicker.toS && toS > flicker.fromS) ? null : cure;
}

function bandOf(arranged: Arranged, route: Route, id: string): readonly Stretch[] {
  const source = arranged.compiled.sources[arranged.compiled.ids.indexOf(id)];
  const ids = [...new Set(arranged.compiled.sources)];
  return bands(arranged, route)[ids.indexOf(source as string)] ?? [];
}

function cureFrom(element: Element, step: string, most: number, least: number, { fromS, toS }: Flicker): Cure | null {
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
  const dwellS = Math.ceil((toS - fromS) * 10 + 2) / 10;
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
