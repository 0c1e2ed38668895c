/** Letters shaped exactly as on the bench, from the fonts of a bundle. */
import { makeShaper } from '@foreshore/text';
import type { Bundle } from './bundle.ts';
import type { Letters } from './text.ts';

/** @param file gives the bytes of a file of the bundle, by its name there. @throws RangeError where a font cannot be read. */
export async function lettersOf({ fonts }: Pick<Bundle, 'fonts'>, file: (name: string) => Promise<Uint8Array>): Promise<Letters> {
  const bytes = await Promise.all(fonts.map((font) => file(font.file)));
  const shipped: Record<number, Uint8Array[]> = {};
  fonts.forEach(({ family, weight }, k) => {
    if (family === null) (shipped[weight] ??= []).push(bytes[k] as Uint8Array);
  });
  const shaper = makeShaper(shipped);
  fonts.forEach(({ family, weight }, k) => {
    if (family !== null) shaper.addFont?.(family, weight as 400, bytes[k] as Uint8Array);
  });
  return shaper;
}
