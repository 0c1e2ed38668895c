/** Conditions on feeds: compared with a value, changed lately, and joined to any depth. */
import { isEvent } from '@foreshore/core';
import {
  type Comparison,
  type Condition,
  type ConditionGroup,
  type Document,
  type Feed,
  type FeedValue,
  inOrder,
  type Show,
} from '@foreshore/document';
import { ActionIcon, Select, TextInput, UnstyledButton } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { useShown } from '../state/beside.tsx';
import { NumberField } from './number-field.tsx';

const COMPARISONS = [
  { value: 'below', label: 'is below' },
  { value: 'atMost', label: 'is at most' },
  { value: 'above', label: 'is above' },
  { value: 'atLeast', label: 'is at least' },
  { value: 'equals', label: 'is equal to' },
  { value: 'differs', label: 'is other than' },
  { value: 'changed', label: 'has just changed' },
];

type Joined = Pick<Show, 'need' | 'conditions'>;
/** What the feeds are worth now, where that is known. */
export type ValuesNow = () => Readonly<Record<string, FeedValue | undefined>>;

/** All conditions of one level, with what joins them, and a button for another. */
export function ConditionList({
  need,
  conditions,
  document,
  valuesNow,
  onChange,
}: Joined & { document: Document; valuesNow: ValuesNow; onChange: (what: string, part: Partial<Joined>) => void }) {
  const put = (k: number, condition: Condition) =>
    onChange('Change a condition', { conditions: conditions.map((c, i) => (i === k ? condition : c)) });
  const remove = (k: number) => onChange('Remove a condition', { conditions: conditions.filter((_, i) => i !== k) });
  const first = inOrder(document.feeds)[0];
  // One that is new changes nothing yet: it holds where conditions must, and fails where none may.
  const made = ([id, feed]: [string, Feed]) => compareWith(id, valuesNow()[id] ?? feed.initial, need !== 'none');
  return (
    <>
      {conditions.length > 1 && (
        <Select
          className="wide"
          size="xs"
          label="Needs"
          allowDeselect={false}
          value={need}
          data={[
            { value: 'all', label: 'all of these' },
            { value: 'any', label: 'any of these' },
            { value: 'none', label: 'none of these' },
          ]}
          onChange={(next) => next && onChange('Change conditions', { need: next as Show['need'] })}
        />
      )}
      {conditions.map((condition, k) =>
        condition.kind === 'group' ? (
          <fieldset key={`${k} group`} className="wide joined">
            <legend>
              Joined{' '}
              <ActionIcon
                variant="transparent"
                className="icon-button"
                aria-label="Remove what is joined"
                title="Remove"
                onClick={() => remove(k)}
              >
                <IconX size={15} />
              </ActionIcon>
            </legend>
            <ConditionList
              need={condition.need}
              conditions={condition.conditions}
              document={document}
              valuesNow={valuesNow}
              onChange={(_, part) => put(k, { ...condition, ...part } as ConditionGroup)}
            />
          </fieldset>
        ) : (
          <ConditionFields
            key={`${k} ${condition.kind} ${condition.feed}`}
            condition={condition}
            document={document}
            changes
            worthOf={(id) => valuesNow()[id]}
            holds={need !== 'none'}
            onChange={(next) => put(k, next)}
            onRemove={() => remove(k)}
          />
        ),
      )}
      <div className="wide buttons">
        <UnstyledButton
          className="text-button"
          disabled={!first}
          title={first ? undefined : 'Make a feed first, in the Feeds view'}
          onClick={() => first && onChange('Add a condition', { conditions: [...conditions, made(first)] })}
        >
          <IconPlus size={14} aria-hidden="true" /> Condition
        </UnstyledButton>
        <UnstyledButton
          className="text-button"
          disabled={!first}
          title="Conditions joined among themselves, as one of these"
          onClick={() =>
            first &&
            onChange('Join conditions', {
              conditions: [...conditions, { kind: 'group', need: 'any', conditions: [made(first)] }],
            })
          }
        >
          <IconPlus size={14} aria-hidden="true" /> Joined
        </UnstyledButton>
      </div>
    </>
  );
}

/** Comparisons that must all hold. */
export function Comparisons({
  label,
  conditions,
  holds,
  valuesNow = () => ({}),
  onChange,
}: {
  label: string;
  conditions: readonly Comparison[];
  /** Whether a new one holds at what its feed is worth now. */
  holds: boolean;
  valuesNow?: ValuesNow;
  onChange: (conditions: Comparison[]) => void;
}) {
  const document = useShown();
  const first = document && inOrder(document.feeds)[0];
  if (!document) return null;
  return (
    <div className="wide">
      <span className="field-label">{label}</span>
      {conditions.map((condition, k) => (
        <ConditionFields
          key={`${k} ${condition.feed}`}
          condition={condition}
          document={document}
          changes={false}
          worthOf={(id) => valuesNow()[id]}
          holds={holds}
          onChange={(next) => next.kind === 'compare' && onChange(conditions.map((c, i) => (i === k ? next : c)))}
          onRemove={() => onChange(conditions.filter((_, i) => i !== k))}
        />
      ))}
      <UnstyledButton
        className="text-button"
        disabled={!first}
        title={first ? undefined : 'Make a feed first, in the Feeds view'}
        onClick={() => first && onChange([...conditions, compareWith(first[0], valuesNow()[first[0]] ?? first[1].initial, holds)])}
      >
        <IconPlus size={14} aria-hidden="true" /> Condition
      </UnstyledButton>
    </div>
  );
}

/** A comparison with what a feed is worth: one that holds there, or one that does not. */
export function compareWith(feed: string, value: FeedValue, holds: boolean): Comparison {
  const plain = Array.isArray(value) ? value.join(' ') : isEvent(value) ? value.number : value;
  const is = typeof plain === 'number' ? (holds ? 'atLeast' : 'above') : holds ? 'equals' : 'differs';
  return { kind: 'compare', feed, is, value: plain, leave: 0 };
}

type Leaf = Exclude<Condition, { kind: 'group' }>;

interface ConditionProps<C> {
  condition: C;
  document: Document;
  /** Whether a change of the value is something to ask for here. */
  changes: boolean;
  worthOf: (feed: string) => FeedValue | undefined;
  holds: boolean;
  onChange: (condition: C) => void;
  onRemove: () => void;
}

function ConditionFields({ condition, document, changes, worthOf, holds, onChange, onRemove }: ConditionProps<Leaf>) {
  const feed = document.feeds[condition.feed];
  // Of an event, how often it has happened.
  const ordered = feed?.kind === 'number' || feed?.kind === 'event';
  return (
    <div className="wide condition">
      <Select
        size="xs"
        aria-label="Feed"
        allowDeselect={false}
        value={condition.feed}
        data={inOrder(document.feeds).map(([value, f]) => ({ value, label: f.name }))}
        onChange={(id) => {
          const next = id ? document.feeds[id] : undefined;
          if (id && next?.kind === 'event' && changes) onChange({ kind: 'changed', feed: id, withinS: 3 });
          else if (id && next) onChange(compareWith(id, worthOf(id) ?? next.initial, holds));
        }}
      />
      <Select
        size="xs"
        aria-label="Comparison"
        allowDeselect={false}
        value={condition.kind === 'changed' ? 'changed' : condition.is}
        data={COMPARISONS.filter(
          ({ value }) => (ordered || ['equals', 'differs', 'changed'].includes(value)) && (changes || value !== 'changed'),
        )}
        onChange={(is) => {
          if (is === 'changed') onChange({ kind: 'changed', feed: condition.feed, withinS: 3 });
          else if (is)
            onChange({
              ...compareWith(condition.feed, condition.kind === 'compare' ? condition.value : (feed?.initial ?? 0), holds),
              is,
            } as Leaf);
        }}
      />
      <ActionIcon variant="transparent" className="icon-button" aria-label="Remove the condition" title="Remove" onClick={onRemove}>
        <IconX size={15} />
      </ActionIcon>
      {condition.kind === 'changed' ? (
        <NumberField
          label="Within"
          unit="s"
          step={0.5}
          value={condition.withinS}
          least={0.1}
          onChange={(withinS) => onChange({ ...condition, withinS })}
        />
      ) : typeof condition.value === 'number' ? (
        <>
          <NumberField
            label="Value"
            unit={feed?.unit ?? ''}
            value={condition.value}
            onChange={(value) => onChange({ ...condition, value })}
          />
          <NumberField
            label="Hysteresis"
            unit={feed?.unit ?? ''}
            value={condition.leave}
            least={0}
            onChange={(leave) => onChange({ ...condition, leave })}
          />
        </>
      ) : typeof condition.value === 'boolean' ? (
        <Select
          size="xs"
          label="Value"
          allowDeselect={false}
          value={String(condition.value)}
          data={[
            { value: 'true', label: 'yes' },
            { value: 'false', label: 'no' },
          ]}
          onChange={(value) => onChange({ ...condition, value: value === 'true' })}
        />
      ) : (
        <TextInput
          size="xs"
          label="Value"
          defaultValue={condition.value}
          onBlur={(event) => onChange({ ...condition, value: event.currentTarget.value })}
        />
      )}
    </div>
  );
}
