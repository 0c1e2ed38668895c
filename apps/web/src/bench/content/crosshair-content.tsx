/** What a crosshair contains: its form, what opens it and how far, and its paint. */
import type { Crosshair } from '@foreshore/document';
import { Switch } from '@mantine/core';
import { OpacityField, SourceField } from '../../fields/element-fields.tsx';
import { Choice, ColourRows, editing, NumberRows } from '../../fields/rows.tsx';
import { useShown } from '../../state/beside.tsx';
import { AimContent } from './aim-content.tsx';

const OUTLINE: NonNullable<Crosshair['paint']['outline']> = { colour: '#15233B', widthPx: 1.5 };

export function CrosshairContent({ id, element }: { id: string; element: Crosshair }) {
  const document = useShown();
  const { edit, paint, showPaint } = editing('crosshair', id);
  const unit = document?.feeds[element.source ?? '']?.unit ?? '';
  const { form, opening } = element;
  const { outline, colour } = element.paint;
  const sizes = [
    { label: 'Size', value: element.sizePx, least: 2 * element.armPx, change: (sizePx: number) => ({ sizePx }) },
    ...(form === 'ring'
      ? []
      : [{ label: 'Arm length', value: element.armPx, least: 0.5, greatest: element.sizePx / 2, change: (armPx: number) => ({ armPx }) }]),
    { label: 'Stroke', value: element.thickPx, least: 0.5, change: (thickPx: number) => ({ thickPx }) },
    { label: 'Dot (0: none)', value: element.dotPx, least: 0, change: (dotPx: number) => ({ dotPx }) },
  ];
  return (
    <>
      <Choice
        label="Form"
        value={form}
        choices={{ arms: 'Arms', ring: 'Ring', brackets: 'Brackets' }}
        onChange={(chosen) => edit('Change the form', { form: chosen })}
      />
      <NumberRows
        rows={[
          ...(form === 'arms'
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
          ...(outline
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
      <Switch
        size="xs"
        className="wide"
        label="Outline of the opposite tone"
        checked={outline !== null}
        onChange={(event) => paint('Switch the outline', { outline: event.currentTarget.checked ? OUTLINE : null })}
      />
    </>
  );
}
