/** Settings of the Phase step: what each phase does to the element, and which conditions on feeds it needs. */
import { type Condition, type Document, type FeedValue, inOrder, type Show } from '@foreshore/document';
import { Select, TextInput } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { NumberField } from '../shell/number-field.tsx';
import { editElement } from './edits.ts';
import type { Props } from './step-settings.tsx';

const ALWAYS: Show = { phases: {}, need: 'all', conditions: [], lingerS: 0 };
const COMPARISONS = [
  { value: 'below', label: 'is below' },
  { value: 'atMost', label: 'is at most' },
  { value: 'above', label: 'is above' },
  { value: 'atLeast', label: 'is at least' },
  { value: 'equals', label: 'is equal to' },
  { value: 'differs', label: 'is other than' },
  { value: 'changed', label: 'has just changed' },
];

export function PhaseSettings({ id, element, document }: Props) {
  const show = element.show ?? ALWAYS;
  const edit = (what: string, part: Partial<Show>) =>
    editElement(what, id, ({ show: old, ...rest }) => {
      const next = { ...(old ?? ALWAYS), ...part };
      const always = Object.keys(next.phases).length === 0 && next.conditions.length === 0;
      return always ? rest : { ...rest, show: next };
    });
  const inPhase = (phase: string, what: string) => {
    const { [phase]: _, ...others } = show.phases;
    edit('Change phases', { phases: what === 'shown' ? others : { ...others, [phase]: what as 'hidden' | 'dimmed' } });
  };
  const feeds = inOrder(document.feeds);
  const change = (k: number, condition: Condition) =>
    edit('Change a condition', { conditions: show.conditions.map((c, i) => (i === k ? condition : c)) });
  return (
    <div className="fields">
      <table className="wide phase-table">
        <tbody>
          {inOrder(document.phases).map(([phase, { name }]) => (
            <tr key={phase}>
              <th scope="row">{name}</th>
              {(['shown', 'dimmed', 'hidden'] as const).map((what) => (
                <td key={what}>
                  <label>
                    <input
                      type="radio"
                      name={`${id} ${phase}`}
                      checked={(show.phases[phase] ?? 'shown') === what}
                      onChange={() => inPhase(phase, what)}
                    />{' '}
                    {what}
                  </label>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {show.conditions.length > 1 && (
        <Select
          className="wide"
          size="xs"
          label="Needs"
          allowDeselect={false}
          value={show.need}
          data={[
            { value: 'all', label: 'all of these' },
            { value: 'any', label: 'any of these' },
            { value: 'none', label: 'none of these' },
          ]}
          onChange={(need) => need && edit('Change conditions', { need: need as Show['need'] })}
        />
      )}
      {show.conditions.map((condition, k) => (
        <ConditionFields
          key={`${k} ${condition.kind} ${condition.feed}`}
          condition={condition}
          document={document}
          onChange={(next) => change(k, next)}
          onRemove={() => edit('Remove a condition', { conditions: show.conditions.filter((_, i) => i !== k) })}
        />
      ))}
      <button
        type="button"
        className="text-button wide"
        style={{ justifySelf: 'start' }}
        disabled={feeds.length === 0}
        title={feeds.length === 0 ? 'Make a feed first, in the Feeds view' : undefined}
        onClick={() => {
          const [feed, one] = feeds[0] ?? [];
          if (feed && one) edit('Add a condition', { conditions: [...show.conditions, compareWith(feed, one.initial)] });
        }}
      >
        <IconPlus size={14} aria-hidden="true" /> Condition
      </button>
      {show.conditions.length > 0 && (
        <NumberField
          label="Stays this long after"
          unit="s"
          step={0.1}
          value={show.lingerS}
          least={0}
          onChange={(lingerS) => edit('Change lingering', { lingerS })}
        />
      )}
    </div>
  );
}

const compareWith = (feed: string, value: FeedValue): Condition => ({
  kind: 'compare',
  feed,
  is: typeof value === 'number' ? 'below' : 'equals',
  value,
  leave: 0,
});

interface ConditionProps {
  condition: Condition;
  document: Document;
  onChange: (condition: Condition) => void;
  onRemove: () => void;
}

function ConditionFields({ condition, document, onChange, onRemove }: ConditionProps) {
  const feed = document.feeds[condition.feed];
  const ordered = feed?.kind === 'number';
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
          if (id && next) onChange(compareWith(id, next.initial));
        }}
      />
      <Select
        size="xs"
        aria-label="Comparison"
        allowDeselect={false}
        value={condition.kind === 'changed' ? 'changed' : condition.is}
        data={COMPARISONS.filter(({ value }) => ordered || ['equals', 'differs', 'changed'].includes(value))}
        onChange={(is) => {
          if (is === 'changed') onChange({ kind: 'changed', feed: condition.feed, withinS: 3 });
          else if (is)
            onChange({
              ...compareWith(condition.feed, condition.kind === 'compare' ? condition.value : (feed?.initial ?? 0)),
              is,
            } as Condition);
        }}
      />
      <button type="button" className="icon-button" aria-label="Remove the condition" title="Remove" onClick={onRemove}>
        <IconX size={15} />
      </button>
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
            label="Comes back by"
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
