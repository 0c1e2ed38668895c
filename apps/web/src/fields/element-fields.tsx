/** Fields that several kinds of elements have. */
import { type Element, inOrder } from '@foreshore/document';
import { Select } from '@mantine/core';
import { useShown } from '../state/beside.tsx';
import { NumberField } from './number-field.tsx';
import { editing } from './rows.tsx';

export function SourceField({
  source,
  kind,
  onChange,
}: {
  source: string | null;
  kind: 'number' | 'flag' | 'event';
  onChange: (id: string | null) => void;
}) {
  const document = useShown();
  return (
    <Select
      size="xs"
      label={`Feed (${kind === 'event' ? 'an' : 'a'} ${kind})`}
      placeholder="None yet"
      value={source}
      data={inOrder(document?.feeds ?? {}).map(([value, f]) => ({ value, label: f.name, disabled: f.kind !== kind }))}
      onChange={onChange}
    />
  );
}

export function OpacityField({ id, element }: { id: string; element: Exclude<Element, { kind: 'label' | 'gauge' | 'group' }> }) {
  const { paint } = editing(element.kind, id);
  return (
    <NumberField
      label={element.kind === 'screenPaint' ? 'Strength' : 'Opacity'}
      unit="%"
      step={5}
      value={element.paint.opacity * 100}
      least={0}
      greatest={100}
      onChange={(v) => paint('Change opacity', { opacity: v / 100 })}
    />
  );
}
