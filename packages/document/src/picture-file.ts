/** What a picture's bytes are: PNG, JPEG, WebP or SVG, how large, and, of SVG, that it can do no harm. A library reads sizes from the headers. */
import { strFromU8 } from 'fflate';
import { imageSize } from 'image-size';
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
  const facts = raster(bytes) ?? svg(bytes);
  if (!facts) throw new PictureError('is not a PNG, JPEG, WebP or SVG picture');
  const { widthPx, heightPx } = facts;
  if (!(widthPx > 0 && heightPx > 0)) throw new PictureError('says nothing of its size');
  if (widthPx > MOST_SIDE_PX || heightPx > MOST_SIDE_PX)
    throw new PictureError(`is ${widthPx} x ${heightPx} px; at most ${MOST_SIDE_PX} px a side are taken`);
  if (facts.type !== 'image/svg+xml' && widthPx * heightPx > MOST_PIXELS)
    throw new PictureError(`has ${Math.round((widthPx * heightPx) / 1e6)} million pixels; at most ${MOST_PIXELS / 1e6} million are taken`);
  return facts;
}

/** The media types of what a library reads the size of. */
const RASTERS: Record<string, PictureFile['type']> = { png: 'image/png', jpg: 'image/jpeg', webp: 'image/webp' };

/** PNG, JPEG and WebP. A JPEG that a camera was turned for is as wide as it is shown, not as it is stored (Exif 2.32, 4.6.4, Orientation). */
function raster(bytes: Uint8Array): PictureFacts | null {
  const type = bytes.length > 12 ? RASTERS[signatureOf(bytes) ?? ''] : undefined;
  if (!type) return null;
  let size: ReturnType<typeof imageSize>;
  try {
    size = imageSize(bytes);
  } catch {
    throw new PictureError(`is a ${type.slice(6).toUpperCase()} that breaks off before its size, or says it wrongly`);
  }
  const { width, height, orientation = 1 } = size;
  const turned = type === 'image/jpeg' && orientation >= 5;
  return { type, widthPx: turned ? height : width, heightPx: turned ? width : height };
}

/** By its first bytes: PNG (third edition) 5.2, ITU-T T.81 B.1.1.3, RFC 9649 2.4. */
function signatureOf(bytes: Uint8Array): string | null {
  if (bytes[0] === 0x89 && ascii(bytes, 1, 3) === 'PNG') return 'png';
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return 'jpg';
  return ascii(bytes, 0, 4) === 'RIFF' && ascii(bytes, 8, 4) === 'WEBP' ? 'webp' : null;
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
