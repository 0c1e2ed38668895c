/** Fields that show a change while it is being made, and make it when they are left. */
import { ColorInput, Textarea, TextInput } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
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

const HEX = /^#[0-9a-f]{6}([0-9a-f]{2})?$/i;
/** As the document writes it: in capitals, without an opacity of 100 %; null while it is no colour. */
const written = (text: string): string | null => {
  const colour = text.trim().toUpperCase();
  return HEX.test(colour) ? colour.replace(/^(#.{6})FF$/, '$1') : null;
};

/** A colour with its opacity: picked, or typed as #RRGGBB or #RRGGBBAA. */
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
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const typing = useRef(false);
  const keep = (typed: string) => {
    const colour = written(typed);
    // What is shown may be a draft of just this colour: that it is the same says nothing of what is kept.
    if (colour) onKeep(colour);
    else {
      dropDraft();
      setText(value);
    }
  };
  return (
    <ColorInput
      size="xs"
      label={label}
      format="hexa"
      withEyeDropper={false}
      value={text}
      onChange={(typed) => {
        setText(typed);
        const colour = written(typed);
        if (colour && colour !== value) onDraft(colour);
      }}
      onKeyDown={() => {
        typing.current = true;
      }}
      // Each digit ends a change for the field: what is typed is kept when it is left.
      onChangeEnd={(picked) => !typing.current && keep(picked)}
      onBlur={() => {
        if (typing.current) keep(text);
        typing.current = false;
      }}
    />
  );
}
