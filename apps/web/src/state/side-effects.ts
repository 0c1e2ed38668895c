/** What the last change, or changes, did to elements that it did not touch, at the present moment; and whether that is looked for. */
import type { SideEffect } from '@foreshore/checks';
import { create } from 'zustand';

interface SideEffectStore {
  /** Looked for after each change. This browser remembers it. */
  wanted: boolean;
  effects: readonly SideEffect[];
  /** The own change that had them, as it stands among what can be undone; null where it was somebody else's. */
  by: object | null;
  /** How many own changes came between the two rests, that one among them. */
  changes: number;
  /** The present moment is known as it stands: the next change is compared with it. */
  known: boolean;
}

const KEY = 'foreshore.side-effects';
/** A browser may keep nothing for a page; then it is as at first. */
const kept = (): boolean => {
  try {
    return localStorage.getItem(KEY) !== 'off';
  } catch {
    return true;
  }
};

export const useSideEffects = create<SideEffectStore>(() => ({ wanted: kept(), effects: [], by: null, changes: 0, known: false }));

export function wantSideEffects(wanted: boolean): void {
  useSideEffects.setState({ wanted, effects: [], by: null, changes: 0, known: false });
  try {
    localStorage.setItem(KEY, wanted ? 'on' : 'off');
  } catch {
    // It holds until the page is left.
  }
}
