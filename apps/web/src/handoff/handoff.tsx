/** Handoff: what leaves for a game, in which form, and as which world counts. */
import { isBuiltIn } from '@foreshore/core';
import { type Document, groupOf, inOrder } from '@foreshore/document';
import { contractOf } from '@foreshore/handoff/contract';
import { OWN } from '@foreshore/handoff/convention';
import type { Sheet } from '@foreshore/handoff/sheet';
import { Button, Checkbox, MultiSelect } from '@mantine/core';
import { IconPackageExport } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { useParams } from 'react-router';
import { Header } from '../shell/header.tsx';
import { Unopened } from '../shell/unopened.tsx';
import { Waiting } from '../shell/waiting.tsx';
import { api } from '../state/api.ts';
import { fromQuery, useAddress, useBench } from '../state/bench.ts';
import { useGames } from '../state/game.ts';
import { openProject, shownDocument, useProject } from '../state/project.ts';
import { AnchorsPart } from './anchors-part.tsx';
import { ContractPart } from './contract-part.tsx';
import { ConventionSettings } from './convention-settings.tsx';
import { GamePart } from './game-part.tsx';
import { ProofPart } from './proof-part.tsx';
import { SheetPart } from './sheet-part.tsx';
import './handoff.css';

/** The spec sheet of what is saved, taken anew with every revision. */
function useSheet(id: string): { sheet: Sheet | null; failed: string | null } {
  const revision = useProject((s) => (s.save === 'saved' ? s.revision : null));
  const [state, setState] = useState<{ sheet: Sheet | null; failed: string | null }>({ sheet: null, failed: null });
  useEffect(() => {
    if (revision === null) return;
    let gone = false;
    api.sheet(id).then(
      (sheet) => !gone && setState({ sheet, failed: null }),
      (error: Error) => !gone && setState(({ sheet }) => ({ sheet, failed: error.message })),
    );
    return () => {
      gone = true;
    };
  }, [id, revision]);
  return state;
}

/** The rows of a choice: names, and the id beside a name that several have. */
function choicesOf(collection: Readonly<Record<string, { name: string; order: string }>>): { value: string; label: string }[] {
  const rows = inOrder(collection);
  return rows.map(([id, { name }]) => ({
    value: id,
    label: rows.filter(([, other]) => other.name === name).length > 1 || !name ? `${name} (${id})` : name,
  }));
}

/** What leaves by itself: what is inside of a group leaves with it. */
const leaveable = ({ elements }: Document) =>
  Object.fromEntries(Object.entries(elements).filter(([, element]) => groupOf(element) === null));

function ExportPart({ id, document, waits }: { id: string; document: Document; waits: boolean }) {
  const [withLevel, setWithLevel] = useState(false);
  const [usedLetters, setUsedLetters] = useState(false);
  const [withRuntime, setWithRuntime] = useState(false);
  const [elements, setElements] = useState<string[]>([]);
  const [viewers, setViewers] = useState<string[]>([]);
  const [ofElements, ofViewers] = useMemo(() => [choicesOf(leaveable(document)), choicesOf(document.viewers)], [document]);
  // What was chosen may be gone since.
  const here = (chosen: string[], rows: { value: string }[]) => chosen.filter((one) => rows.some(({ value }) => value === one));
  const some = { elements: here(elements, ofElements), viewers: here(viewers, ofViewers) };
  const query = new URLSearchParams({
    level: withLevel ? 'yes' : 'no',
    letters: usedLetters ? 'used' : 'all',
    runtime: withRuntime ? 'yes' : 'no',
  });
  for (const [what, chosen] of Object.entries(some)) if (chosen.length > 0) query.set(what, chosen.join(','));
  const sent = Object.values(document.feeds).flatMap((feed) =>
    (feed.kind === 'text' || feed.kind === 'list') && !isBuiltIn(feed.source) ? [feed.name] : [],
  );
  const options = [
    ...Object.entries(some).flatMap(([what, chosen]) => (chosen.length > 0 ? [`--${what} ${chosen.join(',')}`] : [])),
    ...(withLevel ? ['--with-level'] : []),
    ...(usedLetters ? ['--used-letters'] : []),
    ...(withRuntime ? ['--with-runtime'] : []),
  ];
  return (
    <section className="handoff-part" aria-label="Export">
      <h2>Export</h2>
      <p className="hint">
        One archive: the bundle that the runtime plays, with its fonts and pictures; the contract as JSON Schema, as a TypeScript
        declaration and as a page; the spec sheet as a page, CSV and JSON.
      </p>
      <MultiSelect
        size="xs"
        label="Elements that leave"
        description="With what is inside of them and what they use"
        placeholder={some.elements.length > 0 ? '' : 'All'}
        data={ofElements}
        value={some.elements}
        onChange={setElements}
        searchable
        clearable
        maxDropdownHeight={260}
        nothingFoundMessage="No element is called so"
      />
      <MultiSelect
        size="xs"
        label="Viewers that leave"
        placeholder={some.viewers.length > 0 ? '' : 'All'}
        data={ofViewers}
        value={some.viewers}
        onChange={setViewers}
        searchable
        clearable
        nothingFoundMessage="No viewer is called so"
      />
      <div className="handoff-checks">
        {document.level?.hash && (
          <Checkbox
            size="xs"
            label="Also the level, in which the runtime casts its rays"
            checked={withLevel}
            onChange={(event) => setWithLevel(event.currentTarget.checked)}
          />
        )}
        <Checkbox
          size="xs"
          label="Fonts with only the letters that are used"
          description={sent.length > 0 ? `Words that a game sends may need others: ${sent.join(', ')}` : undefined}
          checked={usedLetters}
          onChange={(event) => setUsedLetters(event.currentTarget.checked)}
        />
        <Checkbox
          size="xs"
          label="Also the runtime, as modules that a web game imports"
          description="With the parts that this bundle needs, painters, letters, the pointer, and the game connection"
          checked={withRuntime}
          onChange={(event) => setWithRuntime(event.currentTarget.checked)}
        />
      </div>
      <div className="handoff-buttons">
        <Button
          size="xs"
          component="a"
          href={`/api/projects/${id}/handoff?${query}`}
          download
          leftSection={<IconPackageExport size={15} />}
        >
          Export
        </Button>
        {waits && <span className="hint">Changes that are not saved yet stay behind.</span>}
      </div>
      <p className="hint">
        By the command line: <code>{['npx foreshore export PROJECT --to FOLDER', ...options].join(' ')}</code>
      </p>
    </section>
  );
}

export default function Handoff() {
  const { id = '' } = useParams();
  const document = useProject(shownDocument);
  const failed = useProject((s) => s.failed);
  const waiting = useProject((s) => s.waiting);
  useEffect(() => {
    useBench.setState({ ...useBench.getInitialState(), ...fromQuery(window.location.search) }, true);
    void openProject(id);
  }, [id]);
  useAddress();
  useGames(id);
  const { sheet, failed: sheetFailed } = useSheet(id);
  const contract = useMemo(() => (document ? contractOf(document) : null), [document]);
  if (failed) return <Unopened failed={failed} />;
  if (!document || !contract) return <Waiting what="Opening the handoff" />;
  return (
    <main className="handoff">
      <Header name={document.name} view="handoff" />
      <div className="handoff-body">
        <div className="handoff-side">
          <ExportPart id={id} document={document} waits={waiting > 0} />
          <ConventionSettings convention={document.convention ?? OWN} />
          <AnchorsPart id={id} document={document} />
          <ProofPart id={id} />
          <GamePart id={id} />
        </div>
        <div className="handoff-main">
          <ContractPart contract={contract} />
          {sheetFailed && <p role="alert">The spec sheet cannot be made. {sheetFailed}</p>}
          {sheet ? <SheetPart sheet={sheet} project={id} /> : !sheetFailed && <Waiting what="Making the spec sheet" />}
        </div>
      </div>
    </main>
  );
}
