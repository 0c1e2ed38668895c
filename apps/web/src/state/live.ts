/** What somebody sets by hand while no game is connected: feeds that are held at a value, and the phase. It belongs to the session, not to the document. */
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

/** An action that was sent: by which element, when, and what it did. */
export interface LogEntry {
  id: number;
  timeS: number;
  action: string;
  source: string;
  did: readonly string[];
}

const none: LiveStore = { held: {}, phase: null, forced: {}, log: [] };
const MOST_LOGGED = 60;

/** Takes over what became of an action. */
export const took = (
  reacted: { values: Record<string, FeedValue>; phase: string | null; forced: Record<string, 'shown' | 'hidden'>; did: string[] },
  entry: Omit<LogEntry, 'id' | 'did'>,
): void =>
  useLive.setState(({ held, log, phase, forced }) => ({
    held: { ...held, ...reacted.values },
    phase: reacted.phase ?? phase,
    forced: { ...forced, ...reacted.forced },
    log: [{ ...entry, id: (log[0]?.id ?? 0) + 1, did: reacted.did }, ...log].slice(0, MOST_LOGGED),
  }));
export const useLive = create<LiveStore>(() => none);

export const hold = (feed: string, value: FeedValue): void => useLive.setState(({ held }) => ({ held: { ...held, [feed]: value } }));
export const letGo = (feed: string): void =>
  useLive.setState(({ held }) => {
    const { [feed]: _, ...rest } = held;
    return { held: rest };
  });
export const resetLive = (): void => useLive.setState(none, true);
