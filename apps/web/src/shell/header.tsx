import { IconArrowBackUp, IconArrowForwardUp, IconCloudCheck, IconCloudOff, IconCloudUp, IconPlugConnectedX } from '@tabler/icons-react';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { toQuery, useBench } from '../state/bench.ts';
import { redo, shownDocument, undo, useProject } from '../state/project.ts';
import { allUnwired } from '../words/lint.ts';
import { SchemeSwitch } from './scheme.tsx';

function SaveState() {
  const { save, waiting, revision } = useProject();
  const many = waiting === 1 ? '1 change' : `${waiting} changes`;
  const words = {
    saved: `saved, rev ${revision}`,
    saving: 'saving',
    offline: waiting ? `no connection, ${many} kept here` : 'no connection',
    refused: 'a change was refused',
  }[save];
  const Icon = { saved: IconCloudCheck, saving: IconCloudUp, offline: IconCloudOff, refused: IconCloudOff }[save];
  return (
    <span className="save" data-save={save} data-revision={revision} role="status">
      <Icon size={16} aria-hidden="true" />
      {words}
    </span>
  );
}

const VIEWS = [
  ['bench', 'Bench'],
  ['plan', 'Plan'],
  ['feeds', 'Feeds'],
] as const;

/** The views of the open project; the address goes along, so that each shows the same moment. */
function Views({ id, view }: { id: string; view: string }) {
  // Follows what the address would say.
  const query = useBench(toQuery);
  return (
    <nav className="views" aria-label="Views">
      {VIEWS.map(([path, title]) => (
        <Link key={path} to={`/p/${id}/${path}?${query}`} aria-current={path === view ? 'page' : undefined}>
          {title}
        </Link>
      ))}
    </nav>
  );
}

/** How much is not wired yet; leads to the first of it. */
function UnwiredCount() {
  const document = useProject(shownDocument);
  const loose = useMemo(() => (document ? allUnwired(document) : []), [document]);
  const selection = useBench((s) => s.selection);
  if (loose.length === 0) return null;
  const next = loose[(loose.findIndex(({ id }) => id === selection) + 1) % loose.length] ?? loose[0];
  return (
    <button
      type="button"
      className="unwired-count"
      title={loose.map(({ name, what }) => `${name}: ${what}`).join('\n')}
      onClick={() => next && useBench.setState({ selection: next.id, openStep: null })}
    >
      <IconPlugConnectedX size={15} aria-hidden="true" />
      {loose.length} unwired
    </button>
  );
}

export function Header({ name, view, children }: { name?: string; view?: string; children?: React.ReactNode }) {
  const { undoable, redoable, id } = useProject();
  const [last, next] = [undoable.at(-1)?.what, redoable.at(-1)?.what];
  return (
    <header className="header">
      <Link to="/" className="mark">
        <img src="/mark.svg" alt="" />
        Foreshore
      </Link>
      {name && <span className="project-name">{name}</span>}
      {id && view && <Views id={id} view={view} />}
      <span className="spring" />
      {children}
      {id && (
        <>
          <UnwiredCount />
          <button
            type="button"
            className="icon-button"
            disabled={!last}
            onClick={undo}
            aria-label={last ? `Undo: ${last}` : 'Undo'}
            title={last ? `Undo: ${last} (Ctrl+Z)` : 'Nothing to undo'}
          >
            <IconArrowBackUp size={18} />
          </button>
          <button
            type="button"
            className="icon-button"
            disabled={!next}
            onClick={redo}
            aria-label={next ? `Redo: ${next}` : 'Redo'}
            title={next ? `Redo: ${next} (Ctrl+Shift+Z)` : 'Nothing to redo'}
          >
            <IconArrowForwardUp size={18} />
          </button>
          <SaveState />
        </>
      )}
      <SchemeSwitch />
    </header>
  );
}
