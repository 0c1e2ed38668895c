/**
 * The game's side of a game connection: it says where its player is and what its values are, and hears what is used on the bench. Says
 * no more than the line takes, keeps what is so now, and says it whole again after every interruption.
 */
import type { FeedValue } from '@foreshore/document/types';

/** What a game says of a feed. Numbers and flags in a list are lines as they are written. */
export type SaidValue = FeedValue | readonly (string | number | boolean)[];

/** What is so from now on; what is left out stays as it was. Numbers are in the project's convention. */
export interface Said {
  /** Seconds since the session began. */
  timeS?: number;
  camera?: { position: readonly number[]; rotation: readonly number[] };
  /** The angle of view as the convention has it, and the picture's width by its height. */
  lens?: { fov: number; aspect: number };
  phase?: string | null;
  /** Values by the id or the name of their feed. */
  feeds?: Record<string, SaidValue>;
  /** Values of objects, of feeds that have one for each: by the name of the object's node, then as `feeds`. */
  objects?: Record<string, Record<string, SaidValue>>;
  /** Where the pointer is, shares of the picture from its top left. */
  pointer?: { x: number; y: number; down: boolean } | null;
}

export interface ConnectOptions {
  /** Where the bench is, such as `http://127.0.0.1:4180`. */
  address: string;
  project: string;
  token: string;
  /** What the game is called on the bench. */
  name: string;
  /** The host's own WebSocket, where it is not global. */
  socket?: new (
    url: string,
  ) => WebSocket;
  /** An element was used on the bench. */
  onAction?: (told: { action: string; name: string; source: string; target: string | null }) => void;
  /** The interface sets a value, of one object where the feed has one for each; the game takes it over. */
  onSet?: (told: { feed: string; object?: string; value: FeedValue }) => void;
  onPhase?: (phase: string) => void;
  /** The interface has the pointer: the game leaves its own reaction to it. */
  onHeld?: (held: boolean) => void;
  /** The project was edited; `bundle()` has it. */
  onChanged?: (revision: number) => void;
  /** The connection came, went, or was refused, and why. */
  onState?: (state: 'connected' | 'lost' | 'refused', why: string) => void;
}

/** A line on which so much waits is given no more; what is so then is said when it has gone. */
const MOST_WAITING_BYTES = 64 * 1024;
const RETRY_MS = [300, 600, 1200, 2500, 5000];
/** What is said again without a change, so that nothing seems to be stale. */
const AGAIN_MS = 4000;

export class Connection {
  private socket: WebSocket | null = null;
  private isOpen = false;
  private closed = false;
  private failures = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly again: ReturnType<typeof setInterval>;
  /** All that is so, and what of it has not been said. */
  private readonly all: Said = {};
  private due: Said = {};
  private asked = 0;
  private readonly waiting = new Map<number, { resolve: (result: never) => void; reject: (error: Error) => void }>();

  constructor(private readonly options: ConnectOptions) {
    this.open();
    this.again = setInterval(() => {
      this.due = merged({}, this.all);
      this.flush();
    }, AGAIN_MS);
    (this.again as { unref?: () => void }).unref?.();
  }

  get connected(): boolean {
    return this.isOpen;
  }

  /** Says what is so; as often as the game likes. */
  say(said: Said): void {
    merged(this.all, said);
    merged(this.due, said);
    this.flush();
  }
  /** Says that something happened at a place, or at none (null). Not kept where there is no connection: it is no news by then. */
  happened(feed: string, place: readonly number[] | null): void {
    this.send({ method: 'event', params: { feed, place } });
  }
  /** The bundle of what is saved. @throws Error where there is no connection, or it cannot be made. */
  bundle(): Promise<{ revision: number; bundle: unknown }> {
    return this.ask('bundle');
  }
  /** Comes to an end; nothing is said or heard any more. */
  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    clearInterval(this.again);
    this.socket?.close();
  }

  private open(): void {
    const { address, project, socket: Socket = WebSocket } = this.options;
    const url = new URL(`/api/game?project=${encodeURIComponent(project)}`, address);
    url.protocol = url.protocol === 'https:' ? 'wss:' : 'ws:';
    const socket = new Socket(url.href);
    this.socket = socket;
    socket.onopen = () => {
      const { token, name } = this.options;
      this.ask('hello', { protocol: 1, token, name }).then(
        () => {
          this.failures = 0;
          this.isOpen = true;
          this.due = merged({}, this.all);
          this.flush();
          this.options.onState?.('connected', '');
        },
        (error: Error) => {
          // Who is not let in does not knock again.
          if (socket.readyState > 1) return;
          this.closed = true;
          this.options.onState?.('refused', error.message);
        },
      );
    };
    socket.onmessage = ({ data }) => this.hear(JSON.parse(String(data)));
    socket.onerror = () => {};
    socket.onclose = () => {
      const was = this.isOpen;
      this.isOpen = false;
      for (const { reject } of this.waiting.values()) reject(new Error('The connection was lost.'));
      this.waiting.clear();
      if (was) this.options.onState?.('lost', 'The connection was lost.');
      if (this.closed) return;
      this.timer = setTimeout(() => this.open(), RETRY_MS[Math.min(this.failures++, RETRY_MS.length - 1)]);
    };
  }

  private hear(told: { method?: string; params?: unknown; id?: number | string; result?: never; error?: { message: string } }): void {
    const { options } = this;
    if (told.method === 'ping') this.send({ id: told.id as string, result: true });
    else if (told.method === 'action') options.onAction?.(told.params as never);
    else if (told.method === 'set') options.onSet?.(told.params as never);
    else if (told.method === 'phase') options.onPhase?.((told.params as { phase: string }).phase);
    else if (told.method === 'held') options.onHeld?.((told.params as { held: boolean }).held);
    else if (told.method === 'changed') options.onChanged?.((told.params as { revision: number }).revision);
    else if (typeof told.id === 'number') {
      const asked = this.waiting.get(told.id);
      this.waiting.delete(told.id);
      if (told.error) asked?.reject(new Error(told.error.message));
      else asked?.resolve(told.result as never);
    }
  }

  private ask<T>(method: string, params?: object): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      const id = ++this.asked;
      this.waiting.set(id, { resolve: resolve as never, reject });
      if (!this.send({ method, params, id }, method === 'hello')) {
        this.waiting.delete(id);
        reject(new Error('There is no connection.'));
      }
    });
  }
  private flush(): void {
    if (!this.isOpen || (this.socket?.bufferedAmount ?? 0) > MOST_WAITING_BYTES || Object.keys(this.due).length === 0) return;
    this.send({ method: 'state', params: this.due });
    this.due = {};
  }
  private send(what: object, first = false): boolean {
    if (!(this.isOpen || first) || this.socket?.readyState !== 1) return false;
    this.socket.send(JSON.stringify({ jsonrpc: '2.0', ...what }));
    return true;
  }
}

/** Puts what is said over what was. */
function merged(onto: Said, { feeds, objects, ...rest }: Said): Said {
  Object.assign(onto, rest);
  if (feeds) onto.feeds = { ...onto.feeds, ...feeds };
  if (objects) {
    onto.objects = { ...onto.objects };
    for (const name of Object.keys(objects)) onto.objects[name] = { ...onto.objects[name], ...objects[name] };
  }
  return onto;
}

export const connect = (options: ConnectOptions): Connection => new Connection(options);
