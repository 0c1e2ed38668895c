/** Where the fonts lie that ship, by weight; of each, later files stand in for letters that the first lacks. */

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

export const SHIPPED: Readonly<Record<number, readonly string[]>> = {
  400: [latin400, ext400, arabic400, hebrew400],
  700: [latin700, ext700, arabic700, hebrew700],
};

/** Fetched only where a text is in them. */
export const LIGHTER_AND_BOLDER: Readonly<Record<number, readonly string[]>> = {
  200: [latin200, ext200],
  300: [latin300, ext300],
  500: [latin500, ext500],
  600: [latin600, ext600],
  800: [latin800, ext800],
};
