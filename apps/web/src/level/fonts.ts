/** The shaper with the fonts that ship, loaded once. */

import type { TextShaper } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { makeShaper, otherWeights } from '@foreshore/text';
import { fetched } from './asked.ts';
import { LIGHTER_AND_BOLDER, SHIPPED } from './font-files.ts';

const load = async (url: string): Promise<Uint8Array> => new Uint8Array(await (await fetched(url)).arrayBuffer());

let shaper: Promise<TextShaper> | null = null;
/** The hash of the file of each font that was added, by family and weight: another project may call another file so. */
const added = new Map<string, string>();

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
  const fresh = Object.values(fonts).filter(({ name, weight, hash }) => added.get(`${weight} ${name}`) !== hash);
  for (const { hash, name, weight } of fresh) {
    added.set(`${weight} ${name}`, hash);
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
  shaper ??= Promise.all(Object.values(SHIPPED).map((urls) => Promise.all(urls.map(load)))).then((files) =>
    makeShaper(Object.fromEntries(Object.keys(SHIPPED).map((weight, k) => [weight, files[k] ?? []]))),
  );
  return shaper;
};
