/**
 * What a running game and the bench say to each other: JSON-RPC 2.0 over a WebSocket. Numbers are in the project's convention; the
 * AsyncAPI description of it is made from these schemas (`docs/game.asyncapi.json`).
 */
import { type Document, type Feed, type FeedValue, keyAt, kindOfValue, partsOfKey } from '@foreshore/document';
import * as z from 'zod';
import { type Convention, fovIn, OWN, pointIn, rotationIn } from './convention.ts';

export const GAME_PROTOCOL = 1;
/** Where a game connects, on the server's own address. */
export const GAME_PATH = '/api/game';
/** No message of a game is longer. */
export const MOST_GAME_BYTES = 256 * 1024;
/** So many feeds a game may name, known to the project or not. */
export const MOST_GAME_FEEDS = 2000;

const number = z.number().refine(Number.isFinite, 'is no finite number');
const triple = z.tuple([number, number, number]);
const named = z.string().min(1).max(200);
const eventValue = z.strictObject({ number: z.int().min(0), place: triple.nullable() });
const line = z.union([z.string().max(4000), number, z.boolean()]);
const value = z.union([number, z.string().max(4000), z.boolean(), z.array(line).max(1000), eventValue]);

/** The first message, which has the token: nothing else is read before it. */
export const helloSchema = z.strictObject({
  protocol: z.literal(GAME_PROTOCOL),
  token: z.string().min(1).max(200),
  /** What the game is called on the bench; one that comes back under the same name goes on where it was. */
  name: z.string().trim().min(1).max(80),
});
/** What is so from now on. What is left out stays as it was. */
export const stateSchema = z.strictObject({
  /** Seconds since the game's session began. */
  timeS: number.min(0).optional(),
  /** Where the player's eye is and how it is turned. */
  camera: z.strictObject({ position: triple, rotation: z.tuple([number, number, number, number]) }).optional(),
  /** The angle of view and the picture's width by its height. */
  lens: z.strictObject({ fov: number.positive(), aspect: number.positive() }).optional(),
  /** The state of the game, by id or name; null: none. */
  phase: named.nullable().optional(),
  /** Values by the id or the name of their feed. */
  feeds: z.record(named, value).optional(),
  /** Values of objects, of feeds that have one for each: by the node's name, then as `feeds`. */
  objects: z.record(named, z.record(named, value)).optional(),
  /** Where the pointer is, shares of the picture from its top left; whether its first button is down. Null: there is none. */
  pointer: z.strictObject({ x: number, y: number, down: z.boolean() }).nullable().optional(),
});
/** Something happened at a place, or at none. */
export const eventSchema = z.strictObject({ feed: named, place: triple.nullable() });

export type GameHello = z.infer<typeof helloSchema>;
export type GameState = z.infer<typeof stateSchema>;
export type GameEvent = z.infer<typeof eventSchema>;

/** What the bench asks of the game. `action`: somebody used an element. */
export const tellings = {
  action: z.strictObject({ action: named, name: z.string(), source: named, target: z.string().nullable() }),
  /** The interface sets a value, a slider for one; the game takes it over. */
  set: z.strictObject({ feed: named, object: named.optional(), value }),
  /** The interface changes the state of the game. */
  phase: z.strictObject({ phase: named }),
  /** The interface has the pointer: the game leaves its own reaction to it. */
  held: z.strictObject({ held: z.boolean() }),
  /** The project was edited: the game may ask for `bundle`. */
  changed: z.strictObject({ revision: z.int() }),
} as const;
export type Telling = { [K in keyof typeof tellings]: { method: K; params: z.infer<(typeof tellings)[K]> } }[keyof typeof tellings];

/** What the server hands on of a game: all that it has said, each value with how long ago it came, seconds. */
export interface GameNow {
  timeS: number;
  camera: GameState['camera'] | null;
  lens: GameState['lens'] | null;
  phase: string | null;
  pointer: NonNullable<GameState['pointer']> | null;
  feeds: Readonly<Record<string, Said>>;
  /** By object. */
  objects: Readonly<Record<string, Readonly<Record<string, Said>>>>;
}
export interface Said {
  value: FeedValue;
  ageS: number;
}
export interface GameInfo {
  id: string;
  name: string;
  connected: boolean;
  /** Messages of the last second. */
  perS: number;
  /** Messages that were left out because too many came. */
  dropped: number;
  /** From the server to the game and back; null: not known yet. */
  roundTripMs: number | null;
  /** Why its last message was refused, and how many were. */
  refused: { count: number; why: string } | null;
}

/** What a game said, as the calculation has it. */
export interface GameFrame {
  timeS: number;
  pose: { position: [number, number, number]; rotation: [number, number, number, number] } | null;
  /** Vertical angle of view, degrees; null: the viewer's own lens. */
  fovDeg: number | null;
  phase: string | null;
  /** By the ids of feeds, and by `keyAt` of objects; one of another kind than its feed is left out. */
  values: Readonly<Record<string, FeedValue>>;
  pointer: GameNow['pointer'];
}

const idOf = <T extends { name: string }>(of: Readonly<Record<string, T>>, called: string): string | null =>
  Object.hasOwn(of, called) ? called : (Object.entries(of).find(([, { name }]) => name === called)?.[0] ?? null);

/** Quaternions that games keep are of length 1 only nearly. */
function unit([x, y, z, w]: readonly [number, number, number, number]): [number, number, number, number] | null {
  const length = Math.hypot(x, y, z, w);
  return length > 1e-6 ? [x / length, y / length, z / length, w / length] : null;
}

/** Numbers and flags in a list are lines as they are written. */
const asLines = (value: FeedValue): FeedValue => (Array.isArray(value) ? value.map(String) : value);

/** All that is said of objects, each with its feed; null where the project has none of that id or name. */
const saidOfObjects = (document: Document, { objects }: GameNow) =>
  Object.entries(objects).flatMap(([object, of]) =>
    Object.entries(of).map(([called, said]) => {
      const id = idOf(document.feeds, called);
      return { object, called, id, feed: id === null ? undefined : document.feeds[id], ...said };
    }),
  );

/** A game's words in the calculation's own terms. */
export function readGame(document: Document, now: GameNow, convention: Convention = document.convention ?? OWN): GameFrame {
  const values: Record<string, FeedValue> = {};
  for (const [called, { value }] of Object.entries(now.feeds)) {
    const id = idOf(document.feeds, called);
    if (id === null || kindOfValue(value) !== document.feeds[id]?.kind) continue;
    values[id] =
      typeof value === 'object' && !Array.isArray(value)
        ? { ...value, place: value.place && pointIn(convention, value.place) }
        : asLines(value);
  }
  for (const { object, id, feed, value } of saidOfObjects(document, now))
    if (id !== null && feed?.each && kindOfValue(value) === feed.kind) values[keyAt(id, object)] = asLines(value);
  const rotation = now.camera && unit(now.camera.rotation);
  return {
    timeS: now.timeS,
    pose:
      now.camera && rotation ? { position: pointIn(convention, now.camera.position), rotation: rotationIn(convention, rotation) } : null,
    fovDeg: now.lens ? fovIn(convention, now.lens.fov, now.lens.aspect) : null,
    phase: now.phase === null ? null : idOf(document.phases, now.phase),
    values,
    pointer: now.pointer,
  };
}

/** What is wrong with what a game says. `name`: as the game or the project calls it. */
export type GameFault =
  | { kind: 'never'; name: string }
  /** Of some objects. */
  | { kind: 'neverOf'; name: string; object: string; count: number }
  /** A value of an object, of a feed that has one for all. */
  | { kind: 'notEach'; name: string; object: string }
  /** Elements read the feed at other nodes. */
  | { kind: 'noObject'; name: string; object: string; count: number }
  | { kind: 'otherKind'; name: string; is: string; meant: string }
  | { kind: 'outOfRange'; name: string; value: number; range: readonly [number, number] }
  | { kind: 'stale'; name: string; ageS: number }
  | { kind: 'unknownFeed'; name: string }
  | { kind: 'unknownPhase'; name: string }
  | { kind: 'noCamera' }
  | { kind: 'badRotation' };

/** A feed that was sent, and then not for so long, is stale; unless it is one that changes rarely, which the game sends again once in that time. */
export const STALE_S = 10;

/** What is wrong with one value. */
function* valueFaults(feed: Feed, { value, ageS }: Said): Generator<GameFault> {
  const is = kindOfValue(value);
  if (is !== feed.kind) yield { kind: 'otherKind', name: feed.name, is, meant: feed.kind };
  else if (typeof value === 'number' && feed.range && (value < feed.range[0] || value > feed.range[1]))
    yield { kind: 'outOfRange', name: feed.name, value, range: feed.range };
  // An event is news once.
  if (feed.kind !== 'event' && ageS > STALE_S) yield { kind: 'stale', name: feed.name, ageS };
}

/**
 * @param supplied feeds that the game is to supply, by id, as the contract has them.
 * @param read all values that elements read (`Compiled.feedIds`), where the level is known: objects of which nothing is said are told then.
 */
export function gameFaults(document: Document, now: GameNow, supplied: readonly string[], read: readonly string[] = []): GameFault[] {
  const faults: GameFault[] = [];
  if (!now.camera) faults.push({ kind: 'noCamera' });
  else if (!unit(now.camera.rotation)) faults.push({ kind: 'badRotation' });
  if (now.phase !== null && idOf(document.phases, now.phase) === null) faults.push({ kind: 'unknownPhase', name: now.phase });
  const sent = new Set<string>();
  const ofAll = new Set<string>();
  for (const [called, said] of Object.entries(now.feeds)) {
    const id = idOf(document.feeds, called);
    const feed = id === null ? undefined : document.feeds[id];
    if (id === null || !feed) {
      faults.push({ kind: 'unknownFeed', name: called });
      continue;
    }
    sent.add(id);
    ofAll.add(id);
    faults.push(...valueFaults(feed, said));
  }
  // Of many objects with the same fault, the first is told.
  const told = new Set<string>();
  const tell = (fault: GameFault & { name: string }): void => {
    const key = `${fault.kind} ${fault.name}`;
    if (!told.has(key)) faults.push(fault);
    told.add(key);
  };
  const saidOf = new Map<string, Set<string>>();
  for (const { object, called, id, feed, ...said } of saidOfObjects(document, now)) {
    if (id === null || !feed) tell({ kind: 'unknownFeed', name: called });
    else if (!feed.each) tell({ kind: 'notEach', name: feed.name, object });
    else {
      sent.add(id);
      for (const fault of valueFaults(feed, said)) tell(fault as GameFault & { name: string });
      const of = saidOf.get(id) ?? new Set();
      saidOf.set(id, of.add(object));
    }
  }
  for (const [id, said] of saidOf) {
    const { name = id } = document.feeds[id] ?? {};
    const wanted = read.map(partsOfKey).flatMap(({ id: feed, object }) => (feed === id && object !== null ? [object] : []));
    const lacking = wanted.filter((object) => !said.has(object));
    if (lacking[0] !== undefined && !ofAll.has(id)) faults.push({ kind: 'neverOf', name, object: lacking[0], count: lacking.length });
    const beside = [...said].filter((object) => !wanted.includes(object));
    // A game may say more than is read; none of it is a mistake in names.
    if (wanted.length > 0 && beside.length === said.size)
      faults.push({ kind: 'noObject', name, object: beside[0] as string, count: beside.length });
  }
  for (const id of supplied)
    if (!sent.has(id) && document.feeds[id]?.kind !== 'event') faults.push({ kind: 'never', name: document.feeds[id]?.name ?? id });
  return faults;
}
