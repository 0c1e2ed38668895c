/** A choice out of a list that is as wide as what is chosen, up to a limit: for bars, where a field with a label has no room. */
import { Menu, UnstyledButton } from '@mantine/core';
import { IconCheck, IconChevronDown } from '@tabler/icons-react';

export function ChoiceMenu({
  label,
  title,
  value,
  shown,
  choices,
  onChange,
}: {
  label: string;
  title?: string;
  value: string;
  /** What stands on the button in place of the chosen one's words. */
  shown?: string;
  choices: readonly (readonly [value: string, words: string])[];
  onChange: (value: string) => void;
}) {
  const words = choices.find(([v]) => v === value)?.[1] ?? '';
  return (
    <Menu position="top-start" withinPortal>
      <Menu.Target>
        <UnstyledButton
          className="choice-menu"
          aria-label={`${label}: ${shown ?? words}`}
          title={title ?? label}
          data-choice={label}
          data-value={value}
        >
          <span>{shown ?? words}</span>
          <IconChevronDown size={14} aria-hidden="true" />
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        {choices.map(([v, name]) => (
          <Menu.Item
            key={v}
            data-choose={v}
            aria-current={v === value}
            leftSection={v === value ? <IconCheck size={14} /> : <span style={{ width: 14, display: 'inline-block' }} />}
            onClick={() => onChange(v)}
          >
            {name}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
