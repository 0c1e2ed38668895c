/** Fields that show a change while it is being made, and make it when they are left. */
import { Textarea, TextInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import { dropDraft } from '../state/project.ts';

/** A text that is shown while typed and made a change when left. */
export function DraftText({
  label,
  value,
  lines,
  onDraft,
  onKeep,
}: {
  label: string;
  value: string;
  lines?: boolean;
  onDraft?: (text: string) => void;
  onKeep: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const keep = () => {
    if (text !== value || onDraft) onKeep(text);
  };
  const common = {
    size: 'xs' as const,
    label,
    value: text,
    onChange: (event: { currentTarget: { value: string } }) => {
      setText(event.currentTarget.value);
      onDraft?.(event.currentTarget.value);
    },
    onBlur: keep,
    onKeyDown: (event: { key: string; shiftKey: boolean; preventDefault(): void; currentTarget: HTMLElement }) => {
      if (event.key === 'Escape') {
        setText(value);
        dropDraft();
      } else if (event.key === 'Enter' && !lines) {
        event.preventDefault();
        keep();
      }
    },
  };
  return lines ? <Textarea {...common} autosize minRows={2} maxRows={5} /> : <TextInput {...common} />;
}

const HEX = /^#[0-9a-f]{6}$/i;

export function ColourField({
  label,
  value,
  onDraft,
  onKeep,
}: {
  label: string;
  value: string;
  onDraft: (colour: string) => void;
  onKeep: (colour: string) => void;
}) {
  const alpha = value.slice(7);
  return (
    <div>
      <span className="field-label">{label}</span>
      <span className="colour-field">
        <input
          type="color"
          aria-label={`${label}, choose`}
          value={value.slice(0, 7)}
          onChange={(event) => onDraft(event.currentTarget.value.toUpperCase() + alpha)}
          onBlur={(event) => onKeep(event.currentTarget.value.toUpperCase() + alpha)}
        />
        <TextInput
          size="xs"
          aria-label={`${label}, as #RRGGBB`}
          key={value}
          defaultValue={value.slice(0, 7)}
          onBlur={(event) => {
            const text = event.currentTarget.value.trim();
            if (HEX.test(text)) onKeep(text.toUpperCase() + alpha);
            else event.currentTarget.value = value.slice(0, 7);
          }}
        />
      </span>
    </div>
  );
}
