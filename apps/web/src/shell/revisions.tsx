/** The revisions of the open project: what each changed, what it is called; looking at one, and bringing it back as a new one. */
import { type Document, placeOfPointer, type RevisionAbout, type Revisions } from '@foreshore/document';
import { Popover, TextInput, UnstyledButton } from '@mantine/core';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../state/api.ts';
import { compareSince } from '../state/compare.ts';
import { sayFailed } from '../state/notices.ts';
import { change, draft, dropDraft, useProject, useProjectPart } from '../state/project.ts';

export const day = (at: number): string =>
  new Date(at).toLocaleString([], { month: 'short', day: 'numeric', hour: '2-digit', minute: '2-digit' });

/** What a change touched, by the names that things have now. */
export function sayTouched(document: Document, { number, touched, more }: RevisionAbout): string {
  if (touched.length === 0) return number === 0 ? 'as it was begun' : 'brought back after it could not be read';
  const said = touched.map((pointer) => {
    const { name, id, field } = placeOfPointer(document, pointer);
    return [name ?? id, field].filter(Boolean).join(', ') || pointer;
  });
  return `${[...new Set(said)].join('; ')}${more > 0 ? `; and ${more} more` : ''}`;
}

/** @param children what opens the list. */
export function RevisionList({ children }: { children: React.ReactNode }) {
  const { id, revision, save } = useProjectPart('id', 'revision', 'save');
  const [opened, setOpened] = useState(false);
  const [list, setList] = useState<Revisions | null>(null);
  const [asked, setLooked] = useState<number | null>(null);
  // A change made meanwhile shows the project as it is again.
  const drafted = useProject((s) => s.draft !== null);
  const looked = drafted ? asked : null;
  const load = async (before?: number): Promise<void> => {
    if (!id) return;
    try {
      const next = await api.revisions(id, before);
      setList((now) => (before === undefined || !now ? next : { ...next, revisions: [...now.revisions, ...next.revisions] }));
    } catch (error) {
      sayFailed(`The revisions could not be read: ${(error as Error).message}`);
    }
  };
  // What is saved while the list is open is in it.
  useEffect(() => {
    if (opened && save === 'saved') void load();
  }, [opened, revision, save, id]);
  const leave = () => {
    if (looked !== null) dropDraft();
    setLooked(null);
  };
  const close = () => {
    leave();
    setOpened(false);
  };
  const oldest = list?.revisions.at(-1)?.number ?? 0;
  const row = (one: RevisionAbout) => (
    <Revision key={one.number} one={one} present={list?.revision ?? 0} {...{ looked, look: setLooked, leave, load, close }} />
  );
  return (
    <Popover position="bottom-end" width={460} withinPortal opened={opened} onChange={(to) => (to ? setOpened(true) : close())}>
      <Popover.Target>
        <UnstyledButton
          className="save-button"
          title="The project's revisions"
          aria-haspopup="dialog"
          onClick={() => (opened ? close() : setOpened(true))}
        >
          {children}
        </UnstyledButton>
      </Popover.Target>
      <Popover.Dropdown mah={520} style={{ overflowY: 'auto' }} aria-label="Revisions">
        <div className="aside-list" data-revisions={list ? list.revisions.length : undefined}>
          <p>
            {looked === null
              ? 'Every change is kept. Look at an earlier revision in the picture, or bring it back as a new one.'
              : `The view shows revision ${looked}; nothing is changed by that.`}
          </p>
          {list && list.named.length > 0 && <b>Named</b>}
          <ol>{list?.named.map(row)}</ol>
          {list && list.named.length > 0 && <b>All</b>}
          <ol>{list?.revisions.map(row)}</ol>
          {oldest > 0 && (
            <UnstyledButton className="text-button" onClick={() => void load(oldest)}>
              Earlier ones
            </UnstyledButton>
          )}
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}

function Revision({
  one,
  present,
  looked,
  look,
  leave,
  load,
  close,
}: {
  one: RevisionAbout;
  /** The number of the present revision. */
  present: number;
  looked: number | null;
  look: (number: number) => void;
  leave: () => void;
  load: () => Promise<void>;
  close: () => void;
}) {
  const { id, document } = useProjectPart('id', 'document');
  const go = useNavigate();
  const { number } = one;
  if (!id || !document) return null;
  const tried = (what: string, does: () => Promise<unknown>) => () =>
    void does().catch((error: Error) => sayFailed(`${what}: ${error.message}`));
  const isLooked = looked === number;
  return (
    <li data-revision-of={number} data-looked={isLooked || undefined}>
      <p>
        <b>{number}</b>
        <span className="hint">
          {' '}
          {one.at === null ? '' : `${day(one.at)}, `}
          {sayTouched(document, one)}
        </span>
      </p>
      <div className="revision-row">
        <TextInput
          size="xs"
          aria-label={`Name of revision ${number}`}
          placeholder="No name"
          defaultValue={one.name ?? ''}
          key={one.name ?? ''}
          maxLength={200}
          onBlur={(event) => {
            const name = event.currentTarget.value.trim() || null;
            if (name !== one.name) tried('The name was not kept', () => api.nameRevision(id, number, name).then(() => load()))();
          }}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
        {number < present && (
          <>
            <UnstyledButton
              className="text-button"
              aria-pressed={isLooked}
              onClick={tried('It cannot be looked at', async () => {
                if (isLooked) {
                  leave();
                  return;
                }
                const then = await api.revision(id, number);
                draft(() => then);
                look(number);
              })}
            >
              Look
            </UnstyledButton>
            <UnstyledButton
              className="text-button"
              title="As a new revision, which can be undone; the project keeps its name"
              onClick={tried('It was not brought back', async () => {
                const then = await api.revision(id, number);
                leave();
                change(`Bring back revision ${number}`, ({ name }) => ({ ...then, name }));
              })}
            >
              Bring back
            </UnstyledButton>
          </>
        )}
        {number < present && (
          <UnstyledButton
            className="text-button"
            title="What is another since then, along the routes, at elements that nobody edited"
            onClick={() => {
              compareSince(id, number);
              close();
              void go(`/p/${id}/checks`);
            }}
          >
            Compare
          </UnstyledButton>
        )}
        <UnstyledButton
          className="text-button"
          title="A project of its own"
          onClick={tried('No copy was made', () => api.copyRevision(id, number).then((copy) => go(`/p/${copy.id}/bench`)))}
        >
          Copy
        </UnstyledButton>
      </div>
    </li>
  );
}
