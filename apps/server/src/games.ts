/**
 * Running games: each says where its player is and what its values are; whoever has the project open sees that, and what is used there
 * is told the game.
 *
 * All that a game says is merged into what is so now, so that a flood of messages costs no more than reading them, and a listener that
 * comes late, or a game that comes back, misses nothing. It is handed on at most thirty times a second.
 */
import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import type { FeedValue } from '@foreshore/document';
import {
  eventSchema,
  GAME_PROTOCOL,
  type GameInfo,
  type GameNow,
  type GameState,
  helloSchema,
  MOST_GAME_FEEDS,
  stateSchema,
  type Telling,
  tellings,
} from '@foreshore/handoff/game';
import type { WebSocket } from 'ws';
import * as z from 'zod';

/** Handed on once in this time at most, milliseconds. */
const TELL_MS = 33;
/** What is told of the games themselves. */
const ABOUT_MS = 1000;
/** A connection that has not said who it is by then is closed. */
const HELLO_MS = 5000;
/** So many games, and connections that have not said who they are, at a project. */
const MOST_GAMES = 8;
const MOST_STRANGERS = 16;
/** More messages than this in a second are not read; the rest of a flood is counted alone. */
const MOST_PER_S = 20_000;
/** A listener that does not listen is told less. */
const MOST_WAITING_BYTES = 512 * 1024;
/** So many refusals a game is told that did not ask for an answer. */
const MOST_TOLD = 20;
/** So many messages may come before the answer to hello. */
const MOST_EARLY = 64;
/** So long it is waited for a game of the same name to go. */
const GONE_MS = 300;
/** A game that is gone is remembered for so long. */
const REMEMBER_MS = 10 * 60_000;

/** JSON-RPC 2.0 error codes: of the standard, and of our own. */
const FAULT = { parse: -32700, request: -32600, method: -32601, params: -32602, internal: -32603, token: 1, full: 2 } as const;

/** Values by the feed's id or name, with when they came. */
type Heard = Map<string, { value: FeedValue; atMs: number }>;

interface Game {
  id: string;
  name: string;
  socket: WebSocket | null;
  now: Omit<GameNow, 'feeds' | 'objects'>;
  feeds: Heard;
  /** By object. */
  objects: Map<string, Heard>;
  dirty: boolean;
  read: number;
  perS: number;
  dropped: number;
  refused: GameInfo['refused'];
  roundTripMs: number | null;
  pingedMs: number;
  goneMs: number;
}
interface Watcher {
  socket: WebSocket;
  follows: string | null;
  /** What it follows has not been told it whole. */
  due: boolean;
}
interface Room {
  games: Map<string, Game>;
  watchers: Set<Watcher>;
  strangers: number;
}

const requestSchema = z.object({
  jsonrpc: z.literal('2.0'),
  method: z.string().max(40),
  params: z.unknown().optional(),
  id: z.union([z.string().max(80), z.number()]).optional(),
});
const answerSchema = z.object({ jsonrpc: z.literal('2.0'), id: z.literal('ping'), result: z.unknown() });
/** What a bench says: which game it follows, and what it tells that one. */
const benchSchema = z.union([
  z.strictObject({ follow: z.string().max(80).nullable() }),
  z.strictObject({ tell: z.strictObject({ method: z.enum(['action', 'set', 'phase', 'held']), params: z.unknown() }) }),
]);

export interface GameDoors {
  tokenHash(project: string): string | null;
  setTokenHash(project: string, hash: string | null): void;
}
export interface GameBundles {
  /** The bundle of what is saved. */
  bundle(project: string): Promise<{ revision: number; bundle: unknown }>;
}

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');
const isSame = (a: string, b: string): boolean => a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));
const firstFault = ({ issues: [issue] }: z.ZodError): string => `${issue?.path.join('.') || 'the message'}: ${issue?.message}`;

export class Games {
  private readonly rooms = new Map<string, Room>();
  private readonly timers: NodeJS.Timeout[];
  private made = 0;

  constructor(
    private readonly doors: GameDoors,
    private readonly bundles: GameBundles,
  ) {
    this.timers = [setInterval(() => this.handOn(), TELL_MS), setInterval(() => this.tellAbout(), ABOUT_MS)];
    for (const timer of this.timers) timer.unref();
  }

  isOn(project: string): boolean {
    return this.doors.tokenHash(project) !== null;
  }

  /** Lets games in. The token is told this once; one that was before lets nobody in any more. */
  open(project: string): string {
    this.shut(project);
    // In hexadecimal: one that began with a dash would be taken for an option where it is given on a command line.
    const token = randomBytes(18).toString('hex');
    this.doors.setTokenHash(project, hashOf(token));
    return token;
  }
  /** Lets no game in any more, and closes those that are. */
  shut(project: string): void {
    this.doors.setTokenHash(project, null);
    const room = this.rooms.get(project);
    for (const game of room?.games.values() ?? []) game.socket?.close(1008, 'The game connection was switched off.');
    room?.games.clear();
    if (room) this.tellRoom(room);
  }

  private room(project: string): Room {
    let room = this.rooms.get(project);
    if (!room) this.rooms.set(project, (room = { games: new Map(), watchers: new Set(), strangers: 0 }));
    return room;
  }
  private leave(project: string): void {
    const room = this.rooms.get(project);
    if (room && room.games.size === 0 && room.watchers.size === 0 && room.strangers === 0) this.rooms.delete(project);
  }

  /** A bench listens. */
  watch(socket: WebSocket, project: string): void {
    const room = this.room(project);
    const watcher: Watcher = { socket, follows: null, due: false };
    room.watchers.add(watcher);
    send(socket, { on: this.isOn(project), games: [...room.games.values()].map(infoOf) });
    socket.on('close', () => {
      room.watchers.delete(watcher);
      this.leave(project);
    });
    socket.on('message', (data) => {
      const said = benchSchema.safeParse(jsonOf(String(data)));
      if (!said.success) return;
      if ('follow' in said.data) {
        watcher.follows = said.data.follow;
        watcher.due = true;
        return;
      }
      const { method, params } = said.data.tell;
      const told = tellings[method].safeParse(params);
      const game = room.games.get(watcher.follows ?? '');
      if (told.success && game?.socket) tell(game.socket, { method, params: told.data } as Telling);
    });
  }

  /** A game asks to be let in. */
  accept(socket: WebSocket, project: string): void {
    const room = this.room(project);
    if (room.strangers >= MOST_STRANGERS) {
      socket.close(1013, 'Too many connections wait to say who they are.');
      return;
    }
    room.strangers++;
    let game: Game | null = null;
    const late = setTimeout(() => socket.close(1008, 'No hello came.'), HELLO_MS);
    let asked = false;
    const early: Buffer[] = [];
    const known = () => {
      clearTimeout(late);
      room.strangers--;
    };
    socket.on('close', () => {
      if (!game) {
        if (!asked) known();
      } else if (game.socket === socket) {
        game.socket = null;
        game.goneMs = Date.now();
        this.tellRoom(room);
      }
      this.leave(project);
    });
    socket.on('message', (data) => {
      if (game) {
        this.hear(project, game, socket, data as Buffer);
        return;
      }
      // What is said before the answer to hello is heard after it.
      if (asked) {
        if (early.length < MOST_EARLY) early.push(data as Buffer);
        return;
      }
      const call = requestSchema.safeParse(jsonOf(String(data)));
      if (!call.success || call.data.method !== 'hello') {
        refuse(socket, call.data?.id ?? null, FAULT.request, 'Say hello first.');
        socket.close(1008, 'Say hello first.');
        return;
      }
      const hello = helloSchema.safeParse(call.data.params);
      const hash = this.doors.tokenHash(project);
      if (!hello.success || hash === null || !isSame(hashOf(hello.data.token), hash)) {
        const why = hello.success ? 'This token lets nobody in.' : firstFault(hello.error);
        refuse(socket, call.data.id ?? null, hello.success ? FAULT.token : FAULT.params, why);
        socket.close(1008, 'Not let in.');
        return;
      }
      known();
      asked = true;
      const { id } = call.data;
      void this.whenGone(room, hello.data.name).then(() => {
        if (socket.readyState !== socket.OPEN) return;
        // It was switched off, or given another token, meanwhile.
        if (this.doors.tokenHash(project) !== hash) {
          socket.close(1008, 'Not let in.');
          return;
        }
        game = this.enter(this.room(project), hello.data.name, socket);
        if (!game) {
          refuse(socket, id ?? null, FAULT.full, `There are ${MOST_GAMES} games already.`);
          socket.close(1013, 'Too many games.');
          return;
        }
        answer(socket, id, { protocol: GAME_PROTOCOL, game: game.id });
        for (const one of early.splice(0)) this.hear(project, game, socket, one);
        this.tellRoom(room);
      });
    });
  }

  /** A game that was started again may be back before it is known that its old connection is gone: that is waited for a moment. */
  private async whenGone({ games }: Room, name: string): Promise<void> {
    const there = [...games.values()].find((one) => one.name === name)?.socket;
    if (!there) return;
    await new Promise<void>((resolve) => {
      there.once('close', () => resolve());
      setTimeout(resolve, GONE_MS);
    });
  }

  /** One that comes back under its name goes on where it was. */
  private enter(room: Room, name: string, socket: WebSocket): Game | null {
    const before = [...room.games.values()].find((one) => one.name === name && one.socket === null);
    if (before) {
      before.socket = socket;
      before.roundTripMs = null;
      return before;
    }
    const taken = [...room.games.values()].filter((one) => one.socket !== null).length;
    if (taken >= MOST_GAMES) return null;
    const game: Game = {
      id: `game-${++this.made}`,
      name: [...room.games.values()].some((one) => one.name === name) ? `${name} ${this.made}` : name,
      socket,
      now: { timeS: 0, camera: null, lens: null, phase: null, pointer: null },
      feeds: new Map(),
      objects: new Map(),
      dirty: false,
      read: 0,
      perS: 0,
      dropped: 0,
      refused: null,
      roundTripMs: null,
      pingedMs: 0,
      goneMs: 0,
    };
    room.games.set(game.id, game);
    return game;
  }

  private hear(project: string, game: Game, socket: WebSocket, data: Buffer): void {
    if (++game.read > MOST_PER_S) {
      game.dropped++;
      return;
    }
    const said = jsonOf(data.toString());
    if (answerSchema.safeParse(said).success) {
      game.roundTripMs = performance.now() - game.pingedMs;
      return;
    }
    const call = requestSchema.safeParse(said);
    if (!call.success) {
      noteRefused(game, 'it is no JSON-RPC 2.0 message');
      refuse(socket, null, said === undefined ? FAULT.parse : FAULT.request, 'This is no JSON-RPC 2.0 message.');
      return;
    }
    const { method, params, id } = call.data;
    const failed = (error: unknown) => {
      const { code, message } = error instanceof Wrong ? error : new Wrong(FAULT.internal, (error as Error).message);
      noteRefused(game, `${method}: ${message}`);
      // Who sends without asking for an answer is told all the same, but not at every one of a flood.
      if (id !== undefined || (game.refused?.count ?? 0) < MOST_TOLD) refuse(socket, id ?? null, code, message);
    };
    try {
      if (!Object.hasOwn(METHODS, method))
        throw new Wrong(FAULT.method, `There is no such method; there are ${Object.keys(METHODS).join(', ')}.`);
      const done = METHODS[method as keyof typeof METHODS](game, params, () => this.bundles.bundle(project));
      if (done instanceof Promise) done.then((result) => answer(socket, id, result), failed);
      else answer(socket, id, done);
    } catch (error) {
      failed(error);
    }
  }

  /** Tells games that what they show was edited. */
  changed(project: string, revision: number): void {
    for (const { socket } of this.rooms.get(project)?.games.values() ?? [])
      if (socket) tell(socket, { method: 'changed', params: { revision } });
  }

  private handOn(): void {
    for (const { games, watchers } of this.rooms.values()) {
      const told = new Map<string, string>();
      for (const watcher of watchers) {
        const game = games.get(watcher.follows ?? '');
        if (!game || !(game.dirty || watcher.due)) continue;
        // Who does not listen is told when it does.
        watcher.due = watcher.socket.bufferedAmount > MOST_WAITING_BYTES;
        if (watcher.due) continue;
        let message = told.get(game.id);
        if (message === undefined) told.set(game.id, (message = JSON.stringify({ game: game.id, now: nowOf(game) })));
        watcher.socket.send(message, () => {});
      }
      for (const game of games.values()) game.dirty = false;
    }
  }

  private tellAbout(): void {
    const nowMs = Date.now();
    for (const [project, room] of this.rooms) {
      for (const [id, game] of room.games) {
        game.perS = game.read;
        game.read = 0;
        if (game.socket) {
          game.pingedMs = performance.now();
          send(game.socket, { jsonrpc: '2.0', method: 'ping', id: 'ping' });
        } else if (nowMs - game.goneMs > REMEMBER_MS) room.games.delete(id);
      }
      if (room.games.size > 0) this.tellRoom(room);
      this.leave(project);
    }
  }
  private tellRoom(room: Room): void {
    const project = [...this.rooms].find(([, one]) => one === room)?.[0] ?? '';
    const about = { on: this.isOn(project), games: [...room.games.values()].map(infoOf) };
    for (const { socket } of room.watchers) send(socket, about);
  }

  close(): void {
    for (const timer of this.timers) clearInterval(timer);
    for (const { games, watchers } of this.rooms.values()) {
      for (const { socket } of games.values()) socket?.terminate();
      for (const { socket } of watchers) socket.terminate();
    }
  }
}

/** Why a call is refused, as JSON-RPC says it. */
class Wrong extends Error {
  constructor(
    readonly code: number,
    message: string,
  ) {
    super(message);
  }
}
function read<T extends z.ZodType>(schema: T, params: unknown): z.infer<T> {
  const said = schema.safeParse(params);
  if (!said.success) throw new Wrong(FAULT.params, firstFault(said.error));
  return said.data;
}

/** What a game may call, and what it is answered. */
const METHODS = {
  state: (game: Game, params: unknown): unknown => {
    merge(game, read(stateSchema, params));
    return true;
  },
  event: (game: Game, params: unknown): unknown => {
    const { feed, place } = read(eventSchema, params);
    const before = game.feeds.get(feed)?.value;
    const number = typeof before === 'object' && !Array.isArray(before) ? before.number + 1 : 1;
    merge(game, { feeds: { [feed]: { number, place } } });
    return number;
  },
  bundle: (_game: Game, _params: unknown, bundle: () => Promise<unknown>): unknown => bundle(),
} as const;

/** Takes over what a game says. */
function merge(game: Game, { feeds = {}, objects = {}, ...rest }: GameState): void {
  const atMs = Date.now();
  // A session that begins anew has nothing of the one before, and room for what it names.
  if (rest.timeS !== undefined && rest.timeS < game.now.timeS - 1) {
    game.feeds.clear();
    game.objects.clear();
  }
  const said: [string | null, Record<string, FeedValue>][] = [[null, feeds], ...Object.entries(objects)] as never;
  const heardOf = (object: string | null): Heard | undefined => (object === null ? game.feeds : game.objects.get(object));
  let values = game.feeds.size;
  for (const of of game.objects.values()) values += of.size;
  for (const [object, of] of said) for (const name of Object.keys(of)) if (!heardOf(object)?.has(name)) values++;
  if (values > MOST_GAME_FEEDS)
    throw new Wrong(
      FAULT.params,
      `${Object.keys(objects).length > 0 ? 'objects' : 'feeds'}: more than ${MOST_GAME_FEEDS} values are named`,
    );
  for (const [object, of] of said)
    for (const [name, value] of Object.entries(of)) {
      let heard = heardOf(object);
      if (!heard) game.objects.set(object as string, (heard = new Map()));
      heard.set(name, { value, atMs });
    }
  for (const [key, value] of Object.entries(rest)) if (value !== undefined) (game.now as Record<string, unknown>)[key] = value;
  game.dirty = true;
}

const noteRefused = (game: Game, why: string): void => {
  game.refused = { count: (game.refused?.count ?? 0) + 1, why };
};
const infoOf = ({ id, name, socket, perS, dropped, roundTripMs, refused }: Game): GameInfo => ({
  ...{ id, name, connected: socket !== null, perS, dropped, refused },
  roundTripMs: roundTripMs === null ? null : Math.round(roundTripMs * 10) / 10,
});
const nowOf = (game: Game): GameNow => {
  const nowMs = Date.now();
  const told = (heard: Heard) =>
    Object.fromEntries([...heard].map(([name, { value, atMs }]) => [name, { value, ageS: Math.round((nowMs - atMs) / 100) / 10 }]));
  return {
    ...game.now,
    feeds: told(game.feeds),
    objects: Object.fromEntries([...game.objects].map(([object, heard]) => [object, told(heard)])),
  };
};

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
const send = (socket: WebSocket, what: object): void => {
  // Who does not listen is not waited for.
  if (socket.bufferedAmount < MOST_WAITING_BYTES) socket.send(JSON.stringify(what), () => {});
};
const tell = (socket: WebSocket, { method, params }: Telling): void => send(socket, { jsonrpc: '2.0', method, params });
const answer = (socket: WebSocket, id: string | number | undefined, result: unknown): void => {
  if (id !== undefined) socket.send(JSON.stringify({ jsonrpc: '2.0', id, result }), () => {});
};
const refuse = (socket: WebSocket, id: string | number | null, code: number, message: string): void =>
  send(socket, { jsonrpc: '2.0', id, error: { code, message } });
