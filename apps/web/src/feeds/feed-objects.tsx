/** The objects of a feed that has a value for each: what each is worth, and held at. */
import { type Feed, type FeedValue, keyAt } from '@foreshore/document';
import { formatValue } from '@foreshore/words';
import { UnstyledButton } from '@mantine/core';
import { useState } from 'react';
import { letGo, useLive } from '../state/live.ts';
import { HoldField } from './hold-field.tsx';

/** So many are shown at once. */
const FEW = 6;

interface Props {
  id: string;
  feed: Feed;
  /** By object; null: the level is not there. */
  values: ReadonlyMap<string, FeedValue | undefined> | null;
}

export function FeedObjects({ id, feed, values }: Props) {
  const held = useLive((s) => s.held);
  const [all, setAll] = useState(false);
  if (!values) return <p className="hint feed-objects">Which objects there are is known once the level is there.</p>;
  if (values.size === 0)
    return (
      <p className="hint feed-objects">
        No element that reads it stands at a node of the level: give a gauge or a text an anchor on one, or on many.
      </p>
    );
  const objects = [...values].sort(([a], [b]) => a.localeCompare(b, 'en', { numeric: true }));
  return (
    <div className="feed-objects">
      <ul aria-label={`Objects of ${feed.name}`}>
        {objects.slice(0, all ? objects.length : FEW).map(([object, value]) => {
          const key = keyAt(id, object);
          return (
            <li key={object} data-object={object}>
              <span className="feed-object">{object}</span>
              <output className="num">{value === undefined ? 'no value' : `${formatValue(value)} ${feed.unit}`}</output>
              <HoldField id={key} name={`${feed.name} of ${object}`} feed={feed} value={value} />
              {Object.hasOwn(held, key) && (
                <UnstyledButton className="text-button" aria-label={`Let go of ${feed.name} of ${object}`} onClick={() => letGo(key)}>
                  Let go
                </UnstyledButton>
              )}
            </li>
          );
        })}
      </ul>
      {objects.length > FEW && (
        <UnstyledButton className="text-button" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `All ${objects.length} objects`}
        </UnstyledButton>
      )}
    </div>
  );
}
