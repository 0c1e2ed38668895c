/**
 * Texts put together of their letters. Filling the outlines of a text takes a tenth of a millisecond without a graphics card, and most
 * of its letters stood in another text before: how much of each pixel a letter covers is found once for each size and eighth of a pixel
 * that it stands at, and a text is laid together from that.
 */
import type { Letter, TextBlock } from '@foreshore/core';

/** How much of each pixel an outline covers. */
export interface Cover {
  width: number;
  height: number;
  /** Rows from the top, 0 to 255. */
  of: Uint8Array;
}

/** What a letter covers, with the whole pixels from the pixel its origin is in to its top left. */
export interface LetterCover extends Cover {
  left: number;
  top: number;
}

/** A colour with its alpha, each 0 to 255. */
export type Rgba = readonly [red: number, green: number, blue: number, alpha: number];

/** Letters stand on these parts of a pixel, across and down. */
export const EIGHTHS = 8;

/** A pixel that is covered by one thing and by another of the same colour, as if the parts were independent. */
export function joinCover(onto: Cover, letter: LetterCover, x: number, y: number): void {
  const fromX = Math.max(0, -(x + letter.left));
  const toX = Math.min(letter.width, onto.width - x - letter.left);
  const fromY = Math.max(0, -(y + letter.top));
  const toY = Math.min(letter.height, onto.height - y - letter.top);
  for (let row = fromY; row < toY; row++) {
    const from = row * letter.width;
    const to = (y + letter.top + row) * onto.width + x + letter.left;
    for (let k = fromX; k < toX; k++) {
      const cover = letter.of[from + k] as number;
      if (cover === 0) continue;
      const there = onto.of[to + k] as number;
      onto.of[to + k] = there === 0 ? cover : there + Math.round((cover * (255 - there)) / 255);
    }
  }
}

/**
 * The pixels of letters over their outlines: one laid over the other (W3C Compositing and Blending Level 1, source over), colours not
 * multiplied by alpha.
 * @param pixels as many as are covered, in rows of `stride` pixels, four bytes each; those that nothing covers are cleared.
 */
export function colourCover(
  pixels: Uint8ClampedArray,
  stride: number,
  fill: Cover,
  colour: Rgba,
  under: Cover | null,
  underColour: Rgba,
): void {
  const { width, height } = fill;
  for (let row = 0; row < height; row++) {
    let at = row * stride * 4;
    for (let k = row * width; k < (row + 1) * width; k++, at += 4) {
      const over = (fill.of[k] as number) * colour[3];
      const below = under === null ? 0 : (under.of[k] as number) * underColour[3] * (1 - over / WHOLE);
      const alpha = over + below;
      pixels[at + 3] = alpha / 255;
      if (alpha === 0) continue;
      // Most are covered by one alone.
      const share = below === 0 ? 1 : over / alpha;
      pixels[at] = share === 1 ? colour[0] : colour[0] * share + underColour[0] * (1 - share);
      pixels[at + 1] = share === 1 ? colour[1] : colour[1] * share + underColour[1] * (1 - share);
      pixels[at + 2] = share === 1 ? colour[2] : colour[2] * share + underColour[2] * (1 - share);
    }
  }
}

/** Covered whole, by a colour that lets nothing through. */
const WHOLE = 255 * 255;

/** What letters cover at one size. */
interface Sized {
  emPx: number;
  outlinePx: number;
  /** By the eighths that they stand at; null where a letter covers nothing. */
  of: Map<Letter, (LetterCover | null)[]>;
}

/** What is kept of all sizes, bytes; where it is more, all is found anew. */
const MOST_KEPT = 8 << 20;
/** Reading back what one letter covers takes as long as filling some: it is worth it from so many texts of a size on. */
const WORTH = 4;
/** So many sizes are counted at once. */
const MOST_SIZES = 1000;

export type Bounds = readonly [left: number, top: number, right: number, bottom: number];
const bounds = new WeakMap<Letter, Bounds>();

/** Least and greatest x and y of a letter's outline, em, y down; a curve lies between its points. */
export function boundsOfLetter(letter: Letter): Bounds {
  let known = bounds.get(letter);
  if (!known) bounds.set(letter, (known = measured(letter)));
  return known;
}

function measured({ coords, unitsPerEm }: Letter): Bounds {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let k = 0; k < coords.length; k += 2) {
    const [x, y] = [(coords[k] as number) / unitsPerEm, -(coords[k + 1] as number) / unitsPerEm];
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return [left, top, right, bottom];
}

/** Fills a letter through a matrix from em to pixels, y down; or strokes it, where told how far on both sides of its outline. */
export type LetterPainter = (context: OffscreenCanvasRenderingContext2D, letter: Letter, outlineEm: number) => void;

/** What letters cover, kept by size. */
export class Letters {
  private readonly paint: LetterPainter;
  private sizes: Sized[] = [];
  private kept = 0;
  /** How many texts were wanted at a size. */
  private readonly wanted = new Map<string, number>();
  private scratch: OffscreenCanvasRenderingContext2D | null = null;

  constructor(paint: LetterPainter) {
    this.paint = paint;
  }

  /** To be asked once for each text: whether enough were wanted at its size for its letters to be found one by one. */
  isWorth(emPx: number, outlinePx: number): boolean {
    const size = `${emPx} ${outlinePx}`;
    const count = (this.wanted.get(size) ?? 0) + 1;
    if (this.wanted.size >= MOST_SIZES) this.wanted.clear();
    this.wanted.set(size, count);
    return count > WORTH;
  }

  /**
   * Lays a text's letters together.
   * @param outlinePx 0 for their areas, else what their outlines cover, strokes of twice that width.
   * @param x, y where the block's top left stands on what is covered, pixels.
   * @returns whether that could be done.
   */
  lay(onto: Cover, letters: NonNullable<TextBlock['letters']>, emPx: number, outlinePx: number, x: number, y: number): boolean {
    const sized = this.sized(emPx, outlinePx);
    for (let k = 0; k < letters.of.length; k++) {
      const letter = letters.of[k] as Letter;
      // To the nearest eighth.
      const eighthX = Math.round((x + (letters.at[2 * k] as number) * emPx) * EIGHTHS);
      const eighthY = Math.round((y + (letters.at[2 * k + 1] as number) * emPx) * EIGHTHS);
      const [wholeX, wholeY] = [Math.floor(eighthX / EIGHTHS), Math.floor(eighthY / EIGHTHS)];
      const cover = this.cover(sized, letter, eighthX - wholeX * EIGHTHS, eighthY - wholeY * EIGHTHS);
      if (cover === undefined) return false;
      if (cover) joinCover(onto, cover, wholeX, wholeY);
    }
    return true;
  }

  private sized(emPx: number, outlinePx: number): Sized {
    if (this.kept > MOST_KEPT) {
      this.sizes = [];
      this.kept = 0;
    }
    // Texts of one size follow one another.
    const known = this.sizes.findIndex((sized) => sized.emPx === emPx && sized.outlinePx === outlinePx);
    const sized = this.sizes[known] ?? { emPx, outlinePx, of: new Map() };
    if (known !== 0) {
      if (known > 0) this.sizes.splice(known, 1);
      this.sizes.unshift(sized);
    }
    return sized;
  }

  private cover({ of, emPx, outlinePx }: Sized, letter: Letter, eighthX: number, eighthY: number): LetterCover | null | undefined {
    let all = of.get(letter);
    if (!all) of.set(letter, (all = []));
    const at = eighthY * EIGHTHS + eighthX;
    const known = all[at];
    if (known !== undefined) return known;
    const made = this.made(letter, emPx, outlinePx, eighthX / EIGHTHS, eighthY / EIGHTHS);
    if (made === undefined) return undefined;
    all[at] = made;
    this.kept += 64 + (made?.of.length ?? 0);
    return made;
  }

  private made(letter: Letter, emPx: number, outlinePx: number, x: number, y: number): LetterCover | null | undefined {
    if (letter.ops.length === 0) return null;
    const bounds = boundsOfLetter(letter);
    const [left, top] = [Math.floor(bounds[0] * emPx + x - outlinePx) - 1, Math.floor(bounds[1] * emPx + y - outlinePx) - 1];
    const [width, height] = [Math.ceil(bounds[2] * emPx + x + outlinePx) + 1 - left, Math.ceil(bounds[3] * emPx + y + outlinePx) + 1 - top];
    const context = this.room(width, height);
    if (!context) return undefined;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, width, height);
    context.setTransform(emPx, 0, 0, emPx, x - left, y - top);
    this.paint(context, letter, outlinePx / emPx);
    const { data } = context.getImageData(0, 0, width, height);
    const of = new Uint8Array(width * height);
    for (let k = 0; k < of.length; k++) of[k] = data[4 * k + 3] as number;
    return { left, top, width, height, of };
  }

  private room(width: number, height: number): OffscreenCanvasRenderingContext2D | null {
    const there = this.scratch?.canvas;
    if (!there || there.width < width || there.height < height)
      this.scratch = new OffscreenCanvas(Math.max(64, width, there?.width ?? 0), Math.max(64, height, there?.height ?? 0)).getContext(
        '2d',
        {
          willReadFrequently: true,
        },
      );
    return this.scratch;
  }
}
