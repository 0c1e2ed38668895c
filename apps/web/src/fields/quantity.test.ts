/** What people type into number fields. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readQuantity } from './quantity.ts';

describe('a quantity', () => {
  it.each([
    ['2.5', 'm', 2.5],
    ['2,5', 'm', 2.5],
    ['250 cm', 'm', 2.5],
    ['1 ft + 6 in', 'm', 0.4572],
    ['(1 + 2) * 4', 'px', 12],
    ['3 - -1', 's', 4],
    ['−4', 'm', -4],
    ['0.5 deg', 'arcmin', 30],
    ['1500 ms', 's', 1.5],
    ['1e3', 'px', 1000],
    ['2 * 3 m', 'm', 6],
    ['.5', '', 0.5],
  ])('%s in %s is %s', (text, unit, value) => {
    expect(readQuantity(text, unit)).toBeCloseTo(value, 9);
  });
  it.each([
    ['', 'm', 'A number is missing at the end.'],
    ['2 +', 'm', 'A number is missing at the end.'],
    ['(2', 'm', 'A bracket is not closed.'],
    ['two', 'm', '"two" is not a number.'],
    ['2 px', 'm', '"px" is not a unit here; write m, cm, mm, km, in, ft.'],
    ['2 ; 3', 'm', '";" is not understood.'],
    ['1 / 0', 'm', 'This comes to no finite number.'],
  ])('%s in %s is told to be wrong', (text, unit, why) => {
    expect(() => readQuantity(text, unit)).toThrow(new RangeError(why));
  });
  it('reads any sum and product as arithmetic says (property)', () => {
    const number = fc.integer({ min: 0, max: 99 });
    const { tree } = fc.letrec<{ tree: { text: string; value: number } }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 4 },
        number.map((value) => ({ text: String(value), value })),
        fc.tuple(tie('tree'), fc.constantFrom('+', '-', '*'), tie('tree')).map(([a, op, b]) => ({
          text: `(${a.text} ${op} ${b.text})`,
          value: op === '+' ? a.value + b.value : op === '-' ? a.value - b.value : a.value * b.value,
        })),
      ),
    }));
    fc.assert(
      fc.property(tree, ({ text, value }) => {
        // Minus zero is zero.
        expect(readQuantity(text, 'm') + 0).toBe(value + 0);
      }),
    );
  });
  it('gives a finite number or says what is wrong, whatever is typed (property)', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), fc.constantFrom('m', 'px', 's', 'deg', ''), (text, unit) => {
        try {
          expect(Number.isFinite(readQuantity(text, unit))).toBe(true);
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError);
          expect((error as Error).message).toMatch(/\.$/);
        }
      }),
    );
  });
});
