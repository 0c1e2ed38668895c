/**
 * Files under the hash of their bytes. A file is acknowledged only once all of it is on the disk: it is written under a name of its
 * own, synchronised, compared, and then given its name.
 */
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { type FileHandle, mkdir, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';

const NAME = /^[0-9a-f]{64}$/;
const DRAFT = /^[0-9a-f]{64}\.[0-9a-f-]{36}$/;

/** The hash of a file's bytes as they lie on the disk, or null where it is not there. */
export async function hashOf(path: string): Promise<string | null> {
  const hash = createHash('sha256');
  try {
    for await (const piece of createReadStream(path)) hash.update(piece as Buffer);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
  return hash.digest('hex');
}

export const pathOf = (folder: string, hash: string): string => join(folder, hash);

/** All of it, however little the disk takes at a time. */
async function writeAll(file: FileHandle, bytes: Uint8Array): Promise<void> {
  for (let at = 0; at < bytes.byteLength; ) {
    const { bytesWritten } = await file.write(bytes, at, bytes.byteLength - at);
    if (bytesWritten === 0) throw Object.assign(new Error('The disk takes no more.'), { code: 'ENOSPC' });
    at += bytesWritten;
  }
}

/**
 * Keeps bytes under their hash. What lies there already is kept where it is whole, and replaced where it is not.
 * @throws the file system's own error; then nothing of it is left.
 */
export async function keepFile(folder: string, hash: string, bytes: Uint8Array): Promise<void> {
  const path = pathOf(folder, hash);
  const known = await stat(path).catch(() => null);
  if (known?.size === bytes.byteLength && (await hashOf(path)) === hash) return;
  const draft = `${path}.${randomUUID()}`;
  try {
    const file = await open(draft, 'wx');
    try {
      await writeAll(file, bytes);
      await file.sync();
      if ((await file.stat()).size !== bytes.byteLength)
        throw Object.assign(new Error('The disk kept less than it took.'), { code: 'ENOSPC' });
    } finally {
      await file.close();
    }
    if ((await hashOf(draft)) !== hash) throw Object.assign(new Error('The disk gave back other bytes than it took.'), { code: 'EIO' });
    await rename(draft, path);
  } catch (error) {
    await rm(draft, { force: true }).catch(() => {});
    throw error;
  }
  await syncFolder(folder);
}

/** So that the name is as durable as the bytes. */
async function syncFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r').catch(() => null);
  try {
    await handle?.sync();
  } catch {
    // Some file systems do not synchronise folders; the bytes are safe.
  } finally {
    await handle?.close();
  }
}

/** Drafts of writes that were cut off by a kill. */
export async function removeDrafts(folder: string): Promise<number> {
  await mkdir(folder, { recursive: true });
  const drafts = (await readdir(folder)).filter((name) => DRAFT.test(name));
  for (const name of drafts) await rm(join(folder, name), { force: true });
  return drafts.length;
}

/** Of the files that should be there, those that are not whole: gone, or with other bytes than their name says. */
export async function brokenFiles(folder: string, hashes: readonly string[]): Promise<{ hash: string; gone: boolean }[]> {
  const out: { hash: string; gone: boolean }[] = [];
  for (const hash of hashes) {
    if (!NAME.test(hash)) continue;
    const found = await hashOf(pathOf(folder, hash));
    if (found !== hash) out.push({ hash, gone: found === null });
  }
  return out;
}

/** The bytes of a file, or null where it is gone. */
export async function readKept(folder: string, hash: string): Promise<Uint8Array | null> {
  try {
    return new Uint8Array(await readFile(pathOf(folder, hash)));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
}
