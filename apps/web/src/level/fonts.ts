/** The shaper with the fonts that ship, loaded once. */
import latin400 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff?url';
import latin700 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff?url';
import ext400 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff?url';
import ext700 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-700-normal.woff?url';
import type { TextShaper } from '@foreshore/core';
import { makeShaper } from '@foreshore/text';

const load = async (url: string): Promise<Uint8Array> => new Uint8Array(await (await fetch(url)).arrayBuffer());

let shaper: Promise<TextShaper> | null = null;
export const webShaper = (): Promise<TextShaper> => {
  shaper ??= Promise.all([latin400, ext400, latin700, ext700].map(load)).then(([a, b, c, d]) =>
    makeShaper({ 400: [a, b] as Uint8Array[], 700: [c, d] as Uint8Array[] }),
  );
  return shaper;
};
