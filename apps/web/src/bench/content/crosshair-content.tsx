/** What a crosshair contains: its form, what opens it and how far, and its paint. */
import type { Crosshair } from '@foreshore/document';
import { Switch } from '@mantine/core';
import { OpacityField, SourceField } from '../../fields/element-fields.tsx';
import { PictureField } from '../../fields/picture-field.tsx';
import { Choice, ColourRows, editing, NumberRows } from '../../fields/rows.tsx';
import { useShown } from '../../state/beside.tsx';
import { AimContent } from './aim-content.tsx';

const OUTLINE: NonNullable<Crosshair['paint']['outline']> = { colour: '#15233B', widthPx: 1.5 };

export function CrosshairContent({ id, element }: { id: string; element: Crosshair }) {
  const document = useShown();
  const { edit, paint, showPaint } = editing('crosshair', id);
  const designSidePx = Math.min(document?.glass.widthPx ?? 1920, document?.glass.heightPx ?? 1080);
  const unit = document?.feeds[element.source ?? '']?.unit ?? '';
  const { form, opening, screenShare } = element;
  const pictures = element.pictures ?? { arm: null, middle: null };
  const drawn = form !== 'pictures';
  const { outline, colour } = element.paint;
  const sizes = [
    {
      label: screenShare === undefined ? 'Size' : 'Drawn at',
      value: element.sizePx,
      least: 2 * element.armPx,
      change: (sizePx: number) => ({ sizePx }),
    },
    ...(form === 'ring'
      ? []
      : [{ label: 'Arm length', value: element.armPx, least: 0.5, greatest: element.sizePx / 2, change: (armPx: number) => ({ armPx }) }]),
    ...(drawn ? [{ label: 'Stroke', value: element.thickPx, least: 0.5, change: (thickPx: number) => ({ thickPx }) }] : []),
    { label: drawn ? 'Dot (0: none)' : 'Middle, high (0: none)', value: element.dotPx, least: 0, change: (dotPx: number) => ({ dotPx }) },
  ];
  return (
    <>
      <Choice
        label="Form"
        value={form}
        choices={{ arms: 'Arms', ring: 'Ring', brackets: 'Brackets', pictures: 'Own pictures' }}
        onChange={(chosen) => edit('Change the form', { form: chosen, ...(chosen === 'pictures' && { pictures }) })}
      />
      <Choice
        label="Sized by"
        value={screenShare === undefined ? 'pixels' : 'share'}
        choices={{ pixels: 'pixels', share: 'a share of the screen' }}
        onChange={(by) => edit('Change what sizes it', { screenShare: by === 'share' ? element.sizePx / designSidePx : undefined })}
      />
      {!drawn && (
        <>
          <PictureField
            label="At each arm, its foot inwards"
            value={pictures.arm}
            none="None"
            onChange={(arm) => edit('Choose a picture', { pictures: { ...pictures, arm } })}
          />
          <PictureField
            label="In the middle"
            value={pictures.middle}
            none="None"
            onChange={(middle) => edit('Choose a picture', { pictures: { ...pictures, middle } })}
          />
        </>
      )}
      <NumberRows
        rows={[
          ...(screenShare === undefined
            ? []
            : [
                {
                  label: 'Of the shorter side',
                  unit: '%',
                  least: 0.1,
                  greatest: 100,
                  step: 0.1,
                  value: Math.round(screenShare * 1e5) / 1000,
                  onChange: (percent: number) => edit('Resize', { screenShare: percent / 100 }),
                },
              ]),
          ...(form === 'arms' || form === 'pictures'
            ? [
                {
                  label: 'Arms',
                  unit: '',
                  least: 1,
                  greatest: 12,
                  step: 1,
                  value: element.arms,
                  onChange: (arms: number) => edit('Change the arms', { arms: Math.round(arms) }),
                },
              ]
            : []),
          ...sizes.map(({ change, ...row }) => ({
            greatest: 2000,
            ...row,
            unit: 'px',
            onChange: (value: number) => edit('Resize', change(value)),
          })),
        ]}
      />
      <SourceField source={element.source} kind="number" onChange={(source) => edit('Choose a feed', { source })} />
      <Choice
        label="Opens by"
        value={opening.by}
        choices={{ screen: 'pixels', angle: 'an angle in the world' }}
        onChange={(by) => edit('Change the opening', { opening: by === 'screen' ? { by, px: 40 } : { by, deg: 5 } })}
      />
      <NumberRows
        rows={[
          { label: 'Closed at', unit, value: element.empty, onChange: (empty) => edit('Change the range', { empty }) },
          { label: 'Fully open at', unit, value: element.full, onChange: (full) => edit('Change the range', { full }) },
          opening.by === 'screen'
            ? {
                label: 'Opens by up to',
                unit: 'px',
                least: 0,
                value: opening.px,
                onChange: (px) => edit('Change the opening', { opening: { by: 'screen', px } }),
              }
            : {
                label: 'Cone when fully open',
                unit: 'deg',
                least: 0.01,
                greatest: 179,
                value: opening.deg,
                onChange: (deg) => edit('Change the opening', { opening: { by: 'angle', deg } }),
              },
          {
            label: 'Closes with a time constant of',
            unit: 's',
            least: 0,
            greatest: 60,
            step: 0.05,
            value: element.recoverS,
            onChange: (recoverS) => edit('Change how it closes', { recoverS }),
          },
        ]}
      />
      <AimContent id={id} element={element} />
      <ColourRows
        rows={[
          {
            label: 'Colour',
            value: colour,
            onDraft: (now) => showPaint({ colour: now }),
            onKeep: (now) => paint('Change a colour', { colour: now }),
          },
          ...(outline && drawn
            ? [
                {
                  label: 'Outline colour',
                  value: outline.colour,
                  onDraft: (now: string) => showPaint({ outline: { ...outline, colour: now } }),
                  onKeep: (now: string) => paint('Change a colour', { outline: { ...outline, colour: now } }),
                },
              ]
            : []),
        ]}
      />
      <OpacityField id={id} element={element} />
      {drawn && (
        <Switch
          size="xs"
          className="wide"
          label="Outline of the opposite tone"
          checked={outline !== null}
          onChange={(event) => paint('Switch the outline', { outline: event.currentTarget.checked ? OUTLINE : null })}
        />
      )}
    </>
  );
}
