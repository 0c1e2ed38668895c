/**
 * Texts as small pictures: without a graphics card the outlines of a thousand texts take a quarter of a second to fill, and the same
 * texts copied from pictures a tenth of that. While something moves, a copy stands on whole pixels, and is a little blurred where its
 * size lies between two that are kept. At rest it is as large as the text and stands where that does, to an eighth of a pixel.
 */
import type { TextBlock, TextItem } from '@foreshore/core';
import { type Bounds, boundsOfLetter, type Cover, colourCover, type LetterPainter, Letters, type Rgba } from './letters.ts';

type Sheet = OffscreenCanvas;
type Paint = (context: OffscreenCanvasRenderingContext2D, item: TextItem) => void;

interface Sprite {
  sheet: Sheet;
  /** Where it lies on its sheet. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** Where the block's top left lies in it. */
  left: number;
  top: number;
}

const SIDE_PX = 1024;
/** What finds no room on these is filled from its outlines, and all are made anew for the next frame. */
const MOST_SHEETS = 8;
/** Neighbouring sizes that are kept differ by this factor. */
const STEP = Math.log(1.05);
/** On a panel sizes are the next larger of these: no pixel is seen without a texel of its own, and few sizes are made on the way. */
const PANEL_STEP = Math.log(1.25);
/** A copy on a panel is laid in pieces, each by the plain map about its middle, so that none is farther off than this, pixels. */
const OFF_PX = 0.35;
/** What would take more pieces is filled from its outlines. */
const MOST_PIECES = 24;
/** Pieces reach over one another by so much, pixels of the picture: no seam shows. */
const SEAM_PX = 0.5;
const PAD_PX = 2;
/** So many are made before it is asked how long that took. */
const AT_ONCE = 40;
/** What is larger is filled from its outlines. */
const MOST_PX = SIDE_PX / 2;

/** What is larger is rare, and its letters take long to read back. */
const MOST_EM_PX = 64;

/** At rest a copy stands on these parts of a pixel. */
const PHASES = 8;

const bounds = new WeakMap<TextBlock, Bounds>();

/** Least and greatest x and y of a block's outlines, em; a curve lies between its points. Infinities in turn where it has none. */
export function boundsOf(block: TextBlock): Bounds {
  const known = bounds.get(block);
  if (known) return known;
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  const take = (x: number, y: number, of: Bounds): void => {
    left = Math.min(left, x + of[0]);
    top = Math.min(top, y + of[1]);
    right = Math.max(right, x + of[2]);
    bottom = Math.max(bottom, y + of[3]);
  };
  const { letters } = block;
  if (letters) {
    let at = 0;
    for (const letter of letters.of) take(letters.at[at++] as number, letters.at[at++] as number, boundsOfLetter(letter));
  } else {
    const { coords } = block;
    for (let k = 0; k < coords.length; k += 2) take(coords[k] as number, coords[k + 1] as number, POINT);
  }
  const found: Bounds = [left, top, right, bottom];
  bounds.set(block, found);
  return found;
}
const POINT: Bounds = [0, 0, 0, 0];

/** A text that is to be copied. */
export interface Copied {
  item: TextItem;
  /** Canvas pixels for one of the item's; of one on a panel, where it is largest. */
  scale: number;
  /** Where it lies on a panel: from the em of its block to canvas pixels. Only what moves is copied there. */
  map?: Float64Array;
  /** Where its block's top left stands, canvas pixels. */
  x: number;
  y: number;
}

/** What the picture of a text is made with. */
interface Look {
  emPx: number;
  colour: string;
  outlineColour: string | undefined;
  outlinePx: number;
  /** What of a pixel its top left is beyond a whole one. */
  phaseX: number;
  phaseY: number;
}

const isLook = (a: Look, b: Look): boolean =>
  a.emPx === b.emPx &&
  a.phaseX === b.phaseX &&
  a.phaseY === b.phaseY &&
  a.colour === b.colour &&
  a.outlinePx === b.outlinePx &&
  a.outlineColour === b.outlineColour;

/** @param scale pixels of its picture for one of the item's. */
const lookOf = ({ colour, outline }: TextItem, scale: number) => ({
  colour,
  outlineColour: outline?.colour,
  outlinePx: outline ? outline.widthPx * scale : 0,
});

/**
 * How a box is cut into columns and rows so that the plain map about the middle of each piece is nowhere farther than `OFF_PX` from a
 * panel's own; null where that takes too many. A point t from a middle lies J t · (W(m) / W(m + t) − 1) off it, J being the map's
 * derivative there.
 */
export function piecesOf(map: Float64Array, [left, top, right, bottom]: Bounds): [columns: number, rows: number] | null {
  const [x0, x1, x2, y0, y1, y2, w0, w1, w2] = map as unknown as readonly number[] as [
    ...[number, number, number],
    ...[number, number, number],
    ...[number, number, number],
  ];
  const [halfX, halfY] = [(right - left) / 2, (bottom - top) / 2];
  const least = Math.min(...[left, right].flatMap((x) => [top, bottom].map((y) => w0 * x + w1 * y + w2)));
  if (!(least > 0)) return null;
  // What a half of the box spans on the canvas, and how much of the divisor changes over it: at the nearest corner, where both are most.
  let [alongX, alongY] = [0, 0];
  for (const x of [left, right])
    for (const y of [top, bottom]) {
      const w = w0 * x + w1 * y + w2;
      const [sx, sy] = [(x0 * x + x1 * y + x2) / w, (y0 * x + y1 * y + y2) / w];
      alongX = Math.max(alongX, (Math.hypot(x0 - sx * w0, y0 - sy * w0) / w) * halfX);
      alongY = Math.max(alongY, (Math.hypot(x1 - sx * w1, y1 - sy * w1) / w) * halfY);
    }
  const [changeX, changeY] = [(Math.abs(w0) * halfX) / least, (Math.abs(w1) * halfY) / least];
  let [columns, rows] = [1, 1];
  while ((alongX / columns + alongY / rows) * (changeX / columns + changeY / rows) > OFF_PX) {
    if ((alongX * changeX) / columns ** 2 >= (alongY * changeY) / rows ** 2) columns++;
    else rows++;
    if (columns * rows > MOST_PIECES) return null;
  }
  return [columns, rows];
}

/** Lays a picture on a panel. @param emPx of the picture. @returns whether that takes few enough pieces. */
function laidOn(
  context: Pick<CanvasRenderingContext2D, 'setTransform' | 'drawImage' | 'imageSmoothingQuality'>,
  { sheet, x, y, width, height, left, top }: Sprite,
  emPx: number,
  bounds: Bounds,
  map: Float64Array,
): boolean {
  const pieces = piecesOf(map, bounds);
  if (!pieces) return false;
  const [columns, rows] = pieces;
  const at = (row: number, u: number, v: number) => (map[row] as number) * u + (map[row + 1] as number) * v + (map[row + 2] as number);
  context.imageSmoothingQuality = 'low';
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [u0, u1] = [(width * column) / columns, (width * (column + 1)) / columns];
      const [v0, v1] = [(height * row) / rows, (height * (row + 1)) / rows];
      // The middle, em of the block, and the map's derivative there, for a pixel of the picture.
      const [mx, my] = [((u0 + u1) / 2 - left) / emPx, ((v0 + v1) / 2 - top) / emPx];
      const w = at(6, mx, my);
      const [sx, sy] = [at(0, mx, my) / w, at(3, mx, my) / w];
      const d = (k: number, s: number, axis: number) => ((map[k + axis] as number) - s * (map[6 + axis] as number)) / (w * emPx);
      context.setTransform(d(0, sx, 0), d(3, sy, 0), d(0, sx, 1), d(3, sy, 1), sx, sy);
      const [fromU, toU] = [Math.max(0, u0 - SEAM_PX), Math.min(width, u1 + SEAM_PX)];
      const [fromV, toV] = [Math.max(0, v0 - SEAM_PX), Math.min(height, v1 + SEAM_PX)];
      const [w1, h1] = [toU - fromU, toV - fromV];
      context.drawImage(sheet, x + fromU, y + fromV, w1, h1, fromU - (u0 + u1) / 2, fromV - (v0 + v1) / 2, w1, h1);
    }
  return true;
}

/** A picture that was made; null where none could be. */
interface Made {
  look: Look;
  sprite: Sprite | null;
}

// One text is laid after the other.
const covers: (Uint8Array | undefined)[] = [];
let pixels: ImageData | undefined;

function cleared(which: 0 | 1, width: number, height: number): Cover {
  const of = (covers[which] ??= new Uint8Array(MOST_PX * MOST_PX)).subarray(0, width * height);
  return { width, height, of: of.fill(0) };
}

const colours = new Map<string, Rgba>();
const MOST_COLOURS = 1000;

/** A colour of CSS, as a canvas reads it. */
function rgbaOf(colour: string): Rgba {
  let known = colours.get(colour);
  if (!known) {
    if (colours.size >= MOST_COLOURS) colours.clear();
    colours.set(colour, (known = HEX.test(colour) ? fromHex(colour) : asPainted(colour)));
  }
  return known;
}

/** How most colours are written. Asking a canvas for its first pixel takes longer than a text. */
const HEX = /^#[0-9a-f]{6}$/i;
const fromHex = (colour: string): Rgba => {
  const bits = Number.parseInt(colour.slice(1), 16);
  return [bits >> 16, (bits >> 8) & 255, bits & 255, 255];
};
function asPainted(colour: string): Rgba {
  const context = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true });
  if (context) {
    context.fillStyle = colour;
    context.fillRect(0, 0, 1, 1);
  }
  const [red = 0, green = 0, blue = 0, alpha = 255] = context?.getImageData(0, 0, 1, 1).data ?? [];
  return [red, green, blue, alpha];
}

const phase = (v: number): number => (Math.round((v - Math.floor(v)) * PHASES) % PHASES) / PHASES;

/** The pictures of texts that were made, for what moves or for what rests. */
export class Copies {
  private readonly paint: Paint;
  private readonly letters: Letters;
  private readonly rests: boolean;
  private sheets: { sheet: Sheet; context: OffscreenCanvasRenderingContext2D; x: number; y: number; rowPx: number }[] = [];
  /** Of each text, the one that was made last first. */
  private sprites = new WeakMap<TextBlock, Made[]>();
  private full = false;
  /** The size that a text was last wanted at. */
  private readonly lastSize = new WeakMap<TextBlock, number>();

  /** @param paint fills a text from its outlines, its block's top left at 0, 0. */
  constructor(paint: Paint, letters: LetterPainter, rests: boolean) {
    this.paint = paint;
    this.letters = new Letters(letters);
    this.rests = rests;
  }

  /** To be called after a frame: where there was no room any more, all are made anew for the next. */
  tidy(): void {
    if (!this.full) return;
    this.full = false;
    this.sheets = [];
    this.sprites = new WeakMap();
  }

  /**
   * Makes the pictures that are not there yet; all of them before the first is copied: a sheet that is drawn on between two copies is
   * itself copied as a whole.
   * @param forMs where given, no longer than about this; what is left of the texts is for the next time. @returns whether all are there.
   */
  make(texts: Iterator<Copied>, forMs = Number.POSITIVE_INFINITY): boolean {
    const until = performance.now() + forMs;
    let some = 0;
    for (let next = texts.next(); !next.done; next = texts.next()) {
      const look = this.wanted(next.value);
      if (!look || this.known(next.value, look)) continue;
      const { item } = next.value;
      const made = { look, sprite: this.made(item, look) };
      const known = this.sprites.get(item.block);
      if (known) known.unshift(made);
      else this.sprites.set(item.block, [made]);
      if (++some % AT_ONCE > 0 || forMs === Number.POSITIVE_INFINITY) continue;
      // What was drawn on a sheet is not drawn before it is asked for.
      this.sheets.at(-1)?.context.getImageData(0, 0, 1, 1);
      if (performance.now() > until) return false;
    }
    return true;
  }

  /** Copies a text from its picture. @returns whether there is one; else it is to be filled from its outlines. */
  copy(context: Pick<CanvasRenderingContext2D, 'setTransform' | 'drawImage' | 'imageSmoothingQuality'>, text: Copied): boolean {
    const look = this.wanted(text);
    const sprite = look && this.known(text, look)?.sprite;
    if (!sprite) return false;
    const { item, scale, x, y, map } = text;
    if (map) return laidOn(context, sprite, look.emPx, boundsOf(item.block), map);
    const grow = (item.emPx * scale) / look.emPx;
    context.setTransform(1, 0, 0, 1, 0, 0);
    const [left, top] = this.rests
      ? [Math.round(x - look.phaseX) - sprite.left, Math.round(y - look.phaseY) - sprite.top]
      : [Math.round(x - sprite.left * grow), Math.round(y - sprite.top * grow)];
    const { width, height } = sprite;
    context.drawImage(sprite.sheet, sprite.x, sprite.y, width, height, left, top, width * grow, height * grow);
    if (!this.rests) this.lastSize.set(item.block, item.emPx * scale);
    return true;
  }

  private wanted({ item, scale, x, y, map }: Copied): Look | null {
    const sizePx = item.emPx * scale;
    if (!(sizePx > 1) || boundsOf(item.block)[0] === Infinity) return null;
    // One that is wanted again is kept as it is; one that grows or shrinks, in steps.
    const last = this.rests ? undefined : this.lastSize.get(item.block);
    if (map) {
      const emPx = Math.exp(Math.ceil(Math.log(sizePx) / PANEL_STEP) * PANEL_STEP);
      return { emPx, ...lookOf(item, (scale * emPx) / sizePx), phaseX: 0, phaseY: 0 };
    }
    const emPx = last === undefined || last === sizePx ? sizePx : Math.exp(Math.round(Math.log(sizePx) / STEP) * STEP);
    const [phaseX, phaseY] = this.rests ? [phase(x), phase(y)] : [0, 0];
    return { emPx, ...lookOf(item, (scale * emPx) / sizePx), phaseX, phaseY };
  }

  private known({ item }: Copied, look: Look): Made | undefined {
    return this.sprites.get(item.block)?.find((made) => isLook(made.look, look));
  }

  private made(item: TextItem, look: Look): Sprite | null {
    const { emPx, outlinePx, phaseX, phaseY } = look;
    const [left, top, right, bottom] = boundsOf(item.block);
    const around = PAD_PX + outlinePx;
    const [width, height] = [Math.ceil((right - left) * emPx + 2 * around), Math.ceil((bottom - top) * emPx + 2 * around)];
    if (!(width <= MOST_PX && height <= MOST_PX)) return null;
    const at = this.room(width, height);
    if (!at) return null;
    // At rest its top left is on a whole pixel of the sheet but for its phase.
    const place = (v: number): number => (this.rests ? Math.round(v) : v);
    const sprite = { sheet: at.sheet, x: at.x, y: at.y, width, height, left: place(around - left * emPx), top: place(around - top * emPx) };
    at.x += width;
    if (this.laid(at.context, sprite, item, look)) return sprite;
    at.context.setTransform(1, 0, 0, 1, sprite.x + sprite.left + phaseX, sprite.y + sprite.top + phaseY);
    this.paint(at.context, { ...item, x: 0, y: 0, emPx, outline: item.outline && { ...item.outline, widthPx: outlinePx } });
    return sprite;
  }

  /** Lays a text's letters together. @returns whether that could be done. */
  private laid(context: OffscreenCanvasRenderingContext2D, sprite: Sprite, { block, outline }: TextItem, look: Look): boolean {
    const { width, height } = sprite;
    const { emPx, outlinePx } = look;
    if (!block.letters || emPx > MOST_EM_PX || !this.letters.isWorth(emPx, outlinePx)) return false;
    const [x, y] = [sprite.left + look.phaseX, sprite.top + look.phaseY];
    const fill = cleared(0, width, height);
    if (!this.letters.lay(fill, block.letters, emPx, 0, x, y)) return false;
    const under = outline && outlinePx > 0 ? cleared(1, width, height) : null;
    if (under && !this.letters.lay(under, block.letters, emPx, outlinePx, x, y)) return false;
    pixels ??= new ImageData(MOST_PX, MOST_PX);
    colourCover(pixels.data, MOST_PX, fill, rgbaOf(look.colour), under, rgbaOf(look.outlineColour ?? look.colour));
    context.putImageData(pixels, sprite.x, sprite.y, 0, 0, width, height);
    return true;
  }

  /** Room on a sheet: rows from the top, filled from the left. */
  private room(width: number, height: number): (typeof this.sheets)[number] | null {
    let last = this.sheets.at(-1);
    if (last && last.x + width > SIDE_PX) {
      last.x = 0;
      last.y += last.rowPx;
      last.rowPx = 0;
    }
    if (!last || last.y + height > SIDE_PX) {
      if (this.sheets.length === MOST_SHEETS) {
        this.full = true;
        return null;
      }
      const sheet = new OffscreenCanvas(SIDE_PX, SIDE_PX);
      const context = sheet.getContext('2d');
      if (!context) return null;
      this.sheets.push((last = { sheet, context, x: 0, y: 0, rowPx: 0 }));
    }
    last.rowPx = Math.max(last.rowPx, height);
    return last;
  }
}
