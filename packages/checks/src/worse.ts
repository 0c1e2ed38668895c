/** Whether a change makes something less readable: what any mend must not do. */

import { isHudGroup, measureReadable, OF_TEXTS, type Shortfall, type Solver, Verdict } from '@foreshore/core';
import { type Element, isMember, KINDS } from '@foreshore/document';

/** What tells two shortfalls of one element apart. */
const keyOf = (fault: Shortfall): string => `${fault.kind} ${'at' in fault ? fault.at : ''} ${'by' in fault ? fault.by : ''}`;

/** How far a shortfall is from what is asked: the greater, the worse. */
export function severity(fault: Shortfall): number {
  switch (fault.kind) {
    case 'small':
    case 'contrast':
      return fault.bound / Math.max(fault.value, 1e-9);
    case 'covered':
    case 'cut':
    case 'speed':
    case 'overlaps':
    case 'behindLevel':
    case 'reach':
    case 'tooFar':
    case 'vergence':
      return fault.value;
    case 'tooNear':
    case 'target':
      return fault.bound / Math.max(fault.value, 1e-9);
    case 'glyphs':
      return fault.missing.length;
    case 'empty':
    case 'unmeasured':
      return 1;
  }
}
/** Less than two hundredths more is nothing that anybody sees: what two eyes see of a thing changes by as much with its distance. */
const UNSEEN = 0.02;
/** Rounding of sums and of points in a grid. */
const ROUNDING = 1e-6;

/** The first that falls short and did not before, or falls shorter; null: none does. */
export function worseOf(before: readonly Shortfall[], after: readonly Shortfall[]): Shortfall | null {
  const was = new Map(before.map((fault) => [keyOf(fault), severity(fault)]));
  return (
    after.find((fault) => {
      const old = was.get(keyOf(fault));
      return old === undefined || severity(fault) > old * (1 + UNSEEN) + ROUNDING;
    }) ?? null
  );
}

/** What falls short of every text and every outermost element that a frame shows, as a check tells it, by row id; contrast with the level is left out. */
export function shortfallsAll(solver: Solver): Map<string, readonly Shortfall[]> {
  const { c, f } = solver;
  const out = new Map<string, readonly Shortfall[]>();
  for (let row = 0; row < c.count; row++) {
    const { kind, mount } = c.elements[row] as Element;
    // The panel that a headset has its HUD on is no element: what is on it tells.
    if (f.failed[row] !== Verdict.Shown || !KINDS[kind].hasBox || isHudGroup(c.ids[row] as string)) continue;
    if (kind !== 'label' && kind !== 'page' && isMember(mount) && !isHudGroup(mount.group)) continue;
    const { faults } = measureReadable(solver, row, { contrast: false, texts: kind !== 'group' });
    out.set(c.ids[row] as string, kind === 'group' ? faults.filter((fault) => !OF_TEXTS.has(fault.kind)) : faults);
  }
  return out;
}

/** A row that was shown and is gone, or falls short then. */
export interface WorseRow {
  row: string;
  /** Null where it is gone. */
  shortfall: Shortfall | null;
}
/** The first row that was shown and is gone, or is less readable; null: none is. @param but a row that is judged by itself. */
export function worseOther(
  before: ReadonlyMap<string, readonly Shortfall[]>,
  after: ReadonlyMap<string, readonly Shortfall[]>,
  but: string,
): WorseRow | null {
  for (const [row, faults] of before) {
    if (row === but) continue;
    const now = after.get(row);
    const shortfall = now ? worseOf(faults, now) : null;
    if (!now || shortfall) return { row, shortfall };
  }
  return null;
}
