/** The shaper with the fonts that ship, loaded once. */
import latin400 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff?url';
import latin700 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff?url';
import ext400 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff?url';
import ext700 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-700-normal.woff?url';
import arabic400 from '@fontsource/noto-sans-arabic/files/noto-sans-arabic-arabic-400-normal.woff?url';
import arabic700 from '@fontsource/noto-sans-arabic/files/noto-sans-arabic-arabic-700-normal.woff?url';
import hebrew400 from '@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-400-normal.woff?url';
import hebrew700 from '@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-700-normal.woff?url';
import type { TextShaper } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { makeShaper } from '@foreshore/text';

const load = async (url: string): Promise<Uint8Array> => new Uint8Array(await (await fetch(url)).arrayBuffer());

let shaper: Promise<TextShaper> | null = null;
const added = new Set<string>();

/** Adds those fonts of a project that are not there yet; one that cannot be had is left to those that ship. True where there was any. */
export async function addFonts(text: TextShaper, fonts: Document['fonts'] = {}): Promise<boolean> {
  const fresh = Object.values(fonts).filter(({ hash }) => !added.has(hash));
  for (const { hash, name, weight } of fresh) {
    added.add(hash);
    const response = await fetch(`/api/fonts/${hash}`).catch(() => null);
    if (response?.ok) text.addFont?.(name, weight, new Uint8Array(await response.arrayBuffer()));
  }
  return fresh.length > 0;
}

/** The shaper with the fonts that ship and those of a project. */
export async function projectShaper(document: Document): Promise<TextShaper> {
  const text = await webShaper();
  await addFonts(text, document.fonts);
  return text;
}

const webShaper = (): Promise<TextShaper> => {
  shaper ??= Promise.all([latin400, ext400, arabic400, hebrew400, latin700, ext700, arabic700, hebrew700].map(load)).then((files) =>
    makeShaper({ 400: files.slice(0, 4), 700: files.slice(4) }),
  );
  return shaper;
};
