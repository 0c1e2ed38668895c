/**
 * What was made of a level, so that it need not be made again: in a folder of its own, of which anything may be removed at any time.
 * The name of each says of which file, with which unit and axis, and by which version of the maker.
 */
import { randomUUID } from 'node:crypto';
import { mkdir, open, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

export interface Prepared {
  hash: string;
  metresPerUnit: number;
  upAxis: 'y' | 'z';
  version: number;
}

/** So many of one level stay: units and axes are tried out, and then stay. */
const MOST_OF_ONE = 3;

export const preparedIn = (files: string): string => join(files, '..', 'prepared');
export const preparedPath = (files: string, { hash, metresPerUnit, upAxis, version }: Prepared): string =>
  join(preparedIn(files), `${hash}-${metresPerUnit}-${upAxis}-v${version}`);

/** Whether it is there and as long as its own head says (the fourth of its first four integers). */
export async function isPrepared(files: string, what: Prepared): Promise<boolean> {
  const file = await open(preparedPath(files, what), 'r').catch(() => null);
  if (!file) return false;
  try {
    const head = Buffer.alloc(16);
    const { bytesRead } = await file.read(head, 0, 16, 0);
    return bytesRead === 16 && head.readUInt32LE(4) === what.version && head.readUInt32LE(12) === (await file.stat()).size;
  } finally {
    await file.close();
  }
}

/** Keeps it, and removes what other versions made and what is one too many of the same level. @throws the file system's own error. */
export async function keepPrepared(files: string, what: Prepared, bytes: Uint8Array): Promise<void> {
  const folder = preparedIn(files);
  await mkdir(folder, { recursive: true });
  const path = preparedPath(files, what);
  const draft = `${path}.${randomUUID()}`;
  try {
    await writeFile(draft, bytes);
    await rename(draft, path);
  } catch (error) {
    await rm(draft, { force: true }).catch(() => {});
    throw error;
  }
  const names = await readdir(folder);
  const current = `-v${what.version}`;
  const stale = names.filter((name) => !name.endsWith(current) && !name.includes(`${current}.`));
  const ofThis = await Promise.all(
    names
      .filter((name) => name.startsWith(what.hash) && name.endsWith(current) && join(folder, name) !== path)
      .map(async (name) => ({ name, at: (await stat(join(folder, name)).catch(() => null))?.mtimeMs ?? 0 })),
  );
  const tooMany = ofThis.sort((a, b) => b.at - a.at).slice(MOST_OF_ONE - 1);
  for (const name of [...stale, ...tooMany.map(({ name }) => name)]) await rm(join(folder, name), { force: true });
}

/** Drafts that a kill left. */
export async function removePreparedDrafts(files: string): Promise<void> {
  const names = await readdir(preparedIn(files)).catch(() => []);
  for (const name of names) if (/\.[0-9a-f-]{36}$/.test(name)) await rm(join(preparedIn(files), name), { force: true });
}
