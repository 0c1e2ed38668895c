/** What a group contains: how it lays its members out, and its plate. */
import type { Group } from '@foreshore/document';
import { Select, Switch, UnstyledButton } from '@mantine/core';
import { editKind, siblings, withElement } from '../../edits/edits.ts';
import { ColourField } from '../../fields/draft-fields.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { NumberRows } from '../../fields/rows.tsx';
import { useBench } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { draft } from '../../state/project.ts';

const SIDES = ['left', 'top', 'right', 'bottom'] as const;

export function GroupContent({ id, element }: { id: string; element: Group }) {
  const document = useShown();
  const { layout, paint } = element;
  const edit = (what: string, part: Partial<Group['layout']>) =>
    editKind('group', what, id, (e) => ({ ...e, layout: { ...e.layout, ...part } }));
  const plate = (what: string, next: Group['paint']['plate']) =>
    editKind('group', what, id, (e) => ({ ...e, paint: { ...e.paint, plate: next } }));
  const inner = document
    ? siblings(document, { ...element, mount: { kind: 'inside', group: id, pin: [0, 0], stretch: [false, false] } })
    : [];
  const lined = layout.direction !== 'free';
  return (
    <>
      <div className="wide">
        <span className="field-label">Members, {lined ? 'in their order' : 'from the back to the front'}</span>
        {inner.length === 0 && <p className="hint">None yet. Choose Place and click inside the group.</p>}
        <ul className="members">
          {inner.map(([member, { name }]) => (
            <li key={member}>
              <UnstyledButton className="link-button" onClick={() => useBench.setState({ selection: member })}>
                {name}
              </UnstyledButton>
            </li>
          ))}
        </ul>
      </div>
      <Select
        size="xs"
        label="Layout"
        allowDeselect={false}
        value={layout.direction}
        data={[
          { value: 'row', label: 'Row' },
          { value: 'column', label: 'Column' },
          { value: 'free', label: 'Free, by pins' },
        ]}
        onChange={(direction) => direction && edit('Change the layout', { direction: direction as Group['layout']['direction'] })}
      />
      {lined && (
        <>
          <NumberField label="Gap" unit="px" value={layout.gapPx} least={0} onChange={(gapPx) => edit('Change the gap', { gapPx })} />
          <Select
            size="xs"
            label="Align members"
            allowDeselect={false}
            value={layout.align}
            data={[
              { value: 'start', label: layout.direction === 'row' ? 'At the top' : 'At the left' },
              { value: 'centre', label: 'Centred' },
              { value: 'end', label: layout.direction === 'row' ? 'At the bottom' : 'At the right' },
              { value: 'stretch', label: 'Stretched' },
            ]}
            onChange={(align) => align && edit('Align', { align: align as Group['layout']['align'] })}
          />
          <Select
            size="xs"
            label="Distribute"
            allowDeselect={false}
            value={layout.spread}
            data={[
              { value: 'start', label: 'Start' },
              { value: 'centre', label: 'Centred' },
              { value: 'end', label: 'End' },
              { value: 'between', label: 'Space between' },
            ]}
            onChange={(spread) => spread && edit('Spread', { spread: spread as Group['layout']['spread'] })}
          />
        </>
      )}
      <NumberField
        label="Width (0: fit content)"
        unit="px"
        value={layout.widthPx ?? 0}
        least={0}
        greatest={20000}
        onChange={(w) => edit('Change the width', { widthPx: w || null })}
      />
      <NumberField
        label="Height (0: fit content)"
        unit="px"
        value={layout.heightPx ?? 0}
        least={0}
        greatest={20000}
        onChange={(h) => edit('Change the height', { heightPx: h || null })}
      />
      {SIDES.map((side, k) => (
        <NumberField
          key={side}
          label={`Padding, ${side}`}
          unit="px"
          value={layout.padPx[k] as number}
          least={0}
          onChange={(v) =>
            edit('Change the padding', { padPx: layout.padPx.map((old, i) => (i === k ? v : old)) as Group['layout']['padPx'] })
          }
        />
      ))}
      {lined && (
        <>
          <Switch
            size="xs"
            label="Equal sizes"
            checked={layout.equal}
            onChange={(event) => edit('Equal members', { equal: event.currentTarget.checked })}
          />
          <Switch size="xs" label="Wrap" checked={layout.wrap} onChange={(event) => edit('Wrap', { wrap: event.currentTarget.checked })} />
        </>
      )}
      <Switch
        size="xs"
        label="Clip to its box"
        checked={layout.clip}
        onChange={(event) => edit('Clip', { clip: event.currentTarget.checked })}
      />
      <Switch
        size="xs"
        label="Scroll overflow"
        checked={layout.scroll !== undefined}
        onChange={(event) => {
          const on = event.currentTarget.checked;
          editKind('group', 'Switch scrolling', id, (e) => {
            const { scroll: _, ...rest } = e.layout;
            return { ...e, layout: on ? { ...rest, scroll: { thumb: '#E5B45C', thumbPx: 8 } } : rest };
          });
        }}
      />
      <NumberRows
        rows={(['width', 'height'] as const).flatMap((side, k) => [
          {
            label: `Least ${side}`,
            unit: 'px',
            least: 0,
            value: layout.leastPx[k] as number,
            onChange: (v: number) => edit('Change the least size', { leastPx: k ? [layout.leastPx[0], v] : [v, layout.leastPx[1]] }),
          },
          {
            label: `Greatest ${side} (0: none)`,
            unit: 'px',
            least: 0,
            greatest: 20000,
            value: layout.greatestPx && (layout.greatestPx[k] as number) < 20000 ? (layout.greatestPx[k] as number) : 0,
            onChange: (v: number) => {
              const [w, h] = layout.greatestPx ?? [20000, 20000];
              const next: [number, number] = k ? [w, v || 20000] : [v || 20000, h];
              edit('Change the greatest size', { greatestPx: next.every((one) => one === 20000) ? null : next });
            },
          },
        ])}
      />
      <Switch
        size="xs"
        label="Plate"
        checked={paint.plate !== null}
        onChange={(event) =>
          plate('Switch the plate', event.currentTarget.checked ? { colour: '#15233BCC', radiusPx: 8, border: null } : null)
        }
      />
      {paint.plate && (
        <>
          <ColourField
            label="Plate colour"
            value={paint.plate.colour}
            onDraft={(colour) =>
              draft((d) =>
                withElement(d, id, (e) =>
                  e.kind === 'group' && e.paint.plate ? { ...e, paint: { ...e.paint, plate: { ...e.paint.plate, colour } } } : e,
                ),
              )
            }
            onKeep={(colour) => paint.plate && plate('Change a colour', { ...paint.plate, colour })}
          />
          <NumberField
            label="Corner radius"
            unit="px"
            value={paint.plate.radiusPx}
            least={0}
            onChange={(radiusPx) => paint.plate && plate('Change the plate', { ...paint.plate, radiusPx })}
          />
          <NumberField
            label="Plate strength"
            unit="%"
            step={5}
            least={0}
            greatest={100}
            value={Math.round((Number.parseInt(paint.plate.colour.slice(7) || 'FF', 16) / 255) * 100)}
            onChange={(v) =>
              paint.plate &&
              plate('Change the plate', {
                ...paint.plate,
                colour:
                  paint.plate.colour.slice(0, 7) +
                  Math.round((v / 100) * 255)
                    .toString(16)
                    .padStart(2, '0')
                    .toUpperCase(),
              })
            }
          />
        </>
      )}
      <NumberField
        label="Opacity"
        unit="%"
        step={5}
        value={paint.opacity * 100}
        least={0}
        greatest={100}
        onChange={(v) => editKind('group', 'Change opacity', id, (e) => ({ ...e, paint: { ...e.paint, opacity: v / 100 } }))}
      />
    </>
  );
}
