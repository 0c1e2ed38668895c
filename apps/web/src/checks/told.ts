/** What is told of findings: which are meant, how they compare, and those that are one to whoever mends them. */
import { type acceptanceOf, type Finding, type FindingKind, severity } from '@foreshore/checks';

/** What is shown of all that was found. */
export interface Filter {
  kind: FindingKind | null;
  element: string | null;
  viewer: string | null;
  words: string;
  /** Only what is new or worse than in the check compared with. */
  fresh: boolean;
  accepted: boolean;
}
export interface Told {
  finding: Finding;
  /** Against the check compared with; null: there is none, or it is as it was. */
  change: 'new' | 'worse' | 'better' | null;
  accepted: ReturnType<typeof acceptanceOf>;
}

/** A kind at an element, with all the viewers and languages at which it is so; the worst goes before. */
export interface Gathered {
  worst: Told;
  all: readonly Told[];
}

/** How bad it is: what falls short by the measure of mends; of what is too brief or flickers, the shorter the worse. */
const badness = ({ shortfall, value, bound }: Finding): number => (shortfall ? severity(shortfall) : bound / Math.max(value, 1e-3));

/** @param byViewer a row for each of them, with all its languages. */
export function gathered(told: readonly Told[], byViewer: boolean): Gathered[] {
  const rows = new Map<string, Told[]>();
  for (const one of told) {
    const { kind, element, viewer } = one.finding;
    const key = `${kind} ${element} ${byViewer ? viewer : ''}`;
    const row = rows.get(key);
    if (row) row.push(one);
    else rows.set(key, [one]);
  }
  return [...rows.values()].map((all) => ({
    worst: all.reduce((a, b) => (badness(b.finding) > badness(a.finding) ? b : a)),
    all,
  }));
}
