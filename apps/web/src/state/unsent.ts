/**
 * What this browser keeps of changes until they are safe: those that wait for the server, in a queue for each tab, and those that
 * lost against another change, until somebody says what becomes of them. Nothing is removed before it is acknowledged or said so.
 */
import type { Patch } from '@foreshore/document';
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';

export interface Unsent {
  changeId: string;
  project: string;
  /** The tab that made it. */
  tab: string;
  /** Its place in the tab's queue. */
  place: number;
  what: string;
  patch: Patch;
}
/** A change that lost: `at` is when, milliseconds since 1970. */
export interface SetAside {
  id: string;
  project: string;
  what: string;
  patch: Patch;
  why: string;
  at: number;
  /** When the change that won was taken, and whether it came from this browser; null where none is known. */
  by: { at: number | null; here: boolean } | null;
}

interface Kept extends DBSchema {
  unsent: { key: string; value: Unsent; indexes: { project: string } };
  aside: { key: string; value: SetAside; indexes: { project: string } };
}

const NAME = 'foreshore';
let opened: Promise<IDBPDatabase<Kept>> | null = null;
const database = (): Promise<IDBPDatabase<Kept>> =>
  (opened ??= openDB<Kept>(NAME, 1, {
    upgrade(db) {
      db.createObjectStore('unsent', { keyPath: 'changeId' }).createIndex('project', 'project');
      db.createObjectStore('aside', { keyPath: 'id' }).createIndex('project', 'project');
    },
    terminated() {
      opened = null;
    },
  }));

const DURABLE = { durability: 'strict' } as const;

/** Written before anything is sent; rejects where the browser keeps nothing. */
export async function keepUnsent(change: Unsent): Promise<void> {
  const tx = (await database()).transaction('unsent', 'readwrite', DURABLE);
  await Promise.all([tx.store.put(change), tx.done]);
}
export async function dropUnsent(changeIds: readonly string[]): Promise<void> {
  const tx = (await database()).transaction('unsent', 'readwrite', DURABLE);
  await Promise.all([...changeIds.map((id) => tx.store.delete(id)), tx.done]);
}
const inOrder = (all: readonly Unsent[]): Unsent[] =>
  all.toSorted((a, b) => (a.tab === b.tab ? a.place - b.place : a.tab < b.tab ? -1 : 1));
/** All that wait of a project, of whichever tab, in the order in which they were made there. */
export async function unsentOf(project: string): Promise<Unsent[]> {
  return inOrder(await (await database()).getAllFromIndex('unsent', 'project', project));
}

const leftAt = (project: string, tab = ''): string => `foreshore-left ${project} ${tab}`;
/**
 * Leaves what waits of a page that ends: the store may not have taken all of it, and the page may seem to live for a while. It lies where it
 * is written at once, until the next page takes it over. Where there is no such place, or it is full, the store has most of it.
 */
export function leaveUnsent(project: string, tab: string, changes: readonly Unsent[]): void {
  try {
    if (changes.length > 0) localStorage.setItem(leftAt(project, tab), JSON.stringify(changes));
  } catch {
    return;
  }
}
/** What pages that have ended have left so, by where it lies. */
function leftOf(project: string): Map<string, Unsent[]> {
  try {
    const keys = Array.from({ length: localStorage.length }, (_, k) => localStorage.key(k) ?? '').filter((key) =>
      key.startsWith(leftAt(project)),
    );
    return new Map(keys.map((key) => [key, JSON.parse(localStorage.getItem(key) ?? '[]') as Unsent[]]));
  } catch {
    return new Map();
  }
}

/** The change is noted as lost in the same step in which it leaves the queue. */
export async function moveAside(aside: SetAside): Promise<void> {
  const tx = (await database()).transaction(['unsent', 'aside'], 'readwrite', DURABLE);
  await Promise.all([tx.objectStore('aside').put(aside), tx.objectStore('unsent').delete(aside.id), tx.done]);
}
export async function asideOf(project: string): Promise<SetAside[]> {
  const all = await (await database()).getAllFromIndex('aside', 'project', project);
  return all.sort((a, b) => a.at - b.at);
}
export async function dropAside(ids: readonly string[]): Promise<void> {
  const tx = (await database()).transaction('aside', 'readwrite', DURABLE);
  await Promise.all([...ids.map((id) => tx.store.delete(id)), tx.done]);
}

const lockOf = (tab: string): string => `foreshore-tab-${tab}`;

let heldTab: string | null = null;
/** Says for as long as this tab lives that it does: its queue is its own. */
export function holdTab(tab: string): void {
  if (heldTab === tab) return;
  heldTab = tab;
  // Never resolved: the browser lets go of it when the tab is gone, however it goes.
  void navigator.locks?.request(lockOf(tab), () => new Promise<never>(() => {}));
}
/** Tabs that still live, of those given. Where the browser cannot tell, none but the asking one does. */
export async function livingTabs(tabs: readonly string[]): Promise<Set<string>> {
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  const names = new Set(held.map(({ name }) => name));
  return new Set(tabs.filter((tab) => names.has(lockOf(tab))));
}

/** Takes over what tabs that are gone have left, so that no other tab takes it, too. */
export async function adopt(project: string, tab: string): Promise<Unsent[]> {
  const take = async (): Promise<Unsent[]> => {
    const left = leftOf(project);
    const behind = [...left.values()].flat();
    const known = new Map([...(await unsentOf(project)), ...behind].map((one) => [one.changeId, one]));
    const all = inOrder([...known.values()]);
    const living = await livingTabs([...new Set(all.map((one) => one.tab))]);
    for (const one of behind) living.delete(one.tab);
    const own = all.filter((one) => one.tab === tab || !living.has(one.tab)).map((one, place) => ({ ...one, tab, place }));
    const tx = (await database()).transaction('unsent', 'readwrite', DURABLE);
    await Promise.all([...own.map((one) => tx.store.put(one)), tx.done]);
    for (const key of left.keys()) localStorage.removeItem(key);
    return own;
  };
  return navigator.locks ? navigator.locks.request(`foreshore-adopt-${project}`, take) : take();
}
