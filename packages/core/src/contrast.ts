/** How well a text of the glass stands out from what is surely behind it. */
import type { Arranged } from './arrange.ts';

export type Rgb = [number, number, number];
type Channels = readonly [red: number, green: number, blue: number, opacity: number];

/** A document has few colours, and a check asks for them at every moment. */
const MOST_COLOURS = 1000;
const read = new Map<string, Channels>();
/** Red, green, blue and opacity, 0..1. */
export function channels(colour: string): Channels {
  let known = read.get(colour);
  if (!known) {
    const at = (k: number) => Number.parseInt(colour.slice(1 + 2 * k, 3 + 2 * k), 16) / 255;
    known = [at(0), at(1), at(2), colour.length === 9 ? at(3) : 1];
    if (read.size >= MOST_COLOURS) read.clear();
    read.set(colour, known);
  }
  return known;
}
/** A colour laid over another. */
export const over = (colour: string, opacity: number, below: Rgb): Rgb => {
  const [r, g, b, alpha] = channels(colour);
  const a = alpha * opacity;
  return [r * a + below[0] * (1 - a), g * a + below[1] * (1 - a), b * a + below[2] * (1 - a)];
};

/** Relative luminance of an sRGB colour, WCAG 2.2. */
export function luminance([r, g, b]: Rgb): number {
  const linear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
  return 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);
}
/** Contrast ratio of two luminances, WCAG 2.2: 1 to 21. */
export const contrastRatio = (a: number, b: number): number => (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);

type Span = readonly [least: number, most: number];
/** A contrast ratio that two things surely have whose luminances lie within spans: 1 where the spans meet. */
const surely = (a: Span, b: Span): number => (a[0] > b[1] ? contrastRatio(a[0], b[1]) : b[0] > a[1] ? contrastRatio(b[0], a[1]) : 1);

/** What an element is painted with under and around its letters. */
export interface Ink {
  colour: string;
  opacity: number;
}

/**
 * A contrast that letters surely have, whatever the level shows: against the plates under them, the outermost first, or against
 * their own outline where that is better. Laid over whatever, each is as bright as over black at least and as over white at
 * most. Letters of a brightness that the ground may have, too, have none: 1.
 */
export function leastContrastOf(letters: Ink, plates: readonly Ink[], outline: Ink | null): number {
  const grounds = ([0, 1] as const).map((level) =>
    plates.reduce<Rgb>((below, p) => over(p.colour, p.opacity, below), [level, level, level]),
  );
  const spanOf = (paint: (below: Rgb) => Rgb): Span => grounds.map((below) => luminance(paint(below))) as unknown as Span;
  const span = spanOf((below) => over(letters.colour, letters.opacity, below));
  const plain = surely(
    span,
    spanOf((below) => below),
  );
  if (!outline) return plain;
  const rim = spanOf((below) => over(outline.colour, outline.opacity, below));
  return Math.max(plain, surely(span, rim));
}

/**
 * The same of a label as the document has it, with the opacity of the groups around it, whatever the frame does to it. Null
 * where the row is no label.
 */
export function leastContrast({ compiled }: Pick<Arranged, 'compiled'>, row: number): number | null {
  const label = compiled.elements[row];
  if (label?.kind !== 'label') return null;
  const plates: Ink[] = [];
  let around = 1;
  const rows: number[] = [];
  for (let at = row; at >= 0; at = compiled.parent[at] as number) rows.unshift(at);
  for (const at of rows) {
    around *= compiled.elements[at]?.paint.opacity ?? 1;
    const element = compiled.elements[at];
    if ((element?.kind === 'label' || element?.kind === 'group') && element.paint.plate)
      plates.push({ colour: element.paint.plate.colour, opacity: around });
  }
  const { colour, outline } = label.paint;
  return leastContrastOf({ colour, opacity: around }, plates, outline && { colour: outline.colour, opacity: around });
}
