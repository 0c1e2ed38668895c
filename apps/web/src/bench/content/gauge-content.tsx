/** What a gauge contains: its source, its form, its paint. */
import { barForm, type Gauge, type GaugeForm, inOrder, pictureForm, pipsForm, ringForm } from '@foreshore/document';
import { ActionIcon, Select, Switch, UnstyledButton } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { editKind, withElement } from '../../edits/edits.ts';
import { ColourField } from '../../fields/draft-fields.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { PictureField } from '../../fields/picture-field.tsx';
import { Choice } from '../../fields/rows.tsx';
import { useShown } from '../../state/beside.tsx';
import { draft } from '../../state/project.ts';

function makeForm(kind: GaugeForm['kind'], picture: string | null): GaugeForm {
  if (kind === 'bar') return barForm();
  if (kind === 'ring') return ringForm();
  if (kind === 'pips') return pipsForm();
  if (kind === 'picture' || !picture) return pictureForm(picture);
  return { kind: 'stages', pictures: [picture], widthPx: 96, heightPx: 96 };
}

export function GaugeContent({ id, element }: { id: string; element: Gauge }) {
  const document = useShown();
  const edit = (what: string, part: Partial<Gauge>) => editKind('gauge', what, id, (e) => ({ ...e, ...part }));
  const paint = (what: string, part: Partial<Gauge['paint']>) => edit(what, { paint: { ...element.paint, ...part } });
  const show = (part: Partial<Gauge>) => draft((d) => withElement(d, id, (e) => (e.kind === 'gauge' ? { ...e, ...part } : e)));
  const feeds = inOrder(document?.feeds ?? {});
  const firstPicture = inOrder(document?.pictures ?? {})[0]?.[0] ?? null;
  const unit = (element.source && document?.feeds[element.source]?.unit) || '';
  return (
    <>
      <Select
        size="xs"
        label="Source"
        placeholder="Choose a feed"
        value={element.source}
        data={feeds.map(([value, f]) => ({ value, label: f.unit ? `${f.name} (${f.unit})` : f.name, disabled: f.kind !== 'number' }))}
        onChange={(source) => {
          const range = source ? document?.feeds[source]?.range : undefined;
          edit('Choose a source', { source, ...(range ? { empty: range[0], full: range[1] } : {}) });
        }}
      />
      <Select
        size="xs"
        label="Form"
        allowDeselect={false}
        value={element.form.kind}
        data={[
          { value: 'bar', label: 'Bar' },
          { value: 'ring', label: 'Ring' },
          { value: 'pips', label: 'Row of segments' },
          { value: 'picture', label: 'Picture, filled' },
          { value: 'stages', label: 'Pictures, in stages', disabled: !firstPicture },
        ]}
        onChange={(kind) =>
          kind && kind !== element.form.kind && edit('Change the form', { form: makeForm(kind as GaugeForm['kind'], firstPicture) })
        }
      />
      <NumberField label="Empty at" unit={unit} value={element.empty} onChange={(empty) => edit('Change the range', { empty })} />
      <NumberField label="Full at" unit={unit} value={element.full} onChange={(full) => edit('Change the range', { full })} />
      <FormFields form={element.form} onChange={(form) => edit('Change the form', { form })} />
      <NumberField
        label="Smoothing time"
        unit="s"
        step={0.05}
        value={element.smoothS}
        least={0}
        greatest={60}
        onChange={(smoothS) => edit('Change smoothing', { smoothS })}
      />
      <NumberField
        label="Opacity"
        unit="%"
        step={5}
        value={element.paint.opacity * 100}
        least={0}
        greatest={100}
        onChange={(v) => paint('Change opacity', { opacity: v / 100 })}
      />
      <ColourField
        label="Fill"
        value={element.paint.fill}
        onDraft={(fill) => show({ paint: { ...element.paint, fill } })}
        onKeep={(fill) => paint('Change a colour', { fill })}
      />
      <ColourField
        label="Track"
        value={element.paint.track}
        onDraft={(track) => show({ paint: { ...element.paint, track } })}
        onKeep={(track) => paint('Change a colour', { track })}
      />
      <div className="wide">
        <span className="field-label">
          Thresholds: the first the value is below gives its colour; a value at a bound belongs to what is above
        </span>
        {element.thresholds.map((threshold, k) => {
          const change = (part: Partial<typeof threshold>) =>
            edit('Change a threshold', { thresholds: element.thresholds.map((t, i) => (i === k ? { ...t, ...part } : t)) });
          return (
            <div key={k} className="threshold">
              <NumberField label={`Below ${k + 1}`} unit={unit} value={threshold.below} onChange={(below) => change({ below })} />
              <ColourField
                label={`Colour ${k + 1}`}
                value={threshold.colour}
                onDraft={(colour) => show({ thresholds: element.thresholds.map((t, i) => (i === k ? { ...t, colour } : t)) })}
                onKeep={(colour) => change({ colour })}
              />
              <ActionIcon
                variant="transparent"
                className="icon-button"
                aria-label={`Remove threshold ${k + 1}`}
                title="Remove"
                onClick={() => edit('Remove a threshold', { thresholds: element.thresholds.filter((_, i) => i !== k) })}
              >
                <IconX size={15} />
              </ActionIcon>
            </div>
          );
        })}
        <UnstyledButton
          className="text-button"
          onClick={() =>
            edit('Add a threshold', {
              thresholds: [...element.thresholds, { below: element.empty + (element.full - element.empty) * 0.25, colour: '#BF3F2B' }],
            })
          }
        >
          <IconPlus size={14} aria-hidden="true" /> Threshold
        </UnstyledButton>
      </div>
      <Switch
        size="xs"
        className="wide"
        label="Ghost of recent loss"
        checked={element.ghost !== null}
        onChange={(event) =>
          edit('Switch the ghost', { ghost: event.currentTarget.checked ? { colour: '#BF3F2B', holdS: 0.6, perS: 0.4 } : null })
        }
      />
      {element.ghost && (
        <>
          <NumberField
            label="Stays"
            unit="s"
            step={0.1}
            value={element.ghost.holdS}
            least={0}
            onChange={(holdS) => element.ghost && edit('Change the ghost', { ghost: { ...element.ghost, holdS } })}
          />
          <NumberField
            label="Runs off, of the whole"
            unit="%/s"
            step={5}
            value={element.ghost.perS * 100}
            least={1}
            onChange={(v) => element.ghost && edit('Change the ghost', { ghost: { ...element.ghost, perS: v / 100 } })}
          />
        </>
      )}
      <Switch
        size="xs"
        className="wide"
        label="Border"
        checked={element.paint.border !== null}
        onChange={(event) => paint('Switch the border', { border: event.currentTarget.checked ? { colour: '#FBF8F0', widthPx: 2 } : null })}
      />
    </>
  );
}

function FormFields({ form, onChange }: { form: GaugeForm; onChange: (form: GaugeForm) => void }) {
  if (form.kind === 'bar')
    return (
      <>
        <NumberField label="Width" unit="px" value={form.widthPx} least={1} onChange={(widthPx) => onChange({ ...form, widthPx })} />
        <NumberField label="Height" unit="px" value={form.heightPx} least={1} onChange={(heightPx) => onChange({ ...form, heightPx })} />
        <Select
          size="xs"
          label="Grows"
          allowDeselect={false}
          value={form.towards}
          data={[
            { value: 'right', label: 'to the right' },
            { value: 'left', label: 'to the left' },
            { value: 'up', label: 'upwards' },
            { value: 'down', label: 'downwards' },
          ]}
          onChange={(towards) => towards && onChange({ ...form, towards: towards as typeof form.towards })}
        />
        <NumberField
          label="Corner radius"
          unit="px"
          value={form.radiusPx}
          least={0}
          onChange={(radiusPx) => onChange({ ...form, radiusPx })}
        />
      </>
    );
  if (form.kind === 'ring')
    return (
      <>
        <NumberField
          label="Diameter"
          unit="px"
          value={form.diameterPx}
          least={1}
          onChange={(diameterPx) => onChange({ ...form, diameterPx })}
        />
        <NumberField label="Thickness" unit="px" value={form.widthPx} least={1} onChange={(widthPx) => onChange({ ...form, widthPx })} />
        <NumberField
          label="Begins at, clockwise from the top"
          unit="deg"
          step={5}
          value={form.startDeg}
          least={-360}
          greatest={360}
          onChange={(startDeg) => onChange({ ...form, startDeg })}
        />
        <NumberField
          label="Sweep"
          unit="deg"
          step={5}
          value={form.sweepDeg}
          least={-360}
          greatest={360}
          onChange={(sweepDeg) => onChange({ ...form, sweepDeg })}
        />
      </>
    );
  if (form.kind === 'picture')
    return (
      <>
        <div className="wide">
          <PictureField label="Picture" value={form.picture} onChange={(picture) => onChange({ ...form, picture })} />
          <PictureField label="Behind it" none="Itself, grey" value={form.behind} onChange={(behind) => onChange({ ...form, behind })} />
        </div>
        <NumberField label="Width" unit="px" value={form.widthPx} least={1} onChange={(widthPx) => onChange({ ...form, widthPx })} />
        <NumberField label="Height" unit="px" value={form.heightPx} least={1} onChange={(heightPx) => onChange({ ...form, heightPx })} />
        <Choice
          label="Grows"
          value={form.towards}
          choices={{ right: 'to the right', left: 'to the left', up: 'upwards', down: 'downwards' }}
          onChange={(towards) => onChange({ ...form, towards })}
        />
      </>
    );
  if (form.kind === 'stages')
    return (
      <>
        <div className="wide">
          <span className="field-label">Stages: each from its share of the whole on; the last when full</span>
          {form.pictures.map((picture, k) => (
            <div key={`${k} ${picture}`} className="threshold">
              <PictureField
                label={`From ${Number(((100 * k) / form.pictures.length).toFixed(1))} %`}
                value={picture}
                onChange={(next) => next && onChange({ ...form, pictures: form.pictures.map((p, i) => (i === k ? next : p)) })}
              />
              <ActionIcon
                variant="transparent"
                className="icon-button"
                aria-label={`Remove stage ${k + 1}`}
                title="Remove"
                disabled={form.pictures.length === 1}
                onClick={() => onChange({ ...form, pictures: form.pictures.filter((_, i) => i !== k) })}
              >
                <IconX size={15} />
              </ActionIcon>
            </div>
          ))}
          <UnstyledButton
            className="text-button"
            onClick={() => onChange({ ...form, pictures: [...form.pictures, form.pictures.at(-1) as string] })}
          >
            <IconPlus size={14} aria-hidden="true" /> Stage
          </UnstyledButton>
        </div>
        <NumberField label="Width" unit="px" value={form.widthPx} least={1} onChange={(widthPx) => onChange({ ...form, widthPx })} />
        <NumberField label="Height" unit="px" value={form.heightPx} least={1} onChange={(heightPx) => onChange({ ...form, heightPx })} />
      </>
    );
  return (
    <>
      <div className="wide">
        <PictureField
          label="Segment shape"
          none="A plain shape"
          value={form.picture ?? null}
          onChange={(picture) => {
            const { picture: _, ...rest } = form;
            onChange(picture ? { ...rest, picture } : rest);
          }}
        />
      </div>
      <NumberField
        label="Segments"
        unit=""
        value={form.count}
        least={1}
        greatest={100}
        onChange={(count) => onChange({ ...form, count: Math.round(count) })}
      />
      <NumberField label="Size" unit="px" value={form.sizePx} least={1} onChange={(sizePx) => onChange({ ...form, sizePx })} />
      <NumberField label="Gap" unit="px" value={form.gapPx} least={0} onChange={(gapPx) => onChange({ ...form, gapPx })} />
      <Select
        size="xs"
        label="Shape"
        allowDeselect={false}
        value={form.shape}
        data={['round', 'soft', 'square']}
        onChange={(shape) => shape && onChange({ ...form, shape: shape as typeof form.shape })}
      />
      <Select
        size="xs"
        label="Partial segment"
        allowDeselect={false}
        value={form.part}
        data={[
          { value: 'share', label: 'fills by its share' },
          { value: 'whole', label: 'fills once whole' },
        ]}
        onChange={(part) => part && onChange({ ...form, part: part as typeof form.part })}
      />
      <Switch
        size="xs"
        label="Vertical, from the bottom"
        checked={form.vertical}
        onChange={(event) => onChange({ ...form, vertical: event.currentTarget.checked })}
      />
    </>
  );
}
