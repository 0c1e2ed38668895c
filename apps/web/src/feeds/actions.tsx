/** Actions: what elements send when they are used, and what the bench does on each. */
import { DEFAULT_KEYS } from '@foreshore/core';
import { type Action, type Document, freeId, inOrder, orderAfter, type Reaction } from '@foreshore/document';
import { ActionIcon, Select, TextInput, UnstyledButton } from '@mantine/core';
import { IconPlus, IconTrash, IconX } from '@tabler/icons-react';
import { useRef } from 'react';
import { Comparisons } from '../fields/conditions.tsx';
import { KeysFields } from '../fields/keys-fields.tsx';
import { NumberField } from '../fields/number-field.tsx';
import { Choice } from '../fields/rows.tsx';
import { useNear } from '../shell/near.ts';
import { say } from '../state/notices.ts';
import { change } from '../state/project.ts';

const KINDS = [
  { value: 'set', label: 'Set a feed' },
  { value: 'add', label: 'Add to a feed' },
  { value: 'other', label: 'Toggle between values' },
  { value: 'phase', label: 'Change the phase' },
  { value: 'send', label: 'Send another action' },
  { value: 'show', label: 'Show or hide an element' },
  { value: 'motion', label: 'Play a motion' },
];

function makeReaction(kind: string, document: Document, action: string): Reaction | null {
  const feeds = inOrder(document.feeds);
  const [feed, one] = (kind === 'add' || kind === 'other' ? feeds.find(([, f]) => f.kind === 'number') : feeds[0]) ?? [];
  if (kind === 'phase') return { kind, when: [], phase: inOrder(document.phases)[0]?.[0] ?? '' };
  if (kind === 'send') return { kind, when: [], action: inOrder(document.actions ?? {}).find(([id]) => id !== action)?.[0] ?? action };
  const [element] = inOrder(document.elements).find(([, e]) => kind !== 'motion' || e.motion?.enter) ?? [];
  if (kind === 'show') return element ? { kind, when: [], element, shown: 'other' } : null;
  if (kind === 'motion') return element ? { kind, when: [], element } : null;
  if (!feed || !one) return null;
  if (kind === 'other') return { kind, when: [], feed, values: one.range ?? [0, 1], overS: 1 };
  return kind === 'set' ? { kind, when: [], feed, value: one.initial } : { kind: 'add', when: [], feed, by: 1 };
}

/** So high is what an action does, about: until it is made. */
const BODY_PX = 180;

/** The keys of an action and what is done on it. */
function ActionBody({
  document,
  id,
  action,
  put,
}: {
  document: Document;
  id: string;
  action: Action;
  put: (id: string, what: string, next: Action) => void;
}) {
  const body = useRef<HTMLDivElement>(null);
  const edit = (reactions: Reaction[]) => put(id, 'Change a reaction', { ...action, reactions });
  if (!useNear(body)) return <div ref={body} style={{ height: BODY_PX }} />;
  return (
    <>
      <KeysFields
        pictured
        keys={action.keys ?? DEFAULT_KEYS}
        usual={DEFAULT_KEYS}
        onChange={(keys) => put(id, 'Change keys', { ...action, keys })}
      />
      {action.reactions.map((reaction, k) => (
        <ReactionFields
          key={`${k} ${reaction.kind}`}
          reaction={reaction}
          document={document}
          onChange={(next) => edit(action.reactions.map((r, i) => (i === k ? next : r)))}
          onRemove={() => edit(action.reactions.filter((_, i) => i !== k))}
        />
      ))}
      <Select
        size="xs"
        aria-label={`Add a reaction to ${action.name}`}
        placeholder="Add a reaction"
        value={null}
        data={KINDS}
        onChange={(kind) => {
          const made = kind ? makeReaction(kind, document, id) : null;
          if (made) edit([...action.reactions, made]);
          else if (kind) say(kind === 'motion' ? 'No element comes in a motion yet.' : 'There is nothing yet for it to act on.');
        }}
      />
    </>
  );
}

export function Actions({ document }: { document: Document }) {
  const actions = inOrder(document.actions ?? {});
  const put = (id: string, what: string, next: Action) => change(what, (d) => ({ ...d, actions: { ...d.actions, [id]: next } }));
  const senders = (id: string) =>
    Object.values(document.elements)
      .filter(
        (e) =>
          e.pointer?.action === id ||
          e.press?.action === id ||
          (e.kind === 'key' && e.action === id) ||
          e.motion?.enter?.sends === id ||
          e.motion?.leave?.sends === id,
      )
      .map((e) => e.name);
  const sentBy = (id: string) =>
    actions.some(([other, a]) => other !== id && a.reactions.some((r) => r.kind === 'send' && r.action === id));
  return (
    <section aria-label="Actions">
      <h2>Actions</h2>
      <p className="hint">What elements send when they are used. Here the bench does what you say; in the game, the game does.</p>
      {actions.map(([id, action]) => {
        const from = senders(id);
        return (
          <article key={id} id={`action-${id}`} className="action" data-action-id={id}>
            <header>
              <TextInput
                key={action.name}
                size="xs"
                aria-label="Name of the action"
                defaultValue={action.name}
                onBlur={(event) => {
                  const name = event.currentTarget.value.trim();
                  if (name && name !== action.name) put(id, 'Rename an action', { ...action, name });
                }}
              />
              <ActionIcon
                variant="transparent"
                className="icon-button"
                aria-label={`Remove action ${action.name}`}
                disabled={from.length > 0 || sentBy(id)}
                title={from.length ? `Sent by ${from.join(', ')}` : 'Remove'}
                onClick={() =>
                  change(`Remove ${action.name}`, (d) => {
                    const { [id]: _, ...rest } = d.actions ?? {};
                    return { ...d, actions: rest };
                  })
                }
              >
                <IconTrash size={15} />
              </ActionIcon>
            </header>
            <p className="hint">{from.length ? `Sent by ${from.join(', ')}` : 'Sent by nothing yet'}</p>
            <ActionBody document={document} id={id} action={action} put={put} />
          </article>
        );
      })}
      <UnstyledButton
        className="text-button"
        onClick={() =>
          change('Make an action', (d) => ({
            ...d,
            actions: {
              ...d.actions,
              [freeId(d.actions ?? {}, 'action')]: { name: 'Action', order: orderAfter(d.actions ?? {}), reactions: [] },
            },
          }))
        }
      >
        <IconPlus size={14} aria-hidden="true" /> Action
      </UnstyledButton>
    </section>
  );
}

interface Props {
  reaction: Reaction;
  document: Document;
  onChange: (reaction: Reaction) => void;
  onRemove: () => void;
}

function ReactionFields({ reaction, document, onChange, onRemove }: Props) {
  const feeds = inOrder(document.feeds).map(([value, f]) => ({
    value,
    label: f.name,
    disabled: (reaction.kind === 'add' || reaction.kind === 'other') && f.kind !== 'number',
  }));
  const feed = reaction.kind === 'set' || reaction.kind === 'add' || reaction.kind === 'other' ? document.feeds[reaction.feed] : undefined;
  return (
    <div className="reaction">
      {(reaction.kind === 'set' || reaction.kind === 'add' || reaction.kind === 'other') && (
        <Select
          size="xs"
          label={reaction.kind === 'set' ? 'Set' : reaction.kind === 'add' ? 'Add to' : 'Turn over'}
          allowDeselect={false}
          value={reaction.feed}
          data={feeds}
          onChange={(id) => {
            const next = id ? document.feeds[id] : undefined;
            if (id && next) onChange(reaction.kind === 'set' ? { ...reaction, feed: id, value: next.initial } : { ...reaction, feed: id });
          }}
        />
      )}
      {reaction.kind === 'add' && (
        <NumberField label="this much" unit={feed?.unit ?? ''} value={reaction.by} onChange={(by) => onChange({ ...reaction, by })} />
      )}
      {reaction.kind === 'other' &&
        (['between', 'and'] as const).map((label, k) => (
          <NumberField
            key={label}
            label={label}
            unit={feed?.unit ?? ''}
            value={reaction.values[k] as number}
            onChange={(v) => onChange({ ...reaction, values: reaction.values.map((old, i) => (i === k ? v : old)) as [number, number] })}
          />
        ))}
      {(reaction.kind === 'other' || (reaction.kind === 'set' && typeof reaction.value === 'number')) && (
        <NumberField
          label="in (0: at once)"
          unit="s"
          step={0.1}
          least={0}
          greatest={600}
          value={reaction.overS ?? 0}
          onChange={(v) => {
            const { overS: _, ...rest } = reaction;
            onChange(v > 0 ? { ...rest, overS: v } : rest);
          }}
        />
      )}
      {reaction.kind === 'set' && typeof reaction.value === 'number' && (
        <NumberField label="to" unit={feed?.unit ?? ''} value={reaction.value} onChange={(value) => onChange({ ...reaction, value })} />
      )}
      {reaction.kind === 'set' && typeof reaction.value === 'string' && (
        <TextInput
          size="xs"
          label="to"
          defaultValue={reaction.value}
          onBlur={(event) => onChange({ ...reaction, value: event.currentTarget.value })}
        />
      )}
      {reaction.kind === 'set' && typeof reaction.value === 'boolean' && (
        <Select
          size="xs"
          label="to"
          allowDeselect={false}
          value={String(reaction.value)}
          data={[
            { value: 'true', label: 'yes' },
            { value: 'false', label: 'no' },
          ]}
          onChange={(value) => onChange({ ...reaction, value: value === 'true' })}
        />
      )}
      {reaction.kind === 'phase' && (
        <Select
          size="xs"
          label="Change the phase to"
          allowDeselect={false}
          value={reaction.phase}
          data={inOrder(document.phases).map(([value, p]) => ({ value, label: p.name }))}
          onChange={(phase) => phase && onChange({ ...reaction, phase })}
        />
      )}
      {reaction.kind === 'send' && (
        <Select
          size="xs"
          label="Send"
          allowDeselect={false}
          value={reaction.action}
          data={inOrder(document.actions ?? {}).map(([value, a]) => ({ value, label: a.name }))}
          onChange={(action) => action && onChange({ ...reaction, action })}
        />
      )}
      {(reaction.kind === 'show' || reaction.kind === 'motion') && (
        <Select
          size="xs"
          label={reaction.kind === 'show' ? 'Show or hide' : 'Play how it comes'}
          searchable
          allowDeselect={false}
          value={reaction.element}
          data={inOrder(document.elements).flatMap(([value, e]) =>
            reaction.kind === 'show' || e.motion?.enter || value === reaction.element ? [{ value, label: e.name }] : [],
          )}
          onChange={(element) => element && onChange({ ...reaction, element })}
        />
      )}
      {reaction.kind === 'show' && (
        <Choice
          label="It is then"
          value={reaction.shown}
          choices={{ shown: 'shown', hidden: 'hidden', other: 'the other than before' }}
          onChange={(shown) => onChange({ ...reaction, shown })}
        />
      )}
      <TextInput
        size="xs"
        label="Only at the target (empty: any)"
        key={reaction.target ?? ''}
        defaultValue={reaction.target ?? ''}
        onBlur={(event) => {
          const { target: old, ...rest } = reaction;
          const target = event.currentTarget.value.trim();
          if (target !== (old ?? '')) onChange(target ? { ...rest, target } : rest);
        }}
      />
      <div className="guards">
        <Comparisons
          holds
          label="Only while all of these hold"
          conditions={reaction.when}
          onChange={(when) => onChange({ ...reaction, when })}
        />
      </div>
      <ActionIcon variant="transparent" className="icon-button" aria-label="Remove the reaction" title="Remove" onClick={onRemove}>
        <IconX size={15} />
      </ActionIcon>
    </div>
  );
}
