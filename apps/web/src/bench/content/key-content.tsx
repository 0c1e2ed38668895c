/** What the key of a prompt does, and how a key looks. */
import { keysOf } from '@foreshore/core';
import { type Element, inOrder } from '@foreshore/document';
import { keyName } from '@foreshore/words';
import { Select } from '@mantine/core';
import { editElement, isGateable } from '../../edits/edits.ts';
import type { ElementProps } from '../../fields/element-props.ts';
import { Gated } from '../../fields/gated.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice, ColourRows, editing } from '../../fields/rows.tsx';
import { useBench } from '../../state/bench.ts';

export function PressContent({ id, element, document }: ElementProps) {
  const device = useBench((s) => s.device);
  const { press } = element;
  if (!isGateable(element)) return null;
  const edit = (part: Partial<NonNullable<Element['press']>>) =>
    editElement('Change the press', id, (e) => (e.press ? { ...e, press: { ...e.press, ...part } } : e));
  return (
    <section className="section" aria-label="Key">
      <h2>Key</h2>
      <div className="fields">
        <Gated id={id} element={element} document={document} gate="press" label="A key triggers it">
          {press && (
            <>
              <Select
                size="xs"
                label="Sends"
                placeholder="No action"
                clearable
                value={press.action}
                data={inOrder(document.actions ?? {}).map(([value, a]) => ({ value, label: a.name }))}
                onChange={(action) => edit({ action })}
              />
              <Choice
                label="How"
                value={press.how}
                choices={{ press: 'pressed once', hold: 'held', repeat: 'pressed several times' }}
                onChange={(how) => edit({ how })}
              />
              {press.how !== 'press' && (
                <NumberField
                  label={press.how === 'hold' ? 'Held for' : 'All within'}
                  unit="s"
                  step={0.1}
                  least={0.1}
                  greatest={60}
                  value={press.holdS}
                  onChange={(holdS) => edit({ holdS })}
                />
              )}
              {press.how === 'repeat' && (
                <NumberField
                  label="Presses"
                  unit=""
                  least={2}
                  greatest={100}
                  value={press.times}
                  onChange={(v) => edit({ times: Math.round(v) })}
                />
              )}
              <p className="hint wide">
                Now: {keyName(keysOf(document, press.action), device)}. The keys of each device are set with the action, in Feeds.
              </p>
            </>
          )}
        </Gated>
      </div>
    </section>
  );
}

/** A key's own size and colours: stands under Content. */
export function KeyContent({ id, element, document }: ElementProps) {
  if (element.kind !== 'key') return null;
  const { edit, paint, showPaint } = editing('key', id);
  return (
    <>
      <Select
        size="xs"
        label="Stands for"
        placeholder="The action of its prompt"
        clearable
        value={element.action}
        data={inOrder(document.actions ?? {}).map(([value, a]) => ({ value, label: a.name }))}
        onChange={(action) => edit('Change the key', { action })}
      />
      <NumberField
        label="Height"
        unit="px"
        least={4}
        greatest={2000}
        value={element.heightPx}
        onChange={(heightPx) => edit('Resize', { heightPx })}
      />
      <ColourRows
        rows={(['plate', 'ink', 'lit'] as const).map((part) => ({
          label: { plate: 'Cap', ink: 'Letter and device', lit: 'What is meant, and the ring' }[part],
          value: element.paint[part],
          onDraft: (colour) => showPaint({ [part]: colour }),
          onKeep: (colour) => paint('Change a colour', { [part]: colour }),
        }))}
      />
    </>
  );
}
