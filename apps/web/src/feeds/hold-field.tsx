/** A value set by hand: of a feed, or of one object of it. */
import type { Feed, FeedValue } from '@foreshore/document';
import { Switch, TextInput } from '@mantine/core';
import { hold } from '../state/live.ts';

/** @param id of the feed, or the key of the object's value. @param name what is held, as it is called. Lists and events are held otherwise. */
export function HoldField({ id, name, feed, value }: { id: string; name: string; feed: Feed; value: FeedValue | undefined }) {
  const [least, most] = feed.range ?? [0, 100];
  if (feed.kind === 'number')
    return (
      <input
        type="range"
        aria-label={`Hold ${name} at`}
        min={least}
        max={most}
        step={(most - least) / 200}
        value={typeof value === 'number' ? value : 0}
        onChange={(event) => hold(id, Number(event.currentTarget.value))}
      />
    );
  if (feed.kind === 'flag')
    return (
      <Switch
        size="xs"
        label="Hold at yes"
        aria-label={name === feed.name ? undefined : `Hold ${name} at yes`}
        checked={value === true}
        onChange={(event) => hold(id, event.currentTarget.checked)}
      />
    );
  if (feed.kind === 'text')
    return (
      <TextInput
        size="xs"
        aria-label={`Hold ${name} at`}
        value={typeof value === 'string' ? value : ''}
        onChange={(event) => hold(id, event.currentTarget.value)}
      />
    );
  return null;
}
