import { IconArrowBackUp, IconArrowForwardUp, IconCloudCheck, IconCloudOff, IconCloudUp } from '@tabler/icons-react';
import { Link } from 'react-router';
import { redo, undo, useProject } from '../state/project.ts';
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

export function Header({ name }: { name?: string }) {
  const { undoable, redoable, id } = useProject();
  const [last, next] = [undoable.at(-1)?.what, redoable.at(-1)?.what];
  return (
    <header className="header">
      <Link to="/" className="mark">
        <img src="/mark.svg" alt="" />
        Foreshore
      </Link>
      {name && <span className="project-name">{name}</span>}
      <span className="spring" />
      {id && (
        <>
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
