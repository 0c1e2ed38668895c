/** A level as read by a worker, so that the page answers meanwhile. */
import { LevelModel, type LevelParts, type ReadOptions, type TreeTables } from '@foreshore/level';

export interface LevelAsk {
  bytes: Uint8Array;
  options: ReadOptions;
}
export type LevelAnswer = { parts: LevelParts; trees: TreeTables[] } | { failed: string };

/** @throws Error with what is wrong with the level. The bytes are handed over: they are empty afterwards. */
export async function readLevelAway(bytes: Uint8Array, { metresPerUnit, upAxis }: ReadOptions): Promise<LevelModel> {
  const worker = new Worker(new URL('./level.worker.ts', import.meta.url), { type: 'module' });
  try {
    const answer = await new Promise<LevelAnswer>((resolve, reject) => {
      worker.addEventListener('message', ({ data }: MessageEvent<LevelAnswer>) => resolve(data));
      worker.addEventListener('error', ({ message }) => reject(new Error(message || 'the reader of the level stopped')));
      worker.postMessage({ bytes, options: { metresPerUnit, upAxis } } satisfies LevelAsk, [bytes.buffer]);
    });
    if ('failed' in answer) throw new Error(answer.failed);
    return new LevelModel(answer.parts, answer.trees);
  } finally {
    worker.terminate();
  }
}
