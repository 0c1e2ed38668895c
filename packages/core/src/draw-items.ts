/** The items of a draw list: all that painters know. Lengths are pixels of the viewer. */
import type { ScreenPaint } from '@foreshore/document/types';
import type { TextBlock } from './text.ts';

export interface PlateItem {
  kind: 'plate';
  element: string;
  x: number;
  y: number;
  width: number;
  height: number;
  radius: number;
  colour: string;
  opacity: number;
  /** Where given, the outline of the box is drawn this wide instead of its inside. */
  strokePx?: number;
}
export interface TextItem {
  kind: 'text';
  element: string;
  /** Top left of the block, pixels. */
  x: number;
  y: number;
  /** Pixels of one em. */
  emPx: number;
  block: TextBlock;
  colour: string;
  outline: { colour: string; widthPx: number } | null;
  opacity: number;
}
export interface LineItem {
  kind: 'line';
  element: string;
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  widthPx: number;
  colour: string;
  opacity: number;
}
/** A part of a ring: from one angle to another, radians clockwise from the top. */
export interface ArcItem {
  kind: 'arc';
  element: string;
  x: number;
  y: number;
  radius: number;
  widthPx: number;
  fromRad: number;
  toRad: number;
  colour: string;
  opacity: number;
}
/** Begins a part of the list of which only what lies inside a rounded box is painted. */
export interface ClipItem {
  kind: 'clip';
  element: string;
  x: number;
  y: number;
  width: number;
  height: number;
  radius: number;
  /** Instead of the box: on a panel, the box as it is seen; of a panel that another crosses, a piece of it. */
  path?: { ops: Uint8Array; coords: Float64Array };
}
/** Ends what the last clip began. */
export interface UnclipItem {
  kind: 'unclip';
  element: string;
}
/** A part of a picture, in a box. */
export interface PictureItem {
  kind: 'picture';
  element: string;
  /** The hash of its bytes. */
  picture: string;
  /** Width and height of the whole picture, in the pixels that `from` is given in. */
  size: [number, number];
  /** Left, top, width and height of the part that is painted. */
  from: Rect;
  x: number;
  y: number;
  width: number;
  height: number;
  tint: string | null;
  saturation: number;
  blurPx: number;
  opacity: number;
  /** On a panel: where a grid over the picture is seen, row by row, `columns + 1` by `rows + 1` points of x and y. */
  mesh?: { columns: number; rows: number; points: Float64Array };
}
/** Paint over everything painted so far. */
export interface ScreenItem {
  kind: 'screen';
  element: string;
  effect: ScreenPaint['effect'];
  /** 0: nothing of it, 1: all. */
  amount: number;
  colour: string;
}
/** Begins a part of the list that is moved as a whole: x' = a x + c y + e, y' = b x + d y + f. */
export interface PushItem {
  kind: 'push';
  element: string;
  matrix: [a: number, b: number, c: number, d: number, e: number, f: number];
  /** On a panel, in its place: a box that has come so far about one of its edges, 0 (square to the panel) to 1 (in it). */
  fold?: { box: Rect; edge: 'left' | 'right' | 'top' | 'bottom'; share: number };
}
/** Ends what the last push began. */
export interface PopItem {
  kind: 'pop';
  element: string;
}
/** An outline in the view's pixels, `PATH_` commands and their coordinates. */
export interface ShapeItem {
  kind: 'shape';
  element: string;
  ops: Uint8Array;
  coords: Float64Array;
  colour: string;
  opacity: number;
  evenOdd: boolean;
  /** Where given, the outline is drawn this wide instead of its inside. */
  strokePx?: number;
  /** What it says, where it is a text. */
  title?: string;
  /** The text on a panel that it is, for painters that copy texts from pictures. */
  written?: WrittenText;
}
/** A text as it lies on a panel. */
export interface WrittenText {
  text: TextItem;
  /** From the em of its block to the view: rows of x, y and the divisor, three numbers each; what follows them is not read. */
  map: Float64Array;
}
/** Begins what lies on a panel: the level covers it where the level stands in front. */
export interface PanelItem {
  kind: 'panel';
  element: string;
  /** The panel as it is seen, cut at the near plane: x and y in turn, pixels. */
  outline: number[];
  /** Its top left, top right and bottom left in the world, metres. */
  corners: number[];
  /** It is seen through whatever stands in front. */
  through: boolean;
}
/** Ends what the last panel began. */
export interface EndPanelItem {
  kind: 'endPanel';
  element: string;
}
export type DrawItem =
  | ShapeItem
  | PanelItem
  | EndPanelItem
  | PlateItem
  | TextItem
  | LineItem
  | ArcItem
  | ClipItem
  | UnclipItem
  | PictureItem
  | ScreenItem
  | PushItem
  | PopItem;

export type Rect = [number, number, number, number];

/** The part of a box from one share to another along the way something fills it. */
export function partOf([x, y, w, h]: Rect, towards: 'right' | 'left' | 'up' | 'down', from: number, to: number): Rect {
  if (towards === 'right') return [x + w * from, y, w * (to - from), h];
  if (towards === 'left') return [x + w * (1 - to), y, w * (to - from), h];
  if (towards === 'down') return [x, y + h * from, w, h * (to - from)];
  return [x, y + h * (1 - to), w, h * (to - from)];
}

/** A stroke through a box from its foot at the left: what it should show has no value. */
export function pushStrike(items: DrawItem[], element: string, [x, y, w, h]: Rect, widthPx: number, colour: string, opacity: number): void {
  items.push({ kind: 'line', element, x1: x, y1: y + h, x2: x + w, y2: y, widthPx, colour, opacity });
}

/** The outline of a box, as wide as asked for and wholly inside of it. */
export function pushBorder(
  items: DrawItem[],
  element: string,
  [x, y, width, height]: Rect,
  radius: number,
  border: { colour: string; widthPx: number } | null,
  unit: number,
  opacity: number,
): void {
  if (!border) return;
  const w = Math.min(border.widthPx * unit, width, height);
  items.push({
    kind: 'plate',
    element,
    x: x + w / 2,
    y: y + w / 2,
    width: width - w,
    height: height - w,
    radius: Math.max(0, radius - w / 2),
    colour: border.colour,
    opacity,
    strokePx: w,
  });
}
