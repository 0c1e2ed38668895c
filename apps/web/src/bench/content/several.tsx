/** What can be done with several elements at once. */

import { inOrder, isPinned } from '@foreshore/document';
import { ActionIcon, Select, UnstyledButton } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { alignBoxes, SIDES, type Side, spreadBoxes } from '../../edits/align-distribute.ts';
import { instancesAt, isMovable, removeElement, withElement } from '../../edits/edits.ts';
import type { Places } from '../../engine/places.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { say } from '../../state/notices.ts';
import { change } from '../../state/project.ts';

export function Several() {
  const engine = useEngine();
  const document = useShown();
  const { selection, also } = useBenchPart('selection', 'also');
  if (!document || !selection) return null;
  const ids = [selection, ...also];
  const templates = inOrder(document.elements).flatMap(([value, e]) =>
    e.kind === 'group' && e.template ? [{ value, label: e.name }] : [],
  );
  const move = (what: string, plan: (boxes: NonNullable<ReturnType<Places['boxOf']>>[]) => [number, number][]) => {
    const able = ids.flatMap((id) => {
      const element = document.elements[id];
      // What is stretched has no place of its own.
      const stretched = isPinned(element?.mount) && element?.mount.stretch.some(Boolean);
      const box = element && !stretched && isMovable(document, element) ? engine.places.boxOf(id) : null;
      return box ? [{ id, box }] : [];
    });
    if (able.length < 2) {
      say('These are placed by their rows and columns, or are not in the picture: there is nothing to move.');
      return;
    }
    const moves = plan(able.map(({ box }) => box));
    change(what, (d) =>
      able.reduce((next, { id }, k) => {
        const [dx, dy] = moves[k] as [number, number];
        const unit = engine.places.unitOf(id);
        return withElement(next, id, (e) => ({
          ...e,
          place: { ...e.place, offsetPx: [e.place.offsetPx[0] + dx / unit, e.place.offsetPx[1] + dy / unit] },
        }));
      }, d),
    );
  };
  return (
    <section className="section" aria-label="Several">
      <h2>
        {ids.length} selected
        <span className="spring" />
        <ActionIcon
          variant="transparent"
          className="icon-button"
          title="Delete"
          aria-label="Delete all that are selected"
          onClick={() => {
            for (const id of ids) removeElement(id);
          }}
        >
          <IconTrash size={17} />
        </ActionIcon>
      </h2>
      <p className="hint">In line with {document.elements[selection]?.name}, which was selected first.</p>
      <div className="buttons">
        {(Object.entries(SIDES) as [Side, string][]).map(([side, words]) => (
          <UnstyledButton key={side} className="text-button" onClick={() => move('Align', (boxes) => alignBoxes(boxes, side))}>
            {words}
          </UnstyledButton>
        ))}
      </div>
      <p className="hint">As much room between each and the next; the outermost stay.</p>
      <div className="buttons">
        <UnstyledButton
          className="text-button"
          disabled={ids.length < 3}
          onClick={() => move('Spread', (boxes) => spreadBoxes(boxes, true))}
        >
          Distribute horizontally
        </UnstyledButton>
        <UnstyledButton
          className="text-button"
          disabled={ids.length < 3}
          onClick={() => move('Spread', (boxes) => spreadBoxes(boxes, false))}
        >
          Distribute vertically
        </UnstyledButton>
      </div>
      {templates.length > 0 && (
        <Select
          size="xs"
          label="Use a template at the anchor of each"
          placeholder="Choose one"
          value={null}
          data={templates}
          onChange={(of) => {
            const made = of ? instancesAt(of, ids) : 0;
            if (of) say(made ? `It was used ${made} times.` : 'None of these floats over an anchor.');
          }}
        />
      )}
      <ul className="members">
        {ids.map((id) => (
          <li key={id}>
            <UnstyledButton className="link-button" onClick={() => useBench.setState({ selection: id, also: [] })}>
              {document.elements[id]?.name}
            </UnstyledButton>
          </li>
        ))}
      </ul>
    </section>
  );
}
