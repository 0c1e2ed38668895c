/** After each change, at rest: how the rows of the present frame stand now, against how they stood before it. */
import { type Standings, sideEffects, standingsInParts } from '@foreshore/checks';
import type { Solver } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { pause, whenIdle } from '../level/pause.ts';
import { useBench } from '../state/bench.ts';
import { gameFrame } from '../state/game.ts';
import { useLive } from '../state/live.ts';
import { useProject } from '../state/project.ts';
import { useSideEffects } from '../state/side-effects.ts';

/** A picture or a key waits no longer than this. */
const SOME_MS = 8;
const MOST_WAIT_MS = 1000;

interface Now {
  moment: string;
  document: Document;
  /** How many changes could be made again, and the own ones that were made, the last one last. */
  undone: number;
  made: readonly object[];
}

export class SideEffects {
  private readonly stands: () => boolean;
  private before: (Now & { standings: Standings }) | null = null;
  private callOff = (): void => {};

  /** @param stands whether nothing has been drawn since it came to rest. */
  constructor(stands: () => boolean) {
    this.stands = stands;
  }

  dispose(): void {
    this.callOff();
    useSideEffects.setState({ effects: [], by: null, changes: 0, known: false });
  }

  /** The frame has come to rest. */
  rested(frame: Solver): void {
    this.callOff();
    const { viewer, route, timeS, pose, mode, language, device, extreme, scrolled } = useBench.getState();
    const { document, draft, undoable, redoable } = useProject.getState();
    const { wanted, known, effects } = useSideEffects.getState();
    if (!wanted || mode !== 'look' || gameFrame()) {
      // The game's own doing is no change of the document.
      this.before = null;
      if (known || effects.length > 0) useSideEffects.setState({ effects: [], by: null, changes: 0, known: false });
      return;
    }
    if (!document || draft) return;
    const { held, phase, forced } = useLive.getState();
    const moment = JSON.stringify([viewer, pose ? null : route, timeS, pose, language, device, extreme, scrolled, held, phase, forced]);
    const { before } = this;
    if (before?.moment === moment && before.document === document) return;
    if (known) useSideEffects.setState({ known: false });
    this.callOff = whenIdle(() => void this.compare(frame, { moment, document, undone: redoable.length, made: undoable }), MOST_WAIT_MS);
  }

  private async compare(frame: Solver, now: Now): Promise<void> {
    if (!this.stands()) return;
    const work = standingsInParts(frame);
    for (;;) {
      const until = performance.now() + SOME_MS;
      let part = work.next();
      while (!part.done && performance.now() < until) part = work.next();
      if (part.done) {
        this.tell(now, part.value);
        return;
      }
      await pause();
      // Another frame may have been solved in its place; when that has come to rest, it is looked at.
      if (!this.stands()) return;
    }
  }

  private tell(now: Now, standings: Standings): void {
    const { before } = this;
    this.before = { ...now, standings };
    // Going back does what was there before; another moment has nothing to be compared with.
    const comparable = before?.moment === now.moment && now.undone <= before.undone;
    const effects = comparable ? sideEffects(before.standings, standings, before.document, now.document) : [];
    const changes = before ? madeSince(before.made, now.made) : 0;
    const by = changes > 0 ? (now.made.at(-1) ?? null) : null;
    const told = useSideEffects.getState();
    const same = effects.length === 0 && told.effects.length === 0;
    if (!same || !told.known) useSideEffects.setState({ effects: same ? told.effects : effects, by, changes, known: true });
  }
}

/** How many came after the last that was there; what was taken back in between is none of them, and the oldest ones are forgotten. */
function madeSince(before: readonly object[], now: readonly object[]): number {
  for (let k = before.length - 1; k >= 0; k--) {
    const at = now.lastIndexOf(before[k] as object);
    if (at >= 0) return now.length - 1 - at;
  }
  return now.length;
}
