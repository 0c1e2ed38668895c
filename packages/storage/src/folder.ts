/** A data folder: where its parts lie, and that one server at a time keeps it. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';

export const databaseIn = (folder: string): string => join(folder, 'foreshore.sqlite');
export const filesIn = (folder: string): string => join(folder, 'files');
const lockIn = (folder: string): string => join(folder, 'lock.sqlite');
const keeperIn = (folder: string): string => join(folder, 'server.json');

/** Another server keeps the folder. */
export class FolderTaken extends Error {}

export interface Lock {
  /** Says where the keeper can be reached, for whoever comes second. */
  tell(address: string): void;
  release(): void;
}

function keeperOf(folder: string): string {
  try {
    const { process: id, address } = JSON.parse(readFileSync(keeperIn(folder), 'utf8')) as { process?: number; address?: string };
    return `process ${id}${address ? ` at ${address}` : ''}`;
  } catch {
    return 'another process';
  }
}

/**
 * Takes the folder for this process. The lock is the database library's own lock on a file, which the system lets go of when the
 * process ends, however it ends.
 * @throws FolderTaken
 */
export function takeFolder(folder: string): Lock {
  mkdirSync(filesIn(folder), { recursive: true });
  const database = new Database(lockIn(folder), { timeout: 0 });
  try {
    database.pragma('locking_mode = EXCLUSIVE');
    database.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    database.close();
    if (String((error as { code?: string }).code).startsWith('SQLITE_BUSY'))
      throw new FolderTaken(
        `The folder ${folder} is kept by another Foreshore server (${keeperOf(folder)}). Use that one, or choose another folder with --data.`,
      );
    throw error;
  }
  const tell = (address: string | null) => {
    try {
      writeFileSync(keeperIn(folder), `${JSON.stringify({ process: process.pid, address })}\n`);
    } catch {
      // A full disk: the lock holds all the same, only without a name.
    }
  };
  tell(null);
  return { tell, release: () => database.close() };
}
