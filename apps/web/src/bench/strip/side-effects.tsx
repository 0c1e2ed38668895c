/** What the last change did to elements that it did not touch: a mark at their rows, and a list with what takes the change back. */
import type { SideEffect } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { sayEffect } from '@foreshore/words';
import { Menu, UnstyledButton } from '@mantine/core';
import { IconArrowBackUp, IconRipple, IconRippleOff } from '@tabler/icons-react';
import { select } from '../../state/bench.ts';
import { undo, useProject } from '../../state/project.ts';
import { useSideEffects, wantSideEffects } from '../../state/side-effects.ts';

/** More are marked in the strip, and not listed. */
const MOST_LISTED = 40;

/** At a row: in a word or two, what happened. */
export function Mark({ effect }: { effect: SideEffect | undefined }) {
  if (!effect) return null;
  return (
    <span className="row-mark" data-effect={effect.kind} title="By what was changed last, which did not touch this element">
      {sayEffect(effect)}
    </span>
  );
}

function undoLast(changes: number): void {
  for (let k = 0; k < changes; k++) undo();
}

export function SideEffectsMenu({ document }: { document: Document }) {
  const { wanted, effects, by, changes, known } = useSideEffects();
  const last = useProject((s) => s.undoable.at(-1));
  const count = effects.length === 1 ? '1 side effect' : `${effects.length} side effects`;
  const lastOnes = changes > 1 ? `last ${changes} changes` : 'last change';
  const name = (id: string) => document.elements[id]?.name || id;
  return (
    <Menu position="top-start" width={340}>
      <Menu.Target>
        <UnstyledButton
          className="side-effects"
          data-side-effects={wanted ? effects.length : 'off'}
          data-known={known}
          aria-label={wanted ? `Side effects marked: ${effects.length}` : 'Side effects of changes are not marked'}
          title={wanted ? 'What the last change did to elements that it did not touch' : 'Side effects of changes are not marked'}
        >
          {wanted ? <IconRipple size={16} aria-hidden="true" /> : <IconRippleOff size={16} aria-hidden="true" />}
          {wanted && effects.length > 0 && <span className="num">{effects.length}</span>}
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown mah={360} style={{ overflowY: 'auto' }}>
        {wanted && (
          <Menu.Label>{effects.length > 0 ? `${count} of the ${lastOnes}, at this moment` : 'None is marked at this moment'}</Menu.Label>
        )}
        {effects.slice(0, MOST_LISTED).map((effect) => (
          <Menu.Item key={effect.element} onClick={() => select(effect.element)}>
            <b>{name(effect.element)}</b> {sayEffect(effect)}
          </Menu.Item>
        ))}
        {effects.length > MOST_LISTED && <Menu.Label>and {effects.length - MOST_LISTED} more, marked in the strip</Menu.Label>}
        {effects.length > 0 && last && last === by && (
          <Menu.Item leftSection={<IconArrowBackUp size={14} aria-hidden="true" />} onClick={() => undoLast(changes)}>
            {changes > 1 ? `Undo the ${lastOnes}` : `Undo: ${last.what}`}
          </Menu.Item>
        )}
        <Menu.Divider />
        <Menu.Item data-switch onClick={() => wantSideEffects(!wanted)}>
          {wanted ? 'Stop marking side effects' : 'Mark side effects of changes'}
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
