/**
 * Levels that this browser keeps in its own file system (File System Standard, origin private), so that one that was opened before comes
 * in a tenth of the time that it takes from the server. Whatever fails here, the server has the level. Reading and writing is for
 * workers: only these may do so at once.
 */
import { isPrepared, PREFIX } from '@foreshore/level/prepared-head';

const FOLDER = 'levels';
/** Of all that is kept; the levels that were kept first go first. */
const MOST_BYTES = 512 << 20;
/** What is not sent yet lies in the same browser, and goes before: no more than this share of what the browser gives is taken. */
const MOST_SHARE = 0.25;

const nameOf = (address: string): string => address.replace(/[^A-Za-z0-9=.-]/g, '_');

/** What the page's types lack of the standard. Several tabs may read one file. */
const READ = { mode: 'read-only' };
interface Access {
  getSize(): number;
  read(into: Uint8Array, from: { at: number }): number;
  write(bytes: Uint8Array, from: { at: number }): number;
  truncate(bytes: number): void;
  flush(): void;
  close(): void;
}
type Openable = FileSystemFileHandle & { createSyncAccessHandle(mode?: typeof READ): Promise<Access> };
type Listable = FileSystemDirectoryHandle & AsyncIterable<[string, FileSystemHandle]>;

async function folder(): Promise<FileSystemDirectoryHandle> {
  return (await navigator.storage.getDirectory()).getDirectoryHandle(FOLDER, { create: true });
}

/** A level that was kept under its address, whole; null where there is none. */
export async function keptLevel(address: string): Promise<ArrayBuffer | null> {
  try {
    const file = (await (await folder()).getFileHandle(nameOf(address))) as Openable;
    const handle = await file.createSyncAccessHandle(READ);
    try {
      const bytes = new Uint8Array(handle.getSize());
      handle.read(bytes, { at: 0 });
      return isPrepared(bytes.buffer) ? bytes.buffer : null;
    } finally {
      handle.close();
    }
  } catch {
    // None, or another tab is writing it, or this browser has no such files.
    return null;
  }
}

/** Keeps a level, where there is room. */
export async function keepLevel(address: string, bytes: ArrayBuffer): Promise<void> {
  try {
    const into = await folder();
    const name = nameOf(address);
    if (!(await hasRoom(into, name, bytes.byteLength))) return;
    const file = (await into.getFileHandle(name, { create: true })) as Openable;
    const handle = await file.createSyncAccessHandle();
    try {
      // What says that it is whole is written last, when all else lies on the disk.
      handle.truncate(0);
      handle.write(new Uint8Array(bytes, PREFIX), { at: PREFIX });
      handle.flush();
      handle.write(new Uint8Array(bytes, 0, PREFIX), { at: 0 });
      handle.flush();
    } finally {
      handle.close();
    }
  } catch {
    // The next opening brings it from the server again.
  }
}

/** Lets go of a level that could not be opened. Not only workers may. */
export async function forgetLevel(address: string): Promise<void> {
  await (await folder()).removeEntry(nameOf(address)).catch(() => {});
}

/** Makes room for a level. @returns whether there is. */
async function hasRoom(into: FileSystemDirectoryHandle, name: string, bytes: number): Promise<boolean> {
  const { quota = 0 } = await navigator.storage.estimate();
  const most = Math.min(MOST_BYTES, quota * MOST_SHARE);
  if (bytes > most) return false;
  const others: { name: string; size: number; since: number }[] = [];
  for await (const [other, handle] of into as Listable) {
    if (other === name || handle.kind !== 'file') continue;
    const { size, lastModified } = await (handle as FileSystemFileHandle).getFile();
    others.push({ name: other, size, since: lastModified });
  }
  others.sort((a, b) => b.since - a.since);
  let total = bytes;
  for (const other of others) {
    total += other.size;
    if (total > most) await into.removeEntry(other.name);
  }
  return true;
}
