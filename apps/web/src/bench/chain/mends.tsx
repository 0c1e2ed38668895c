/** The change that makes the selection readable at the most viewers; the others one after the other. */

import { withMend } from '@foreshore/checks';
import { sayMend } from '@foreshore/words';
import { UnstyledButton } from '@mantine/core';
import { useEffect, useState } from 'react';
import { useMends } from '../../questions/use-asked.ts';
import { useBench } from '../../state/bench.ts';
import { change, useProject } from '../../state/project.ts';
import { Offered } from './offered.tsx';

export function Mends({ id }: { id: string }) {
  const mends = useMends();
  const viewers = useProject((s) => s.document?.viewers);
  const element = useProject((s) => s.document?.elements[id]);
  const isEmpty = useBench((s) => s.info?.verdicts.some(({ faults }) => faults.some(({ kind }) => kind === 'empty')) === true);
  const [at, setAt] = useState(0);
  useEffect(() => setAt(0), [mends]);
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
  if (!mends) return null;
  if (!mend)
    return (
      <div className="offer" data-mend="none">
        <span className="offer-words">No single change mends it without making something worse.</span>
      </div>
    );
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
