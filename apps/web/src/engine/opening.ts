/** What the bench needs before its first picture: the level, and the elements laid out for a viewer, without being silent for long. */
import { type Arranged, arrangeInParts } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { emptyGround, type LevelModel } from '@foreshore/level';
import { slowly } from '../level/pause.ts';
import { Refusal } from '../state/api.ts';
import { levelForPage } from '../state/load-level.ts';
import { sayFailed } from '../state/notices.ts';

/** The elements as a viewer has them. */
export const arrangedSlowly = (...args: Parameters<typeof arrangeInParts>): Promise<Arranged> => slowly(arrangeInParts(...args));

/** The level of a project; bare ground where it has none, or it is gone from the server. */
export async function levelOf(document: Document): Promise<LevelModel> {
  if (!document.level?.hash) return emptyGround();
  try {
    return await levelForPage(document.level.hash, document.level);
  } catch (error) {
    // Gone from the server's disk: everything else of the project is there, and the level can be sent again.
    if (!(error instanceof Refusal) || error.status !== 404) throw error;
    sayFailed(`The level ${document.level.file} is not on the server any more. Send it again: Viewer, Level, Replace.`);
    return emptyGround();
  }
}
