/** A gate of an element that can be switched on, with its fields while it is. */
import { type Document, type Element, inOrder, isOnHud, promptGates } from '@foreshore/document';
import { Select, Switch } from '@mantine/core';
import { editElement, isGateable } from '../edits/edits.ts';
import type { ElementProps } from './element-props.ts';

type Gate = 'range' | 'look' | 'sightline' | 'claim' | 'press';

/** The element with a gate, or without it. On the glass a gate needs an anchor to be about. */
function withGate(document: Document, element: Element, gate: Gate, on: boolean): Element {
  const { [gate]: _, ...rest } = element;
  if (!on) return rest as Element;
  const about = isOnHud(element.mount) ? (element.about ?? inOrder(document.anchors)[0]?.[0]) : undefined;
  return { ...rest, ...(about !== undefined && { about }), [gate]: promptGates(null)[gate] } as Element;
}

export function Gated({
  id,
  element,
  document,
  gate,
  label,
  children,
}: ElementProps & { gate: Gate; label: string; children: React.ReactNode }) {
  if (!isGateable(element)) return <p className="hint wide">What is inside of a group shows with it: set this on the outermost one.</p>;
  const anchorless = isOnHud(element.mount) && Object.keys(document.anchors).length === 0;
  return (
    <>
      <Switch
        className="wide"
        size="xs"
        label={label}
        disabled={anchorless}
        checked={element[gate] !== undefined}
        onChange={(event) => {
          const on = event.currentTarget.checked;
          editElement(`${on ? 'Add' : 'Remove'} ${gate}`, id, (e) => withGate(document, e, gate, on));
        }}
      />
      {isOnHud(element.mount) && element[gate] && (
        <Select
          className="wide"
          size="xs"
          label="About the anchor"
          searchable
          allowDeselect={false}
          value={element.about ?? null}
          data={inOrder(document.anchors).flatMap(([value, a]) =>
            a.kind === 'nodes' || a.kind === 'event' ? [] : [{ value, label: `${a.name} (${value})` }],
          )}
          onChange={(about) => about && editElement('Change the anchor', id, (e) => ({ ...e, about }))}
        />
      )}
      {element[gate] && children}
    </>
  );
}
