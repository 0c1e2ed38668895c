/** A project's level, as the server keeps it for the bench; read here where the server could not keep that. */
import type { LevelRef } from '@foreshore/document';
import { type LevelModel, openPrepared, readLevel } from '@foreshore/level';
import { api, Refusal, Unreachable } from './api.ts';

const NOT_FOUND = 404;

/** @throws Refusal 404 where the server has no such level any more; Unreachable; LevelError. */
export async function loadLevel(hash: string, { metresPerUnit, upAxis }: Pick<LevelRef, 'metresPerUnit' | 'upAxis'>): Promise<LevelModel> {
  try {
    return openPrepared(await api.preparedLevel(hash, metresPerUnit, upAxis));
  } catch (error) {
    // A full disk keeps nothing that can be made again, and a page may be older than the server; the level itself is there.
    if (error instanceof Unreachable || (error instanceof Refusal && error.status === NOT_FOUND)) throw error;
    return readLevel(await api.level(hash), { metresPerUnit, upAxis });
  }
}
