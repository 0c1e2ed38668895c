/** Several findings mended at once: a mend for each, tried with those before it, all of them tried on what was measured, and taken as one change. */
import { FINDING_KINDS, type FindingMend, MENDED_BY, standsIn, withMend } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { sayFindingMend, sentence } from '@foreshore/words';
import { Button, Checkbox } from '@mantine/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { tellMended, useChecks } from '../state/checks.ts';
import { change } from '../state/project.ts';
import { askMends, type Tried } from './asked-mends.ts';
import { Everywhere } from './everywhere.tsx';
import { InTheWay } from './mend.tsx';
import type { Gathered } from './told.ts';
import { useMeasured } from './use-measured.ts';

/** What was answered for one of them, with the mends of those before it made. */
interface Proposal {
  one: Gathered;
  answer: Tried;
}
const mendOf = ({ answer }: Proposal): FindingMend | null => ('mends' in answer ? (answer.mends[0] ?? null) : null);

interface Going {
  at: number;
  of: number;
  name: string;
}

/** What is proposed, and for which it is asked at present; nobody has changed anything. */
function useProposals() {
  const kept = useMeasured();
  const [rows, setRows] = useState<readonly Gathered[]>([]);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [going, setGoing] = useState<Going | null>(null);
  const [found, setFound] = useState<readonly Proposal[]>([]);
  /** Those for which nothing was found when they were asked last: asked again, they stay where they are. */
  const [vain, setVain] = useState<ReadonlySet<string>>(new Set());
  const stop = useRef<AbortController | null>(null);
  /** Answers are of a document: asked again only where those before it are others. */
  const known = useRef(new Map<string, Tried>());
  const clear = (): void => {
    stop.current?.abort();
    known.current.clear();
    setRows([]);
    setLeft(new Set());
    setFound([]);
    setVain(new Set());
    setGoing(null);
  };
  // In another state of the project other mends may do.
  useEffect(() => clear, [kept]);
  const propose = async (of: readonly Gathered[], but: ReadonlySet<string>): Promise<void> => {
    stop.current?.abort();
    if (!kept) return;
    const letGo = new AbortController();
    stop.current = letGo;
    setRows(of);
    setLeft(but);
    setFound([]);
    let document = kept;
    const list: Proposal[] = [];
    const wanted = of.filter(({ worst: { finding } }) => !but.has(finding.key));
    for (const [k, one] of wanted.entries()) {
      const { key, name } = one.worst.finding;
      setGoing({ at: k + 1, of: wanted.length, name });
      const from = JSON.stringify([key, list.map(mendOf)]);
      const answer = known.current.get(from) ?? (await askMends(document, one, letGo.signal, 1));
      if (letGo.signal.aborted || !answer) return;
      known.current.set(from, answer);
      list.push({ one, answer });
      const mend = mendOf(list[k] as Proposal);
      if (mend) document = withMend(document, mend);
      setVain((now) => new Set(mend ? [...now].filter((one) => one !== key) : [...now, key]));
      setFound([...list]);
      if ('failed' in answer) break;
    }
    setGoing(null);
  };
  const end = (): void => {
    stop.current?.abort();
    setGoing(null);
  };
  return { rows, left, going, found, vain, propose, end, clear };
}

export function MendAll({ rows: shown, document }: { rows: readonly Gathered[]; document: Document }) {
  const mended = useChecks((s) => s.mended);
  const [done, setDone] = useState<readonly FindingMend[]>([]);
  const { rows, left, going, found, vain, propose, end, clear } = useProposals();
  const can = shown.filter(({ worst: { finding, accepted } }) => {
    const taken = mended[finding.key];
    return (
      MENDED_BY[finding.kind] !== null && accepted === null && !(taken && standsIn(document, taken)) && document.elements[finding.element]
    );
  });
  const proposed = found.flatMap((proposal) => mendOf(proposal) ?? []);
  const mends = useMemo(() => proposed, [found]);
  const take = (): void => {
    const title = mends.length === 1 && mends[0] ? `Mend: ${sayFindingMend(mends[0])}` : `Mend ${mends.length} findings`;
    const taken = Object.fromEntries(
      found.flatMap((proposal) => {
        const mend = mendOf(proposal);
        return mend ? [[proposal.one.worst.finding.key, mend]] : [];
      }),
    );
    if (!change(title, (d) => mends.reduce(withMend, d))) return;
    tellMended(taken);
    clear();
    setDone(mends);
  };
  if (rows.length === 0)
    return (
      <>
        {can.length > 0 && (
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => {
              setDone([]);
              void propose(can, new Set());
            }}
          >
            Mend {can.length === 1 ? 'it' : `all ${can.length}`}
          </Button>
        )}
        {done.length > 0 && done.every((mend) => standsIn(document, mend)) && (
          <span className="hint" role="status">
            {done.length} mended; one undo takes {done.length === 1 ? 'it' : 'all of it'} back. The next check measures it.
          </span>
        )}
      </>
    );
  const leave = (key: string, isLeft: boolean): void => {
    const next = new Set(left);
    if (isLeft) next.add(key);
    else next.delete(key);
    void propose(rows, next);
  };
  const answers = new Map(found.map((proposal) => [proposal.one.worst.finding.key, proposal]));
  // What can be taken stands before what cannot.
  const isVain = ({ worst: { finding } }: Gathered): boolean => vain.has(finding.key);
  const ordered = [...rows.filter((one) => !isVain(one)), ...rows.filter(isVain)];
  return (
    <section className="checks-mending" aria-label="Mends for all" data-proposed={going ? undefined : mends.length}>
      <div className="checks-mending-head">
        {going ? (
          <span role="status">
            Trying what clears {going.at} of {going.of}: {going.name}
          </span>
        ) : (
          <span role="status">
            {mends.length} of {rows.length - left.size} can be mended, each tried with those before it.{' '}
            {mends.length > 0 && <Everywhere mends={mends} document={document} />}
          </span>
        )}
        {going ? (
          <Button size="compact-xs" variant="subtle" onClick={end}>
            Stop
          </Button>
        ) : (
          <>
            {mends.length > 0 && (
              <Button size="compact-sm" onClick={take}>
                Take {mends.length === 1 ? 'it' : `all ${mends.length}`}
              </Button>
            )}
            <Button size="compact-sm" variant="subtle" onClick={clear}>
              Leave
            </Button>
          </>
        )}
      </div>
      <ul>
        {ordered.map((one) => {
          const { key } = one.worst.finding;
          return (
            <ProposalRow
              key={key}
              one={one}
              proposal={answers.get(key)}
              isLeft={left.has(key)}
              waits={going !== null}
              leave={leave}
              document={document}
            />
          );
        })}
      </ul>
    </section>
  );
}

function ProposalRow({
  one,
  proposal,
  isLeft,
  waits,
  leave,
  document,
}: {
  one: Gathered;
  proposal: Proposal | undefined;
  isLeft: boolean;
  /** It is asked, or will be. */
  waits: boolean;
  leave: (key: string, isLeft: boolean) => void;
  document: Document;
}) {
  const { key, name, kind } = one.worst.finding;
  const mend = proposal ? mendOf(proposal) : null;
  const title = `${name}: ${FINDING_KINDS[kind].title.toLowerCase()}`;
  return (
    <li data-proposal={mend ? 'mend' : 'none'}>
      <Checkbox
        size="xs"
        label={title}
        checked={!isLeft && (proposal === undefined ? waits : mend !== null)}
        disabled={!isLeft && proposal !== undefined && mend === null}
        onChange={(event) => leave(key, !event.currentTarget.checked)}
      />
      {mend && <b>{sentence(sayFindingMend(mend))}</b>}
      {isLeft && <span className="hint">left as it is</span>}
      {!isLeft && !proposal && !waits && <span className="hint">not tried</span>}
      {proposal && !mend && (
        <span className="hint">
          {'failed' in proposal.answer ? (
            `It could not be tried: ${proposal.answer.failed}`
          ) : proposal.answer.isThere ? (
            <InTheWay kind={kind} refused={proposal.answer.refused} document={document} />
          ) : (
            'cleared by those before it, or by a change since'
          )}
        </span>
      )}
    </li>
  );
}
