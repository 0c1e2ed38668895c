import { type Unfinished as UnfinishedThing, unfinishedInParts } from '@foreshore/checks';
import { sayLoose } from '@foreshore/words';
import { ActionIcon, Menu, UnstyledButton } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { IconArrowBackUp, IconArrowForwardUp, IconCloudCheck, IconCloudOff, IconCloudUp, IconPlugConnectedX } from '@tabler/icons-react';
import { memo, useDeferredValue, useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { slowly, whenIdle } from '../level/pause.ts';
import { toQuery, useBench } from '../state/bench.ts';
import { redo, shownDocument, undo, useProject, useProjectPart } from '../state/project.ts';
import { RevisionList } from './revisions.tsx';
import { SchemeSwitch } from './scheme.tsx';
import { SetAsideList } from './set-aside.tsx';

function SaveState() {
  const { save, waiting, revision } = useProjectPart('save', 'waiting', 'revision');
  const many = waiting === 1 ? '1 change' : `${waiting} changes`;
  const words = {
    saved: `saved, rev ${revision}`,
    saving: 'saving',
    offline: waiting ? `no connection, ${many} kept here` : 'no connection',
    full: `the server's disk is full, ${many} kept here`,
    behind: `the server is behind, ${many} kept here`,
    removed: 'this project was removed',
  }[save];
  const Icon = {
    saved: IconCloudCheck,
    saving: IconCloudUp,
    offline: IconCloudOff,
    full: IconCloudOff,
    behind: IconCloudOff,
    removed: IconCloudOff,
  }[save];
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
  ['checks', 'Checks'],
  ['feeds', 'Feeds'],
  ['handoff', 'Handoff'],
] as const;

/** While the camera moves, the views' addresses follow so often, milliseconds. */
const FOLLOW_MS = 400;

/** What the address would say: exactly as soon as it is asked for, and now and then while it changes with every picture. */
function useFollowed(): [query: string, now: () => void] {
  const [query, setQuery] = useState(() => toQuery(useBench.getState()));
  const now = () => setQuery(toQuery(useBench.getState()));
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const stop = useBench.subscribe(() => {
      timer ??= setTimeout(() => {
        timer = undefined;
        setQuery(toQuery(useBench.getState()));
      }, FOLLOW_MS);
    });
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, []);
  return [query, now];
}

/** The views of the open project; the address goes along, so that each shows the same moment. */
function Views({ id, view }: { id: string; view: string }) {
  const [query, now] = useFollowed();
  return (
    <nav className="views" aria-label="Views" onPointerEnter={now} onPointerDownCapture={now} onFocus={now} onKeyDownCapture={now}>
      {VIEWS.map(([path, title]) => (
        <Link key={path} to={`/p/${id}/${path}?${query}`} aria-current={path === view ? 'page' : undefined}>
          {title}
        </Link>
      ))}
    </nav>
  );
}

/** For so long at a time, so that a key's picture is not held up. */
const SOME_MS = 8;
/** A picture goes before, but not for ever. */
const MOST_WAIT_MS = 1000;

/** What is unfinished in the project. All elements are gone through for it, in parts, when the picture shows a change. */
function Unfinished({ project }: { project: string }) {
  const document = useDeferredValue(useProject(shownDocument), null);
  const [all, setAll] = useState<readonly UnfinishedThing[]>([]);
  useEffect(() => {
    if (!document) return;
    let wanted = true;
    const find = () => void slowly(unfinishedInParts(document), SOME_MS).then((found) => wanted && setAll(found));
    const callOff = whenIdle(find, MOST_WAIT_MS);
    return () => {
      wanted = false;
      callOff();
    };
  }, [document]);
  return <UnfinishedList all={all} project={project} />;
}

/** A list whose rows lead to the thing, in every view. */
const UnfinishedList = memo(function UnfinishedList({ all, project }: { all: readonly UnfinishedThing[]; project: string }) {
  const go = useNavigate();
  if (all.length === 0) return null;
  const open = ({ at, id }: UnfinishedThing) => {
    if (at === 'element') useBench.setState({ selection: id, openStep: null, rail: 'content' });
    void go(
      `/p/${project}/${at === 'element' ? 'bench' : 'feeds'}?${toQuery(useBench.getState())}${at === 'element' ? '' : `#${at}-${id}`}`,
    );
  };
  return (
    <Menu position="bottom-end" width={380}>
      <Menu.Target>
        <UnstyledButton className="unfinished-count" title="What is unfinished, and where">
          <IconPlugConnectedX size={15} aria-hidden="true" />
          {all.length} unfinished
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown mah={420} style={{ overflowY: 'auto' }}>
        {all.map((one) => (
          <Menu.Item key={`${one.at} ${one.id} ${sayLoose(one.what)}`} data-unfinished={one.id} onClick={() => open(one)}>
            <b>{one.name || one.id}</b>
            <span className="unfinished-what">{sayLoose(one.what)}</span>
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
});

/** Undo and redo by the keyboard, in every view; a field that is being typed in keeps its own. */
function useHistoryKeys(): void {
  useHotkeys([
    ['mod+Z', undo],
    ['mod+shift+Z', redo],
    ['mod+Y', redo],
  ]);
}

function History() {
  const last = useProject((s) => s.undoable.at(-1)?.what);
  const next = useProject((s) => s.redoable.at(-1)?.what);
  return (
    <>
      <ActionIcon
        variant="transparent"
        className="icon-button"
        disabled={!last}
        onClick={undo}
        aria-label={last ? `Undo: ${last}` : 'Undo'}
        title={last ? `Undo: ${last} (Ctrl+Z)` : 'Nothing to undo'}
      >
        <IconArrowBackUp size={18} />
      </ActionIcon>
      <ActionIcon
        variant="transparent"
        className="icon-button"
        disabled={!next}
        onClick={redo}
        aria-label={next ? `Redo: ${next}` : 'Redo'}
        title={next ? `Redo: ${next} (Ctrl+Shift+Z)` : 'Nothing to redo'}
      >
        <IconArrowForwardUp size={18} />
      </ActionIcon>
    </>
  );
}

const SAVE_STATE = <SaveState />;

export const Header = memo(function Header({ name, view, children }: { name?: string; view?: string; children?: React.ReactNode }) {
  const id = useProject((s) => s.id);
  useHistoryKeys();
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
          <SetAsideList />
          <Unfinished project={id} />
          <History />
          <RevisionList>{SAVE_STATE}</RevisionList>
        </>
      )}
      <SchemeSwitch />
    </header>
  );
});
