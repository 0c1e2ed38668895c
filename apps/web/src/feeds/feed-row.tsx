/** One feed: what it is worth now, how it runs over a minute, where its values come from. */
import { isEvent, routePose } from '@foreshore/core';
import { type Feed, type FeedValue, withFeedRenamed, withoutFeed } from '@foreshore/document';
import { formatValue } from '@foreshore/words';
import { ActionIcon, TextInput, UnstyledButton } from '@mantine/core';
import { IconHandStop, IconTrash } from '@tabler/icons-react';
import { memo, useRef } from 'react';
import { useNear } from '../shell/near.ts';
import { useBench } from '../state/bench.ts';
import { hold, letGo, useLive } from '../state/live.ts';
import { sayFailed } from '../state/notices.ts';
import { change, useProject } from '../state/project.ts';
import { HEIGHT, History, Playhead } from './feed-history.tsx';
import { FeedObjects } from './feed-objects.tsx';
import { Fields } from './feed-source.tsx';
import { HoldField } from './hold-field.tsx';

/** Where the viewer stands in the present frame, metres. */
function standing(): [number, number, number] {
  const { pose, route, timeS } = useBench.getState();
  const way = useProject.getState().document?.routes[route];
  return (pose ?? (way ? routePose(way, timeS) : null))?.position ?? [0, 0, 0];
}

interface Props {
  id: string;
  feed: Feed;
  value: FeedValue | undefined;
  fromS: number;
  toS: number;
  history: readonly { at: number; value: FeedValue | undefined }[];
  /** It is what a game has sent, up to now. */
  isSent: boolean;
  /** What it is used by, by name. */
  users: readonly string[];
  /** Of one that has a value for each object, by object; null: not known. */
  objects: ReadonlyMap<string, FeedValue | undefined> | null;
}
/** The height that the fields of a feed take before they are made, pixels. */
const FIELDS_PX = 116;

/** Memoised: while time goes on only the values change. */
export const FeedRow = memo(function FeedRow({ id, feed, value, fromS, toS, history, isSent, users, objects }: Props) {
  const held = useLive((s) => Object.hasOwn(s.held, id));
  const edit = (what: string, next: Feed) => change(what, (d) => ({ ...d, feeds: { ...d.feeds, [id]: next } }));
  const outside = typeof value === 'number' && feed.range !== undefined && (value < feed.range[0] || value > feed.range[1]);
  const row = useRef<HTMLElement>(null);
  const near = useNear(row);
  return (
    <article ref={row} id={`feed-${id}`} className="feed" data-feed={id} aria-label={feed.name}>
      <header>
        <TextInput
          key={feed.name}
          size="xs"
          aria-label="Name"
          defaultValue={feed.name}
          onBlur={(event) => {
            const name = event.currentTarget.value.trim();
            if (name && name !== feed.name) edit('Rename a feed', { ...feed, name });
          }}
        />
        <ActionIcon
          variant="transparent"
          className="icon-button"
          aria-label={`Remove ${feed.name}`}
          title="Remove"
          onClick={() => {
            letGo(id);
            change(`Remove ${feed.name}`, (d) => withoutFeed(d, id));
          }}
        >
          <IconTrash size={15} />
        </ActionIcon>
        <TextInput
          key={`id ${id}`}
          size="xs"
          className="feed-id"
          leftSection={<span className="feed-id-mark">id</span>}
          aria-label="Id in texts"
          title="How texts refer to it, in braces"
          defaultValue={id}
          onKeyDown={({ key, currentTarget }) => key === 'Enter' && currentTarget.blur()}
          onBlur={({ currentTarget }) => {
            const next = currentTarget.value.trim();
            if (next === id) return;
            currentTarget.value = id;
            try {
              change('Change the id of a feed', (d) => withFeedRenamed(d, id, next));
            } catch (error) {
              sayFailed((error as Error).message);
            }
          }}
        />
      </header>
      <div className="feed-now">
        <output className="num" data-outside={outside}>
          {value === undefined ? 'no value' : formatValue(value)}
        </output>
        <span className="hint">
          {feed.unit}
          {outside ? ' outside its range' : ''}
        </span>
      </div>
      <div className="feed-history">
        {near ? (
          <History history={history} isSent={isSent} fromS={fromS} toS={toS} kind={feed.kind} range={feed.range} />
        ) : (
          <div style={{ height: HEIGHT }} />
        )}
        {!isSent && feed.kind !== 'text' && feed.kind !== 'list' && feed.kind !== 'event' && <Playhead fromS={fromS} toS={toS} />}
      </div>
      <div className="feed-hold">
        <HoldField id={id} name={feed.name} feed={feed} value={value} />
        {feed.kind === 'event' && (
          <UnstyledButton
            className="text-button"
            title="It happens once more, where the viewer stands now"
            onClick={() => hold(id, { number: (isEvent(value) ? value.number : 0) + 1, place: standing() })}
          >
            Happens here
          </UnstyledButton>
        )}
        {feed.kind === 'event' && (
          <UnstyledButton
            className="text-button"
            title="It happens once more, at no place: a direction shows it all around"
            onClick={() => hold(id, { number: (isEvent(value) ? value.number : 0) + 1, place: null })}
          >
            Nowhere
          </UnstyledButton>
        )}
        {(feed.kind !== 'event' || held) && (
          <UnstyledButton
            className="text-button"
            aria-pressed={held}
            onClick={() => (held ? letGo(id) : value !== undefined && hold(id, value))}
            title={held ? 'Let go: its source says again what it is worth' : 'Hold it at what it is worth now'}
          >
            <IconHandStop size={14} aria-hidden="true" /> {held ? 'Held' : 'Hold'}
          </UnstyledButton>
        )}
      </div>
      {near ? <Fields id={id} feed={feed} /> : <div className="fields feed-fields" style={{ minHeight: FIELDS_PX }} />}
      {feed.each && <FeedObjects id={id} feed={feed} values={objects} />}
      {users.length > 0 && <p className="hint feed-users">Used by {users.join(', ')}</p>}
    </article>
  );
});
