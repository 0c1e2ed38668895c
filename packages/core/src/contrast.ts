/** How well a text of the glass stands out from what is surely behind it. */
import type { Arranged } from './arrange.ts';

export type Rgb = [number, number, number];
/** Red, green, blue and opacity, 0..1. */
export const channels = (colour: string): [number, number, number, number] => {
  const at = (k: number) => Number.parseInt(colour.slice(1 + 2 * k, 3 + 2 * k), 16) / 255;
  return [at(0), at(1), at(2), colour.length === 9 ? at(3) : 1];
};
/** A colour laid over another. */
export const over = (colour: string, opacity: number, below: Rgb): Rgb => {
  const [r, g, b, alpha] = channels(colour);
  const a = alpha * opacity;
  return [r, g, b].map((v, k) => v * a + (below[k] as number) * (1 - a)) as Rgb;
};

/** Relative luminance of an sRGB colour, WCAG 2.2. */
export function luminance([r, g, b]: Rgb): number {
  const linear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
  return 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);
}
/** Contrast ratio of two luminances, WCAG 2.2: 1 to 21. */
export const contrastRatio = (a: number, b: number): number => (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);

/**
 * The least contrast that a label's letters have, whatever the level shows: against its plate and the plates of groups
 * around it laid over black and over white, or against its own outline where that is better. Null where the row is no label.
 */
export function leastContrast({ compiled }: Pick<Arranged, 'compiled'>, row: number): number | null {
  const label = compiled.elements[row];
  if (label?.kind !== 'label') return null;
  const plates: { colour: string; opacity: number }[] = [];
  for (let at = row; at >= 0; at = compiled.parent[at] as number) {
    const element = compiled.elements[at];
    if ((element?.kind === 'label' || element?.kind === 'group') && element.paint.plate)
      plates.unshift({ colour: element.paint.plate.colour, opacity: element.paint.opacity });
  }
  const against = ([0, 1] as const).map((ground) => {
    let below: Rgb = [ground, ground, ground];
    for (const { colour, opacity } of plates) below = over(colour, opacity, below);
    const letters = luminance(over(label.paint.colour, label.paint.opacity, below));
    const plain = contrastRatio(letters, luminance(below));
    const { outline } = label.paint;
    return outline ? Math.max(plain, contrastRatio(letters, luminance(over(outline.colour, label.paint.opacity, below)))) : plain;
  });
  return Math.min(...against);
}
