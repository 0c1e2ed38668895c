/** What would clear a finding: tried along the routes on which it was found, said, and taken; or what stands in the way. */
import { type FindingKind, type FindingMend, MENDED_BY, type RefusedMend, standsIn, withMend } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { sayFindingMend, sayRefused, sentence, WANTS } from '@foreshore/words';
import { Button } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import { tellMended, useChecks } from '../state/checks.ts';
import { change } from '../state/project.ts';
import { askMends, partsOf, type Tried } from './asked-mends.ts';
import { Everywhere } from './everywhere.tsx';
import type { Gathered } from './told.ts';
import { useMeasured } from './use-measured.ts';
import { viewerName } from './words.ts';

/** So much of what was tried is told. */
const MOST_REFUSED = 3;

export function Mend({ one, document }: { one: Gathered; document: Document }) {
  const { finding } = one.worst;
  const kept = useMeasured();
  const taken = useChecks((s) => s.mended[finding.key]);
  const [asking, setAsking] = useState(false);
  const [tried, setTried] = useState<Tried | null>(null);
  const [at, setAt] = useState(0);
  // What was tried in another state of the project says nothing of this one.
  useEffect(() => {
    setAsking(false);
    setTried(null);
    setAt(0);
  }, [kept]);
  useEffect(() => {
    if (!asking || !kept) return;
    const letGo = new AbortController();
    void askMends(kept, one, letGo.signal).then((answer) => {
      if (letGo.signal.aborted) return;
      setAsking(false);
      setTried(answer);
    });
    return () => letGo.abort();
  }, [asking]);
  if (taken && standsIn(document, taken))
    return (
      <p className="finding-mend hint" data-mended={finding.key}>
        Mended: {sayFindingMend(taken)}. The next check measures it.
      </p>
    );
  if (!document.elements[finding.element]) return null;
  if (MENDED_BY[finding.kind] === null)
    return (
      <p className="finding-mend hint" data-mend="none">
        No change of a setting clears it: {WANTS[finding.kind]}.
      </p>
    );
  const where = [...new Set(partsOf(one).map(({ viewer }) => viewerName(document, viewer)))].join(', ');
  const mends = tried && 'mends' in tried ? tried.mends : [];
  const mend = mends[at % Math.max(1, mends.length)];
  return (
    <>
      <Button size="compact-xs" variant="default" loading={asking} onClick={() => setAsking(true)}>
        Mend…
      </Button>
      {asking && <p className="finding-mend hint">Trying what clears it, along its route at {where}.</p>}
      {tried && 'failed' in tried && (
        <p className="finding-mend" role="alert">
          Mends could not be tried: {tried.failed}
        </p>
      )}
      {tried && 'mends' in tried && !mend && (
        <div className="finding-mend hint" data-mend="none">
          {tried.isThere ? (
            <InTheWay kind={finding.kind} refused={tried.refused} document={document} />
          ) : (
            'It is there no more: a change since has cleared it. The next check says so.'
          )}
        </div>
      )}
      {mend && (
        <div className="finding-mend" data-mend={finding.kind}>
          <span>
            <b>{sentence(sayFindingMend(mend))}</b>
            <span className="hint"> Tried along its route at {where}: it is gone there, and nothing is new or worse.</span>
            <TriedOn mend={mend} document={document} />
          </span>
          <Button
            size="compact-xs"
            onClick={() => {
              if (change(`Mend: ${sayFindingMend(mend)}`, (d) => withMend(d, mend))) tellMended({ [finding.key]: mend });
            }}
          >
            Take it
          </Button>
          {mends.length > 1 && (
            <Button size="compact-xs" variant="subtle" onClick={() => setAt(at + 1)}>
              Another
            </Button>
          )}
        </div>
      )}
    </>
  );
}

function TriedOn({ mend, document }: { mend: FindingMend; document: Document }) {
  const mends = useMemo(() => [mend], [mend]);
  return <Everywhere mends={mends} document={document} />;
}

/** Why no single change clears a finding. */
export function InTheWay({ kind, refused, document }: { kind: FindingKind; refused: readonly RefusedMend[]; document: Document }) {
  if (refused.length === 0) return <span>No single change clears it: {WANTS[kind]}.</span>;
  return (
    <span>
      No single change clears it and leaves all else as it is.
      {refused.slice(0, MOST_REFUSED).map((one) => (
        <span key={JSON.stringify([one.change, one.cures])} className="finding-refused">
          {sentence(sayRefused(one, document))}.
        </span>
      ))}
    </span>
  );
}
