/** Flickers of the selected element over the route, each with the leave value that cures it. */

import { flickers, type Stretch } from '@foreshore/checks';
import { STEPS } from '@foreshore/core';
import type { Element } from '@foreshore/document';
import { STEP_TITLES, sayCure } from '@foreshore/words';
import { UnstyledButton } from '@mantine/core';
import { useEffect, useState } from 'react';
import { editElement } from '../../edits/edits.ts';
import { askWorker } from '../../questions/asks.ts';
import type { Cured } from '../../questions/asks-job.ts';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { useProject } from '../../state/project.ts';

const CALM_MS = 1000;

export function FlickerNote({ id, band }: { id: string; band: readonly Stretch[] }) {
  const document = useProject((s) => s.document);
  const { viewer, route } = useBenchPart('viewer', 'route');
  const found = flickers(band);
  const [cures, setCures] = useState<Cured[] | { failed: string } | null>(null);
  const any = found.length > 0;
  useEffect(() => {
    setCures(null);
    if (!any || !document) return;
    let forget = () => {};
    // Each is tried on the route: only once nothing has changed for a while.
    const timer = setTimeout(() => {
      forget = askWorker({ kind: 'cures', document, viewer, route, id }, (answer) => {
        if ('cures' in answer) setCures(answer.cures);
        else if ('failed' in answer) setCures(answer);
      });
    }, CALM_MS);
    return () => {
      clearTimeout(timer);
      forget();
    };
  }, [any, document, viewer, route, id]);
  if (!any) return null;
  const tried = Array.isArray(cures) ? cures : null;
  return (
    <div className="unfinished flickers" data-flickers={found.length}>
      {found.slice(0, 4).map(({ fromS, toS, step, shown }, k) => {
        const cure = tried?.[k]?.cure;
        return (
          <p key={fromS}>
            <UnstyledButton className="link-button num" onClick={() => useBench.setState({ timeS: fromS, pose: null, playing: false })}>
              {fromS.toFixed(1)} s
            </UnstyledButton>{' '}
            {shown ? 'shows for only' : 'is away for'} {(toS - fromS).toFixed(1)} s, by {STEP_TITLES[STEPS[step] ?? 'attach']}.{' '}
            {cure && (
              <UnstyledButton
                className="link-button"
                onClick={() => editElement(`Cure a flicker: ${sayCure(cure)}`, id, (e) => ({ ...e, ...cure.part }) as Element)}
              >
                Cure: {sayCure(cure)}
              </UnstyledButton>
            )}
            {tried && !cure && 'No leave value of its own cures it.'}
          </p>
        );
      })}
      {!cures && <p>Trying leave values that cure it.</p>}
      {cures && !tried && 'failed' in cures && <p role="alert">Leave values could not be tried: {cures.failed}</p>}
    </div>
  );
}
