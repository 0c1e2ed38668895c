/**
 * Keeps a project's document in step with the server.
 *
 * `server` is what the server has acknowledged; `waiting` are own changes on top of it, kept in the browser until they are
 * acknowledged, so that neither a lost connection nor a closed tab loses one. The document shown is always `server` with `waiting`
 * applied. Where somebody else changed the same thing, the own change is set aside, for somebody to say what becomes of it.
 */
import type { Change, CheckProgress } from '@foreshore/document';
import { applyChange, ConflictError, type Document, DocumentError, type OpenProject, type Patch, takeForSound } from '@foreshore/document';
import { api, clientId, Refusal, Unreachable } from './api.ts';
import { adopt, dropUnsent, keepUnsent, leaveUnsent, moveAside, type SetAside, type Unsent } from './unsent.ts';

/**
 * How saving stands. `offline`: the server cannot be reached. `full`: its disk takes nothing. `behind`: it has fewer changes than this
 * tab has seen, so it is another folder or an older copy. `removed`: somebody removed the project. In all of these changes wait here.
 */
export type SaveState = 'saved' | 'saving' | 'offline' | 'full' | 'behind' | 'removed';

export interface SyncEvents {
  changed: (document: Document, revision: number) => void;
  state: (state: SaveState, waiting: number) => void;
  /** An own change that cannot be kept as it is; it lies in the browser's list by then. */
  setAside: (aside: SetAside) => void;
  /** How a check gets on. */
  check?: (progress: CheckProgress) => void;
  /** This browser keeps nothing: what waits is lost with the tab. */
  keepsNothing: () => void;
}

/**
 * What was found waiting, without changes that the server has taken though its answer never came: these do not fit on what they
 * themselves have made. The server knows them by their ids, and takes none twice.
 */
async function withoutTaken(found: readonly Unsent[], { id, revision, document }: OpenProject): Promise<Unsent[]> {
  const out: Unsent[] = [];
  let now = document;
  for (const change of found) {
    try {
      now = applyChange(now, change.patch);
    } catch {
      const taken = await api.change(id, revision, change.patch, change.changeId).then(
        () => true,
        () => false,
      );
      if (taken) {
        await dropUnsent([change.changeId]);
        continue;
      }
    }
    out.push(change);
  }
  return out;
}

/** The browser's store is waited for so long when a project is opened, and when it is saved: one that does not answer keeps from neither. */
const OPEN_MS = 3000;
const STORE_MS = 12_000;
class Slow extends Error {}
const within = <T>(ms: number, work: Promise<T>): Promise<T> =>
  Promise.race([work, new Promise<never>((_, reject) => setTimeout(() => reject(new Slow('The browser does not answer.')), ms))]);

const RETRY_MS = [300, 600, 1200, 2500, 5000];

export class Sync {
  readonly id: string;
  /** `changeId`: of the change that made the revision; null where it is not known here. */
  private server: { revision: number; document: Document; changeId: string | null };
  /** What a change was made of here, and what came of it. */
  private readonly applied = new WeakMap<Unsent, { before: Document; after: Document }>();
  private waiting: Unsent[] = [];
  private readonly events: SyncEvents;
  private sending = false;
  private failures = 0;
  private place = 0;
  /** Why nothing is sent until something else happens. */
  private halted: 'behind' | 'removed' | null = null;
  /** Counts what the live line told of the project's removal. */
  private heardRemoved = 0;
  /** The change of somebody else that was taken last. */
  private last: { at: number | null; here: boolean } | null = null;
  private socket: WebSocket | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private closed = false;
  /** Writes to the browser's store, one after the other. */
  private keeping: Promise<void> = Promise.resolve();
  document: Document;

  private constructor(id: string, server: { revision: number; document: Document }, events: SyncEvents) {
    this.id = id;
    this.server = { ...server, changeId: null };
    this.events = events;
    this.document = server.document;
  }

  /** With what this browser still has to send of the project, from this tab or from one that is gone. */
  static async open({ id, revision, document }: OpenProject, events: SyncEvents): Promise<Sync> {
    const sync = new Sync(id, { revision, document: takeForSound(document) }, events);
    const found = adopt(id, clientId);
    try {
      sync.waiting = await withoutTaken(await within(OPEN_MS, found), { id, revision, document });
      sync.place = sync.waiting.length;
    } catch (error) {
      if (error instanceof Slow) void found.then(sync.foundLate, events.keepsNothing);
      else events.keepsNothing();
    }
    sync.rebase();
    sync.listen();
    window.addEventListener('online', sync.wake);
    window.addEventListener('pagehide', sync.leave);
    void sync.flush();
    return sync;
  }

  /** What was found waiting when the project was long open: it is older than what was changed since. */
  private readonly foundLate = async (found: readonly Unsent[]): Promise<void> => {
    const { revision, document } = this.server;
    // What was changed since lies in the store, too.
    const isNew = ({ changeId }: Unsent): boolean => !this.waiting.some((one) => one.changeId === changeId);
    const late = (await withoutTaken(found.filter(isNew), { id: this.id, revision, document })).filter(isNew);
    if (this.closed || late.length === 0) return;
    this.waiting = [...late, ...this.waiting];
    this.rebase();
    void this.flush();
  };

  get revision(): number {
    return this.server.revision;
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    window.removeEventListener('online', this.wake);
    window.removeEventListener('pagehide', this.leave);
    this.socket?.close();
  }

  /** Everything pushed so far lies in the browser's store. */
  get kept(): Promise<void> {
    return this.keeping;
  }

  /**
   * Takes an own change; throws what `applyChange` throws, and then nothing has happened.
   * @param judged what it makes of the document as it is, where that is known.
   */
  push(patch: Patch, what = '', judged?: Document): void {
    const before = this.document;
    this.document = judged ?? applyChange(before, patch);
    const change: Unsent = { changeId: crypto.randomUUID(), project: this.id, tab: clientId, place: this.place++, what, patch };
    this.waiting.push(change);
    this.applied.set(change, { before, after: this.document });
    this.keep(() => keepUnsent(change));
    this.events.changed(this.document, this.revision);
    void this.flush();
  }

  private keep(write: () => Promise<void>): void {
    this.keeping = this.keeping.then(write).catch(() => this.events.keepsNothing());
  }

  /** The page ends, and waits for no store. */
  private readonly leave = (): void => leaveUnsent(this.id, clientId, this.waiting);

  private readonly wake = (): void => {
    clearTimeout(this.timer);
    if (!this.socket) this.listen();
    void this.flush();
  };

  private async flush(): Promise<void> {
    if (this.sending || this.closed) return;
    if (this.halted) {
      this.events.state(this.halted, this.waiting.length);
      return;
    }
    const first = this.waiting[0];
    if (!first) {
      this.failures = 0;
      this.events.state('saved', 0);
      return;
    }
    this.sending = true;
    if (this.failures === 0) this.events.state('saving', this.waiting.length);
    try {
      // Kept here before it is sent: a tab that ends between the two has it still.
      await within(STORE_MS, this.keeping).catch(() => this.events.keepsNothing());
      const { revision } = await api.change(this.id, this.server.revision, first.patch, first.changeId);
      this.failures = 0;
      // A change that came back over the live connection first has been taken there.
      if (this.waiting[0] === first) {
        if (revision === this.server.revision + 1) this.acknowledge(revision, first);
        else await this.catchUp();
      }
    } catch (error) {
      if (this.closed) return;
      this.refused(first, error);
    } finally {
      this.sending = false;
    }
    if (this.failures === 0) void this.flush();
  }

  private refused(change: Unsent, error: unknown): void {
    if (error instanceof Unreachable) this.retryLater('offline');
    else if (!(error instanceof Refusal)) throw error;
    else if (error.status === 507) this.retryLater('full');
    else if (error.status >= 500 || error.status === 429) this.retryLater('offline');
    else if (error.status === 409 && error.body.title === 'behind') this.halt('behind');
    else if (error.status === 410 || error.status === 404) this.halt('removed');
    else if (error.status === 409 && error.body.changes) {
      // The server was reached: what waits behind goes on at once.
      this.failures = 0;
      if (!this.take(error.body.changes)) void this.reload().catch(() => this.retryLater('offline'));
    } else {
      this.failures = 0;
      this.waiting = this.waiting.filter((one) => one !== change);
      this.putAside(change, error.message);
      this.rebase();
    }
  }

  private halt(why: 'behind' | 'removed'): void {
    this.halted = why;
    this.events.state(why, this.waiting.length);
  }

  private retryLater(state: 'offline' | 'full'): void {
    const pause = RETRY_MS[Math.min(this.failures, RETRY_MS.length - 1)] as number;
    this.failures++;
    this.events.state(state, this.waiting.length);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), pause);
  }

  private acknowledge(revision: number, change: Unsent): void {
    // Where nothing came between, the server has made of its document what was made of it here.
    const own = this.applied.get(change);
    const document = own?.before === this.server.document ? own.after : applyChange(this.server.document, change.patch);
    this.server = { revision, document, changeId: change.changeId };
    this.waiting.shift();
    this.keep(() => dropUnsent([change.changeId]));
    this.events.changed(this.document, revision);
  }

  private async catchUp(): Promise<void> {
    const heard = this.heardRemoved;
    const { revision, removed, at, changes } = await api.changesSince(this.id, this.server.revision);
    // It may have been removed, or brought back, while nothing was heard here; what was heard meanwhile is newer than this answer.
    if (heard === this.heardRemoved) this.toldRemoved(removed);
    const { changeId } = this.server;
    // Of the same number and another change: the server's history is not the one that this window has seen.
    const isAnother = changeId !== null && at !== null && at !== changeId;
    if (revision < this.server.revision || isAnother) {
      this.halt('behind');
      return;
    }
    this.take(changes);
    // Some revisions have no change to get there by: the document as a whole.
    if (this.server.revision < revision) await this.reload();
  }

  /** Takes the server's document as a whole, and puts on top what waits. */
  private async reload(): Promise<void> {
    const { revision, document } = await api.open(this.id);
    this.server = { revision, document, changeId: null };
    this.rebase();
  }

  /** Changes of the server, in order; own ones among them are no longer waiting. False where some are missing between. */
  private take(changes: Change[]): boolean {
    if (changes.length === 0) return true;
    const done: string[] = [];
    for (const change of changes) {
      if (change.number !== this.server.revision + 1) continue;
      this.server = { revision: change.number, document: applyChange(this.server.document, change.patch), changeId: change.changeId };
      if (this.waiting.some((w) => w.changeId === change.changeId)) done.push(change.changeId);
      else if (change.clientId !== clientId) this.last = { at: change.at ?? null, here: false };
    }
    this.waiting = this.waiting.filter(({ changeId }) => !done.includes(changeId));
    if (done.length) this.keep(() => dropUnsent(done));
    this.rebase();
    return !changes.some(({ number }) => number > this.server.revision);
  }

  /** Puts what is waiting on top of what the server has. */
  private rebase(): void {
    let document = this.server.document;
    const kept: Unsent[] = [];
    for (const change of this.waiting) {
      try {
        document = applyChange(document, change.patch);
        kept.push(change);
      } catch (error) {
        if (!(error instanceof ConflictError) && !(error instanceof DocumentError)) throw error;
        this.putAside(change, error.message);
      }
    }
    this.waiting = kept;
    this.document = document;
    this.events.changed(document, this.server.revision);
  }

  private putAside({ changeId, what, patch }: Unsent, why: string): void {
    const aside: SetAside = { id: changeId, project: this.id, what, patch, why, at: Date.now(), by: this.last };
    this.keep(() => moveAside(aside));
    this.events.setAside(aside);
  }

  private listen(): void {
    if (this.closed) return;
    const url = new URL('/api/live', window.location.href);
    url.protocol = url.protocol === 'https:' ? 'wss:' : 'ws:';
    url.searchParams.set('project', this.id);
    const socket = new WebSocket(url);
    this.socket = socket;
    socket.addEventListener('open', () => {
      this.failures = 0;
      clearTimeout(this.timer);
      void this.catchUp()
        .then(() => this.flush())
        .catch((error: unknown) => {
          if (error instanceof Refusal && (error.status === 404 || error.status === 410)) this.halt('removed');
          else this.retryLater('offline');
        });
    });
    socket.addEventListener('message', (event) => {
      const told = JSON.parse(String(event.data)) as Change | { removed: boolean } | { check: CheckProgress };
      if ('check' in told) this.events.check?.(told.check);
      else if ('removed' in told) {
        this.heardRemoved++;
        this.toldRemoved(told.removed);
      } else this.toldChange(told);
    });
    socket.addEventListener('close', () => {
      if (this.closed || this.socket !== socket) return;
      this.socket = null;
      if (!this.halted) this.events.state('offline', this.waiting.length);
      setTimeout(() => this.listen(), RETRY_MS[Math.min(this.failures++, RETRY_MS.length - 1)]);
    });
  }

  private toldRemoved(removed: boolean): void {
    if (removed) this.halt('removed');
    else if (this.halted === 'removed') {
      this.halted = null;
      void this.flush();
    }
  }

  private toldChange(change: Change): void {
    if (change.clientId === clientId && this.waiting.some((w) => w.changeId === change.changeId)) return;
    if (change.number === this.server.revision + 1) this.take([change]);
    else if (change.number > this.server.revision + 1) void this.catchUp().catch(() => this.retryLater('offline'));
  }
}
