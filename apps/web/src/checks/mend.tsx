/** What would clear a finding: tried along the routes on which it was found, said, and taken. */
import { type CheckPart, type FindingMend, MENDED_BY, namesOf, standsIn, withMend } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { sayCure, sayFinding, sayMend } from '@foreshore/words';
import { Button } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { askWorker } from '../questions/asks.ts';
import { tellMended, useChecks } from '../state/checks.ts';
import { change, useProject, useProjectPart } from '../state/project.ts';
import { endTrial, startTrial, useTrial } from '../state/trial.ts';
import type { Gathered } from './told.ts';
import { sayWhere, sentence, viewerName } from './words.ts';

/** So many places where it was found are tried on; the worst is the first. */
const MOST_PARTS = 3;

const counted = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;
const sayWhat = ({ change: what, cures }: FindingMend): string => (what ? sayMend({ change: what }) : cures.map(sayCure).join('; '));

/** The worst place, and others where it was found, one a viewer first. */
function partsOf({ worst, all }: Gathered): CheckPart[] {
  const seen = new Set<string>();
  const list = [worst, ...all].flatMap(({ finding: { route, viewer, language, variant } }) =>
    route === null || viewer === null || language === null ? [] : [{ route, viewer, language, ...(variant !== undefined && { variant }) }],
  );
  const first = list.filter(({ viewer }) => !seen.has(viewer) && seen.add(viewer));
  return [...first, ...list.filter((one) => !first.includes(one))].slice(0, MOST_PARTS);
}

type Tried = { mends: readonly FindingMend[] } | { failed: string };

/** What is tried, or why it could not be; nothing where it is let go. */
const asked = (document: Document, one: Gathered, letGo: AbortSignal): Promise<Tried> =>
  new Promise((resolve) => {
    const { kind, element, atS, phase, by } = one.worst.finding;
    const finding = { kind, element, atS, ...(phase && { phase }), ...(by !== undefined && { by }) };
    const forget = askWorker({ kind: 'findingMends', document, finding, parts: partsOf(one) }, (answer) =>
      resolve('findingMends' in answer ? { mends: answer.findingMends } : { failed: 'failed' in answer ? answer.failed : '' }),
    );
    letGo.addEventListener('abort', () => {
      forget();
      resolve({ mends: [] });
    });
  });

export function Mend({ one, document }: { one: Gathered; document: Document }) {
  const { finding } = one.worst;
  const kept = useProject((s) => s.document);
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
    void asked(kept, one, letGo.signal).then((answer) => {
      if (letGo.signal.aborted) return;
      setAsking(false);
      setTried(answer);
    });
    return () => letGo.abort();
  }, [asking]);
  if (taken && standsIn(document, taken))
    return (
      <p className="finding-mend hint" data-mended={finding.key}>
        Mended: {sayWhat(taken)}. The next check measures it.
      </p>
    );
  if (MENDED_BY[finding.kind] === null || !document.elements[finding.element]) return null;
  const mends = tried && 'mends' in tried ? tried.mends : [];
  const mend = mends[at % Math.max(1, mends.length)];
  const where = [...new Set(partsOf(one).map(({ viewer }) => viewerName(document, viewer)))].join(', ');
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
      {tried && !('failed' in tried) && !mend && (
        <p className="finding-mend hint" data-mend="none">
          No single change clears it there without making something else worse.
        </p>
      )}
      {mend && (
        <div className="finding-mend" data-mend={finding.kind}>
          <span>
            <b>{sentence(sayWhat(mend))}</b>
            <span className="hint"> Tried along its route at {where}: it is gone there, and nothing is new or worse.</span>
            <Everywhere mend={mend} document={document} />
          </span>
          <Button
            size="compact-xs"
            onClick={() => {
              if (change(`Mend: ${sayWhat(mend)}`, (d) => withMend(d, mend))) tellMended(finding.key, mend);
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

/** What it does to all that was measured, tried part by part while it is offered. */
function Everywhere({ mend, document }: { mend: FindingMend; document: Document }) {
  const run = useChecks((s) => s.run);
  const { save } = useProjectPart('save');
  const trial = useTrial();
  const names = namesOf(document);
  const isReady = run !== null && save === 'saved';
  useEffect(() => {
    if (!isReady || !run) return;
    void startTrial(mend, run);
    return () => endTrial(mend);
  }, [mend, isReady]);
  if (trial.mend !== mend) return null;
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
  const { gone, fresh, worse } = trial.told;
  const bad = [...fresh, ...worse];
  const [first] = bad;
  return (
    <span className={bad.length > 0 ? 'finding-trial-bad' : 'hint'} data-trial="done" data-clears={gone.length} data-bad={bad.length}>
      {trial.parts === 1 ? 'On the one part' : `On all ${trial.parts} parts`}: clears {counted(gone.length, 'finding')},{' '}
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

interface Going {
  at: number;
  of: number;
  name: string;
}

/** The first mend that holds of each, one after the other; each is tried with those before it, and undone by itself. */
export function MendAll({ rows, document: shown }: { rows: readonly Gathered[]; document: Document }) {
  const mended = useChecks((s) => s.mended);
  const [going, setGoing] = useState<Going | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const can = rows.filter(({ worst: { finding, accepted } }) => {
    const taken = mended[finding.key];
    return MENDED_BY[finding.kind] !== null && accepted === null && !(taken && standsIn(shown, taken)) && shown.elements[finding.element];
  });
  const run = async () => {
    const letGo = new AbortController();
    stop.current = letGo;
    setSaid(null);
    let [taken, tried, none] = [0, 0, 0];
    let failed: string | null = null;
    for (const one of can) {
      const { document } = useProject.getState();
      if (!document) break;
      const { finding } = one.worst;
      setGoing({ at: tried + 1, of: can.length, name: finding.name });
      const answer = await asked(document, one, letGo.signal);
      if (letGo.signal.aborted) break;
      tried++;
      if ('failed' in answer) {
        failed = answer.failed;
        break;
      }
      const [mend] = answer.mends;
      if (!mend) none++;
      else if (change(`Mend: ${sayWhat(mend)}`, (d) => withMend(d, mend))) {
        tellMended(finding.key, mend);
        taken++;
      }
    }
    setGoing(null);
    setSaid(
      [
        `${taken} mended${taken > 0 ? '; the next check measures it' : ''}.`,
        ...(none > 0 ? [`${none} that no single change clears without making something else worse.`] : []),
        ...(failed !== null ? [`The others could not be tried: ${failed}`] : []),
      ].join(' '),
    );
  };
  if (going)
    return (
      <span className="checks-mending" role="status">
        Mending {going.at} of {going.of}: {going.name}
        <Button size="compact-xs" variant="subtle" onClick={() => stop.current?.abort()}>
          Stop
        </Button>
      </span>
    );
  return (
    <>
      {can.length > 0 && (
        <Button size="compact-sm" variant="default" onClick={() => void run()}>
          Mend {can.length === 1 ? 'it' : `all ${can.length}`}
        </Button>
      )}
      {said && (
        <span className="hint" role="status">
          {said}
        </span>
      )}
    </>
  );
}
