/** Which nodes are meant: a pattern of their names, a property of their extras. */
import { TextInput } from '@mantine/core';

export interface Meant {
  pattern: string;
  property: string | null;
}
const MOST_LETTERS = 200;

export function NodesMeant({ value, onChange }: { value: Meant; onChange: (value: Meant) => void }) {
  const { pattern, property } = value;
  const told = (text: string) => text.trim().slice(0, MOST_LETTERS);
  return (
    <>
      <TextInput
        size="xs"
        label="Nodes named (* for any)"
        key={pattern}
        defaultValue={pattern}
        onBlur={(event) => {
          const now = told(event.currentTarget.value) || '*';
          if (now !== pattern) onChange({ pattern: now, property });
        }}
      />
      <TextInput
        size="xs"
        label="With the property (key or key=value)"
        key={`property ${property}`}
        defaultValue={property ?? ''}
        onBlur={(event) => {
          const now = told(event.currentTarget.value) || null;
          if (now !== property) onChange({ pattern, property: now });
        }}
      />
    </>
  );
}
