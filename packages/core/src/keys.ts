/** Keys of the player's devices: which one sends an action, what is written on it, which part of a device it is. */
import type { Document, Keys } from '@foreshore/document/types';
import type { Compiled } from './compiled.ts';

/** Where an action says nothing: E, the lower of the four buttons at the right, a tap, the trigger. */
export const DEFAULT_KEYS: Keys = { keyboard: 'KeyE', gamepad: 0, touch: 'tap', hand: 0 };

/** On the cap of a key: the em of its word and the room at each side of it, as shares of the cap's height. */
export const CAP_EM = 0.56;
export const CAP_PAD = 0.32;

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
