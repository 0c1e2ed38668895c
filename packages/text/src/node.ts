/** The shaper with the fonts that ship with Foreshore, in Node. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { TextRequest, TextShaper } from '@foreshore/core';
import { FontError } from './font-file.ts';
import { makeShaper } from './shaper.ts';

export { lettersUsed, subsetFont } from './subset.ts';

import { OTHER_WEIGHTS } from './weights.ts';

const require = createRequire(import.meta.url);
const nameOf = (subset: string, weight: number): string => `atkinson-hyperlegible-next-${subset}-${weight}-normal.woff`;
const file = (subset: string, weight: number): Uint8Array => shippedFontFile(nameOf(subset, weight));

/** Scripts that the text's own font lacks, in the order in which fonts are asked. */
const OTHERS = ['arabic', 'hebrew'];
const otherName = (script: string, weight: number): string => `noto-sans-${script}-${script}-${weight}-normal.woff`;
const other = (script: string, weight: number): Uint8Array => shippedFontFile(otherName(script, weight));
const own = (weight: number): Uint8Array[] => [file('latin', weight), file('latin-ext', weight)];
const chain = (weight: number): Uint8Array[] => [...own(weight), ...OTHERS.map((script) => other(script, weight))];

export const shippedShaper = (): TextShaper =>
  makeShaper({ ...Object.fromEntries(OTHER_WEIGHTS.map((weight) => [weight, own(weight)])), 400: chain(400), 700: chain(700) });

/** A font that a project brings: its family, its weight, and the hash of its file. */
interface FontBrought {
  name: string;
  weight: number;
  hash: string;
}
/**
 * The shaper with the fonts that ship and those of a project.
 * @param fileOf the bytes of a font by the hash of its file, unwrapped; undefined where it is not there.
 * @throws FontError that names a font whose file is not there, or is none: what is measured with another font is not so.
 */
export function projectShaper(
  fonts: Readonly<Record<string, FontBrought>> | undefined,
  fileOf: (hash: string) => Uint8Array | undefined,
): TextShaper {
  const text = shippedShaper();
  for (const { name, weight, hash } of Object.values(fonts ?? {})) {
    const bytes = fileOf(hash);
    if (!bytes) throw new FontError(`The font "${name}" ${weight} is not there: put its file back, or take it out of the project.`);
    try {
      text.addFont?.(name, weight as TextRequest['weight'], bytes);
    } catch (error) {
      throw new FontError(`The font "${name}" ${weight} cannot be read: ${(error as Error).message}`);
    }
  }
  return text;
}

/** A font file that ships. */
export interface FontName {
  weight: number;
  name: string;
}
/** The font files that texts of these weights and scripts need, regular and bold always, in the order in which they are asked for a letter. */
export const shippedFontNames = (weights: readonly number[], scripts: readonly string[]): FontName[] =>
  [400, 700, ...weights].flatMap((weight) => [
    ...['latin', 'latin-ext'].map((subset) => ({ weight, name: nameOf(subset, weight) })),
    ...(weight === 400 || weight === 700 ? scripts.map((script) => ({ weight, name: otherName(script, weight) })) : []),
  ]);
/** The bytes of one of them. */
export const shippedFontFile = (name: string): Uint8Array =>
  new Uint8Array(
    readFileSync(
      require.resolve(
        name.startsWith('noto-sans-')
          ? `@fontsource/noto-sans-${name.split('-')[2]}/files/${name}`
          : `@fontsource/atkinson-hyperlegible-next/files/${name}`,
      ),
    ),
  );

/** The font files that ship, regular, bold and in other weights, by name: what a project file carries, so that it reads the same elsewhere. */
export const shippedFonts = (weights: readonly number[] = []): Record<string, Uint8Array> =>
  Object.fromEntries(
    ['latin', 'latin-ext'].flatMap((subset) =>
      [...new Set([400, 700, ...weights])].map((weight) => [nameOf(subset, weight), file(subset, weight)] as const),
    ),
  );
