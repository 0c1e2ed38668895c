/**
 * Keeps a project's document in step with the server.
 *
 * `server` is what the server has acknowledged; `waiting` are own changes on top of it, kept in the browser's storage
 * until they are acknowledged, so that neither a lost connection nor a closed tab loses one. The document shown is
 * always `server` with `waiting` applied. Where somebody else changed the same thing, the own change is set aside and
 * offered again.
 */

import type { Change } from '@foreshore/document';
import { applyChange, ConflictError, type Document, DocumentError, type Patch } from '@foreshore/document';
import { api, clientId, Refusal, Unreachable } from './api.ts';

export interface Waiting {
  changeId: string;
  patch: Patch;
}
export type SaveState = 'saved' | 'saving' | 'offline' | 'refused';

export interface SyncEvents {
  changed: (document: Document, revision: number) => void;
  state: (state: SaveState, waiting: number) => void;
  /** An own change that cannot be kept as it is, with what it wanted and what stands there. */
  setAside: (patch: Patch, why: string) => void;
}

const RETRY_MS = [300, 600, 1200, 2500, 5000];

export class Sync {
  readonly id: string;
  private server: { revision: number; document: Document };
  private waiting: Waiting[] = [];
  private readonly events: SyncEvents;
  private sending = false;
  private failures = 0;
  private socket: WebSocket | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private closed = false;
  document: Document;

  constructor(id: string, server: { revision: number; document: Document }, events: SyncEvents) {
    this.id = id;
    this.server = server;
    this.events = events;
    this.document = server.document;
    this.waiting = this.stored();
    this.rebase();
    this.listen();
    window.addEventListener('online', this.wake);
    void this.flush();
  }

  get revision(): number {
    return this.server.revision;
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    window.removeEventListener('online', this.wake);
    this.socket?.close();
  }

  /** Takes an own change; throws what `applyChange` throws, and then nothing has happened. */
  push(patch: Patch): void {
    this.document = applyChange(this.document, patch);
    this.waiting.push({ changeId: crypto.randomUUID(), patch });
    this.store();
    this.events.changed(this.document, this.revision);
    void this.flush();
  }

  private readonly wake = (): void => {
    clearTimeout(this.timer);
    if (!this.socket) this.listen();
    void this.flush();
  };

  private async flush(): Promise<void> {
    if (this.sending || this.closed) return;
    const first = this.waiting[0];
    if (!first) {
      this.failures = 0;
      this.events.state('saved', 0);
      return;
    }
    this.sending = true;
    if (this.failures === 0) this.events.state('saving', this.waiting.length);
    try {
      const { revision } = await api.change(this.id, this.server.revision, first.patch, first.changeId);
      this.failures = 0;
      // A change that came back over the live connection first has been taken there.
      if (this.waiting[0] === first) {
        if (revision === this.server.revision + 1) this.acknowledge(revision, first.patch);
        else await this.catchUp();
      }
    } catch (error) {
      if (this.closed) return;
      if (error instanceof Unreachable || (error instanceof Refusal && error.status >= 500)) this.retryLater();
      else if (error instanceof Refusal && error.status === 409 && error.body.changes) this.take(error.body.changes);
      else if (error instanceof Refusal && error.status === 429) this.retryLater();
      else if (error instanceof Refusal) {
        this.waiting.shift();
        this.events.setAside(first.patch, error.message);
        this.events.state('refused', this.waiting.length);
        this.rebase();
      } else throw error;
    } finally {
      this.sending = false;
    }
    if (this.failures === 0) void this.flush();
  }

  private retryLater(): void {
    const pause = RETRY_MS[Math.min(this.failures, RETRY_MS.length - 1)] as number;
    this.failures++;
    this.events.state('offline', this.waiting.length);
    this.timer = setTimeout(() => void this.flush(), pause);
  }

  private acknowledge(revision: number, patch: Patch): void {
    this.server = { revision, document: applyChange(this.server.document, patch) };
    this.waiting.shift();
    this.store();
    this.events.changed(this.document, revision);
  }

  private async catchUp(): Promise<void> {
    const { changes } = await api.changesSince(this.id, this.server.revision);
    this.take(changes);
  }

  /** Changes of the server, in order; own ones among them are no longer waiting. */
  private take(changes: Change[]): void {
    for (const change of changes) {
      if (change.number !== this.server.revision + 1) continue;
      this.server = { revision: change.number, document: applyChange(this.server.document, change.patch) };
      this.waiting = this.waiting.filter((w) => w.changeId !== change.changeId);
    }
    this.rebase();
  }

  /** Puts what is waiting on top of what the server has. */
  private rebase(): void {
    let document = this.server.document;
    const kept: Waiting[] = [];
    for (const change of this.waiting) {
      try {
        document = applyChange(document, change.patch);
        kept.push(change);
      } catch (error) {
        if (!(error instanceof ConflictError) && !(error instanceof DocumentError)) throw error;
        this.events.setAside(change.patch, error.message);
      }
    }
    this.waiting = kept;
    this.document = document;
    this.store();
    this.events.changed(document, this.server.revision);
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
        .catch(() => this.retryLater());
    });
    socket.addEventListener('message', (event) => {
      const change = JSON.parse(String(event.data)) as Change;
      if (change.clientId === clientId && this.waiting.some((w) => w.changeId === change.changeId)) return;
      if (change.number === this.server.revision + 1) this.take([change]);
      else if (change.number > this.server.revision + 1) void this.catchUp().catch(() => this.retryLater());
    });
    socket.addEventListener('close', () => {
      if (this.closed || this.socket !== socket) return;
      this.socket = null;
      this.events.state('offline', this.waiting.length);
      setTimeout(() => this.listen(), RETRY_MS[Math.min(this.failures++, RETRY_MS.length - 1)]);
    });
  }

  private get key(): string {
    return `foreshore.waiting.${this.id}`;
  }
  private store(): void {
    try {
      if (this.waiting.length) localStorage.setItem(this.key, JSON.stringify(this.waiting));
      else localStorage.removeItem(this.key);
    } catch {
      // Storage is full or forbidden: the changes still wait in memory.
    }
  }
  private stored(): Waiting[] {
    try {
      return JSON.parse(localStorage.getItem(this.key) ?? '[]') as Waiting[];
    } catch {
      return [];
    }
  }
}
