/** Own changes that lost against others: what each wanted, what stands there, and what becomes of it. */
import { differences, placeOfPointer } from '@foreshore/document';
import { Popover, UnstyledButton } from '@mantine/core';
import { IconGitMerge } from '@tabler/icons-react';
import { keepTheirs, takeMine, useProject } from '../state/project.ts';
import type { SetAside } from '../state/unsent.ts';

const clock = (at: number): string => new Date(at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' });

/** A value as short as it can be told apart. */
function written(value: unknown): string {
  if (value === undefined) return 'not there';
  if (typeof value === 'string') return value.length > 60 ? `${value.slice(0, 60)}...` : value;
  const text = JSON.stringify(value);
  return text.length > 60 ? `${text.slice(0, 60)}...` : text;
}

function Lost({ aside }: { aside: SetAside }) {
  const document = useProject((s) => s.document);
  if (!document) return null;
  const all = differences(document, aside.patch);
  const isKnown = aside.by !== null;
  return (
    <li data-aside={aside.id}>
      <p>
        <b>{aside.what || 'A change'}</b>
        <span className="hint">
          {' '}
          lost at {clock(aside.at)}
          {aside.by?.at ? `, against a change from another window at ${clock(aside.by.at)}` : ''}
        </span>
      </p>
      {all.length === 0 ? (
        <p className="hint">It stands as you wanted it by now.</p>
      ) : (
        <table>
          <thead>
            <tr>
              <th>Where</th>
              <th>Mine</th>
              <th>{isKnown ? 'Theirs' : 'As it stands'}</th>
            </tr>
          </thead>
          <tbody>
            {all.slice(0, 6).map(({ pointer, mine, theirs }) => {
              const { name, id, field } = placeOfPointer(document, pointer);
              return (
                <tr key={pointer}>
                  <th scope="row" title={pointer}>
                    {[name ?? id, field].filter(Boolean).join(', ')}
                  </th>
                  <td>{written(mine)}</td>
                  <td>{written(theirs)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {all.length > 6 && <p className="hint">and {all.length - 6} more places</p>}
      <p className="aside-buttons">
        <UnstyledButton className="text-button" onClick={() => void takeMine([aside])}>
          Take mine
        </UnstyledButton>
        <UnstyledButton className="text-button" onClick={() => void keepTheirs([aside])}>
          {isKnown ? 'Keep theirs' : 'Leave it as it stands'}
        </UnstyledButton>
      </p>
    </li>
  );
}

export function SetAsideList() {
  const aside = useProject((s) => s.aside);
  if (aside.length === 0) return null;
  return (
    <Popover position="bottom-end" width={440} withinPortal>
      <Popover.Target>
        <UnstyledButton className="unfinished-count" data-aside-count={aside.length} title="Your changes that lost against others">
          <IconGitMerge size={15} aria-hidden="true" />
          {aside.length} set aside
        </UnstyledButton>
      </Popover.Target>
      <Popover.Dropdown mah={460} style={{ overflowY: 'auto' }} aria-label="Set aside">
        <div className="aside-list">
          <p>
            {aside.length === 1 ? 'This change' : `These ${aside.length} changes`}{' '}
            {aside.every(({ by }) => by !== null)
              ? 'met another one at the same place, and that one was first.'
              : 'could not be made in the project as it stands.'}
          </p>
          {aside.length > 1 && (
            <p className="aside-buttons">
              <UnstyledButton className="text-button" onClick={() => void takeMine(aside)}>
                Take all mine
              </UnstyledButton>
              <UnstyledButton className="text-button" onClick={() => void keepTheirs(aside)}>
                Keep all theirs
              </UnstyledButton>
            </p>
          )}
          <ol>
            {aside.map((one) => (
              <Lost key={one.id} aside={one} />
            ))}
          </ol>
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}
