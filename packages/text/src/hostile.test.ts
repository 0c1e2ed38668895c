/** Texts and fonts that would take all time or memory. */
import { describe, expect, it } from 'vitest';
import { FontError, readFont } from './font-file.ts';
import { shippedShaper } from './node.ts';

describe('a text', () => {
  const shaper = shippedShaper();
  const shape = (text: string, more: object = {}) =>
    shaper.shape({ text, weight: 400, align: 'start', lineHeight: 1.25, wrapEm: null, ...more });
  it('of two thousand of the largest ligature there is is drawn as far as can be painted, and told as cut off', () => {
    const block = shape('\uFDFA'.repeat(2000));
    expect(block.ops.length).toBeLessThanOrEqual(120_000);
    expect(block.cut).toBe(true);
    expect(shape('\uFDFA'.repeat(20)).cut).toBe(false);
  });
  it('of thousands of letters that is cut to a width keeps the most that fit, whatever its length', () => {
    const whole = shape('low water '.repeat(400), { cutAfter: 1, wrapEm: 20 });
    expect(whole.cut).toBe(true);
    const [line] = whole.lines;
    expect(line?.widthEm).toBeLessThanOrEqual(20);
    // One letter more would not fit: the widest is not wider than an em.
    expect(line?.widthEm).toBeGreaterThan(19);
    expect(line?.text.endsWith('\u2026')).toBe(true);
  });
});

describe('a font', () => {
  /** A WOFF 1.0 header with one table that says it unpacks to so much. */
  const woff = (length: number, total: number) => {
    const bytes = new Uint8Array(80);
    const view = new DataView(bytes.buffer);
    view.setUint32(0, 0x774f4646);
    view.setUint32(4, 0x00010000);
    view.setUint32(8, 80);
    view.setUint16(12, 1);
    view.setUint32(16, total);
    view.setUint32(44, 0x68656164);
    view.setUint32(48, 64);
    view.setUint32(52, 16);
    view.setUint32(56, length);
    return bytes;
  };
  it.each<[string, Uint8Array, RegExp]>([
    ['a WOFF that says a thousand million bytes of a table', woff(1_000_000_000, 1_000_000_044), /larger than it can be|more than 64 MB/],
    ['a WOFF that says them of the whole', woff(1000, 1_000_000_000), /more than 64 MB/],
    ['a WOFF that is smaller than its tables', woff(10_000, 100), /smaller than its tables/],
    [
      'a WOFF2 of a thousand million bytes',
      (() => {
        const bytes = new Uint8Array(64);
        new DataView(bytes.buffer).setUint32(0, 0x774f4632);
        new DataView(bytes.buffer).setUint32(16, 1_000_000_000);
        return bytes;
      })(),
      /more than 64 MB/,
    ],
  ])('%s is refused by its header alone', async (_, bytes, words) => {
    await expect(readFont(bytes)).rejects.toThrow(FontError);
    await expect(readFont(bytes)).rejects.toThrow(words);
  });
});
