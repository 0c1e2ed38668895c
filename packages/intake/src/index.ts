/**
 * The border check of everything that somebody brings, in Node: the server takes and the command line judges by the same rules.
 */
import { createHash } from 'node:crypto';
import {
  type Document,
  DocumentError,
  type FaultCode,
  PictureError,
  type PictureFacts,
  readPicture,
  readProjectFile,
} from '@foreshore/document';
import { type CheckedLevel, checkLevel } from '@foreshore/level/check';
import { FontError, type FontFacts, readFont } from '@foreshore/text';

export { packPage } from './page.ts';

export const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

export interface CheckedPicture extends PictureFacts {
  hash: string;
  fileName: string;
  bytes: Uint8Array;
}
export interface CheckedFont extends FontFacts {
  hash: string;
  fileName: string;
}
export interface CheckedProject {
  /** With the hash of the level as it is kept. */
  document: Document;
  level: (CheckedLevel & { hash: string; fileName: string }) | null;
  pictures: CheckedPicture[];
  fonts: CheckedFont[];
}

const fault = (code: FaultCode, pointer: string, message: string) => new DocumentError([{ code, pointer, message }]);

/** @throws PictureError */
export const checkPicture = (bytes: Uint8Array, fileName: string): CheckedPicture => ({
  ...readPicture(bytes),
  hash: sha256(bytes),
  fileName,
  bytes,
});

/** @throws FontError */
export async function checkFont(file: Uint8Array, fileName: string): Promise<CheckedFont> {
  const facts = await readFont(file);
  return { ...facts, hash: sha256(facts.bytes), fileName };
}

/**
 * A project file with everything in it: the document, its level, and that each picture and font is whole and the one that the
 * document names by its hash.
 * @param aside as of `checkLevel`.
 * @throws DocumentError, LevelError
 */
export async function checkProject(bytes: Uint8Array, aside = false): Promise<CheckedProject> {
  const { document, level, pictures, ownFonts } = readProjectFile(bytes);
  const out: CheckedProject = { document, level: null, pictures: [], fonts: [] };
  for (const [id, { hash, name }] of Object.entries(document.pictures ?? {})) {
    let checked: CheckedPicture;
    try {
      checked = checkPicture(pictures[hash] as Uint8Array, name);
    } catch (error) {
      if (error instanceof PictureError) throw fault('shape', `/pictures/${id}`, `the picture "${name}" ${error.message}`);
      throw error;
    }
    if (checked.hash !== hash) throw fault('reference', `/pictures/${id}/hash`, 'is not the hash of the bytes in the archive');
    out.pictures.push(checked);
  }
  for (const [id, { hash, name }] of Object.entries(document.fonts ?? {})) {
    let checked: CheckedFont;
    try {
      checked = await checkFont(ownFonts[hash] as Uint8Array, name);
    } catch (error) {
      if (error instanceof FontError) throw fault('shape', `/fonts/${id}`, `the font "${name}" ${error.message}`);
      throw error;
    }
    if (checked.hash !== hash) throw fault('reference', `/fonts/${id}/hash`, 'is not the hash of the bytes in the archive');
    out.fonts.push(checked);
  }
  if (!document.level || !level) {
    out.document = { ...document, level: null };
    return out;
  }
  const { hash } = document.level;
  if (hash !== null && hash !== sha256(level)) throw fault('reference', '/level/hash', 'is not the hash of the level in the archive');
  const checked = await checkLevel(level, { ...document.level, aside });
  const kept = sha256(checked.bytes);
  out.level = { ...checked, hash: kept, fileName: document.level.file };
  out.document = { ...document, level: { ...document.level, hash: kept } };
  return out;
}
