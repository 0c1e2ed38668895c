/** The change that makes the selection readable at the most viewers; the others one after the other. */

import { withMend } from '@foreshore/checks';
import { sayMend, sayRefused, sentence } from '@foreshore/words';
import { UnstyledButton } from '@mantine/core';
import { useEffect, useState } from 'react';
import { useMends } from '../../questions/use-asked.ts';
import { useBench } from '../../state/bench.ts';
import { change, useProject } from '../../state/project.ts';
import { Offered } from './offered.tsx';

export function Mends({ id }: { id: string }) {
  const told = useMends();
  const mends = told?.mends;
  const document = useProject((s) => s.document);
  const { viewers, elements } = document ?? {};
  const element = elements?.[id];
  const isEmpty = useBench((s) => s.info?.verdicts.some(({ faults }) => faults.some(({ kind }) => kind === 'empty')) === true);
  const [at, setAt] = useState(0);
  useEffect(() => setAt(0), [told]);
  // No change of ours gives it words.
  if (isEmpty && element?.kind === 'label')
    return (
      <div className="offer" data-mend="empty">
        <span className="offer-words">
          Mend: <b>type a text</b>
        </span>
        <span className="offer-buttons">
          <UnstyledButton className="offer-take" onClick={() => useBench.setState({ typing: id })}>
            Type it
          </UnstyledButton>
        </span>
      </div>
    );
  const mend = mends?.[at % Math.max(1, mends.length)];
  if (!told || !mends || !document) return null;
  if (!mend) {
    const tried = told.refused.map(({ change: what, obstacle }) => sentence(sayRefused({ change: what, cures: [], obstacle }, document)));
    return (
      <div className="offer" data-mend="none">
        <span className="offer-words offer-none" title={tried.join('.\n')}>
          No single change mends it{tried.length > 0 ? `. ${tried[0]}.` : ': no setting bears on it here.'}
        </span>
      </div>
    );
  }
  const cleared = mend.clears.map((viewer) => viewers?.[viewer]?.name ?? viewer).join(', ');
  const words = sayMend(mend);
  return (
    <Offered
      kind={{ 'data-mend': mend.kind }}
      lead="Mend"
      words={words}
      note={`for ${mend.clears.length === 1 ? cleared : `${mend.clears.length} viewers`}`}
      take="Take it"
      onTake={() => change(`Mend: ${words}`, (d) => withMend(d, mend))}
      at={at % mends.length}
      of={mends.length}
      onNext={() => setAt(at + 1)}
    />
  );
}
