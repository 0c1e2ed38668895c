/** What a change would do to all that was measured: every part of a check as it is, and as it would be. */
import type { Document } from '@foreshore/document';
import type { CheckRun, PartResult } from './check.ts';
import { type Compared, compareRuns, type Finding, findingsOf } from './findings.ts';

/** One part, without the change and with it. */
export interface Trial {
  was: PartResult;
  is: PartResult;
}

export interface TrialTold extends Compared {
  /** How many kinds at elements are gone at every viewer, in every language, under every variant. */
  cleared: number;
}

/** What it clears (`gone`), makes new, worse or better, over the parts that were tried. @param run of which the parts are. */
export function trialOf(run: CheckRun, trials: readonly Trial[]): TrialTold {
  const told = (which: keyof Trial) => findingsOf({ ...run, results: trials.map((one) => one[which]) });
  const [was, is] = [told('was'), told('is')];
  const compared = compareRuns(was, is);
  const kindAt = ({ kind, element }: Finding): string => `${kind} ${element}`;
  const left = new Set(is.map(kindAt));
  return { ...compared, cleared: new Set(compared.gone.map(kindAt).filter((one) => !left.has(one))).size };
}

/** Whether the same is found, and mended, in two states of a project of which one was made of the other: what is chosen, told and accepted may differ. */
export function measuresAlike(a: Document, b: Document): boolean {
  const [one, other] = [a.checks ?? {}, b.checks ?? {}];
  return (
    (Object.keys({ ...a, ...b }) as (keyof Document)[]).every((part) => part === 'checks' || a[part] === b[part]) &&
    one.quiet === other.quiet &&
    one.budget === other.budget &&
    one.shake === other.shake
  );
}
