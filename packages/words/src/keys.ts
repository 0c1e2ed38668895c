/** Keys of the player's devices in words, with where they are. */
import { keyLabel } from '@foreshore/core';
import type { Device, Keys } from '@foreshore/document';

/** A key in words, with where it is. */
export function keyName(keys: Keys, device: Device): string {
  if (device === 'keyboard') {
    const pointer = /^Pointer(\w+)$/.exec(keys.keyboard)?.[1];
    return pointer ? `${pointer.toLowerCase()} mouse button` : `key ${keyLabel(keys.keyboard)}`;
  }
  if (device === 'gamepad') return GAMEPAD[keys.gamepad] ?? `button ${keys.gamepad}`;
  if (device === 'touch') return keys.touch === 'tap' ? 'a tap' : 'two taps';
  return HAND[keys.hand] ?? `button ${keys.hand}`;
}

/** Buttons by their places in the standard mapping (W3C Gamepad, "Remapping"). */
export const GAMEPAD: readonly string[] = [
  'bottom button of the right cluster',
  'right button of the right cluster',
  'left button of the right cluster',
  'top button of the right cluster',
  'left shoulder',
  'right shoulder',
  'left trigger',
  'right trigger',
  'left button of the centre cluster',
  'right button of the centre cluster',
  'left stick pressed',
  'right stick pressed',
  'top button of the left cluster',
  'bottom button of the left cluster',
  'left button of the left cluster',
  'right button of the left cluster',
  'centre button of the centre cluster',
];
/** Buttons of the `xr-standard` mapping (WebXR Gamepads Module). */
export const HAND: readonly string[] = ['trigger', 'grip', 'touchpad', 'stick pressed', 'lower button', 'upper button'];
