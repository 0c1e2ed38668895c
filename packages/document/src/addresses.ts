/** Addresses that the page and the server agree on. Nothing else is brought in with them: the page needs them first of all. */
import type { LevelRef } from './types.ts';

/** A project's document and revision. */
export const projectAddress = (id: string): string => `/api/projects/${id}`;

/** A level as the server keeps it for the bench. */
export const preparedAddress = (hash: string, { metresPerUnit, upAxis }: Pick<LevelRef, 'metresPerUnit' | 'upAxis'>): string =>
  `/api/levels/${hash}/prepared?metresPerUnit=${metresPerUnit}&upAxis=${upAxis}`;

/** The head of a project's answer names its prepared level here: that can be asked for before the document has been read. */
export const LEVEL_HEADER = 'Foreshore-Level';

/** The project whose bench a path is; undefined for every other. */
export const benchOf = (path: string): string | undefined => /^\/p\/([A-Za-z0-9][A-Za-z0-9_-]{0,63})\/bench$/.exec(path)?.[1];
