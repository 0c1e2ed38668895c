/** Checks: everything measured along all routes, at all viewers, in all languages; what was found, what lasts longest first, and the way to each moment. */
import { acceptanceOf, compareRuns, FINDING_KINDS, type Finding, type FindingKind, findingsOf } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { useEffect, useMemo, useState } from 'react';
import { useParams } from 'react-router';
import { Header } from '../shell/header.tsx';
import { Unopened } from '../shell/unopened.tsx';
import { Waiting } from '../shell/waiting.tsx';
import { fromQuery, useAddress, useBench } from '../state/bench.ts';
import { openChecks, tellState, useChecks } from '../state/checks.ts';
import { openCompare } from '../state/compare.ts';
import { openProject, shownDocument, useProject, useProjectPart } from '../state/project.ts';
import { Coverage } from './coverage.tsx';
import { FindingList } from './finding-list.tsx';
import { Heat } from './heat.tsx';
import { Measured } from './measured.tsx';
import { Runs } from './runs.tsx';
import { SinceRevision } from './since-revision.tsx';
import { type Filter, gathered, type Told } from './told.ts';
import './checks.css';

const ALL: Filter = { kind: null, element: null, viewer: null, words: '', fresh: false, accepted: false };

/** All findings of the check that is shown, with what somebody said of them, and how they compare. */
function useTold(document: Document | null): { told: Told[]; gone: Finding[]; compared: boolean } {
  const { run, before } = useChecks();
  const { off, accepted } = document?.checks ?? {};
  return useMemo(() => {
    if (!run) return { told: [], gone: [], compared: false };
    const settings = { ...(off && { off }), ...(accepted && { accepted }) };
    // What no route shows is known when all of them were measured.
    const isWhole = run.results.length === run.parts.length;
    const findings = findingsOf({ ...run, ...settings }).filter(({ kind }) => isWhole || kind !== 'neverShown');
    // Part of a check is no less than the whole of another.
    const compared = before && isWhole && compareRuns(findingsOf({ ...before, ...settings }), findings);
    const { fresh = [], worse = [], better = [], gone = [] } = compared || {};
    const changes = new Map<string, Told['change']>([
      ...fresh.map(({ key }) => [key, 'new'] as const),
      ...worse.map(({ key }) => [key, 'worse'] as const),
      ...better.map(({ key }) => [key, 'better'] as const),
    ]);
    const told = findings.map((finding) => ({
      finding,
      change: changes.get(finding.key) ?? null,
      accepted: acceptanceOf(settings, finding),
    }));
    return { told, gone, compared: compared !== null && isWhole };
  }, [run, before, off, accepted]);
}

export default function Checks() {
  const { id = '' } = useParams();
  const document = useProject(shownDocument);
  const failed = useProject((s) => s.failed);
  const { run, list, shown, progress } = useChecks();
  const [filter, setFilter] = useState(ALL);
  useEffect(() => {
    useBench.setState({ ...useBench.getInitialState(), ...fromQuery(window.location.search) }, true);
    void openProject(id);
    void openChecks(id);
    openCompare(id);
  }, [id]);
  useAddress();
  const { document: kept, revision, save } = useProjectPart('document', 'revision', 'save');
  useEffect(() => {
    if (kept && save === 'saved') tellState(kept, revision);
  }, [kept, revision, save, shown, list]);
  const { told, gone, compared } = useTold(document);
  if (failed) return <Unopened failed={failed} />;
  if (!document || !list) return <Waiting what="Opening the checks" />;
  const open = told.filter(({ accepted }) => accepted === null);
  const set = (part: Partial<Filter>) => setFilter((now) => ({ ...now, ...part }));
  return (
    <main className="checks">
      <Header name={document.name} view="checks" />
      <div className="checks-body">
        <div className="checks-side">
          <Runs />
          <Measured document={document} />
        </div>
        <div className="checks-main">
          {!run && !progress && (
            <div className="checks-nothing">
              <h2>Nothing was measured yet</h2>
              <p>
                A check walks every route at every viewer in every language and measures each element as the bench does: letters, contrast,
                cover, cuts, speed, time to read. What falls short is listed here, with the way to the moment.
              </p>
            </div>
          )}
          {!run && <SinceRevision project={id} document={document} />}
          {run && (
            <>
              <Summary
                told={open}
                accepted={
                  gathered(
                    told.filter(({ accepted }) => accepted !== null),
                    false,
                  ).length
                }
                gone={gone}
                compared={compared}
                filter={filter}
                set={set}
              />
              <SinceRevision project={id} document={document} />
              <Coverage project={id} document={document} run={run} />
              <Heat document={document} told={open} filter={filter} set={set} />
              <FindingList project={id} document={document} told={told} filter={filter} set={set} names={run.names} />
            </>
          )}
        </div>
      </div>
    </main>
  );
}

const counted = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

/** How many there are of each kind; each is a filter. */
function Summary({
  told,
  accepted,
  gone,
  compared,
  filter,
  set,
}: {
  told: readonly Told[];
  accepted: number;
  gone: readonly Finding[];
  compared: boolean;
  filter: Filter;
  set: (part: Partial<Filter>) => void;
}) {
  const rows = gathered(told, false);
  const kinds = (Object.keys(FINDING_KINDS) as FindingKind[])
    .map((kind) => [kind, rows.filter(({ worst }) => worst.finding.kind === kind).length] as const)
    .filter(([, n]) => n > 0)
    .sort((a, b) => b[1] - a[1]);
  const fresh = told.filter(({ change }) => change === 'new').length;
  const worse = told.filter(({ change }) => change === 'worse').length;
  const better = told.filter(({ change }) => change === 'better').length;
  return (
    <section aria-label="Summary" className="checks-summary" data-findings={rows.length} data-accepted={accepted}>
      <h2>{rows.length === 0 ? 'Nothing was found' : counted(rows.length, 'finding')}</h2>
      {told.length > rows.length && (
        <p className="hint">A kind at an element is one; by viewer, language and variant they are {told.length}.</p>
      )}
      {accepted > 0 && <p className="hint">{accepted === 1 ? 'One more is' : `${accepted} more are`} accepted.</p>}
      {compared && (
        <p className="checks-compared" data-new={fresh} data-gone={gone.length} data-worse={worse} data-better={better}>
          Against the check compared with: <b>{fresh}</b> new, <b>{worse}</b> worse, <b>{better}</b> better, <b>{gone.length}</b> gone.
        </p>
      )}
      <div className="checks-kinds" role="group" aria-label="Kinds">
        {kinds.map(([kind, n]) => (
          <button
            key={kind}
            type="button"
            className="text-button"
            data-kind={kind}
            aria-pressed={filter.kind === kind}
            title={`Threshold: ${FINDING_KINDS[kind].source}`}
            onClick={() => set({ kind: filter.kind === kind ? null : kind })}
          >
            {FINDING_KINDS[kind].title} <span className="num">{n}</span>
          </button>
        ))}
      </div>
    </section>
  );
}
