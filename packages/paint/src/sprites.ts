/**
 * Texts as small pictures, for frames that must be quick: without a graphics card the outlines of a thousand texts take a tenth of a
 * second to fill, and the same texts copied from pictures a fraction of that. A copy stands on whole pixels, and is a little blurred
 * where its size lies between two that are kept; at rest texts are filled from their outlines.
 */
import type { TextBlock, TextItem } from '@foreshore/core';

type Sheet = OffscreenCanvas;
type Paint = (context: OffscreenCanvasRenderingContext2D, item: TextItem) => void;

interface Sprite {
  sheet: Sheet;
  /** Where it lies on its sheet. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** Pixels of one em it was made at, and where the block's top left lies in it. */
  emPx: number;
  left: number;
  top: number;
}

const SIDE_PX = 1024;
/** With more, all are made anew. */
const MOST_SHEETS = 12;
/** Neighbouring sizes that are kept differ by this factor. */
const STEP = Math.log(1.05);
const PAD_PX = 2;
/** What is larger is filled from its outlines. */
const MOST_PX = SIDE_PX / 2;

let sheets: { sheet: Sheet; context: OffscreenCanvasRenderingContext2D; x: number; y: number; rowPx: number }[] = [];
let sprites = new WeakMap<TextBlock, Map<string, Sprite | null>>();

/** The size that a text was last wanted at. */
const lastSize = new WeakMap<TextBlock, number>();

/** Room on a sheet: rows from the top, filled from the left. */
function room(width: number, height: number): (typeof sheets)[number] | null {
  let last = sheets.at(-1);
  if (last && last.x + width > SIDE_PX) {
    last.x = 0;
    last.y += last.rowPx;
    last.rowPx = 0;
  }
  if (!last || last.y + height > SIDE_PX) {
    if (sheets.length === MOST_SHEETS) {
      sheets = [];
      sprites = new WeakMap();
    }
    const sheet = new OffscreenCanvas(SIDE_PX, SIDE_PX);
    const context = sheet.getContext('2d');
    if (!context) return null;
    sheets.push((last = { sheet, context, x: 0, y: 0, rowPx: 0 }));
  }
  last.rowPx = Math.max(last.rowPx, height);
  return last;
}

/** Least and greatest x and y of a block's outlines, em; a curve lies between its points. */
function boundsOf({ coords }: TextBlock): [number, number, number, number] {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let k = 0; k < coords.length; k += 2) {
    const [x, y] = [coords[k] as number, coords[k + 1] as number];
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return [left, top, right, bottom];
}

function made(item: TextItem, emPx: number, outlinePx: number, paint: Paint): Sprite | null {
  const [left, top, right, bottom] = boundsOf(item.block);
  const around = PAD_PX + outlinePx;
  const [width, height] = [Math.ceil((right - left) * emPx + 2 * around), Math.ceil((bottom - top) * emPx + 2 * around)];
  if (!(width <= MOST_PX && height <= MOST_PX)) return null;
  const at = room(width, height);
  if (!at) return null;
  const sprite = { sheet: at.sheet, x: at.x, y: at.y, width, height, emPx, left: around - left * emPx, top: around - top * emPx };
  at.x += width;
  at.context.setTransform(1, 0, 0, 1, sprite.x + sprite.left, sprite.y + sprite.top);
  paint(at.context, { ...item, x: 0, y: 0, emPx, outline: item.outline && { ...item.outline, widthPx: outlinePx } });
  return sprite;
}

/** Texts that had no picture yet in the frame, at the size and with the outline they are to have. */
let wanted: { item: TextItem; emPx: number; outlinePx: number; key: string }[] = [];
/** So many are made after a frame; the others are filled once more. */
const MOST_A_FRAME = 150;

/**
 * Copies a text from its picture. Where there is none yet it is noted, to be made after the frame: a sheet that is drawn on between
 * two copies is itself copied as a whole.
 * @param scale canvas pixels for one of the item's. @param x,y where its block's top left stands, canvas pixels.
 * @returns whether it did; else it is to be filled from its outlines.
 */
export function copyText(
  context: Pick<CanvasRenderingContext2D, 'setTransform' | 'drawImage'>,
  item: TextItem,
  scale: number,
  x: number,
  y: number,
): boolean {
  const sizePx = item.emPx * scale;
  if (item.block.coords.length === 0 || !(sizePx > 1)) return false;
  // One that is wanted again is kept as it is; one that grows or shrinks, in steps.
  const emPx = lastSize.get(item.block) === sizePx ? sizePx : Math.exp(Math.round(Math.log(sizePx) / STEP) * STEP);
  lastSize.set(item.block, sizePx);
  const outlinePx = item.outline ? (item.outline.widthPx * scale * emPx) / sizePx : 0;
  const key = `${item.colour} ${emPx} ${item.outline?.colour} ${outlinePx}`;
  const sprite = sprites.get(item.block)?.get(key);
  if (sprite === undefined) wanted.push({ item, emPx, outlinePx, key });
  if (!sprite) return false;
  const grow = sizePx / sprite.emPx;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.drawImage(
    sprite.sheet,
    sprite.x,
    sprite.y,
    sprite.width,
    sprite.height,
    Math.round(x - sprite.left * grow),
    Math.round(y - sprite.top * grow),
    sprite.width * grow,
    sprite.height * grow,
  );
  return true;
}

/** Makes what the frame had no pictures of. @param paint fills a text from its outlines, its block's top left at 0, 0. */
export function makeCopies(paint: Paint): void {
  for (const { item, emPx, outlinePx, key } of wanted.slice(0, MOST_A_FRAME)) {
    const sprite = made(item, emPx, outlinePx, paint);
    const known = sprites.get(item.block) ?? new Map<string, Sprite | null>();
    sprites.set(item.block, known.set(key, sprite));
  }
  wanted = [];
}
