import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { TextRequest } from '@foreshore/core';
import { describe, expect, it } from 'vitest';
import { FontError, readFont, unwrapWoff, weightsBy } from './index.ts';
import { shippedShaper } from './node.ts';

const shaper = shippedShaper();
const shape = (text: string, more: Partial<TextRequest> = {}) =>
  shaper.shape({ text, weight: 400, align: 'start', lineHeight: 1.25, wrapEm: null, ...more });
const file = (weight: number) =>
  new Uint8Array(
    readFileSync(
      createRequire(import.meta.url).resolve(
        `@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-${weight}-normal.woff`,
      ),
    ),
  );

/** Advance widths straight from the font's own tables (hmtx through cmap format 4), without any shaping. */
function advances(sfnt: Uint8Array, text: string): number {
  const view = new DataView(sfnt.buffer, sfnt.byteOffset);
  const table = (tag: string) => {
    for (let i = 0; i < view.getUint16(4); i++)
      if (String.fromCharCode(...sfnt.subarray(12 + i * 16, 16 + i * 16)) === tag) return view.getUint32(12 + i * 16 + 8);
    throw new Error(tag);
  };
  const [cmap, hhea, hmtx, head] = ['cmap', 'hhea', 'hmtx', 'head'].map(table) as [number, number, number, number];
  let sub = 0;
  for (let i = 0; i < view.getUint16(cmap + 2); i++) {
    const at = cmap + view.getUint32(cmap + 8 + i * 8);
    if (view.getUint16(at) === 4) sub = at;
  }
  const segments = view.getUint16(sub + 6) / 2;
  const glyphOf = (code: number) => {
    for (let s = 0; s < segments; s++) {
      const end = view.getUint16(sub + 14 + s * 2);
      const start = view.getUint16(sub + 16 + segments * 2 + s * 2);
      if (code < start || code > end) continue;
      const offsetAt = sub + 16 + segments * 6 + s * 2;
      const offset = view.getUint16(offsetAt);
      const delta = view.getUint16(sub + 16 + segments * 4 + s * 2);
      return offset === 0 ? (code + delta) & 0xffff : view.getUint16(offsetAt + offset + (code - start) * 2);
    }
    return 0;
  };
  const metrics = view.getUint16(hhea + 34);
  const units = view.getUint16(head + 18);
  return [...text].reduce((sum, c) => sum + view.getUint16(hmtx + 4 * Math.min(glyphOf(c.codePointAt(0) ?? 0), metrics - 1)), 0) / units;
}

describe('shaped text', () => {
  it('has the advance widths of the font, where nothing is kerned', () => {
    for (const text of ['H', 'nnn', '000', 'mmnn']) expect(shape(text).widthEm).toBeCloseTo(advances(unwrapWoff(file(400)), text), 6);
  });
  it('is as high as its lines, baselines a line height apart', () => {
    const block = shape('Tide\nGauge\nBoard', { lineHeight: 1.5 });
    expect(block.heightEm).toBe(4.5);
    expect(block.lines.map((l) => l.baselineEm - (block.lines[0]?.baselineEm ?? 0))).toEqual([0, 1.5, 3].map((v) => expect.closeTo(v, 12)));
  });
  it('sets shorter lines left, right or in the middle of the longest', () => {
    const spare = shape('Causeway').widthEm - shape('Tide').widthEm;
    const x = (align: TextRequest['align']) => shape('Causeway\nTide', { align }).lines[1]?.xEm;
    expect([x('start'), x('centre'), x('end')]).toEqual([0, spare / 2, spare]);
  });
  it('keeps its ink inside its box, side bearings aside', () => {
    const { coords, widthEm, heightEm } = shape('Pump house\ngyj');
    for (let k = 0; k < coords.length; k += 2) {
      expect(coords[k]).toBeGreaterThan(-0.1);
      expect(coords[k]).toBeLessThan(widthEm + 0.1);
      expect(coords[k + 1]).toBeGreaterThan(-0.1);
      expect(coords[k + 1]).toBeLessThan(heightEm + 0.1);
    }
  });
  it('breaks lines where it may, none longer than asked but a word alone', () => {
    const block = shape('The warden walks a stone causeway across mudflats', { wrapEm: 8 });
    expect(block.lines.map((l) => l.text).join(' ')).toBe('The warden walks a stone causeway across mudflats');
    for (const line of block.lines) expect(line.widthEm <= 8 || !line.text.includes(' ')).toBe(true);
    expect(shape('Causeway', { wrapEm: 1 }).lines).toHaveLength(1);
  });
  it('takes what the first font lacks from the next, and names what none has', () => {
    expect(shape('Łódź').missing).toEqual([]);
    expect(shape('Tide Ω').missing).toEqual(['Ω']);
    expect(shape('').widthEm).toBe(0);
  });
  it('is heavier in bold', () => {
    expect(shape('Sluice', { weight: 700 }).widthEm).toBeCloseTo(advances(unwrapWoff(file(700)), 'Sluice'), 1);
    expect(shape('Sluice', { weight: 700 }).widthEm).not.toBe(shape('Sluice').widthEm);
  });
  it('refuses a font that is cut short', () => {
    expect(() => unwrapWoff(file(400).subarray(0, 2000))).toThrow(/cut short/);
  });
});

describe('text that runs both ways', () => {
  /** Where each glyph's outline begins, from left to right, is enough to tell an order. */
  const leftmost = (block: ReturnType<typeof shape>) => {
    const starts: number[] = [];
    let k = 0;
    for (const op of block.ops) {
      if (op === 0) starts.push(block.coords[k] as number);
      k += op === 4 ? 0 : op === 3 ? 6 : op === 2 ? 4 : 2;
    }
    return starts;
  };
  const ALEF = '\u05D0';
  const HEBREW = '\u05D0\u05D1\u05D2';
  const TIDE = '\u0627\u0644\u0645\u062F';
  it('turns right-to-left letters round: the first one comes to lie at the right', () => {
    const one = shape(ALEF, { direction: 'rtl' }).widthEm;
    const whole = shape(HEBREW, { direction: 'rtl' });
    // The outlines of the first letter are drawn last, and lie at the right end.
    const last = leftmost(whole).at(-1) ?? 0;
    expect(last).toBeGreaterThan(whole.widthEm - one - 0.1);
    expect(whole.lines[0]?.text).toBe(HEBREW);
  });
  it('keeps numbers and Latin words running to the right inside of it', () => {
    const number = shape('12', { direction: 'rtl' });
    expect([...number.coords]).toEqual([...shape('12').coords]);
    // UAX 9: in a paragraph from the right, what was written first lies at the right: the word, then the number before it.
    const mixed = shape(`${HEBREW} 12`, { direction: 'rtl' });
    const digits = shape('12').coords;
    for (let k = 0; k < 6; k++) expect(mixed.coords[k]).toBeCloseTo(digits[k] as number, 9);
    // A Latin word before it lies at the left in a paragraph from the left, and at the right in one from the right.
    const latin = shape('Tide').coords;
    expect(shape(`Tide ${HEBREW}`, { direction: 'ltr' }).coords[0]).toBeCloseTo(latin[0] as number, 9);
    const fromRight = shape(`Tide ${HEBREW}`, { direction: 'rtl' });
    expect(Math.max(...fromRight.coords.filter((_, k) => k % 2 === 0))).toBeCloseTo(
      fromRight.widthEm - shape('Tide').widthEm + Math.max(...latin.filter((_, k) => k % 2 === 0)),
      9,
    );
  });
  it('joins Arabic letters: a word is shorter than its letters one by one, and nothing is missing', () => {
    const word = shape(TIDE, { direction: 'rtl' });
    const apart = [...TIDE].reduce((sum, letter) => sum + shape(letter, { direction: 'rtl' }).widthEm, 0);
    expect(word.widthEm).toBeLessThan(apart - 0.1);
    expect(word.missing).toEqual([]);
  });
  it('begins at the right where it runs to the left', () => {
    const block = shape(`${HEBREW}${HEBREW}\n${ALEF}`, { direction: 'rtl', align: 'start' });
    const [long, short] = block.lines;
    expect((short?.xEm ?? 0) + (short?.widthEm ?? 0)).toBeCloseTo((long?.xEm ?? 0) + (long?.widthEm ?? 0), 9);
    expect(shape(`${HEBREW}${HEBREW}\n${ALEF}`, { direction: 'rtl', align: 'end' }).lines[1]?.xEm).toBe(0);
  });
});

describe('text that is cut', () => {
  const LONG = 'The water returns over the causeway before the lamp is lit';
  it('keeps its lines and its width, and ends in an ellipsis', () => {
    const whole = shape(LONG, { wrapEm: 8 });
    expect(whole.lines.length).toBeGreaterThan(3);
    const cut = shape(LONG, { wrapEm: 8, cutAfter: 2 });
    expect(cut.cut).toBe(true);
    expect(cut.lines).toHaveLength(2);
    expect(cut.widthEm).toBeLessThanOrEqual(8);
    expect(cut.lines[0]?.text).toBe(whole.lines[0]?.text);
    expect(cut.lines[1]?.text).toMatch(/\u2026$/);
    expect(LONG).toContain(cut.lines[1]?.text.slice(0, -1));
    expect(cut.missing).toEqual([]);
  });
  it('is left alone where it fits, and cuts a word that is too long by itself', () => {
    expect(shape('Tide', { wrapEm: 8, cutAfter: 2 })).toMatchObject({ cut: false, lines: [{ text: 'Tide' }] });
    const word = shape('Gezeitenkraftwerksbesichtigung', { wrapEm: 5, cutAfter: 1 });
    expect(word.cut).toBe(true);
    expect(word.widthEm).toBeLessThanOrEqual(5);
  });
  it('never parts a mark from its letter', () => {
    const accents = 'e\u0301'.repeat(30);
    const cut = shape(accents, { wrapEm: 4, cutAfter: 1 });
    const text = cut.lines[0]?.text.slice(0, -1) ?? '';
    expect(text.length % 2).toBe(0);
    expect(text).toBe('e\u0301'.repeat(text.length / 2));
  });
});

describe('a list in a message', () => {
  it('is a line each', () => {
    expect(shaper.format('Log:\n{log}', 'en', { log: ['tide turned', 'lamp lit'] }).text).toBe('Log:\ntide turned\nlamp lit');
  });
});

describe('weights', () => {
  // By hand from the rule of CSS Fonts Module Level 4, 5.2.
  it.each([
    [400, [200, 300, 400, 500, 700], [400, 500, 300, 200, 700]],
    [500, [200, 300, 400, 700, 800], [400, 300, 200, 700, 800]],
    [300, [200, 400, 700], [200, 400, 700]],
    [600, [200, 500, 700, 800], [700, 800, 500, 200]],
    [900, [400, 700], [700, 400]],
  ])('%i is stood in for in the order of the rule', (wanted, there, order) => {
    expect(weightsBy(wanted, there)).toEqual(order);
  });
  it('of the font that ships get broader as they get bolder', () => {
    const widths = [200, 300, 400, 500, 600, 700, 800].map(
      (weight) => shaper.shape({ text: 'Sluice gate number three', weight, align: 'start', lineHeight: 1.25, wrapEm: null }).widthEm,
    );
    expect(widths).toEqual([...widths].sort((a, b) => a - b));
    expect(new Set(widths).size).toBe(7);
  });
});

describe('a font that is brought', () => {
  const mono = (kind: string) =>
    new Uint8Array(
      readFileSync(
        createRequire(import.meta.url).resolve(`@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-${kind}`),
      ),
    );
  it('is read from WOFF and from WOFF2 alike: its family, its weight, the same outlines', async () => {
    const woff = await readFont(mono('700-normal.woff'));
    const woff2 = await readFont(mono('700-normal.woff2'));
    // The two files name their family differently; both say which it is.
    for (const one of [woff, woff2]) expect([one.family.slice(0, 26), one.weight]).toEqual(['Atkinson Hyperlegible Mono', 700]);
    const widths = [woff, woff2].map(({ bytes }) => {
      const own = shippedShaper();
      own.addFont?.('Own', 700, bytes);
      return own.shape({ text: 'Sluice 3', weight: 700, align: 'start', lineHeight: 1.25, wrapEm: null, font: 'Own' });
    });
    expect(widths[0]?.widthEm).toBeCloseTo(widths[1]?.widthEm ?? 0, 9);
    expect([...(widths[0]?.coords ?? [])]).toEqual([...(widths[1]?.coords ?? [])]);
    // Every letter of a fixed pitch is as wide as any other.
    const pitch = (widths[0]?.widthEm ?? 0) / 8;
    const own = shippedShaper();
    own.addFont?.('Own', 700, woff.bytes);
    expect(own.shape({ text: 'iiii', weight: 700, align: 'start', lineHeight: 1.25, wrapEm: null, font: 'Own' }).widthEm).toBeCloseTo(
      4 * pitch,
      6,
    );
  });
  it('gives way to its other weight, and to the fonts that ship for what it lacks', async () => {
    const own = shippedShaper();
    const request = { align: 'start' as const, lineHeight: 1.25, wrapEm: null, font: 'Own' };
    const before = own.shape({ ...request, text: 'Tide', weight: 400 });
    own.addFont?.('Own', 700, (await readFont(mono('700-normal.woff'))).bytes);
    const after = own.shape({ ...request, text: 'Tide', weight: 400 });
    expect(after.widthEm).not.toBeCloseTo(before.widthEm, 3);
    const arabic = own.shape({ ...request, text: '\u0645\u062F', weight: 400, direction: 'rtl' });
    expect(arabic.missing).toEqual([]);
    expect(own.shape({ ...request, text: '\u4E00', weight: 400 }).missing).toEqual(['\u4E00']);
  });
  it.each([
    ['nothing', new Uint8Array()],
    ['words', new TextEncoder().encode('Low Water is no font at all')],
    ['a font cut short', mono('400-normal.woff').subarray(0, 900)],
    ['a WOFF2 cut short', mono('400-normal.woff2').subarray(0, 900)],
  ])('is refused where it is %s', async (_, bytes) => {
    await expect(readFont(bytes)).rejects.toBeInstanceOf(FontError);
  });
});
