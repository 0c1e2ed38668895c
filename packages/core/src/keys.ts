/** Keys of the player's devices: which one sends an action, what is written on it, which part of a device it is. */
import type { Device, Document, Keys } from '@foreshore/document';
import type { Compiled } from './compile.ts';

/** Where an action says nothing: E, the lower of the four buttons at the right, a tap, the trigger. */
export const DEFAULT_KEYS: Keys = { keyboard: 'KeyE', gamepad: 0, touch: 'tap', hand: 0 };

export const keysOf = (document: Document, action: string | null): Keys =>
  (action === null ? undefined : document.actions?.[action]?.keys) ?? DEFAULT_KEYS;

/** The action that a row's key stands for: its own, or that of the nearest element around it that has a press. */
export function actionOfKey({ elements, parent }: Pick<Compiled, 'elements' | 'parent'>, row: number): string | null {
  const own = elements[row];
  if (own?.kind === 'key' && own.action !== null) return own.action;
  for (let at = row; at >= 0; at = parent[at] as number) {
    const action = elements[at]?.press?.action;
    if (action) return action;
  }
  return null;
}

/** What stands on a key of the keyboard, by its place (UI Events `code`). */
export function keyLabel(code: string): string {
  const letter = /^(?:Key|Digit|Numpad)(\w)$/.exec(code);
  if (letter?.[1]) return letter[1];
  const named: Record<string, string> = {
    Space: 'Space',
    Enter: 'Enter',
    Escape: 'Esc',
    ShiftLeft: 'Shift',
    ShiftRight: 'Shift',
    ControlLeft: 'Ctrl',
    ControlRight: 'Ctrl',
    AltLeft: 'Alt',
    AltRight: 'Alt',
    ArrowUp: 'Up',
    ArrowDown: 'Down',
    ArrowLeft: 'Left',
    ArrowRight: 'Right',
  };
  return named[code] ?? code.replace(/([a-z])([A-Z0-9])/g, '$1 $2');
}

/** A key in words, with where it is. */
export function keyName(keys: Keys, device: Device): string {
  if (device === 'keyboard') {
    const pointer = /^Pointer(\w+)$/.exec(keys.keyboard)?.[1];
    return pointer ? `${pointer.toLowerCase()} button of the pointer` : `key ${keyLabel(keys.keyboard)}`;
  }
  if (device === 'gamepad') return GAMEPAD[keys.gamepad] ?? `button ${keys.gamepad}`;
  if (device === 'touch') return keys.touch === 'tap' ? 'a tap' : 'two taps';
  return HAND[keys.hand] ?? `button ${keys.hand}`;
}

/** Buttons by their places in the standard mapping (W3C Gamepad, "Remapping"). */
export const GAMEPAD: readonly string[] = [
  'lower right button',
  'right-hand right button',
  'left-hand right button',
  'upper right button',
  'left shoulder',
  'right shoulder',
  'left trigger',
  'right trigger',
  'left middle button',
  'right middle button',
  'left stick pressed',
  'right stick pressed',
  'cross up',
  'cross down',
  'cross left',
  'cross right',
  'middle button',
];
/** Buttons of the `xr-standard` mapping (WebXR Gamepads Module). */
export const HAND: readonly string[] = ['trigger', 'grip', 'touchpad', 'stick pressed', 'lower button', 'upper button'];
