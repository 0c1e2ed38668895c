/** The shaper with the fonts that ship with Foreshore, in Node. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { TextShaper } from '@foreshore/core';
import { makeShaper } from './shaper.ts';

const require = createRequire(import.meta.url);
const file = (subset: string, weight: number): Uint8Array =>
  new Uint8Array(
    readFileSync(
      require.resolve(`@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-${subset}-${weight}-normal.woff`),
    ),
  );

export const shippedShaper = (): TextShaper =>
  makeShaper({ 400: [file('latin', 400), file('latin-ext', 400)], 700: [file('latin', 700), file('latin-ext', 700)] });
