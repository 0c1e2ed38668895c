/** Which key or button of each device does something: sends an action, where a prompt asks for it, or presses with a hand. */
import { keyLabel } from '@foreshore/core';
import { DEVICES, type Device, type Keys } from '@foreshore/document';
import { GAMEPAD, HAND } from '@foreshore/words';
import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { PictureField } from './picture-field.tsx';
import { Choice } from './rows.tsx';

const WORDS: Record<Device, string> = { keyboard: 'Key', gamepad: 'Gamepad', touch: 'Touch', hand: 'Hand' };

export function KeysFields({
  title = 'Keys',
  keys,
  usual,
  pictured = false,
  onChange,
}: {
  title?: string;
  keys: Keys;
  /** Those where nothing is said. */
  usual: Keys;
  /** Each may have a picture of its own, and be used by touch. */
  pictured?: boolean;
  onChange: (keys: Keys) => void;
}) {
  // Closed, its many fields are not there at all.
  const [open, setOpen] = useState(false);
  const edit = (part: Partial<Keys>) => onChange({ ...keys, ...part });
  return (
    <details className="keys-fields" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>
        {title}: {keys.keyboard.startsWith('Pointer') ? keys.keyboard : keyLabel(keys.keyboard)}, {GAMEPAD[keys.gamepad]}
      </summary>
      {open && (
        <div className="fields">
          <TextInput
            size="xs"
            label="Key: press it here"
            value={keys.keyboard}
            readOnly
            onKeyDown={(event) => {
              if (event.code === 'Tab' || event.code === 'Escape') return;
              event.preventDefault();
              edit({ keyboard: event.code });
            }}
          />
          <Select
            size="xs"
            label="Or of the pointer"
            placeholder="none"
            clearable
            value={keys.keyboard.startsWith('Pointer') ? keys.keyboard : null}
            data={['PointerLeft', 'PointerMiddle', 'PointerRight'].map((value) => ({
              value,
              label: `${value.slice(7).toLowerCase()} button`,
            }))}
            onChange={(keyboard) => edit({ keyboard: keyboard ?? usual.keyboard })}
          />
          <Select
            size="xs"
            label="Button of the gamepad"
            allowDeselect={false}
            value={String(keys.gamepad)}
            data={GAMEPAD.map((label, k) => ({ value: String(k), label }))}
            onChange={(v) => v && edit({ gamepad: Number(v) })}
          />
          {pictured && (
            <Choice
              label="Touch"
              value={keys.touch}
              choices={{ tap: 'a tap', doubleTap: 'two taps' }}
              onChange={(touch) => edit({ touch })}
            />
          )}
          <Select
            size="xs"
            label="Hand controller"
            allowDeselect={false}
            value={String(keys.hand)}
            data={HAND.map((label, k) => ({ value: String(k), label }))}
            onChange={(v) => v && edit({ hand: Number(v) })}
          />
          {pictured && (
            <div className="wide">
              {DEVICES.map((device) => (
                <PictureField
                  key={device}
                  label={`${WORDS[device]}, own picture`}
                  none="drawn"
                  value={keys.pictures?.[device] ?? null}
                  onChange={(picture) => {
                    const { [device]: _, ...others } = keys.pictures ?? {};
                    edit({ pictures: picture ? { ...others, [device]: picture } : others });
                  }}
                />
              ))}
            </div>
          )}
        </div>
      )}
    </details>
  );
}
