/** What a change would do to all that was measured: every part of a check as it is, and as it would be. */
import { type CheckRun, type Compared, compareRuns, findingsOf, type PartResult } from './check.ts';

/** One part, without the change and with it. */
export interface Trial {
  was: PartResult;
  is: PartResult;
}

/** What it clears (`gone`), makes new, worse or better, over the parts that were tried. @param run of which the parts are. */
export function trialOf(run: CheckRun, trials: readonly Trial[]): Compared {
  const told = (which: keyof Trial) => findingsOf({ ...run, results: trials.map((one) => one[which]) });
  return compareRuns(told('was'), told('is'));
}
