import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { TextRequest } from '@foreshore/core';
import { describe, expect, it } from 'vitest';
import { unwrapWoff } from './index.ts';
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
