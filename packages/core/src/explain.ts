/** Reasons: the chain of one element in the frame just solved. */
import { attach } from './steps/attach.ts';
import { claim } from './steps/claim.ts';
import { STEPS, type StepName } from './steps/names.ts';
import { paint } from './steps/paint.ts';
import { phase } from './steps/phase.ts';
import { place } from './steps/place.ts';
import { range } from './steps/range.ts';
import { readable } from './steps/readable.ts';
import { sightline } from './steps/sightline.ts';
import { size } from './steps/size.ts';
import type { Outcome, Step, Work } from './steps/step.ts';
import { view } from './steps/view.ts';

export interface Link {
  step: StepName;
  /** `absent`: this step does not apply to the element. `no` is the first that refused; what comes after it tells what it would have said. `short`: shown, but it could not be read. */
  state: 'yes' | 'no' | 'short' | 'wouldSayYes' | 'wouldSayNo' | 'absent';
  says: string;
}

const BUILT: Partial<Record<StepName, Step>> = { attach, phase, range, view, size, sightline, claim, place, paint, readable };

/** What a step comes to for an element: its own no, or that of a group around it. Null where it applies to neither. */
function outcomeOf(step: Step, work: Work, element: number): Outcome | null {
  const { c } = work;
  const up = c.parent[element] as number;
  const around = up >= 0 ? outcomeOf(step, work, up) : null;
  const own = step.applies(work, element) ? step.explain(work, element) : null;
  if (around && !around.passes && own?.passes !== false) return { passes: false, says: `${c.elements[up]?.name}: ${around.says}` };
  return own;
}

/** @param element its row. Call after `solve`, before the level or the solver moves on. */
export function explain(work: Work, element: number): Link[] {
  let refused = false;
  return STEPS.map((name) => {
    const step = BUILT[name];
    const outcome = step ? outcomeOf(step, work, element) : null;
    if (!outcome) return { step: name, state: 'absent', says: 'does not apply' };
    const { passes, says } = outcome;
    if (name === 'readable') return { step: name, state: refused ? 'wouldSayYes' : passes ? 'yes' : 'short', says };
    const state = refused ? (passes ? 'wouldSayYes' : 'wouldSayNo') : passes ? 'yes' : 'no';
    if (!passes) refused = true;
    return { step: name, state, says };
  });
}
