/** A number with its unit: arrow keys step, text may be a sum or carry another unit, Escape takes it back. */
import { TextInput } from '@mantine/core';
import { type KeyboardEvent, useEffect, useState } from 'react';
import { readQuantity } from './quantity.ts';

interface Props {
  label: string;
  value: number;
  unit: string;
  step?: number;
  least?: number;
  greatest?: number;
  onChange: (value: number) => void;
}

const plain = (value: number): string => String(Number(value.toFixed(4)));

export function NumberField({
  label,
  value,
  unit,
  step = 1,
  least = Number.NEGATIVE_INFINITY,
  greatest = Number.POSITIVE_INFINITY,
  onChange,
}: Props) {
  const [text, setText] = useState(plain(value));
  const [fault, setFault] = useState<string | null>(null);
  useEffect(() => {
    setText(plain(value));
    setFault(null);
  }, [value]);

  const take = (wanted: string) => {
    try {
      const number = readQuantity(wanted, unit);
      if (number < least) throw new RangeError(`At least ${plain(least)} ${unit}.`);
      if (number > greatest) throw new RangeError(`At most ${plain(greatest)} ${unit}.`);
      setFault(null);
      setText(plain(number));
      if (number !== value) onChange(number);
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === 'Enter') take(text);
    else if (event.key === 'Escape') {
      setText(plain(value));
      setFault(null);
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      const size = step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
      const next = value + (event.key === 'ArrowUp' ? size : -size);
      take(plain(Math.min(greatest, Math.max(least, next))));
    }
  };
  return (
    <TextInput
      size="xs"
      className="number-field"
      label={label}
      value={text}
      error={fault}
      rightSection={<span className="unit">{unit}</span>}
      rightSectionWidth={unit.length > 3 ? 52 : 32}
      rightSectionPointerEvents="none"
      onChange={(event) => setText(event.currentTarget.value)}
      onBlur={() => {
        if (text !== plain(value)) take(text);
      }}
      onKeyDown={onKey}
    />
  );
}
