/** Asks what one unit of a level is, beside a person of 1.75 m, and which way is up. */

import type { LevelFacts } from '@foreshore/document';
import { Button, Group, Modal, Radio, SegmentedControl } from '@mantine/core';
import { useState } from 'react';

const UNITS = [
  { name: 'metres', metres: 1 },
  { name: 'centimetres', metres: 0.01 },
  { name: 'inches', metres: 0.0254 },
] as const;
const PERSON_M = 1.75;

export interface UnitAnswer {
  metresPerUnit: number;
  upAxis: 'y' | 'z';
}

/** The unit in which the level is most like a place people walk in. */
const likely = (widest: number): string =>
  [...UNITS].sort((a, b) => Math.abs(Math.log((widest * a.metres) / 40)) - Math.abs(Math.log((widest * b.metres) / 40)))[0]?.name ??
  'metres';

const metres = (m: number): string => (m >= 100 ? m.toFixed(0) : m >= 1 ? m.toFixed(1) : m.toFixed(3));

export function UnitDialog({
  facts,
  onAnswer,
  onCancel,
}: {
  facts: LevelFacts;
  onAnswer: (answer: UnitAnswer) => void;
  onCancel: () => void;
}) {
  const widest = Math.max(...facts.size);
  const [unit, setUnit] = useState(likely(widest));
  const [upAxis, setUpAxis] = useState<'y' | 'z'>('y');
  const perUnit = UNITS.find((u) => u.name === unit)?.metres ?? 1;
  const [x, y, z] = facts.size;
  const height = (upAxis === 'y' ? y : z) * perUnit;
  const width = Math.max(x, upAxis === 'y' ? z : y) * perUnit;
  // Both figures to one scale; the taller fills the height.
  const scale = 130 / Math.max(height, PERSON_M);
  return (
    <Modal opened onClose={onCancel} title={`How large is ${facts.fileName}?`} size="lg">
      <p className="hint">
        Its size suggests that it is not modelled in metres. Choose the unit in which it is as large as you mean it, beside a person of 1.75
        m.
      </p>
      <div
        className="figures"
        role="img"
        aria-label={`The level is ${metres(height)} m high and ${metres(width)} m wide; the person is 1.75 m high`}
      >
        <svg
          width={Math.max(6, PERSON_M * scale * 0.36)}
          height={Math.max(2, PERSON_M * scale)}
          viewBox="0 0 36 100"
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          <circle cx="18" cy="9" r="9" fill="var(--ink)" />
          <path d="M6 22h24l-3 38h-4l-1 40h-8l-1-40H9z" fill="var(--ink)" />
        </svg>
        <svg width={Math.min(420, Math.max(3, width * scale))} height={Math.max(2, height * scale)} aria-hidden="true">
          <rect width="100%" height="100%" fill="var(--land)" stroke="var(--ink)" strokeWidth="2" />
        </svg>
      </div>
      <Radio.Group value={unit} onChange={setUnit} label="One unit is">
        {UNITS.map((u) => (
          <Radio
            key={u.name}
            value={u.name}
            mt={6}
            label={`${u.name}: ${metres(x * u.metres)} x ${metres((upAxis === 'y' ? z : y) * u.metres)} m, ${metres((upAxis === 'y' ? y : z) * u.metres)} m high`}
          />
        ))}
      </Radio.Group>
      <Group mt="md" gap="sm">
        <span>Up is</span>
        <SegmentedControl
          size="xs"
          value={upAxis}
          onChange={(value) => setUpAxis(value as 'y' | 'z')}
          data={[
            { value: 'y', label: '+Y (glTF)' },
            { value: 'z', label: '+Z' },
          ]}
          aria-label="Which axis is up"
        />
      </Group>
      <Group mt="lg" justify="end">
        <Button variant="default" onClick={onCancel}>
          Cancel
        </Button>
        <Button onClick={() => onAnswer({ metresPerUnit: perUnit, upAxis })}>Use {unit}</Button>
      </Group>
    </Modal>
  );
}
