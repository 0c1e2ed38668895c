/** What opens and closes a part of the view. */
import { UnstyledButton } from '@mantine/core';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import type { ReactNode } from 'react';

export function Fold({ opened, onToggle, children }: { opened: boolean; onToggle: () => void; children: ReactNode }) {
  return (
    <UnstyledButton className="checks-fold" aria-expanded={opened} onClick={onToggle}>
      {opened ? <IconChevronDown size={14} aria-hidden="true" /> : <IconChevronRight size={14} aria-hidden="true" />}
      {children}
    </UnstyledButton>
  );
}
