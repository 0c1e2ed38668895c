/** What a picture's bytes are: PNG, JPEG, WebP or SVG, how large, and, of SVG, that it can do no harm. Sizes are read from headers alone. */
import { strFromU8 } from 'fflate';
import type { PictureFile } from './schema.ts';

export type PictureFacts = Pick<PictureFile, 'type' | 'widthPx' | 'heightPx'>;

export const MOST_PICTURE_BYTES = 16 * 1024 * 1024;
const MOST_SIDE_PX = 16384;
/** More takes a quarter of a gigabyte once it is unpacked. */
const MOST_PIXELS = 64e6;

/** Why a picture is refused. */
export class PictureError extends Error {}

const ascii = (bytes: Uint8Array, from: number, length: number): string => String.fromCharCode(...bytes.subarray(from, from + length));

/** @throws PictureError with what is wrong. */
export function readPicture(bytes: Uint8Array): PictureFacts {
  if (bytes.byteLength > MOST_PICTURE_BYTES) throw new PictureError(`is larger than ${MOST_PICTURE_BYTES / 1048576} MB`);
  const facts = png(bytes) ?? jpeg(bytes) ?? webp(bytes) ?? svg(bytes);
  if (!facts) throw new PictureError('is not a PNG, JPEG, WebP or SVG picture');
  const { widthPx, heightPx } = facts;
  if (!(widthPx > 0 && heightPx > 0)) throw new PictureError('says nothing of its size');
  if (widthPx > MOST_SIDE_PX || heightPx > MOST_SIDE_PX)
    throw new PictureError(`is ${widthPx} x ${heightPx} px; at most ${MOST_SIDE_PX} px a side are taken`);
  if (facts.type !== 'image/svg+xml' && widthPx * heightPx > MOST_PIXELS)
    throw new PictureError(`has ${Math.round((widthPx * heightPx) / 1e6)} million pixels; at most ${MOST_PIXELS / 1e6} million are taken`);
  return facts;
}

/** PNG (third edition) 5.3 and 11.2.1: the signature, then the header chunk. */
function png(bytes: Uint8Array): PictureFacts | null {
  if (bytes.length < 24 || bytes[0] !== 0x89 || ascii(bytes, 1, 3) !== 'PNG') return null;
  if (ascii(bytes, 12, 4) !== 'IHDR') throw new PictureError('is a PNG without a header');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return { type: 'image/png', widthPx: view.getUint32(16), heightPx: view.getUint32(20) };
}

/** ITU-T T.81 B.1.1: markers up to the frame header. */
function jpeg(bytes: Uint8Array): PictureFacts | null {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 2; at + 9 < bytes.length; ) {
    if (bytes[at] !== 0xff) break;
    const marker = bytes[at + 1] as number;
    if (marker === 0xff) {
      at++;
      continue;
    }
    // Frame headers, but not the tables and restart markers that lie among them.
    if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc)
      return { type: 'image/jpeg', heightPx: view.getUint16(at + 5), widthPx: view.getUint16(at + 7) };
    at += 2 + view.getUint16(at + 2);
  }
  throw new PictureError('is a JPEG that breaks off before its size');
}

/** RFC 9649 section 2: lossy, lossless and extended. */
function webp(bytes: Uint8Array): PictureFacts | null {
  if (bytes.length < 30 || ascii(bytes, 0, 4) !== 'RIFF' || ascii(bytes, 8, 4) !== 'WEBP') return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kind = ascii(bytes, 12, 4);
  const type = 'image/webp' as const;
  if (kind === 'VP8 ') return { type, widthPx: view.getUint16(26, true) & 0x3fff, heightPx: view.getUint16(28, true) & 0x3fff };
  if (kind === 'VP8L') {
    const bits = view.getUint32(21, true);
    return { type, widthPx: (bits & 0x3fff) + 1, heightPx: ((bits >>> 14) & 0x3fff) + 1 };
  }
  const of24 = (at: number) => view.getUint16(at, true) + ((bytes[at + 2] as number) << 16) + 1;
  if (kind === 'VP8X') return { type, widthPx: of24(24), heightPx: of24(27) };
  throw new PictureError('is a WebP of a kind that is not known');
}

const HARMFUL: [RegExp, string][] = [
  [/<\s*script/i, 'a script'],
  [/<\s*(foreignObject|iframe|embed|object|handler|listener)/i, 'foreign content'],
  [/\son[a-z]+\s*=/i, 'an event handler'],
  [/javascript:/i, 'a script in an address'],
  [/<!(ENTITY|DOCTYPE)/i, 'entities of its own'],
  [/(href|src)\s*=\s*["']\s*(?!#|data:image\/(png|jpeg|webp);)[^"'\s]/i, 'something from outside'],
  [/url\(\s*["']?\s*(?!#)[^)\s]/i, 'something from outside'],
  [/@import/i, 'something from outside'],
];

function svg(bytes: Uint8Array): PictureFacts | null {
  const text = strFromU8(bytes);
  const root = /<svg\b[^>]*>/.exec(text);
  if (!root || !/^\s*(\uFEFF)?(<\?xml[^>]*>)?\s*(<!--[\s\S]*?-->\s*)*<svg\b/.test(text)) return null;
  for (const [pattern, what] of HARMFUL) if (pattern.test(text)) throw new PictureError(`is an SVG that holds ${what}`);
  const number = (name: string): number =>
    Number.parseFloat(new RegExp(`\\s${name}\\s*=\\s*["']\\s*([0-9.]+)(px)?\\s*["']`).exec(root[0])?.[1] ?? '');
  const box =
    /\sviewBox\s*=\s*["']([^"']+)["']/
      .exec(root[0])?.[1]
      ?.trim()
      .split(/[\s,]+/)
      .map(Number) ?? [];
  const [widthPx, heightPx] = [number('width') || box[2], number('height') || box[3]];
  if (!widthPx || !heightPx) throw new PictureError('is an SVG without a width and height in pixels or a viewBox');
  return { type: 'image/svg+xml', widthPx, heightPx };
}
