/** What a label contains: its message and its paint. */
import { directionOf } from '@foreshore/core';
import { inOrder, isAnchored, type Label } from '@foreshore/document';
import { messageFault, numbersIn, withDecimals } from '@foreshore/text';
import { Menu, Select, Switch, UnstyledButton } from '@mantine/core';
import { IconBraces } from '@tabler/icons-react';
import { useShallow } from 'zustand/react/shallow';
import { editKind, withElement } from '../../edits/edits.ts';
import { ColourField, DraftText } from '../../fields/draft-fields.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice, NumberRows } from '../../fields/rows.tsx';
import { useShown } from '../../state/beside.tsx';
import { draft, useProject } from '../../state/project.ts';
import { languageName } from '../../words/languages.ts';
import { WEIGHTS } from '../../words/weights.ts';

/** How a feed is written into a message, by its kind. */
const inserted = (feed: string, kind: string): string =>
  kind === 'number' ? `{${feed}, number, ::.0}` : kind === 'flag' ? `{${feed}, select, true {yes} other {no}}` : `{${feed}}`;

const AS_IT_COMES = 'As it comes';
const DECIMALS: Record<string, string> = { [AS_IT_COMES]: AS_IT_COMES, 0: '0', 1: '1', 2: '2', 3: '3', 4: '4', 5: '5', 6: '6' };

/** How many decimals each number in the text is written with, in all its translations. */
function Decimals({ id, element }: { id: string; element: Label }) {
  const document = useShown();
  const isNumber = (name: string) => document?.feeds[name]?.kind === 'number';
  const shown = numbersIn(element.text).flatMap((number, index) => (isNumber(number.name) ? [{ ...number, index }] : []));
  // The same value in a translation is written alike; where it stands there is the translator's business.
  const everywhere = (text: string, name: string, decimals: number | null) =>
    numbersIn(text).reduce((now, number, k) => (number.name === name ? withDecimals(now, k, decimals) : now), text);
  const set = (name: string, index: number, decimals: number | null) =>
    editKind('label', 'Set decimals', id, (e) => ({
      ...e,
      text: withDecimals(e.text, index, decimals),
      ...(e.translations && {
        translations: Object.fromEntries(Object.entries(e.translations).map(([tag, text]) => [tag, everywhere(text, name, decimals)])),
      }),
    }));
  return shown.map(({ name, decimals, index }, k) => (
    <Choice
      key={index}
      label={`Decimals of ${document?.feeds[name]?.name ?? name}${shown.findIndex((other) => other.name === name) === k ? '' : `, number ${k + 1}`}`}
      value={decimals === null ? AS_IT_COMES : String(decimals)}
      choices={DECIMALS}
      onChange={(value) => set(name, index, value === AS_IT_COMES ? null : Number(value))}
    />
  ));
}

export function LabelContent({ id, element }: { id: string; element: Label }) {
  const document = useShown();
  // What is kept, whatever is being typed.
  const kept =
    useProject(
      useShallow((s) => {
        const now = s.document?.elements[id];
        return now?.kind === 'label' ? { text: now.text, translations: now.translations } : null;
      }),
    ) ?? element;
  const paint = (what: string, edit: Partial<Label['paint']>) =>
    editKind('label', what, id, (e) => ({ ...e, paint: { ...e.paint, ...edit } }));
  const paintDraft = (edit: Partial<Label['paint']>) =>
    draft((d) => withElement(d, id, (e) => (e.kind === 'label' ? { ...e, paint: { ...e.paint, ...edit } } : e)));
  const { paint: p } = element;
  const translate = (tag: string, text: string) =>
    editKind('label', `Translate into ${languageName(tag)}`, id, (e) => {
      const { [tag]: _, ...others } = e.translations ?? {};
      const translations = text.trim() ? { ...others, [tag]: text } : others;
      const { translations: __, ...rest } = e;
      return Object.keys(translations).length ? { ...rest, translations } : rest;
    });
  const fault = messageFault(element.text);
  const feeds = inOrder(document?.feeds ?? {});
  return (
    <>
      <div className="wide">
        <DraftText
          key={`text ${id}`}
          label="Text"
          lines
          value={kept.text}
          onDraft={(text) => draft((d) => withElement(d, id, (e) => (e.kind === 'label' ? { ...e, text } : e)))}
          onKeep={(text) => editKind('label', 'Edit a text', id, (e) => ({ ...e, text }))}
        />
        {fault && (
          <p className="fault" role="alert">
            At character {fault.at + 1}, before <q>{element.text.slice(fault.at, fault.at + 12) || 'the end'}</q>: {fault.message}.
          </p>
        )}
        {feeds.length > 0 && (
          <Menu position="bottom-start" withinPortal>
            <Menu.Target>
              <UnstyledButton className="text-button" style={{ marginTop: 6 }}>
                <IconBraces size={14} aria-hidden="true" /> Insert value
              </UnstyledButton>
            </Menu.Target>
            <Menu.Dropdown>
              {feeds.map(([feed, { name, unit, kind }]) => (
                <Menu.Item
                  key={feed}
                  onClick={() =>
                    editKind('label', 'Insert a value', id, (e) => ({
                      ...e,
                      text: `${e.text}${e.text && !/\s$/.test(e.text) ? ' ' : ''}${inserted(feed, kind)}${unit ? ` ${unit}` : ''}`,
                    }))
                  }
                >
                  {name}
                  {unit ? `, ${unit}` : ''}
                </Menu.Item>
              ))}
            </Menu.Dropdown>
          </Menu>
        )}
      </div>
      <Decimals id={id} element={element} />
      {(document?.languages ?? []).map((tag) => (
        <div key={tag} className="wide" dir={directionOf(tag)}>
          <DraftText
            key={`text ${id} ${tag}`}
            label={`In ${languageName(tag)}`}
            lines
            value={kept.translations?.[tag] ?? ''}
            onKeep={(text) => translate(tag, text)}
          />
          {messageFault(element.translations?.[tag] ?? '') && (
            <p className="fault" role="alert">
              {messageFault(element.translations?.[tag] ?? '')?.message}.
            </p>
          )}
        </div>
      ))}
      {!isAnchored(element.mount) && (
        <>
          <Switch
            size="xs"
            className="wide"
            label="Text box"
            checked={element.room !== undefined}
            onChange={(event) =>
              editKind('label', 'Switch the room', id, ({ room: _, ...rest }) =>
                event.currentTarget.checked ? { ...rest, room: { widthPx: 320, lines: 1, over: 'shrink', leastShare: 0.7 } } : rest,
              )
            }
          />
          {element.room && (
            <RoomFields room={element.room} onChange={(room) => editKind('label', 'Change the room', id, (e) => ({ ...e, room }))} />
          )}
        </>
      )}
      <Select
        size="xs"
        label="Alignment"
        allowDeselect={false}
        value={p.align}
        data={[
          { value: 'start', label: 'Left' },
          { value: 'centre', label: 'Centred' },
          { value: 'end', label: 'Right' },
        ]}
        onChange={(align) => align && paint('Align', { align: align as Label['paint']['align'] })}
      />
      {Object.keys(document?.fonts ?? {}).length > 0 && (
        <Select
          size="xs"
          label="Font"
          placeholder="The one that ships"
          clearable
          value={p.font ?? null}
          data={[...new Set(Object.values(document?.fonts ?? {}).map(({ name }) => name))]}
          onChange={(font) =>
            editKind('label', 'Choose a font', id, (e) => {
              const { font: _, ...rest } = e.paint;
              return { ...e, paint: font ? { ...rest, font } : rest };
            })
          }
        />
      )}
      <Select
        size="xs"
        label="Weight"
        allowDeselect={false}
        value={String(p.weight)}
        data={WEIGHTS}
        onChange={(weight) => weight && paint('Change weight', { weight: Number(weight) })}
      />
      <NumberField
        label="Line height"
        unit="em"
        value={p.lineHeight}
        step={0.05}
        least={0.5}
        greatest={4}
        onChange={(lineHeight) => paint('Change line height', { lineHeight })}
      />
      <NumberField
        label="Break lines after (0: never)"
        unit="em"
        value={p.wrapEm ?? 0}
        step={0.5}
        least={0}
        greatest={200}
        onChange={(em) => paint('Change wrapping', { wrapEm: em === 0 ? null : em })}
      />
      <ColourField
        label="Text colour"
        value={p.colour}
        onDraft={(colour) => paintDraft({ colour })}
        onKeep={(colour) => paint('Change a colour', { colour })}
      />
      <NumberField
        label="Opacity"
        unit="%"
        value={p.opacity * 100}
        step={5}
        least={0}
        greatest={100}
        onChange={(v) => paint('Change opacity', { opacity: v / 100 })}
      />
      <Switch
        size="xs"
        className="wide"
        label="Plate behind the text"
        checked={p.plate !== null}
        onChange={(event) =>
          paint('Switch the plate', {
            plate: event.currentTarget.checked ? { colour: '#FBF8F0E6', padEm: [0.5, 0.3], radiusEm: 0.25 } : null,
          })
        }
      />
      {p.plate && (
        <>
          <ColourField
            label="Plate colour"
            value={p.plate.colour}
            onDraft={(colour) => p.plate && paintDraft({ plate: { ...p.plate, colour } })}
            onKeep={(colour) => p.plate && paint('Change a colour', { plate: { ...p.plate, colour } })}
          />
          <NumberField
            label="Corner radius"
            unit="em"
            value={p.plate.radiusEm}
            step={0.05}
            least={0}
            greatest={10}
            onChange={(radiusEm) => p.plate && paint('Change the plate', { plate: { ...p.plate, radiusEm } })}
          />
          <NumberField
            label="Padding, sides"
            unit="em"
            value={p.plate.padEm[0]}
            step={0.05}
            least={0}
            greatest={10}
            onChange={(x) => p.plate && paint('Change the plate', { plate: { ...p.plate, padEm: [x, p.plate.padEm[1]] } })}
          />
          <NumberField
            label="Padding, top and bottom"
            unit="em"
            value={p.plate.padEm[1]}
            step={0.05}
            least={0}
            greatest={10}
            onChange={(y) => p.plate && paint('Change the plate', { plate: { ...p.plate, padEm: [p.plate.padEm[0], y] } })}
          />
        </>
      )}
      <Switch
        size="xs"
        className="wide"
        label="Outline around the letters"
        checked={p.outline !== null}
        onChange={(event) =>
          paint('Switch the outline', { outline: event.currentTarget.checked ? { colour: '#FBF8F0', widthEm: 0.1 } : null })
        }
      />
      {p.outline && (
        <>
          <ColourField
            label="Outline colour"
            value={p.outline.colour}
            onDraft={(colour) => p.outline && paintDraft({ outline: { ...p.outline, colour } })}
            onKeep={(colour) => p.outline && paint('Change a colour', { outline: { ...p.outline, colour } })}
          />
          <NumberField
            label="Outline width"
            unit="em"
            value={p.outline.widthEm}
            step={0.01}
            least={0.01}
            greatest={1}
            onChange={(widthEm) => p.outline && paint('Change the outline', { outline: { ...p.outline, widthEm } })}
          />
        </>
      )}
    </>
  );
}

function RoomFields({ room, onChange }: { room: NonNullable<Label['room']>; onChange: (room: NonNullable<Label['room']>) => void }) {
  return (
    <>
      <Choice
        label="Overflow"
        value={room.over}
        choices={{ shrink: 'shrink to fit', cut: 'cut with an ellipsis', show: 'show, and flag it' }}
        onChange={(over) => onChange({ ...room, over })}
      />
      <NumberRows
        rows={[
          { label: 'Text box width', unit: 'px', least: 1, value: room.widthPx, onChange: (widthPx) => onChange({ ...room, widthPx }) },
          {
            label: 'Max lines (0: no limit)',
            unit: '',
            least: 0,
            greatest: 100,
            value: room.lines ?? 0,
            onChange: (lines) => onChange({ ...room, lines: lines < 1 ? null : Math.round(lines) }),
          },
          ...(room.over === 'shrink'
            ? [
                {
                  label: 'Shrink to at least',
                  unit: '%',
                  step: 5,
                  least: 10,
                  greatest: 100,
                  value: room.leastShare * 100,
                  onChange: (share: number) => onChange({ ...room, leastShare: share / 100 }),
                },
              ]
            : []),
        ]}
      />
    </>
  );
}
