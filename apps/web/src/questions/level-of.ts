/** The level of a document in a worker, read once as long as it stays the same. */
import type { Document } from '@foreshore/document';
import { type LevelModel, readLevel } from '@foreshore/level';

let held: { key: string; model: LevelModel | null } | null = null;

export async function levelOf({ level }: Document): Promise<LevelModel | null> {
  const key = JSON.stringify([level?.hash, level?.metresPerUnit, level?.upAxis]);
  if (held?.key === key) return held.model;
  let model: LevelModel | null = null;
  if (level?.hash) {
    const response = await fetch(`/api/levels/${level.hash}`);
    if (!response.ok) throw new Error('The level is not on the server.');
    model = await readLevel(new Uint8Array(await response.arrayBuffer()), level);
  }
  held = { key, model };
  return model;
}
