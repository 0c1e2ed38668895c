import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { format, numbersIn, withDecimals } from './messages.ts';
import { parsedMessage } from './parsed.ts';
import { putTogether } from './put-together.ts';

describe('the decimals of the numbers in a text', () => {
  it('are found where they stand, in cases of a plural, too', () => {
    const text = 'Tide {tide, number, ::.00} m, {left} min, {n, plural, one {# of {all, number, ::precision-integer}} other {#}}';
    expect(numbersIn(text).map(({ name, decimals, from, to }) => [name, decimals, text.slice(from, to)])).toEqual([
      ['tide', 2, '{tide, number, ::.00}'],
      ['left', null, '{left}'],
      ['all', 0, '{all, number, ::precision-integer}'],
    ]);
  });
  it('are changed in one of them; the rest of the text and of the number stays', () => {
    expect(withDecimals('{a} and {b, number, ::.00 percent}', 1, 1)).toBe('{a} and {b, number, ::.0 percent}');
    expect(withDecimals('{a} and {b, number, ::.00 percent}', 0, 0)).toBe(
      '{a, number, ::precision-integer} and {b, number, ::.00 percent}',
    );
    expect(withDecimals('{b, number, ::.00}', 0, null)).toBe('{b, number}');
  });
  it('of a faulty text are none, and it stays as it is', () => {
    expect(numbersIn('{tide, number')).toEqual([]);
    expect(withDecimals('{tide, number', 0, 2)).toBe('{tide, number');
  });
  it('are what the text is written with (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 6 }), fc.double({ min: -1e4, max: 1e4, noNaN: true }), (decimals, tide) => {
        const { text } = format(withDecimals('{tide} m', 0, decimals), 'en', { tide });
        expect(text.replace(/,/g, '')).toMatch(decimals === 0 ? /^-?\d+ m$/ : new RegExp(`^-?\\d+\\.\\d{${decimals}} m$`));
      }),
    );
  });
});

describe('a text with one value', () => {
  it('says the same when it is asked for again, in every language, for values that are alike but not the same (property)', () => {
    const texts = [
      '{tide} m',
      '{tide, number, ::.0} m',
      '{tide, plural, one {# boat} other {# boats}}',
      '{tide, select, true {in} other {out}}',
    ];
    const value = fc.oneof(
      fc.constantFrom(0, -0, 1, '1', true, 'true', Number.NaN, ''),
      fc.double({ min: -5, max: 5 }),
      fc.constant<string[]>(['a', 'b']),
    );
    const asked = fc.tuple(fc.constantFrom(...texts), fc.constantFrom('en', 'de', 'ar'), value);
    fc.assert(
      fc.property(fc.array(asked, { minLength: 2, maxLength: 30 }), (all) => {
        for (const [text, language, tide] of [...all, ...all])
          expect(format(text, language, { tide }).text).toBe(putTogether(parsedMessage(text) ?? [], language, { tide }));
      }),
    );
  });
});
