/** A project from disk: a document with its level beside it, or a project file. */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { TextShaper } from '@foreshore/core';
import {
  type Document,
  DocumentError,
  fontName,
  MOST_DOCUMENT_CHARS,
  PROJECT_FILE_EXTENSION,
  pictureName,
  readDocument,
} from '@foreshore/document';
import { checkProject } from '@foreshore/intake';
import { type LevelModel, packLevel } from '@foreshore/level';
import { checkLevel } from '@foreshore/level/check';
import { projectShaper } from '@foreshore/text/node';

export interface Opened {
  document: Document;
  level: LevelModel | null;
  /** The level's file. */
  levelBytes: Uint8Array | null;
  /** The bytes of a picture by its hash; undefined where they are not there. */
  picture: (hash: string) => Uint8Array | undefined;
  /** Likewise of a font. */
  font: (hash: string) => Uint8Array | undefined;
}

/** Shapes the texts of a project, with its own fonts. @throws FontError where one of their files is not there. */
export const shaperOf = ({ document, font }: Opened): TextShaper => projectShaper(document.fonts, font);

const readFile = (path: string): Uint8Array => new Uint8Array(readFileSync(path));
export const isProjectFile = (path: string): boolean =>
  path.toLowerCase().endsWith(PROJECT_FILE_EXTENSION) || path.toLowerCase().endsWith('.zip');

/**
 * @param early told the document as soon as that is read, before the level is.
 * @throws DocumentError, LevelError, or the file system's own error; what `early` throws.
 */
export async function openProject(path: string, early: (document: Document) => void = () => {}): Promise<Opened> {
  if (isProjectFile(path)) {
    const { document, level, pictures, fonts } = await checkProject(readFile(path), true);
    early(document);
    return {
      document,
      picture: (hash) => pictures.find((one) => one.hash === hash)?.bytes,
      font: (hash) => fonts.find((one) => one.hash === hash)?.bytes,
      level: level?.model ?? null,
      levelBytes: level?.bytes ?? null,
    };
  }
  if (statSync(path).size > 2 * MOST_DOCUMENT_CHARS)
    throw new DocumentError([{ code: 'size', pointer: '', message: 'is larger than a document can be' }]);
  const document = readDocument(readFileSync(path, 'utf8'));
  early(document);
  const picture = (hash: string): Uint8Array | undefined => {
    const known = Object.values(document.pictures ?? {}).find((one) => one.hash === hash);
    const file = known && join(dirname(path), pictureName(known));
    return file && existsSync(file) ? readFile(file) : undefined;
  };
  const font = (hash: string): Uint8Array | undefined => {
    const file = join(dirname(path), fontName(hash));
    return existsSync(file) ? readFile(file) : undefined;
  };
  if (!document.level) return { document, level: null, levelBytes: null, picture, font };
  const beside = join(dirname(path), document.level.file);
  let bytes: Uint8Array;
  try {
    bytes = readFile(beside);
  } catch {
    throw new DocumentError([
      { code: 'missing', pointer: '/level/file', message: `names "${document.level.file}", which is not beside the document` },
    ]);
  }
  const { model, bytes: levelBytes } = await checkLevel(packLevel([{ name: document.level.file, bytes }]).bytes, {
    ...document.level,
    aside: true,
  });
  return { document, picture, font, level: model, levelBytes };
}
