/** What pictures, toggles, sliders and screen paint contain. */
import type { Picture, ScreenPaint, Slider, Toggle } from '@foreshore/document';
import { Switch } from '@mantine/core';
import { ColourField } from '../../fields/draft-fields.tsx';
import { OpacityField, SourceField } from '../../fields/element-fields.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { PictureField } from '../../fields/picture-field.tsx';
import { Choice, ColourRows, editing, NumberRows } from '../../fields/rows.tsx';
import { useShown } from '../../state/beside.tsx';

const SIDES = ['left', 'top', 'right', 'bottom'] as const;
type Four = [number, number, number, number];
const put = (values: Four, k: number, value: number): Four => values.map((v, i) => (i === k ? value : v)) as Four;
const AROUND = { colour: '#FBF8F0', widthPx: 2 };

function Sized({ id, element }: { id: string; element: Picture | Toggle | Slider }) {
  const { edit } = editing(element.kind, id);
  return (
    <NumberRows
      rows={(['widthPx', 'heightPx'] as const).map((side) => ({
        label: side === 'widthPx' ? 'Width' : 'Height',
        unit: 'px',
        value: element[side],
        least: 1,
        greatest: 20000,
        onChange: (value) => edit('Resize', { [side]: value } as Partial<Picture>),
      }))}
    />
  );
}

export function PictureContent({ id, element }: { id: string; element: Picture }) {
  const document = useShown();
  const { edit, paint, showPaint } = editing('picture', id);
  const file = document?.pictures?.[element.picture ?? ''];
  return (
    <>
      <div className="wide">
        <PictureField label="Picture" value={element.picture} onChange={(picture) => edit('Choose a picture', { picture })} />
        {file && (
          <p className="hint">
            {file.widthPx} x {file.heightPx} px of its own
          </p>
        )}
      </div>
      <Sized id={id} element={element} />
      <Choice
        label="In its box"
        value={element.fill}
        choices={{ contain: 'whole, with its shape', cover: 'fills it, cut', stretch: 'stretched', nine: 'in nine parts' }}
        onChange={(fill) => edit('Change the fill', { fill })}
      />
      {element.fill === 'nine' && (
        <>
          <NumberRows
            rows={SIDES.map((side, k) => ({
              label: `Corner, ${side}`,
              unit: 'px',
              value: element.cornersPx[k] as number,
              least: 0,
              onChange: (value) => edit('Change corners', { cornersPx: put(element.cornersPx, k, value) }),
            }))}
          />
          <NumberField
            label="Scale of its pixels"
            unit="px"
            step={0.25}
            least={0.05}
            value={element.cornerScale}
            onChange={(cornerScale) => edit('Change corners', { cornerScale })}
          />
        </>
      )}
      <NumberRows
        rows={SIDES.map((side, k) => ({
          label: `Beyond its box, ${side}`,
          unit: 'px',
          value: element.beyondPx[k] as number,
          least: 0,
          onChange: (value) => edit('Let it reach out', { beyondPx: put(element.beyondPx, k, value) }),
        }))}
      />
      <NumberRows
        rows={[
          {
            label: 'Saturation',
            unit: '%',
            step: 10,
            least: 0,
            greatest: 300,
            value: element.paint.saturation * 100,
            onChange: (v) => paint('Change saturation', { saturation: v / 100 }),
          },
          {
            label: 'Blur',
            unit: 'px',
            least: 0,
            greatest: 100,
            value: element.paint.blurPx,
            onChange: (blurPx) => paint('Change blur', { blurPx }),
          },
          {
            label: 'Corner radius',
            unit: 'px',
            least: 0,
            value: element.paint.radiusPx,
            onChange: (radiusPx) => paint('Round it', { radiusPx }),
          },
        ]}
      />
      <OpacityField id={id} element={element} />
      <Switch
        size="xs"
        className="wide"
        label="Tint"
        checked={element.paint.tint !== null}
        onChange={(event) => paint('Switch the tint', { tint: event.currentTarget.checked ? '#E5B45C' : null })}
      />
      {element.paint.tint !== null && (
        <ColourField
          label="Tint"
          value={element.paint.tint}
          onDraft={(tint) => showPaint({ tint })}
          onKeep={(tint) => paint('Change a colour', { tint })}
        />
      )}
    </>
  );
}

export function ToggleContent({ id, element }: { id: string; element: Toggle }) {
  const { edit, paint, showPaint } = editing('toggle', id);
  return (
    <>
      <SourceField source={element.source} kind="flag" onChange={(source) => edit('Choose a feed', { source })} />
      <Choice
        label="Form"
        value={element.form}
        choices={{ switch: 'Switch', tick: 'Tick' }}
        onChange={(form) => edit('Change the form', { form })}
      />
      <Sized id={id} element={element} />
      <ColourRows
        rows={(['on', 'off', 'knob'] as const).map((part) => ({
          label: { on: 'While on', off: 'While off', knob: element.form === 'tick' ? 'Tick' : 'Knob' }[part],
          value: element.paint[part],
          onDraft: (colour) => showPaint({ [part]: colour }),
          onKeep: (colour) => paint('Change a colour', { [part]: colour }),
        }))}
      />
      <OpacityField id={id} element={element} />
      <Switch
        size="xs"
        className="wide"
        label="Border"
        checked={element.paint.border !== null}
        onChange={(event) => paint('Switch the border', { border: event.currentTarget.checked ? AROUND : null })}
      />
    </>
  );
}

export function SliderContent({ id, element }: { id: string; element: Slider }) {
  const document = useShown();
  const { edit, paint, showPaint } = editing('slider', id);
  const unit = document?.feeds[element.source ?? '']?.unit ?? '';
  return (
    <>
      <SourceField source={element.source} kind="number" onChange={(source) => edit('Choose a feed', { source })} />
      <Choice
        label="Lies"
        value={element.vertical ? 'upright' : 'flat'}
        choices={{ flat: 'flat', upright: 'upright' }}
        onChange={(lies) => edit('Turn the slider', { vertical: lies === 'upright', widthPx: element.heightPx, heightPx: element.widthPx })}
      />
      <NumberRows
        rows={[
          {
            label: element.vertical ? 'At the bottom' : 'At the left',
            unit,
            value: element.empty,
            onChange: (empty) => edit('Change the ends', { empty }),
          },
          {
            label: element.vertical ? 'At its head' : 'At the right',
            unit,
            value: element.full,
            onChange: (full) => edit('Change the ends', { full }),
          },
          { label: 'Step', unit, value: element.step, least: 1e-6, onChange: (step) => edit('Change the step', { step }) },
        ]}
      />
      <Sized id={id} element={element} />
      <ColourRows
        rows={(['fill', 'track', 'knob'] as const).map((part) => ({
          label: { fill: 'Fill', track: 'Track', knob: 'Knob' }[part],
          value: element.paint[part],
          onDraft: (colour) => showPaint({ [part]: colour }),
          onKeep: (colour) => paint('Change a colour', { [part]: colour }),
        }))}
      />
      <OpacityField id={id} element={element} />
      <Switch
        size="xs"
        className="wide"
        label="Border"
        checked={element.paint.border !== null}
        onChange={(event) => paint('Switch the border', { border: event.currentTarget.checked ? AROUND : null })}
      />
    </>
  );
}

export function ScreenPaintContent({ id, element }: { id: string; element: ScreenPaint }) {
  const document = useShown();
  const { edit, show } = editing('screenPaint', id);
  const unit = document?.feeds[element.source ?? '']?.unit ?? '';
  return (
    <>
      <Choice
        label="Effect"
        value={element.effect}
        choices={{ desaturate: 'Takes the colour out', tint: 'Tints', vignette: 'Darkens the edges', fringe: 'Colours part at the edges' }}
        onChange={(effect) => edit('Change the effect', { effect })}
      />
      <SourceField source={element.source} kind="number" onChange={(source) => edit('Choose a feed', { source })} />
      <NumberRows
        rows={[
          { label: 'Empty at', unit, value: element.empty, onChange: (empty) => edit('Change the range', { empty }) },
          { label: 'Full at', unit, value: element.full, onChange: (full) => edit('Change the range', { full }) },
          {
            label: 'Decay (0: follows at once)',
            unit: '%/s',
            step: 10,
            least: 0,
            value: (element.fallPerS ?? 0) * 100,
            onChange: (v) => edit('Change the fall', { fallPerS: v === 0 ? null : v / 100 }),
          },
        ]}
      />
      <OpacityField id={id} element={element} />
      {(element.effect === 'tint' || element.effect === 'vignette') && (
        <ColourField
          label="Colour"
          value={element.colour}
          onDraft={(colour) => show({ colour })}
          onKeep={(colour) => edit('Change a colour', { colour })}
        />
      )}
    </>
  );
}
