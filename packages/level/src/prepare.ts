/** Makes what is kept beside a level's file, in Node. */
import { drawnPieces } from './drawn.ts';
import type { LevelModel } from './model.ts';
import { prepareLevel } from './prepared.ts';
import { simplifier } from './simplify.ts';

export const preparedBytes = async (model: LevelModel): Promise<Uint8Array> => prepareLevel(model, drawnPieces(model, await simplifier()));
