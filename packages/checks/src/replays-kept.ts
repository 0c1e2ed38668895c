/** Replays of the document that was asked about last: the next question is often about the same route at the same viewer. */
import type { Document } from '@foreshore/document';
import { type CheckPart, partKey } from './check.ts';
import type { Replay } from './replay.ts';
import { measuresAlike } from './trial.ts';

const MOST_REPLAYS = 8;

export class ReplaysKept {
  private document: Document | null = null;
  /** The one asked for last is the last. */
  private readonly replays = new Map<string, Replay>();

  /** The replay of a part, made where there is none; it is wherever the last question left it. */
  of(document: Document, part: CheckPart, make: () => Replay): Replay {
    if (!this.document || !measuresAlike(this.document, document)) this.replays.clear();
    this.document = document;
    const key = partKey(part);
    const replay = this.replays.get(key) ?? make();
    this.replays.delete(key);
    this.replays.set(key, replay);
    const [oldest] = this.replays.keys();
    if (this.replays.size > MOST_REPLAYS && oldest !== undefined) this.replays.delete(oldest);
    return replay;
  }
}
