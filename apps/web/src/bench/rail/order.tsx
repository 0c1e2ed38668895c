/** Order: what is inside of what, and what lies in front. The front-most stands on top of the list. */

import { type Document, type Element, inOrder, isMember, isOnHud, isPinned } from '@foreshore/document';
import { ActionIcon, UnstyledButton } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { type DragEvent, type KeyboardEvent, useState } from 'react';
import { insideAll, isInLine, reorder, reparent } from '../../edits/edits.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { select, useBench } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { kindWord } from '../../words/kinds.ts';

/** Rows and columns are listed as they are read, from their start; elsewhere what lies in front stands on top. */
const isLine = (element: Element | undefined): boolean => element?.kind === 'group' && element.layout.direction !== 'free';

const DRAGGED = 'application/x-foreshore-element';

export function Order() {
  const document = useShown();
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [over, setOver] = useState<string | null>(null);
  if (!document) return null;
  const all = [...inOrder(document.elements)].reverse();
  const insides = new Map<string, [string, Element][]>();
  for (const one of all) {
    const { mount } = one[1];
    if (!isMember(mount)) continue;
    const inside = insides.get(mount.group);
    if (inside) inside.push(one);
    else insides.set(mount.group, [one]);
  }
  const onHud = all.filter(([, { mount }]) => isOnHud(mount));
  const inWorld = all.filter(([, { mount }]) => !isPinned(mount));
  const fold = (id: string) => setFolded((now) => new Set(now.has(id) ? [...now].filter((one) => one !== id) : [...now, id]));
  const row = ([id, element]: [string, Element], depth: number): React.ReactNode => {
    const inside = insides.get(id) ?? [];
    const members = isLine(element) ? inside.toReversed() : inside;
    return (
      <li key={id}>
        <Row
          id={id}
          element={element}
          depth={depth}
          folded={folded.has(id)}
          onFold={members.length ? () => fold(id) : null}
          over={over === id}
          setOver={setOver}
          document={document}
        />
        {members.length > 0 && !folded.has(id) && <ul>{members.map((member) => row(member, depth + 1))}</ul>}
      </li>
    );
  };
  return (
    <section className="section order" aria-label="Order">
      <p className="hint">
        On top: in front; rows and columns from their start. Drag one onto a group to put it inside; the arrows, or Alt with the arrow keys,
        move it among its neighbours.
      </p>
      <h3>On the HUD</h3>
      <ul>{onHud.map((one) => row(one, 0))}</ul>
      {onHud.length === 0 && <p className="hint">Nothing yet. Choose Place and click where it should go.</p>}
      <h3>In the world, the nearest in front</h3>
      <ul>{inWorld.map((one) => row(one, 0))}</ul>
    </section>
  );
}

interface RowProps {
  id: string;
  element: Element;
  depth: number;
  folded: boolean;
  onFold: (() => void) | null;
  over: boolean;
  setOver: (id: string | null) => void;
  document: Document;
}

function Row({ id, element, depth, folded, onFold, over, setOver, document }: RowProps) {
  const engine = useEngine();
  const selected = useBench((s) => s.selection === id || s.also.includes(id));
  const inLine = isInLine(document, id);
  const [up, down]: [1 | -1, 1 | -1] = inLine ? [-1, 1] : [1, -1];
  const takes = (event: DragEvent): boolean => event.dataTransfer.types.includes(DRAGGED) && element.kind === 'group';
  const drop = (event: DragEvent) => {
    setOver(null);
    const dragged = event.dataTransfer.getData(DRAGGED);
    if (!dragged || dragged === id || insideAll(document, dragged).includes(id)) return;
    event.preventDefault();
    reparent(dragged, id, engine.places.placeWithin(dragged, id));
  };
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowUp: up, ArrowDown: down }[event.key];
    if (!event.altKey || !by) return;
    event.preventDefault();
    event.stopPropagation();
    reorder(id, by);
  };
  const still = !isPinned(element.mount);
  return (
    <div
      className="order-row"
      data-order={id}
      data-selected={selected}
      data-over={over}
      style={{ paddingLeft: depth * 16 }}
      draggable
      onDragStart={(event) => event.dataTransfer.setData(DRAGGED, id)}
      onDragOver={(event) => {
        if (!takes(event)) return;
        event.preventDefault();
        setOver(id);
      }}
      onDragLeave={() => setOver(null)}
      onDrop={drop}
      onKeyDown={onKey}
    >
      {onFold ? (
        <ActionIcon
          variant="transparent"
          className="icon-button"
          aria-label={`${folded ? 'Unfold' : 'Fold'} ${element.name}`}
          aria-expanded={!folded}
          onClick={onFold}
        >
          {folded ? <IconChevronRight size={14} /> : <IconChevronDown size={14} />}
        </ActionIcon>
      ) : (
        <span className="order-indent" />
      )}
      <UnstyledButton className="order-name" aria-current={selected} onClick={(event) => select(id, event.shiftKey)}>
        {element.name} <span className="hint">{kindWord(element).toLowerCase()}</span>
      </UnstyledButton>
      {!still && selected && (
        <>
          <ActionIcon
            variant="transparent"
            className="icon-button"
            aria-label={inLine ? `Move ${element.name} towards the start` : `Bring ${element.name} forward`}
            title={inLine ? 'Towards the start (Alt and arrow up)' : 'Forward (Alt and arrow up)'}
            onClick={() => reorder(id, up)}
          >
            <IconArrowUp size={14} />
          </ActionIcon>
          <ActionIcon
            variant="transparent"
            className="icon-button"
            aria-label={inLine ? `Move ${element.name} towards the end` : `Send ${element.name} back`}
            title={inLine ? 'Towards the end (Alt and arrow down)' : 'Back (Alt and arrow down)'}
            onClick={() => reorder(id, down)}
          >
            <IconArrowDown size={14} />
          </ActionIcon>
        </>
      )}
    </div>
  );
}
