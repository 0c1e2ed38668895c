/** What somebody sets by hand while no game is connected: feeds that are held at a value, and the phase. It belongs to the session, not to the document. */
import type { FeedValue } from '@foreshore/document';
import { create } from 'zustand';

interface LiveStore {
  /** Values that go before those of sources and routes, by feed. */
  held: Readonly<Record<string, FeedValue>>;
  /** The phase chosen by hand; null: the route's own, or the first. */
  phase: string | null;
}

const none: LiveStore = { held: {}, phase: null };
export const useLive = create<LiveStore>(() => none);

export const hold = (feed: string, value: FeedValue): void => useLive.setState(({ held }) => ({ held: { ...held, [feed]: value } }));
export const letGo = (feed: string): void =>
  useLive.setState(({ held }) => {
    const { [feed]: _, ...rest } = held;
    return { held: rest };
  });
export const resetLive = (): void => useLive.setState(none, true);
