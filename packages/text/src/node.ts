/** The shaper with the fonts that ship with Foreshore, in Node. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { TextShaper } from '@foreshore/core';
import { makeShaper } from './shaper.ts';
import { OTHER_WEIGHTS } from './weights.ts';

const require = createRequire(import.meta.url);
const nameOf = (subset: string, weight: number): string => `atkinson-hyperlegible-next-${subset}-${weight}-normal.woff`;
const file = (subset: string, weight: number): Uint8Array =>
  new Uint8Array(readFileSync(require.resolve(`@fontsource/atkinson-hyperlegible-next/files/${nameOf(subset, weight)}`)));

/** Scripts that the text's own font lacks, in the order in which fonts are asked. */
const OTHERS = ['arabic', 'hebrew'];
const other = (script: string, weight: number): Uint8Array =>
  new Uint8Array(
    readFileSync(require.resolve(`@fontsource/noto-sans-${script}/files/noto-sans-${script}-${script}-${weight}-normal.woff`)),
  );
const own = (weight: number): Uint8Array[] => [file('latin', weight), file('latin-ext', weight)];
const chain = (weight: number): Uint8Array[] => [...own(weight), ...OTHERS.map((script) => other(script, weight))];

export const shippedShaper = (): TextShaper =>
  makeShaper({ ...Object.fromEntries(OTHER_WEIGHTS.map((weight) => [weight, own(weight)])), 400: chain(400), 700: chain(700) });

/** The font files that ship, regular, bold and in other weights, by name: what a project file carries, so that it reads the same elsewhere. */
export const shippedFonts = (weights: readonly number[] = []): Record<string, Uint8Array> =>
  Object.fromEntries(
    ['latin', 'latin-ext'].flatMap((subset) =>
      [...new Set([400, 700, ...weights])].map((weight) => [nameOf(subset, weight), file(subset, weight)] as const),
    ),
  );
