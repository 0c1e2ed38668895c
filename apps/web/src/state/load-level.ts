/** A project's level, as the server keeps it for the bench; read here where the server could not keep that. */
import type { LevelRef } from '@foreshore/document';
import { preparedAddress } from '@foreshore/document/addresses';
import { type LevelModel, openPreparedInParts, readLevel } from '@foreshore/level';
import { slowly } from '../level/pause.ts';
import { api, Refusal, Unreachable } from './api.ts';
import { bringLevel } from './early.ts';
import { forgetLevel } from './kept-levels.ts';

const NOT_FOUND = 404;

/** @throws Refusal 404 where the server has no such level any more; Unreachable; LevelError. */
export async function loadLevel(hash: string, as: Pick<LevelRef, 'metresPerUnit' | 'upAxis'>): Promise<LevelModel> {
  try {
    return await slowly(openPreparedInParts(await api.preparedLevel(hash, as)));
  } catch (error) {
    // A full disk keeps nothing that can be made again, and a page may be older than the server; the level itself is there.
    if (error instanceof Unreachable || (error instanceof Refusal && error.status === NOT_FOUND)) throw error;
    return readLevel(await api.level(hash), as);
  }
}

/** The same for the page: a worker does what takes time. Where it cannot, the page does, and has the reason. */
export async function levelForPage(hash: string, as: Pick<LevelRef, 'metresPerUnit' | 'upAxis'>): Promise<LevelModel> {
  const address = preparedAddress(hash, as);
  const brought = await bringLevel(address);
  if (!brought) return loadLevel(hash, as);
  try {
    return await slowly(openPreparedInParts(brought));
  } catch {
    // What this browser keeps of it has been spoilt since.
    await forgetLevel(address).catch(() => {});
    return loadLevel(hash, as);
  }
}
