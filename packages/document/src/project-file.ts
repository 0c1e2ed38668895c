/**
 * The project file, `.foreshore.zip`: a zip archive with `document.json` and the files it names in `level/`, `fonts/` and `pictures/`.
 * Reading takes it for hostile: sizes are limited, and names that lead out of the archive are refused.
 */
import { strFromU8, strToU8, unzipSync, type Zippable, zipSync } from 'fflate';
import type { Document, PictureFile } from './schema.ts';
import { DocumentError, type FaultCode, MOST_DOCUMENT_CHARS, readDocument } from './validate.ts';

export const PROJECT_FILE_EXTENSION = '.foreshore.zip';
export interface ProjectFile {
  document: Document;
  /** The level's bytes, or null where the document has none. */
  level: Uint8Array | null;
  /** Font files that ship, by name. */
  fonts: Record<string, Uint8Array>;
  /** The bytes of the document's pictures and of its own fonts, by their hash. */
  pictures: Record<string, Uint8Array>;
  ownFonts?: Record<string, Uint8Array>;
}

const ENDINGS = { 'image/png': 'png', 'image/jpeg': 'jpg', 'image/webp': 'webp', 'image/svg+xml': 'svg', 'text/html': 'html' } as const;
const isText = ({ type }: PictureFile): boolean => type === 'image/svg+xml' || type === 'text/html';
/** Where a picture lies in a project file, or beside a document. */
export const pictureName = ({ hash, type }: PictureFile): string => `pictures/${hash}.${ENDINGS[type]}`;

export const MOST_BYTES = 512 * 1024 * 1024;
const MOST_ENTRIES = 10_000;
/** Deflate packs no tighter than this (RFC 1951: 258 bytes by two bits). */
const MOST_RATIO = 1032;
const fault = (code: FaultCode, pointer: string, message: string) => new DocumentError([{ code, pointer, message }]);
// A fixed date, so that the same project gives the same bytes.
const stamp = { mtime: new Date(2026, 0, 1) };

/** Where a font of the project lies in a project file, or beside a document. */
export const fontName = (hash: string): string => `fonts/${hash}.sfnt`;

export function writeProjectFile(file: ProjectFile): Uint8Array {
  const entries: Zippable = { 'document.json': [strToU8(`${JSON.stringify(file.document, null, 2)}\n`), { level: 9, ...stamp }] };
  if (file.level && file.document.level) entries[`level/${file.document.level.file}`] = [file.level, { level: 6, ...stamp }];
  for (const [name, bytes] of Object.entries(file.fonts)) entries[`fonts/${name}`] = [bytes, { level: 0, ...stamp }];
  for (const picture of Object.values(file.document.pictures ?? {})) {
    const bytes = file.pictures[picture.hash];
    if (bytes) entries[pictureName(picture)] = [bytes, { level: isText(picture) ? 6 : 0, ...stamp }];
  }
  for (const { hash } of Object.values(file.document.fonts ?? {})) {
    const bytes = file.ownFonts?.[hash];
    if (bytes) entries[fontName(hash)] = [bytes, { level: 6, ...stamp }];
  }
  return zipSync(entries);
}

/** @throws DocumentError where the archive is broken, too large, or lacks what its document names. */
export function readProjectFile(bytes: Uint8Array): Required<ProjectFile> {
  let total = 0;
  let count = 0;
  const sizes = new Map<string, number>();
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: (entry) => {
        if (entry.name.startsWith('/') || entry.name.split(/[/\\]/).includes('..'))
          throw fault('shape', '', `holds a name that leads out of it: "${entry.name}"`);
        if (++count > MOST_ENTRIES) throw fault('size', '', `holds more than ${MOST_ENTRIES} files`);
        if (entry.originalSize > entry.size * MOST_RATIO + 1024)
          throw fault('size', '', `says that "${entry.name}" unpacks to more than a zip archive can hold`);
        total += entry.originalSize;
        if (total > MOST_BYTES) throw fault('size', '', `unpacks to more than ${MOST_BYTES / 1048576} MB`);
        if (entry.name === 'document.json' && entry.originalSize > MOST_DOCUMENT_CHARS)
          throw fault('size', '', `holds a document of more than ${MOST_DOCUMENT_CHARS / 1048576} MB`);
        sizes.set(entry.name, entry.originalSize);
        return /^(document\.json|level\/[^/]+|fonts\/[^/]+|pictures\/[^/]+)$/.test(entry.name);
      },
    });
  } catch (error) {
    if (error instanceof DocumentError) throw error;
    throw fault('format', '', `is not a readable zip archive: ${(error as Error).message}`);
  }
  for (const [name, data] of Object.entries(files))
    if (data.byteLength !== sizes.get(name)) throw fault('format', '', `"${name}" is not as long as the archive says`);
  const text = files['document.json'];
  if (!text) throw fault('missing', '', 'holds no document.json; is it a Foreshore project file?');
  const document = readDocument(strFromU8(text));
  const level = document.level ? (files[`level/${document.level.file}`] ?? null) : null;
  if (document.level && !level) throw fault('missing', '/level/file', `names "${document.level.file}", which is not in the archive`);
  const fonts = Object.fromEntries(
    Object.entries(files).flatMap(([name, data]) =>
      name.startsWith('fonts/') && !name.endsWith('.sfnt') ? [[name.slice(6), data] as const] : [],
    ),
  );
  const pictures: Record<string, Uint8Array> = {};
  for (const [id, picture] of Object.entries(document.pictures ?? {})) {
    const data = files[pictureName(picture)];
    if (!data) throw fault('missing', `/pictures/${id}`, `names "${pictureName(picture)}", which is not in the archive`);
    pictures[picture.hash] = data;
  }
  const ownFonts: Record<string, Uint8Array> = {};
  for (const [id, { hash }] of Object.entries(document.fonts ?? {})) {
    const data = files[fontName(hash)];
    if (!data) throw fault('missing', `/fonts/${id}`, `names "${fontName(hash)}", which is not in the archive`);
    ownFonts[hash] = data;
  }
  return { document, level, fonts, pictures, ownFonts };
}
