/** What the bench needs before its first picture: the level, and the elements laid out for a viewer, without being silent for long. */
import { type Arranged, arrangeInParts } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { emptyGround, type LevelModel } from '@foreshore/level';
import { pause } from '../level/pause.ts';
import { Refusal } from '../state/api.ts';
import { loadLevel } from '../state/load-level.ts';
import { sayFailed } from '../state/notices.ts';

/** What makes the first picture ready lets others in after so long. */
export const BUSY_MS = 60;

/** The elements as a viewer has them, laid out in parts so that the page is never silent for long. */
export async function arrangedSlowly(...args: Parameters<typeof arrangeInParts>): Promise<Arranged> {
  const work = arrangeInParts(...args);
  let began = performance.now();
  for (;;) {
    const part = work.next();
    if (part.done) return part.value;
    if (performance.now() - began < BUSY_MS) continue;
    await pause();
    began = performance.now();
  }
}

/** The level of a project; bare ground where it has none, or it is gone from the server. */
export async function levelOf(document: Document): Promise<LevelModel> {
  if (!document.level?.hash) return emptyGround();
  try {
    return await loadLevel(document.level.hash, document.level);
  } catch (error) {
    // Gone from the server's disk: everything else of the project is there, and the level can be sent again.
    if (!(error instanceof Refusal) || error.status !== 404) throw error;
    sayFailed(`The level ${document.level.file} is not on the server any more. Send it again: Viewer, Level, Replace.`);
    return emptyGround();
  }
}
