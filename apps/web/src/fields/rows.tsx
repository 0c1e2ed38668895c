/** What the editors of all kinds share: changing an element of a kind, and rows of fields written as tables. */
import type { Element } from '@foreshore/document';
import { Select } from '@mantine/core';
import { editKind, withElement } from '../edits/edits.ts';
import { draft } from '../state/project.ts';
import { ColourField } from './draft-fields.tsx';
import { NumberField } from './number-field.tsx';

type Of<K extends Element['kind']> = Extract<Element, { kind: K }>;

/** `edit` changes an element of a kind, `paint` its paint; `show` and `showPaint` let it be seen while a colour is being chosen. */
export function editing<K extends Element['kind']>(kind: K, id: string) {
  const part = (changes: Partial<Of<K>>) => (e: Of<K>) => ({ ...e, ...changes }) as Element;
  const painted = (changes: Partial<Of<K>['paint']>) => (e: Of<K>) => ({ ...e, paint: { ...e.paint, ...changes } }) as Element;
  const shown = (recipe: (e: Of<K>) => Element) => draft((d) => withElement(d, id, (e) => (e.kind === kind ? recipe(e as Of<K>) : e)));
  return {
    edit: (what: string, changes: Partial<Of<K>>) => editKind(kind, what, id, part(changes)),
    paint: (what: string, changes: Partial<Of<K>['paint']>) => editKind(kind, what, id, painted(changes)),
    show: (changes: Partial<Of<K>>) => shown(part(changes)),
    showPaint: (changes: Partial<Of<K>['paint']>) => shown(painted(changes)),
  };
}

export interface NumberRow {
  label: string;
  unit: string;
  value: number;
  least?: number;
  greatest?: number;
  step?: number;
  onChange: (value: number) => void;
}

export const NumberRows = ({ rows }: { rows: readonly NumberRow[] }) => rows.map((row) => <NumberField key={row.label} {...row} />);

export interface ColourRow {
  label: string;
  value: string;
  onDraft: (colour: string) => void;
  onKeep: (colour: string) => void;
}
export const ColourRows = ({ rows }: { rows: readonly ColourRow[] }) => rows.map((row) => <ColourField key={row.label} {...row} />);

/** A choice among a few words. */
export function Choice<V extends string>({
  label,
  value,
  choices,
  onChange,
}: {
  label: string;
  value: V;
  choices: Readonly<Partial<Record<V, string>>>;
  onChange: (value: V) => void;
}) {
  return (
    <Select
      size="xs"
      label={label}
      allowDeselect={false}
      value={value}
      data={Object.entries(choices).map(([v, words]) => ({ value: v, label: words as string }))}
      onChange={(v) => v && v !== value && onChange(v as V)}
    />
  );
}
