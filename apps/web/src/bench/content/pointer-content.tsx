/** What an element does with the pointer: acts, blocks it, or lets it pass; and how it looks meanwhile. */
import { type Element, freeId, inOrder, KINDS, orderAfter, type Pointer } from '@foreshore/document';
import { Select, Switch, UnstyledButton } from '@mantine/core';
import { editElement, withElement } from '../../edits/edits.ts';
import { Comparisons } from '../../fields/conditions.tsx';
import { ColourField } from '../../fields/draft-fields.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { useEngine } from '../../questions/engine-context.ts';
import { useShown } from '../../state/beside.tsx';
import { change, draft } from '../../state/project.ts';

const NONE: Pointer = { takes: 'blocks', action: null, padPx: 0, pointed: {}, pressed: {} };
const ACTING: Pointer = { ...NONE, takes: 'acts', pointed: { plate: '#1B6E83F2', text: '#FFFFFF' }, pressed: { plate: '#12445AF2' } };
const NEW = ' new';
/** What of an element can look otherwise in a state, and what it then is at first. */
const PARTS = {
  plate: { name: 'Plate', initial: '#1B6E83F2' },
  text: { name: 'Texts', initial: '#FFFFFF' },
  tint: { name: 'Tint', initial: '#E5B45C' },
} as const;

export function PointerContent({ id, element }: { id: string; element: Element }) {
  const document = useShown();
  const engine = useEngine();
  const pointer = element.pointer ?? { ...NONE, takes: KINDS[element.kind].takes };
  const withPointer = (e: Element, next: Pointer): Element => ({ ...e, pointer: next });
  const edit = (what: string, part: Partial<Pointer>) => editElement(what, id, (e) => withPointer(e, { ...(e.pointer ?? NONE), ...part }));
  const show = (part: Partial<Pointer>) => draft((d) => withElement(d, id, (e) => withPointer(e, { ...(e.pointer ?? NONE), ...part })));
  const actions = inOrder(document?.actions ?? {});
  const takes = (what: string | null) => {
    if (what === 'acts') edit('Let it act', element.pointer ? { takes: 'acts' } : ACTING);
    else if (what === 'blocks') editElement('Let it block', id, ({ pointer: _, ...rest }) => rest);
    else if (what) edit('Ignore input', { takes: 'passes' });
  };
  /** Chooses an action, or makes one named after the element. */
  const choose = (action: string | null) => {
    if (action !== NEW) return edit('Choose an action', { action });
    change('Make an action', (d) => {
      const made = freeId(d.actions ?? {}, element.name);
      const next = withElement(d, id, (e) => withPointer(e, { ...(e.pointer ?? ACTING), action: made }));
      return { ...next, actions: { ...d.actions, [made]: { name: element.name, order: orderAfter(d.actions ?? {}), reactions: [] } } };
    });
  };
  const look = (when: 'pointed' | 'pressed' | 'off', title: string) => (
    <div key={when} className="wide look">
      <span className="field-label">{title}</span>
      {(element.kind === 'picture' ? (['tint'] as const) : (['plate', 'text'] as const)).map((part) => {
        const value = pointer[when]?.[part];
        return value === undefined ? (
          <UnstyledButton
            key={part}
            className="text-button"
            onClick={() => edit('Change a state', { [when]: { ...pointer[when], [part]: PARTS[part].initial } })}
          >
            Change {PARTS[part].name.toLowerCase()}
          </UnstyledButton>
        ) : (
          <div key={part}>
            <ColourField
              label={PARTS[part].name}
              value={value}
              onDraft={(colour) => show({ [when]: { ...pointer[when], [part]: colour } })}
              onKeep={(colour) => edit('Change a state', { [when]: { ...pointer[when], [part]: colour } })}
            />
          </div>
        );
      })}
      {element.kind === 'picture' &&
        (pointer[when]?.saturation === undefined ? (
          <UnstyledButton
            className="text-button"
            onClick={() => edit('Change a state', { [when]: { ...pointer[when], saturation: when === 'off' ? 0 : 1 } })}
          >
            Change saturation
          </UnstyledButton>
        ) : (
          <NumberField
            label="Saturation"
            unit="x"
            step={0.1}
            least={0}
            greatest={3}
            value={pointer[when]?.saturation ?? 1}
            onChange={(saturation) => edit('Change a state', { [when]: { ...pointer[when], saturation } })}
          />
        ))}
    </div>
  );
  return (
    <>
      <Select
        size="xs"
        label="Pointer"
        allowDeselect={false}
        value={pointer.takes}
        data={[
          { value: 'acts', label: 'responds' },
          { value: 'blocks', label: 'blocks' },
          { value: 'passes', label: 'ignores input' },
        ]}
        onChange={takes}
      />
      {pointer.takes === 'acts' && (
        <>
          <Select
            size="xs"
            label="Sends the action"
            placeholder={KINDS[element.kind].sets ? 'None: it sets its feed' : 'None yet'}
            value={pointer.action}
            data={[...actions.map(([value, a]) => ({ value, label: a.name })), { value: NEW, label: 'A new one' }]}
            onChange={choose}
          />
          <NumberField
            label="Hit area padding"
            unit="px"
            value={pointer.padPx}
            least={0}
            greatest={500}
            onChange={(padPx) => edit('Change the area', { padPx })}
          />
          <Switch
            size="xs"
            label="Fade while pressed"
            checked={pointer.pressed.opacity !== undefined}
            onChange={(event) => {
              const { opacity: _, ...rest } = pointer.pressed;
              edit('Change a state', { pressed: event.currentTarget.checked ? { ...rest, opacity: 0.7 } : rest });
            }}
          />
          {look('pointed', 'While hovered')}
          {look('pressed', 'While pressed')}
          <NumberField
            label="State change takes"
            unit="s"
            step={0.05}
            value={pointer.changeS ?? 0}
            least={0}
            greatest={10}
            onChange={(changeS) => edit('Change the state change', { changeS })}
          />
          <Comparisons
            label="Disabled while all of these hold"
            holds={false}
            valuesNow={() => engine.valuesNow()}
            conditions={pointer.offWhen ?? []}
            onChange={(offWhen) => edit('Change when it is disabled', { offWhen })}
          />
          {(pointer.offWhen?.length ?? 0) > 0 && (
            <>
              {look('off', 'While disabled')}
              <Switch
                size="xs"
                label="Fade while disabled"
                checked={pointer.off?.opacity !== undefined}
                onChange={(event) => {
                  const { opacity: _, ...rest } = pointer.off ?? {};
                  edit('Change a state', { off: event.currentTarget.checked ? { ...rest, opacity: 0.45 } : rest });
                }}
              />
            </>
          )}
        </>
      )}
    </>
  );
}
