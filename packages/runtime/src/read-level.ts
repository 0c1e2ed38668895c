/** The bundle's own level, kept as it is used: it casts rays, and moves as its animations do. */
import { openPrepared } from '@foreshore/level/prepared';

/** @param bytes of `level.bin` of a bundle. @throws LevelError where they are something else, or not whole. */
export const levelFrom = (bytes: ArrayBuffer): ReturnType<typeof openPrepared> => openPrepared(bytes);
