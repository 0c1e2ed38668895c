/** The shaper with the fonts that ship, loaded once. */

import latin200 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-200-normal.woff?url';
import latin300 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-300-normal.woff?url';
import latin400 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff?url';
import latin500 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-500-normal.woff?url';
import latin600 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-600-normal.woff?url';
import latin700 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff?url';
import latin800 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-800-normal.woff?url';
import ext200 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-200-normal.woff?url';
import ext300 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-300-normal.woff?url';
import ext400 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff?url';
import ext500 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-500-normal.woff?url';
import ext600 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-600-normal.woff?url';
import ext700 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-700-normal.woff?url';
import ext800 from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-800-normal.woff?url';
import arabic400 from '@fontsource/noto-sans-arabic/files/noto-sans-arabic-arabic-400-normal.woff?url';
import arabic700 from '@fontsource/noto-sans-arabic/files/noto-sans-arabic-arabic-700-normal.woff?url';
import hebrew400 from '@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-400-normal.woff?url';
import hebrew700 from '@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-700-normal.woff?url';
import type { TextShaper } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { makeShaper, otherWeights } from '@foreshore/text';

const load = async (url: string): Promise<Uint8Array> => new Uint8Array(await (await fetch(url)).arrayBuffer());

let shaper: Promise<TextShaper> | null = null;
const added = new Set<string>();

/** Fetched only where a text is in them. */
const LIGHTER_AND_BOLDER: Record<number, string[]> = {
  200: [latin200, ext200],
  300: [latin300, ext300],
  500: [latin500, ext500],
  600: [latin600, ext600],
  800: [latin800, ext800],
};
const weights = new Set<number>();

/** Adds those fonts and weights of a project that are not there yet; one that cannot be had is left to those that ship. True where there was any. */
export async function addFonts(text: TextShaper, document: Document): Promise<boolean> {
  const { fonts = {} } = document;
  const wanted = otherWeights(document).filter((weight) => !weights.has(weight));
  for (const weight of wanted) {
    weights.add(weight);
    const files = await Promise.all((LIGHTER_AND_BOLDER[weight] ?? []).map(load)).catch(() => null);
    if (files) text.addWeight?.(weight, files);
  }
  const fresh = Object.values(fonts).filter(({ hash }) => !added.has(hash));
  for (const { hash, name, weight } of fresh) {
    added.add(hash);
    const response = await fetch(`/api/fonts/${hash}`).catch(() => null);
    if (response?.ok) text.addFont?.(name, weight, new Uint8Array(await response.arrayBuffer()));
  }
  return fresh.length + wanted.length > 0;
}

/**
 * The shaper with the fonts that ship and those of a project.
 * @param caps heights of letters on pages, by the hash of their bytes, where they were measured elsewhere.
 */
export async function projectShaper(document: Document, caps?: Readonly<Record<string, number>>): Promise<TextShaper> {
  const text = await webShaper();
  if (caps) text.pageCapPx = (page) => caps[page];
  await addFonts(text, document);
  return text;
}

const webShaper = (): Promise<TextShaper> => {
  shaper ??= Promise.all([latin400, ext400, arabic400, hebrew400, latin700, ext700, arabic700, hebrew700].map(load)).then((files) =>
    makeShaper({ 400: files.slice(0, 4), 700: files.slice(4) }),
  );
  return shaper;
};
