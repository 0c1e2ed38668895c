/** Settings of a measure line: its other end, where its text is, and its stroke (Place). */
import { type Document, type Element, inOrder, SPAN } from '@foreshore/document';
import { Select, Switch } from '@mantine/core';
import { withElement } from '../../edits/edits.ts';
import { ColourField } from '../../fields/draft-fields.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice } from '../../fields/rows.tsx';
import { draft } from '../../state/project.ts';

type Place = Element['place'];
type Span = NonNullable<Place['span']>;

export function SpanSettings({
  id,
  document,
  anchor,
  place,
  edit,
}: {
  id: string;
  document: Document;
  /** The end that it hangs on. */
  anchor: string;
  place: Place;
  edit: (part: Partial<Place>) => void;
}) {
  const { span } = place;
  // What stands at many nodes, or where an event was, is no end.
  const ends = inOrder(document.anchors).filter(([end, { kind }]) => end !== anchor && kind !== 'nodes' && kind !== 'event');
  const [nearest] = ends;
  const set = (part: Partial<Span>) => span && edit({ span: { ...span, ...part } });
  const show = (part: Partial<Span>) =>
    draft((d) => withElement(d, id, (e) => (e.place.span ? { ...e, place: { ...e.place, span: { ...e.place.span, ...part } } } : e)));
  return (
    <>
      <Switch
        className="wide"
        size="xs"
        label="A line leads to another anchor"
        disabled={!nearest}
        checked={span !== undefined}
        onChange={(event) => edit({ span: event.currentTarget.checked && nearest ? { ...SPAN, to: nearest[0] } : undefined })}
      />
      {span && (
        <>
          <Select
            size="xs"
            label="To"
            searchable
            allowDeselect={false}
            value={span.to}
            data={ends.map(([value, { name }]) => ({ value, label: name }))}
            onChange={(to) => to && set({ to })}
          />
          <Choice
            label="Its text is at the middle of"
            value={span.textAt}
            choices={{ middle: 'The whole line', seen: 'What is seen of it' }}
            onChange={(textAt) => set({ textAt })}
          />
          <NumberField label="Line" unit="px" value={span.widthPx} least={0.5} greatest={100} onChange={(widthPx) => set({ widthPx })} />
          <Choice
            label="Dashes"
            value={span.dashM !== undefined ? 'world' : span.dashPx === null ? 'none' : 'screen'}
            choices={{ none: 'None', screen: 'Of a length on the screen', world: 'Of a length in the world' }}
            onChange={(of) => set({ dashPx: of === 'none' ? null : (span.dashPx ?? SPAN.dashPx), dashM: of === 'world' ? 0.5 : undefined })}
          />
          {span.dashM !== undefined ? (
            <NumberField
              label="Dash"
              unit="m"
              step={0.1}
              value={span.dashM}
              least={0.01}
              greatest={1000}
              onChange={(dashM) => set({ dashM })}
            />
          ) : (
            span.dashPx !== null && (
              <NumberField label="Dash" unit="px" value={span.dashPx} least={2} greatest={400} onChange={(dashPx) => set({ dashPx })} />
            )
          )}
          <NumberField
            label="Strokes across its ends"
            unit="px"
            value={span.capPx}
            least={0}
            greatest={400}
            onChange={(capPx) => set({ capPx })}
          />
          <ColourField
            label="Line’s colour"
            value={span.colour}
            onDraft={(colour) => show({ colour })}
            onKeep={(colour) => set({ colour })}
          />
        </>
      )}
    </>
  );
}
