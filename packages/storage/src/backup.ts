/** A copy of a data folder, taken while a server works on it, and put back. */
import { randomUUID } from 'node:crypto';
import { copyFile, mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import Database from 'better-sqlite3';
import { brokenFiles, hashOf, pathOf } from './files.ts';
import { databaseIn, filesIn, takeFolder } from './folder.ts';

/** Why a backup cannot be made or put back; nothing has been changed. */
export class BackupError extends Error {}

export interface BackupFacts {
  projects: number;
  files: number;
  /** Files that the source itself lacks, or has with other bytes than their names say. */
  broken: string[];
}

const exists = async (path: string): Promise<boolean> => (await stat(path).catch(() => null)) !== null;

async function isEmptyOrAbsent(folder: string): Promise<boolean> {
  const found = await readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return [];
    throw error;
  });
  return found.length === 0;
}

function factsIn(database: string): { projects: number; hashes: string[] } {
  const db = new Database(database, { readonly: true });
  try {
    if (db.pragma('integrity_check', { simple: true }) !== 'ok') throw new BackupError(`${database} is damaged.`);
    const { projects } = db.prepare('select count(*) as projects from project').get() as { projects: number };
    const hashes = (db.prepare('select hash from asset').all() as { hash: string }[]).map(({ hash }) => hash);
    return { projects, hashes };
  } finally {
    db.close();
  }
}

/** The files of a folder into another, each compared with its name; gives those that are not whole in the source. */
async function copyFiles(from: string, to: string, hashes: readonly string[]): Promise<string[]> {
  await mkdir(to, { recursive: true });
  const broken: string[] = [];
  for (const hash of hashes) {
    try {
      await copyFile(pathOf(from, hash), pathOf(to, hash));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
      broken.push(hash);
      continue;
    }
    if ((await hashOf(pathOf(to, hash))) !== hash) {
      await rm(pathOf(to, hash), { force: true });
      broken.push(hash);
      continue;
    }
    const file = await open(pathOf(to, hash), 'r');
    await file.sync().catch(() => {});
    await file.close();
  }
  return broken;
}

/** Makes a folder beside its place and gives it its name once it is whole; what was cut off is no backup. */
async function aside<T>(target: string, make: (draft: string) => Promise<T>): Promise<T> {
  const draft = join(dirname(resolve(target)), `.${basename(target)}.${randomUUID()}`);
  await mkdir(draft, { recursive: true });
  try {
    const made = await make(draft);
    // An empty folder may stand there already.
    await rm(target, { recursive: true, force: true });
    await rename(draft, target);
    return made;
  } catch (error) {
    await rm(draft, { recursive: true, force: true });
    throw error;
  }
}

/**
 * Copies the projects, all their revisions and their files. The database is copied by its own means, so that a server may go on
 * writing; files are never changed once they are named.
 * @throws BackupError
 */
export async function backup(data: string, target: string): Promise<BackupFacts> {
  if (!(await exists(databaseIn(data)))) throw new BackupError(`${data} holds no Foreshore projects.`);
  if (!(await isEmptyOrAbsent(target))) throw new BackupError(`${target} is not empty; a backup goes into a folder of its own.`);
  return aside(target, async (draft) => {
    const source = new Database(databaseIn(data), { readonly: true });
    try {
      await source.backup(databaseIn(draft));
    } finally {
      source.close();
    }
    const { projects, hashes } = factsIn(databaseIn(draft));
    const broken = await copyFiles(filesIn(data), filesIn(draft), hashes);
    return { projects, files: hashes.length - broken.length, broken };
  });
}

/**
 * Puts a backup into a data folder that is empty or absent, or that no server keeps and whose place it takes with `replace`; what was
 * there is then kept beside it.
 * @throws BackupError, FolderTaken
 */
export async function restore(source: string, data: string, replace = false): Promise<BackupFacts & { before: string | null }> {
  if (!(await exists(databaseIn(source)))) throw new BackupError(`${source} holds no backup of Foreshore projects.`);
  const empty = await isEmptyOrAbsent(data);
  if (!empty && !replace)
    throw new BackupError(`${data} is not empty. Choose another folder, or give --replace; what is there is then kept beside it.`);
  if (!empty) takeFolder(data).release();
  const { projects, hashes } = factsIn(databaseIn(source));
  const broken = await brokenFiles(filesIn(source), hashes);
  let before: string | null = null;
  if (!empty) {
    before = `${resolve(data)}-before-${new Date().toISOString().replace(/[:.]/g, '-')}`;
    await rename(data, before);
  }
  await aside(data, async (draft) => {
    await copyFile(databaseIn(source), databaseIn(draft));
    await copyFiles(filesIn(source), filesIn(draft), hashes);
  });
  return { projects, files: hashes.length - broken.length, broken: broken.map(({ hash }) => hash), before };
}
