/**
 * The pointer and the interface's own reactions on a runtime: buttons, toggles, sliders, what scrolls, pages, hands and prompts, as in
 * the bench's Try. Stands in for `Runtime.key` and `Runtime.button`.
 */
import { type Changes, middleOf, Play, type PlayHost, sourcesOf } from '@foreshore/core';
import { partsOfKey } from '@foreshore/document/key-at';
import type { Device, FeedValue } from '@foreshore/document/types';
import type { Runtime } from './runtime.ts';

/** A play of a runtime: `pointAt`, `down`, `up`, `key`, `scrollAt` and the rest are those of the bench. Call `advance` each frame. */
export class Use extends Play {
  /** @param changed told of what the interface sets by itself: a slider's feed (and the object whose value it is), a phase. The game is to take it over. */
  constructor(
    runtime: Runtime,
    changed: (what: { feed: string; object?: string; value: FeedValue } | { phase: string | null }) => void = () => {},
  ) {
    let device: Device = 'keyboard';
    const values: Record<string, FeedValue | undefined> = {};
    let forced: Record<string, 'shown' | 'hidden'> = {};
    let scrolled: Record<string, number> = {};
    const set = (key: string, value: FeedValue): void => {
      runtime.set(key, value);
      const { id: feed, object } = partsOfKey(key);
      changed({ feed, ...(object !== null && { object }), value });
    };
    const host: PlayHost = {
      solver: () => runtime.solver,
      document: () => runtime.solver.c.document,
      phase: () => runtime.phase,
      nowS: () => runtime.solver.f.timeS,
      values: () => {
        runtime.solver.c.feedIds.forEach((id, k) => {
          values[id] = runtime.solver.f.values[k];
        });
        return values;
      },
      device: () => device,
      setDevice: (next) => {
        device = next;
        runtime.setDevice(next);
      },
      set,
      change: (changes: Changes) => {
        for (const [feed, value] of Object.entries(changes.values ?? {})) set(feed, value);
        if (changes.phase !== undefined && changes.phase !== null && changes.phase !== runtime.phase) {
          runtime.setPhase(changes.phase);
          changed({ phase: changes.phase });
        }
        forced = { ...forced, ...changes.forced };
        runtime.force(forced);
      },
      scroll: (group, toPx) => {
        scrolled = { ...scrolled, [group]: toPx };
        runtime.scroll(scrolled);
      },
      point: (pointed, pressed) => runtime.point(pointed, pressed),
      played: (what) => {
        if (what.kind === 'sent' && what.action !== null) runtime.send(what.action, what.source, what.target);
      },
      invalidate: () => {},
    };
    super(host);
    this.runtime = runtime;
  }
  private readonly runtime: Runtime;

  /** Time goes on: call it once a frame, before `Runtime.frame`. */
  override advance(dtS: number): boolean {
    // What aims goes through the middle of the view.
    const { solver } = this.runtime;
    for (const source of sourcesOf(solver.c.document)) if (source === 'aim' || source === 'head') this.point(source, middleOf(solver));
    const going = super.advance(dtS);
    this.runtime.setPressing(this.share());
    return going;
  }
}
