/** The level of a document in a worker, read once as long as it stays the same. */
import type { Document } from '@foreshore/document';
import type { LevelModel } from '@foreshore/level';
import { loadLevel } from '../state/load-level.ts';

let held: { key: string; model: LevelModel | null } | null = null;

export async function levelOf({ level }: Document): Promise<LevelModel | null> {
  const key = JSON.stringify([level?.hash, level?.metresPerUnit, level?.upAxis]);
  if (held?.key === key) return held.model;
  const model = level?.hash ? await loadLevel(level.hash, level) : null;
  held = { key, model };
  return model;
}
