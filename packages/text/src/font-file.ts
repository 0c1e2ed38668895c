/** A font that somebody brings: TrueType, OpenType, WOFF or WOFF2, unwrapped, and what it says of itself. */
import * as hb from 'harfbuzzjs';
import { tableOf } from './sfnt.ts';
import { MOST_UNPACKED, unwrapWoff } from './woff.ts';

export const MOST_FONT_BYTES = 16 * 1024 * 1024;

/** Why a font is refused. */
export class FontError extends Error {}

export interface FontFacts {
  family: string;
  weight: number;
  /** The font as a plain sfnt file, which everything here reads. */
  bytes: Uint8Array;
}

const WOFF2 = 0x774f4632;
const SFNT = new Set([0x00010000, 0x4f54544f, 0x74727565]);

/** @throws FontError with what is wrong. */
export async function readFont(file: Uint8Array): Promise<FontFacts> {
  if (file.byteLength > MOST_FONT_BYTES) throw new FontError(`is larger than ${MOST_FONT_BYTES / 1048576} MB`);
  if (file.byteLength < 12) throw new FontError('is not a font');
  let bytes: Uint8Array;
  try {
    const tag = new DataView(file.buffer, file.byteOffset, file.byteLength).getUint32(0);
    bytes = tag === WOFF2 ? await unwrapWoff2(file) : unwrapWoff(file);
  } catch (error) {
    throw new FontError(`cannot be unpacked: ${(error as Error).message}`);
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.byteLength < 12 || !SFNT.has(view.getUint32(0))) throw new FontError('is not a TrueType, OpenType, WOFF or WOFF2 font');
  try {
    for (const tag of ['head', 'hhea', 'hmtx', 'maxp', 'cmap', 'name']) tableOf(bytes, tag);
    const face = new hb.Font(new hb.Face(new hb.Blob(bytes)));
    if (face.nominalGlyph(0x41) === undefined && face.nominalGlyph(0x627) === undefined && face.nominalGlyph(0x20) === undefined)
      throw new RangeError('it has no letters');
    return { family: familyOf(bytes, view), weight: weightOf(bytes, view), bytes };
  } catch (error) {
    throw new FontError(`cannot be read: ${(error as Error).message}`);
  }
}

async function unwrapWoff2(file: Uint8Array): Promise<Uint8Array> {
  // WOFF 2.0, section 4.1: totalSfntSize lies 16 bytes in.
  if (file.byteLength < 48 || new DataView(file.buffer, file.byteOffset, file.byteLength).getUint32(16) > MOST_UNPACKED)
    throw new RangeError(`it unpacks to more than ${MOST_UNPACKED / 1048576} MB`);
  const { default: woff2 } = await import('wawoff2');
  return new Uint8Array(await woff2.decompress(file));
}

/** OpenType `name` table: the typographic family (16) or the family (1), from a Unicode or a Mac Roman record. */
function familyOf(bytes: Uint8Array, view: DataView): string {
  const at = tableOf(bytes, 'name');
  const [count, storage] = [view.getUint16(at + 2), at + view.getUint16(at + 4)];
  for (const wanted of [16, 1])
    for (let i = 0; i < count; i++) {
      const record = at + 6 + i * 12;
      if (view.getUint16(record + 6) !== wanted) continue;
      const [platform, length, offset] = [view.getUint16(record), view.getUint16(record + 8), view.getUint16(record + 10)];
      const raw = bytes.subarray(storage + offset, storage + offset + length);
      let name = '';
      if (platform === 1) name = String.fromCharCode(...raw);
      else for (let k = 0; k + 1 < raw.length; k += 2) name += String.fromCharCode(((raw[k] as number) << 8) | (raw[k + 1] as number));
      if (name.trim()) return name.trim().slice(0, 200);
    }
  throw new RangeError('it does not say its family');
}

/** OpenType `OS/2` table, usWeightClass, to the nearest hundred; without one it is taken for regular. */
function weightOf(bytes: Uint8Array, view: DataView): number {
  try {
    const hundreds = Math.round(view.getUint16(tableOf(bytes, 'OS/2') + 4) / 100);
    return Math.max(1, Math.min(9, hundreds)) * 100;
  } catch {
    return 400;
  }
}
