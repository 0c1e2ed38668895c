/** Settings of what stands at the edge of the frame where its anchor is outside of it (Place). */
import { EDGE_RADIUS_PX } from '@foreshore/core';
import { EDGE, type Element } from '@foreshore/document';
import { Switch } from '@mantine/core';
import { withElement } from '../../edits/edits.ts';
import { ColourField } from '../../fields/draft-fields.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice } from '../../fields/rows.tsx';
import { draft } from '../../state/project.ts';

type Place = Element['place'];
type Edge = NonNullable<Place['edge']>;

const SIDES = ['left', 'top', 'right', 'bottom'] as const;

export function EdgeSettings({ id, place, edit }: { id: string; place: Place; edit: (part: Partial<Place>) => void }) {
  const { edge } = place;
  const show = (part: Partial<Edge>) =>
    draft((d) => withElement(d, id, (e) => (e.place.edge ? { ...e, place: { ...e.place, edge: { ...e.place.edge, ...part } } } : e)));
  const set = (part: Partial<Edge>) => edge && edit({ edge: { ...edge, ...part } });
  return (
    <>
      <Switch
        className="wide"
        size="xs"
        label="At the edge of the frame while its anchor is out of view"
        checked={edge !== undefined}
        onChange={(event) => edit({ edge: event.currentTarget.checked ? EDGE : undefined })}
      />
      {edge && (
        <>
          <Choice
            label="Edge frame"
            value={edge.form}
            choices={{ rectangle: 'Rectangle', rounded: 'Rounded rectangle', ellipse: 'Ellipse', ring: 'Ring about the middle' }}
            onChange={(form) => set({ form, radiusPx: form === 'rounded' || form === 'ring' ? EDGE_RADIUS_PX[form] : undefined })}
          />
          {(edge.form === 'rounded' || edge.form === 'ring') && (
            <NumberField
              label={edge.form === 'ring' ? 'Radius of the ring' : 'Radius of its corners'}
              unit="px"
              value={edge.radiusPx ?? EDGE_RADIUS_PX[edge.form]}
              least={1}
              greatest={4000}
              onChange={(radiusPx) => set({ radiusPx })}
            />
          )}
          <NumberField
            label="Marked within (0: however far)"
            unit="m"
            value={edge.withinM ?? 0}
            least={0}
            greatest={100_000}
            onChange={(m) => set({ withinM: m > 0 ? m : null })}
          />
          {SIDES.map((side, k) => (
            <NumberField
              key={side}
              label={`Inset, ${side}`}
              unit="px"
              value={edge.insetPx[k] as number}
              least={0}
              greatest={4000}
              onChange={(px) => set({ insetPx: edge.insetPx.map((v, i) => (i === k ? px : v)) as Edge['insetPx'] })}
            />
          ))}
          <NumberField
            label="Arrow (0: none)"
            unit="px"
            value={edge.arrow?.sizePx ?? 0}
            least={0}
            greatest={400}
            onChange={(sizePx) =>
              set({ arrow: sizePx > 0 ? { ...(edge.arrow ?? (EDGE.arrow as NonNullable<Edge['arrow']>)), sizePx } : null })
            }
          />
          {edge.arrow && (
            <ColourField
              label="Arrow’s colour"
              value={edge.arrow.colour}
              onDraft={(colour) => show({ arrow: edge.arrow && { ...edge.arrow, colour } })}
              onKeep={(colour) => edge.arrow && set({ arrow: { ...edge.arrow, colour } })}
            />
          )}
        </>
      )}
    </>
  );
}
