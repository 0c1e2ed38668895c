/** Mends that are offered, tried on all that was measured. */
import { type FindingMend, namesOf } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { sayFinding } from '@foreshore/words';
import { useEffect } from 'react';
import { useChecks } from '../state/checks.ts';
import { useProjectPart } from '../state/project.ts';
import { endTrial, startTrial, useTrial } from '../state/trial.ts';
import { sayWhere } from './words.ts';

const counted = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

/** A kind at an element is one finding; by viewer, language and variant there are several. */
function sayCleared(cleared: number, gone: number): string {
  if (cleared === 0 && gone > 0) return `clears none wholly, ${gone} by viewer, language and variant`;
  return `clears ${counted(cleared, 'finding')}${gone > cleared ? `, ${gone} by viewer, language and variant` : ''}`;
}

/** What mends do together to all that was measured, tried part by part while they are offered. @param mends the same array as long as they are the same. */
export function Everywhere({ mends, document }: { mends: readonly FindingMend[]; document: Document }) {
  const run = useChecks((s) => s.run);
  const { save } = useProjectPart('save');
  const trial = useTrial();
  const names = namesOf(document);
  const isReady = run !== null && save === 'saved';
  useEffect(() => {
    if (!isReady || !run) return;
    void startTrial(mends, run);
    return () => endTrial(mends);
  }, [mends, isReady]);
  if (trial.mends !== mends) return null;
  if (trial.failed !== null)
    return (
      <span className="hint" role="alert">
        It could not be tried on everything measured: {trial.failed}
      </span>
    );
  if (!trial.told)
    return (
      <span className="hint" data-trial={`${trial.done}/${trial.parts}`}>
        On everything measured: {trial.done} of {trial.parts} parts so far.
      </span>
    );
  const { gone, cleared, fresh, worse } = trial.told;
  const bad = [...fresh, ...worse];
  const [first] = bad;
  return (
    <span className={bad.length > 0 ? 'finding-trial-bad' : 'hint'} data-trial="done" data-clears={cleared} data-bad={bad.length}>
      {trial.parts === 1 ? 'On the one part' : `On all ${trial.parts} parts`}: {sayCleared(cleared, gone.length)},{' '}
      {bad.length === 0 ? 'makes none new or worse.' : `makes ${bad.length} new or worse:`}
      {first && (
        <>
          {' '}
          {names[first.element] ?? first.element}: {sayFinding(first, names)} ({sayWhere(document, first, null)})
          {bad.length > 1 ? `, and ${bad.length - 1} more` : ''}.
        </>
      )}
    </span>
  );
}
