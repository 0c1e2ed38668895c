/** Reasons: the chain of one element in the frame just solved. */
import { attach } from './steps/attach.ts';
import { STEPS, type StepName } from './steps/names.ts';
import { place } from './steps/place.ts';
import { size } from './steps/size.ts';
import type { Step, Work } from './steps/step.ts';
import { view } from './steps/view.ts';

export interface Link {
  step: StepName;
  /** `absent`: this step does not apply to the element. `no` is the first that refused; what comes after it tells what it would have said. */
  state: 'yes' | 'no' | 'wouldSayYes' | 'wouldSayNo' | 'absent';
  says: string;
}

const BUILT: Partial<Record<StepName, Step>> = { attach, view, size, place };

/** Which elements a step can say no to; the others get a stub. */
export const hasStep = (name: StepName): boolean => name in BUILT;

/** @param element its row. Call after `solve`, before the level or the solver moves on. */
export function explain(work: Work, element: number): Link[] {
  let refused = false;
  return STEPS.map((name) => {
    const step = BUILT[name];
    if (!step) return { step: name, state: 'absent', says: 'does not apply' };
    const { passes, says } = step.explain(work, element);
    const state = refused ? (passes ? 'wouldSayYes' : 'wouldSayNo') : passes ? 'yes' : 'no';
    if (!passes) refused = true;
    return { step: name, state, says };
  });
}
