/** What a picture's bytes are: PNG, JPEG, WebP or SVG, how large, and, of SVG, that it can do no harm. A library reads sizes from the headers. */
import { strFromU8 } from 'fflate';
import { imageSize } from 'image-size';
import type { PictureFile } from './schema.ts';
import { readSvg, SvgError } from './svg-file.ts';

export type PictureFacts = Pick<PictureFile, 'type' | 'widthPx' | 'heightPx' | 'missing'>;

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
  const facts = raster(bytes) ?? pageWindow(bytes) ?? svg(bytes);
  if (!facts) throw new PictureError('is not a PNG, JPEG, WebP or SVG picture, nor a page');
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
  if (!isWhole(type, bytes)) throw new PictureError(`is a ${type.slice(6).toUpperCase()} that breaks off before its end`);
  const { width, height, orientation = 1 } = size;
  const turned = type === 'image/jpeg' && orientation >= 5;
  return { type, widthPx: turned ? height : width, heightPx: turned ? width : height };
}

/** Whether a picture has all its parts, up to the one that ends it; a reader that waits for more would wait for ever. */
function isWhole(type: PictureFile['type'], bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (type === 'image/png') {
    // Chunks of length, type, data and check sum (PNG, third edition, 5.3).
    let data = false;
    for (let at = 8; at + 12 <= bytes.length; ) {
      const length = view.getUint32(at);
      const chunk = ascii(bytes, at + 4, 4);
      at += 12 + length;
      if (at > bytes.length) return false;
      if (chunk === 'IDAT') data = true;
      if (chunk === 'IEND') return data;
    }
    return false;
  }
  if (type === 'image/webp') return view.getUint32(4, true) + 8 <= bytes.length + 1;
  // ITU-T T.81, B.1.1.3: segments with a length up to the scan, and an end of the image somewhere after it.
  for (let at = 2; at + 4 <= bytes.length; ) {
    if (bytes[at] !== 0xff) return false;
    const marker = bytes[at + 1] as number;
    if (marker === 0xff) {
      at++;
      continue;
    }
    at += 2 + view.getUint16(at + 2);
    if (marker !== 0xda) continue;
    for (let end = bytes.length - 2; end >= at; end--) if (bytes[end] === 0xff && bytes[end + 1] === 0xd9) return true;
    return false;
  }
  return false;
}

/** By its first bytes: PNG (third edition) 5.2, ITU-T T.81 B.1.1.3, RFC 9649 2.4. */
function signatureOf(bytes: Uint8Array): string | null {
  if (bytes[0] === 0x89 && ascii(bytes, 1, 3) === 'PNG') return 'png';
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return 'jpg';
  return ascii(bytes, 0, 4) === 'RIFF' && ascii(bytes, 8, 4) === 'WEBP' ? 'webp' : null;
}

/** Whether it begins like markup; what that is worth is the parser's to say. */
const isMarkup = (bytes: Uint8Array): boolean => /^\uFEFF?\s*</.test(strFromU8(bytes.subarray(0, 256)));

/** The window of a page that says nothing of it, pixels. */
const WINDOW = { widthPx: 640, heightPx: 400 } as const;
/** So much of a page is looked through for what it says of its window. */
const HEAD_CHARS = 65_536;
/**
 * A page, and the window it is laid out in: `width` and `height` of its `meta` element named `viewport` (CSS Device Adaptation,
 * appendix), in pixels. Null where the bytes are no page.
 */
export function pageWindow(bytes: Uint8Array): PictureFacts | null {
  const head = strFromU8(bytes.subarray(0, HEAD_CHARS));
  if (!/^\uFEFF?\s*(?:<!--(?:(?!-->)[\s\S]){0,4000}-->\s*){0,8}<(?:!doctype\s+html|html[\s>])/i.test(head)) return null;
  const meta = /<meta\s[^>]{0,200}name\s*=\s*["']?viewport["']?[^>]{0,300}>/i.exec(head)?.[0] ?? '';
  const said = (what: 'width' | 'height') => {
    const px = Number(
      new RegExp(`[\\s"',;]${what}\\s*=\\s*([0-9]{1,5})`, 'i').exec(meta.replace(/name\s*=\s*["']?viewport["']?/i, ''))?.[1],
    );
    return px > 0 && px <= MOST_SIDE_PX ? px : null;
  };
  return { type: 'text/html', widthPx: said('width') ?? WINDOW.widthPx, heightPx: said('height') ?? WINDOW.heightPx };
}

/** A length in pixels, as an SVG writes it; NaN for any other unit. */
const pixels = (length: string): number => (/^\s*[0-9.]{1,20}(px)?\s*$/.test(length) ? Number.parseFloat(length) : Number.NaN);

function svg(bytes: Uint8Array): PictureFacts | null {
  if (!isMarkup(bytes)) return null;
  let size: ReturnType<typeof readSvg>;
  try {
    size = readSvg(strFromU8(bytes));
  } catch (error) {
    if (error instanceof SvgError) throw new PictureError(error.message);
    throw error;
  }
  const box = size.viewBox
    .slice(0, 200)
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const [widthPx, heightPx] = [pixels(size.width) || box[2], pixels(size.height) || box[3]];
  if (!widthPx || !heightPx) throw new PictureError('is an SVG without a width and height in pixels or a viewBox');
  return { type: 'image/svg+xml', widthPx, heightPx };
}
