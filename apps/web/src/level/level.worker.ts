/** Reads a level and builds its ray trees away from the page, and hands both over without copying. */
import { type LevelModel, readLevel } from '@foreshore/level';
import type { LevelAnswer, LevelAsk } from './read-away.ts';

/** Every buffer behind the typed arrays of a value, once each. */
function buffersIn(value: unknown, into: Set<ArrayBuffer> = new Set(), seen: Set<object> = new Set()): Set<ArrayBuffer> {
  if (ArrayBuffer.isView(value)) {
    if (value.buffer instanceof ArrayBuffer) into.add(value.buffer);
  } else if (typeof value === 'object' && value !== null && !seen.has(value)) {
    seen.add(value);
    const parts: Iterable<unknown> = value instanceof Map ? value.values() : Object.values(value);
    for (const part of parts) buffersIn(part, into, seen);
  }
  return into;
}

self.addEventListener('message', ({ data: { bytes, options } }: MessageEvent<LevelAsk>) => {
  readLevel(bytes, options).then(
    (model: LevelModel) => {
      const answer: LevelAnswer = { parts: model.parts, trees: model.trees };
      self.postMessage(answer, { transfer: [...buffersIn(answer)] });
    },
    (error: Error) => self.postMessage({ failed: error.message } satisfies LevelAnswer),
  );
});
