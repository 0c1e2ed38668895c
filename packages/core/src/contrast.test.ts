/** Contrast: the figures of WCAG, and what is sure whatever lies behind. */
import { type Document, insideOf, type Label, makeDocument, makeGroup, makeText, onGlass } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compile } from './compile.ts';
import { channels, contrastRatio, leastContrast, luminance, over, type Rgb } from './contrast.ts';

const of = (a: string, b: string) => contrastRatio(luminance(channels(a).slice(0, 3) as Rgb), luminance(channels(b).slice(0, 3) as Rgb));

describe('contrast', () => {
  // From the definition of WCAG 2.2 and its well-known greys.
  it.each([
    ['#000000', '#FFFFFF', 21],
    ['#767676', '#FFFFFF', 4.54],
    ['#FF0000', '#FFFFFF', 4.0],
    ['#808080', '#808080', 1],
  ])('of %s and %s is %s', (a, b, ratio) => {
    expect(of(a, b)).toBeCloseTo(ratio, 2);
    expect(of(b, a)).toBe(of(a, b));
  });
  it('of a colour laid over another mixes by its opacity', () => {
    expect(over('#FF000080', 1, [0, 0, 1]).map((v) => Number(v.toFixed(2)))).toEqual([0.5, 0, 0.5]);
    expect(over('#FF0000', 0.25, [0, 0, 1])).toEqual([0.25, 0, 0.75]);
  });
});

describe('the contrast that is sure', () => {
  const hex = fc.integer({ min: 0, max: 0xffffff }).map((v) => `#${v.toString(16).padStart(6, '0')}`);
  const alpha = fc.integer({ min: 0, max: 255 }).map((v) => v.toString(16).padStart(2, '0'));
  const colour = fc.oneof(
    hex,
    fc.tuple(hex, alpha).map(([c, a]) => c + a),
  );
  const share = fc.double({ min: 0, max: 1, noNaN: true });
  function scene(ink: string, opacity: number, plate: string | null, group: string | null, outline: string | null): Document {
    const text = makeText(insideOf('box'), 'Ebb', 'a1');
    const paint: Label['paint'] = {
      ...text.paint,
      colour: ink,
      opacity,
      plate: plate ? { colour: plate, padEm: [0, 0], radiusEm: 0 } : null,
      outline: outline ? { colour: outline, widthEm: 0.1 } : null,
    };
    const box = makeGroup(onGlass([0, 0]), 'Box', 'row', 'a0');
    return {
      ...makeDocument('Low Water'),
      elements: {
        box: { ...box, paint: { plate: group ? { colour: group, radiusPx: 0, border: null } : null, opacity: 1 } },
        text: { ...text, paint },
      },
    };
  }
  const least = (d: Document) => leastContrast({ compiled: compile(d, null) }, 1) as number;

  it('is never more than the contrast over any ground (property)', () => {
    fc.assert(
      fc.property(
        colour,
        share,
        fc.option(colour),
        fc.option(colour),
        fc.option(colour),
        fc.array(fc.tuple(share, share, share), { minLength: 8, maxLength: 8 }),
        (ink, opacity, plate, group, outline, grounds) => {
          const sure = least(scene(ink, opacity, plate, group, outline));
          expect(sure).toBeGreaterThanOrEqual(1);
          for (const ground of grounds) {
            // Painted one over the other, by hand.
            let below = ground as Rgb;
            if (group) below = over(group, 1, below);
            if (plate) below = over(plate, opacity, below);
            const letters = luminance(over(ink, opacity, below));
            const plain = contrastRatio(letters, luminance(below));
            const real = outline ? Math.max(plain, contrastRatio(letters, luminance(over(outline, opacity, below)))) : plain;
            expect(real).toBeGreaterThanOrEqual(sure - 1e-9);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
  it('of grey letters without a plate is none: the level may be as grey', () => {
    expect(least(scene('#808080', 1, null, null, null))).toBe(1);
    // On a plate that nothing shows through it is that of the two.
    expect(least(scene('#808080', 1, '#000000', null, null))).toBeCloseTo(of('#808080', '#000000'), 9);
    expect(least(scene('#FFFFFF', 1, null, '#15233B', null))).toBeCloseTo(of('#FFFFFF', '#15233B'), 9);
    // An outline is enough by itself.
    expect(least(scene('#808080', 1, null, null, '#000000'))).toBeCloseTo(of('#808080', '#000000'), 9);
  });
});
