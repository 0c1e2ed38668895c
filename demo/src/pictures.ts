/** The pictures of Low Water's glass: drawn as SVG, in ink and paper. */
import { createHash } from 'node:crypto';
import { type Document, orderAfter, readPicture } from '@foreshore/document';
import { tideTable } from './tide-table.ts';

const INK = '#15233B';
const PAPER = '#FBF8F0';

const drawing = (size: number, inside: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${size}" height="${size}" viewBox="0 0 ${size} ${size}">${inside}</svg>\n`;
const line = `stroke="${INK}" stroke-width="4" stroke-linejoin="round" stroke-linecap="round"`;

/** A post in the water, the water at one of four heights. */
const tide = (share: number): string => {
  const top = 60 - 44 * share;
  const wave = `M4 ${top}q7 -6 14 0t14 0t14 0t14 0V60H4Z`;
  return drawing(
    64,
    `<path d="M26 4h12v56H26Z" fill="#E6D5A6" ${line}/><path d="M26 16h8M26 28h8M26 40h8" stroke="${INK}" stroke-width="3"/><path d="${wave}" fill="#7AB3C4" fill-opacity="0.9" stroke="#CFE4EA" stroke-width="3"/>`,
  );
};

const DRAWINGS: Record<string, { name: string; svg: string }> = {
  flame: {
    name: 'Flame',
    svg: drawing(
      64,
      `<path d="M32 4C36 18 52 24 52 42A20 20 0 0 1 12 42C12 32 20 28 22 18C27 22 30 26 30 30C33 22 33 12 32 4Z" fill="${PAPER}" ${line}/>`,
    ),
  },
  jar: {
    name: 'Sample jar',
    svg: drawing(
      64,
      `<path d="M20 6h24v9H20Z" fill="#E6D5A6" ${line}/><path d="M18 18h28q6 4 6 12v22q0 6 -6 6H18q-6 0 -6 -6V30q0 -8 6 -12Z" fill="${PAPER}" ${line}/><path d="M16 40q8 -5 16 0t16 0v11q0 3 -3 3H19q-3 0 -3 -3Z" fill="#7AB3C4"/>`,
    ),
  },
  'tide-0': { name: 'Tide out', svg: tide(0) },
  'tide-1': { name: 'Tide low', svg: tide(0.33) },
  'tide-2': { name: 'Tide half', svg: tide(0.66) },
  'tide-3': { name: 'Tide in', svg: tide(1) },
  'tide-curve': {
    name: 'Tide curve',
    svg: `<svg xmlns="http://www.w3.org/2000/svg" width="620" height="250" viewBox="0 0 620 250"><rect width="620" height="250" fill="#12445A"/><path d="M0 62H620M0 125H620M0 188H620M155 0V250M310 0V250M465 0V250" stroke="#1B6E83" stroke-width="2"/><path d="M0 190C60 190 95 60 155 60S250 190 310 190S405 60 465 60S560 190 620 190V250H0Z" fill="#7AB3C4" fill-opacity="0.35"/><path d="M0 190C60 190 95 60 155 60S250 190 310 190S405 60 465 60S560 190 620 190" fill="none" stroke="#CFE4EA" stroke-width="6"/></svg>\n`,
  },
  frame: {
    name: 'Chart frame',
    svg: drawing(
      60,
      `<rect x="2" y="2" width="56" height="56" fill="#F5F0E3" ${line}/><rect x="8" y="8" width="44" height="44" fill="none" stroke="#12445A" stroke-width="2"/><path d="M8 20V8H20M40 8H52V20M52 40V52H40M20 52H8V40" fill="none" stroke="#12445A" stroke-width="5"/>`,
    ),
  },
  needle: {
    name: 'Needle',
    svg: drawing(48, `<path d="M4 4L38 20L23 25L18 40Z" fill="${PAPER}" stroke="${INK}" stroke-width="4" stroke-linejoin="round"/>`),
  },
  'needle-lit': {
    name: 'Needle, lit',
    svg: drawing(48, `<path d="M4 4L38 20L23 25L18 40Z" fill="#E5B45C" stroke="${INK}" stroke-width="4" stroke-linejoin="round"/>`),
  },
};

const bytesOf = (svg: string): Uint8Array => new TextEncoder().encode(svg);

export function pictures(): NonNullable<Document['pictures']> {
  const all: NonNullable<Document['pictures']> = {};
  for (const [id, { name, svg }] of Object.entries(DRAWINGS)) {
    const bytes = bytesOf(svg);
    all[id] = { name, order: orderAfter(all), hash: createHash('sha256').update(bytes).digest('hex'), ...readPicture(bytes) };
  }
  const { bytes, ...facts } = tideTable();
  all['tide-table'] = { name: 'Tide table', order: orderAfter(all), hash: createHash('sha256').update(bytes).digest('hex'), ...facts };
  return all;
}

/** Their bytes, by file name. */
export const pictureFiles = (): Record<string, Uint8Array> => ({
  ...Object.fromEntries(Object.entries(DRAWINGS).map(([id, { svg }]) => [`${id}.svg`, bytesOf(svg)])),
  'tide-table.html': tideTable().bytes,
});
