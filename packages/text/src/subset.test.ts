/** Fonts cut to the letters that are used: what is written with these looks as before, to the last coordinate. */
import { readFileSync } from 'node:fs';
import { readDocument, textsOf } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shippedFontFile, shippedFontNames } from './node.ts';
import { makeShaper } from './shaper.ts';
import { lettersUsed, subsetFont } from './subset.ts';
import { unwrapWoff, wrapWoff } from './woff.ts';

const names = shippedFontNames([], ['arabic', 'hebrew']);
const whole = names.map(({ weight, name }) => ({ weight, bytes: shippedFontFile(name) }));
const shaperOf = (files: readonly { weight: number; bytes: Uint8Array }[]) =>
  makeShaper(
    Object.fromEntries([400, 700].map((weight) => [weight, files.filter((file) => file.weight === weight).map(({ bytes }) => bytes)])),
  );
const cutTo = (letters: string) => whole.map(({ weight, bytes }) => ({ weight, bytes: subsetFont(bytes, letters) }));
const shaped = (shaper: ReturnType<typeof shaperOf>, text: string, weight: number, direction: 'ltr' | 'rtl' = 'ltr') => {
  const {
    letters: _,
    ops,
    coords,
    ...block
  } = shaper.shape({
    ...{ text, weight: weight as 400, align: 'start', lineHeight: 1.2, wrapEm: 12, direction },
  });
  // As bytes: comparing numbers one by one takes a hundred times as long.
  return { ...block, ops: Buffer.from(ops).toString('base64'), coords: Buffer.from(coords.buffer).toString('base64') };
};
const total = (files: readonly { bytes: Uint8Array }[]): number => files.reduce((sum, { bytes }) => sum + bytes.byteLength, 0);

describe('fonts with only the letters that are used', () => {
  it("write all of Low Water's texts as before, in every language, and are less than half as large", () => {
    const demo = readDocument(readFileSync(new URL('../../../demo/low-water.json', import.meta.url), 'utf8'));
    const texts = Object.values(demo.elements).flatMap(textsOf);
    const files = cutTo(lettersUsed(texts, [demo.language, ...(demo.languages ?? [])]));
    const [before, after] = [shaperOf(whole), shaperOf(files)];
    expect(texts.length).toBeGreaterThan(50);
    for (const text of texts)
      for (const weight of [400, 700])
        for (const direction of ['ltr', 'rtl'] as const)
          expect(shaped(after, text, weight, direction)).toEqual(shaped(before, text, weight, direction));
    expect(total(files)).toBeLessThan(total(whole) / 2);
  });

  it('write anything made of the letters they have as before, joined and marked letters, too (property)', () => {
    const letters = 'abfilqutx AVWo.,éß0123456789ءابتسلمهيَّ שלום';
    const [before, after] = [shaperOf(whole), shaperOf(cutTo(letters))];
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...letters), maxLength: 24 }), fc.constantFrom(400, 700), (text, weight) => {
        expect(shaped(after, text, weight)).toEqual(shaped(before, text, weight));
      }),
      { seed: 1, numRuns: 150 },
    );
  });

  it('lack the others, and say so', () => {
    const shaper = shaperOf(cutTo('Lamp'));
    expect(shaped(shaper, 'Lamp', 400).missing).toEqual([]);
    expect(shaped(shaper, 'Lump', 400).missing).toEqual(['u']);
  });

  it('have what numbers and dates of a language are written with', () => {
    const [en, de, ar] = ['en', 'de', 'ar'].map((tag) => lettersUsed([], [tag])) as [string, string, string];
    for (const sign of '-−1,234.5%') expect(en).toContain(sign);
    for (const letter of new Intl.DateTimeFormat('de', { dateStyle: 'full', timeZone: 'UTC' }).format(new Date(Date.UTC(2026, 2, 4))))
      expect(de).toContain(letter);
    for (const letter of new Intl.DateTimeFormat('ar', { month: 'long', timeZone: 'UTC' }).format(new Date(Date.UTC(2026, 1, 4))))
      expect(ar).toContain(letter);
  });

  it('are cut from fonts alone', () => {
    for (const bytes of [new Uint8Array(0), new Uint8Array(100), new TextEncoder().encode('no font'.repeat(40))])
      expect(() => subsetFont(bytes, 'a')).toThrow(RangeError);
    const [{ bytes }] = whole as [(typeof whole)[number]];
    expect(() => subsetFont(bytes.slice(0, 200), 'a')).toThrow(RangeError);
  });
});

describe('a font as WOFF', () => {
  it('unwraps to the tables it was wrapped of', () => {
    for (const { bytes } of whole.slice(0, 3)) {
      const sfnt = unwrapWoff(bytes);
      const woff = wrapWoff(sfnt);
      expect(Buffer.from(unwrapWoff(woff)).equals(Buffer.from(sfnt))).toBe(true);
      expect(woff.byteLength).toBeLessThan(sfnt.byteLength);
      expect(new DataView(woff.buffer).getUint32(8)).toBe(woff.byteLength);
    }
  });
});
