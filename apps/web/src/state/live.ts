/** What somebody sets by hand while no game is connected: feeds that are held at a value, and the phase. It belongs to the session, not to the document. */
import type { Changes, Played } from '@foreshore/core';
import type { FeedValue } from '@foreshore/document';
import { create } from 'zustand';

interface LiveStore {
  /** Values that go before those of sources and routes, by feed. */
  held: Readonly<Record<string, FeedValue>>;
  /** The phase chosen by hand; null: the route's own, or the first. */
  phase: string | null;
  /** Elements that a reaction has shown or hidden, by id. */
  forced: Readonly<Record<string, 'shown' | 'hidden'>>;
  /** What was sent lately, the newest first. */
  log: readonly LogEntry[];
}

/** One thing that was pressed, and what became of it. */
export interface LogEntry {
  id: number;
  timeS: number;
  what: Played;
}

const none: LiveStore = { held: {}, phase: null, forced: {}, log: [] };
const MOST_LOGGED = 60;

/** Takes over what an action changed. */
export const takeChanges = ({ values, phase, forced }: Changes): void =>
  useLive.setState((now) => ({
    held: { ...now.held, ...values },
    phase: phase ?? now.phase,
    forced: { ...now.forced, ...forced },
  }));
/** Notes what was pressed, the newest first. */
export const logPlayed = (what: Played, timeS: number): void =>
  useLive.setState(({ log }) => ({ log: [{ id: (log[0]?.id ?? 0) + 1, timeS, what }, ...log].slice(0, MOST_LOGGED) }));
export const useLive = create<LiveStore>(() => none);

export const hold = (feed: string, value: FeedValue): void => useLive.setState(({ held }) => ({ held: { ...held, [feed]: value } }));
export const letGo = (feed: string): void =>
  useLive.setState(({ held }) => {
    const { [feed]: _, ...rest } = held;
    return { held: rest };
  });
/** What a reaction showed or hid follows its phase and conditions again. */
export const release = (element: string): void =>
  useLive.setState(({ forced }) => {
    const { [element]: _, ...rest } = forced;
    return { forced: rest };
  });
export const resetLive = (): void => useLive.setState(none, true);
