/** What the selected element contains: its text and its paint. */

import type { Label } from '@foreshore/document';
import { Select, Switch, Textarea, TextInput } from '@mantine/core';
import { IconMapPin, IconTrash } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { NumberField } from '../shell/number-field.tsx';
import { useBench } from '../state/bench.ts';
import { draft, dropDraft, shownDocument, useProject } from '../state/project.ts';
import { useEngine } from './context.ts';
import { editElement, removeElement, withElement } from './edits.ts';

/** A text that is shown while typed and made a change when left. */
function DraftText({
  label,
  value,
  lines,
  onDraft,
  onKeep,
}: {
  label: string;
  value: string;
  lines?: boolean;
  onDraft?: (text: string) => void;
  onKeep: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const keep = () => {
    if (text !== value || onDraft) onKeep(text);
  };
  const common = {
    size: 'xs' as const,
    label,
    value: text,
    onChange: (event: { currentTarget: { value: string } }) => {
      setText(event.currentTarget.value);
      onDraft?.(event.currentTarget.value);
    },
    onBlur: keep,
    onKeyDown: (event: { key: string; shiftKey: boolean; preventDefault(): void; currentTarget: HTMLElement }) => {
      if (event.key === 'Escape') {
        setText(value);
        dropDraft();
      } else if (event.key === 'Enter' && !lines) {
        event.preventDefault();
        keep();
      }
    },
  };
  return lines ? <Textarea {...common} autosize minRows={2} maxRows={5} /> : <TextInput {...common} />;
}

const HEX = /^#[0-9a-f]{6}$/i;

function ColourField({
  label,
  value,
  onDraft,
  onKeep,
}: {
  label: string;
  value: string;
  onDraft: (colour: string) => void;
  onKeep: (colour: string) => void;
}) {
  const alpha = value.slice(7);
  return (
    <div>
      <span className="field-label">{label}</span>
      <span className="colour-field">
        <input
          type="color"
          aria-label={`${label}, choose`}
          value={value.slice(0, 7)}
          onChange={(event) => onDraft(event.currentTarget.value.toUpperCase() + alpha)}
          onBlur={(event) => onKeep(event.currentTarget.value.toUpperCase() + alpha)}
        />
        <TextInput
          size="xs"
          aria-label={`${label}, as #RRGGBB`}
          key={value}
          defaultValue={value.slice(0, 7)}
          onBlur={(event) => {
            const text = event.currentTarget.value.trim();
            if (HEX.test(text)) onKeep(text.toUpperCase() + alpha);
            else event.currentTarget.value = value.slice(0, 7);
          }}
        />
      </span>
    </div>
  );
}

export function Content() {
  const engine = useEngine();
  const document = useProject(shownDocument);
  const kept = useProject((s) => s.document);
  const { selection } = useBench();
  const element = selection ? document?.elements[selection] : undefined;
  if (!selection || !element || !document)
    return (
      <section className="section">
        <h2>Content</h2>
        <p className="hint">
          Nothing is selected. Click a label in the picture, choose a row below, or choose Place and click a surface to put a label there.
        </p>
      </section>
    );
  const anchor = document.anchors[element.mount.anchor];
  const paint = (what: string, edit: Partial<Label['paint']>) =>
    editElement(what, selection, (e) => ({ ...e, paint: { ...e.paint, ...edit } }));
  const paintDraft = (edit: Partial<Label['paint']>) =>
    draft((d) => withElement(d, selection, (e) => ({ ...e, paint: { ...e.paint, ...edit } })));
  const { paint: p } = element;
  const where =
    anchor?.kind === 'node'
      ? `on ${anchor.node}`
      : anchor?.kind === 'midpoint'
        ? `between ${document.anchors[anchor.first]?.name} and ${document.anchors[anchor.second]?.name}`
        : anchor?.node
          ? `on ${anchor.node}, moving with it`
          : 'on a surface';
  return (
    <section className="section" aria-label="Content">
      <h2>
        {element.name}
        <span className="spring" />
        <button
          type="button"
          className="icon-button"
          title="Stand before it"
          aria-label={`Stand before ${element.name}`}
          onClick={() => {
            const pose = engine.viewOf(selection);
            if (pose) engine.goTo(pose);
          }}
        >
          <IconMapPin size={17} />
        </button>
        <button
          type="button"
          className="icon-button"
          title="Delete (Del)"
          aria-label={`Delete ${element.name}`}
          onClick={() => removeElement(selection)}
        >
          <IconTrash size={17} />
        </button>
      </h2>
      <p className="hint">Label, floating {where}</p>
      <div className="fields">
        <div className="wide">
          <DraftText
            key={`text ${selection}`}
            label="Text"
            lines
            value={kept?.elements[selection]?.text ?? element.text}
            onDraft={(text) => draft((d) => withElement(d, selection, (e) => ({ ...e, text })))}
            onKeep={(text) => editElement('Edit a text', selection, (e) => ({ ...e, text }))}
          />
        </div>
        <div className="wide">
          <DraftText
            key={`name ${selection}`}
            label="Name in lists"
            value={element.name}
            onKeep={(name) => {
              if (name.trim()) editElement('Rename', selection, (e) => ({ ...e, name: name.trim() }));
            }}
          />
        </div>
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
        <Select
          size="xs"
          label="Weight"
          allowDeselect={false}
          value={String(p.weight)}
          data={[
            { value: '400', label: 'Regular' },
            { value: '700', label: 'Bold' },
          ]}
          onChange={(weight) => weight && paint('Change weight', { weight: Number(weight) as 400 | 700 })}
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
              label="Padding, top and foot"
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
      </div>
    </section>
  );
}
