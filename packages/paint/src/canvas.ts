/** Paints a draw list on a 2D canvas. */
import {
  type DrawItem,
  type DrawList,
  type Letter,
  localScale,
  PATH_CLOSE,
  PATH_CUBIC,
  PATH_LINE,
  PATH_MOVE,
  type PanelItem,
  type PictureItem,
  type PushItem,
  type ScreenItem,
  type TextBlock,
  type TextItem,
  type WrittenText,
} from '@foreshore/core';
import { meshTriangles } from './mesh.ts';
import { type Copied, Copies } from './sprites.ts';

/** What is used of a canvas; contexts of the page and of workers both do. */
type Context = Pick<
  CanvasRenderingContext2D,
  | 'setTransform'
  | 'fill'
  | 'stroke'
  | 'beginPath'
  | 'moveTo'
  | 'lineTo'
  | 'roundRect'
  | 'fillStyle'
  | 'strokeStyle'
  | 'lineWidth'
  | 'lineJoin'
  | 'lineCap'
  | 'globalAlpha'
  | 'arc'
  | 'clip'
  | 'save'
  | 'restore'
  | 'drawImage'
  | 'fillRect'
  | 'createRadialGradient'
  | 'globalCompositeOperation'
  | 'filter'
  | 'transform'
  | 'canvas'
  | 'imageSmoothingQuality'
>;

/**
 * Whoever knows what of a panel the level covers: gives a canvas of its own to paint the panel on, or nothing where it is seen
 * whole; and lays that over the picture, less what is covered.
 */
export interface CanvasPanels {
  begin(panel: PanelItem): Context | null;
  end(element: string): void;
}

/** Decoded pictures by the hash of their bytes; undefined: not there yet. */
export type CanvasPictures = (hash: string) => Source | undefined;

// Outlines are built once for each block of text and drawn at any size.
const paths = new WeakMap<TextBlock | Letter, Path2D>();

function pathOf(of: TextBlock | Letter): Path2D {
  let path = paths.get(of);
  if (!path) paths.set(of, (path = outline(of)));
  return path;
}

function outline({ ops, coords }: { ops: Uint8Array; coords: Float64Array }): Path2D {
  const path = new Path2D();
  let k = 0;
  const next = () => coords[k++] as number;
  for (const op of ops) {
    if (op === PATH_MOVE) path.moveTo(next(), next());
    else if (op === PATH_LINE) path.lineTo(next(), next());
    else if (op === PATH_CUBIC) path.bezierCurveTo(next(), next(), next(), next(), next(), next());
    else if (op === PATH_CLOSE) path.closePath();
    else path.quadraticCurveTo(next(), next(), next(), next());
  }
  return path;
}

type Matrix = PushItem['matrix'];
/** `first` after `then`: what is painted goes through `then`, then through `first`. */
const times = (first: Matrix, then: Matrix): Matrix => [
  first[0] * then[0] + first[2] * then[1],
  first[1] * then[0] + first[3] * then[1],
  first[0] * then[2] + first[2] * then[3],
  first[1] * then[2] + first[3] * then[3],
  first[0] * then[4] + first[2] * then[5] + first[4],
  first[1] * then[4] + first[3] * then[5] + first[5],
];

/** How texts are painted: filled from their outlines, or copied from pictures of them, for what moves or for what rests. */
export type Texts = 'filled' | 'moving' | 'resting';

const COPIES: Record<Texts, Copies | null> = {
  filled: null,
  moving: new Copies(paintText, paintLetter, false),
  resting: new Copies(paintText, paintLetter, true),
};

/** The matrices that a list's items are under, item by item. */
function matricesOf(scale: number): (item: DrawItem) => Matrix {
  const stack: Matrix[] = [[scale, 0, 0, scale, 0, 0]];
  return (item) => {
    const matrix = stack.at(-1) as Matrix;
    if (item.kind === 'push') stack.push(times(matrix, item.matrix));
    else if (item.kind === 'pop') stack.pop();
    return matrix;
  };
}

/** A text that stands upright and as wide as high is copied from a picture. */
function copied(item: TextItem, [a, b, c, d, e, f]: Matrix): Copied | null {
  return b === 0 && c === 0 && a === d && a > 0 ? { item, scale: a, x: a * item.x + e, y: a * item.y + f } : null;
}

/** Seen more aslant than this, larger one way than the other, a picture would be left with too few of its texels. */
const MOST_SLANT = 1.8;

/** One on a panel is copied while it moves: at rest it is filled at the canvas's own pixels. */
function copiedOnPanel({ text: item, map }: WrittenText, scale: number): Copied | null {
  // The canvas's pixels instead of the view's.
  const scaled = map.slice(0, 9);
  for (let k = 0; k < 6; k++) scaled[k] = (scaled[k] as number) * scale;
  const { widthEm, heightEm } = item.block;
  let most = 0;
  for (const x of [0, widthEm])
    for (const y of [0, heightEm]) {
      const { best, worst } = localScale(scaled, 0, x, y);
      if (best > MOST_SLANT * worst) return null;
      most = Math.max(most, best);
    }
  return { item, scale: most / item.emPx, x: 0, y: 0, map: scaled };
}

/** What of a list is copied from pictures. */
function copyOf(item: DrawItem, matrix: Matrix, scale: number, texts: Texts): Copied | null {
  if (item.kind === 'text') return copied(item, matrix);
  return item.kind === 'shape' && item.written && texts === 'moving' ? copiedOnPanel(item.written, scale) : null;
}

function* copiedOf(list: DrawList, scale: number, texts: Texts): Generator<Copied> {
  const matrixOf = matricesOf(scale);
  for (const item of list.items) {
    const copy = copyOf(item, matrixOf(item), scale, texts);
    if (copy) yield copy;
  }
}

/** Makes ready what is copied of a list, a part at a time: for about so long, milliseconds. The function says whether all is there. */
export function readyTexts(list: DrawList, scale: number, texts: Texts): (forMs: number) => boolean {
  const copies = COPIES[texts];
  const each = copiedOf(list, scale, texts);
  return (forMs) => copies?.make(each, forMs) ?? true;
}

/**
 * @param scale canvas pixels for one pixel of the draw list, for a picture that is drawn reduced.
 * The canvas must have been cleared by the caller.
 */
export function paintCanvas(
  whole: Context,
  list: DrawList,
  scale = 1,
  pictures: CanvasPictures = () => undefined,
  panels: CanvasPanels | null = null,
  texts: Texts = 'filled',
): void {
  let context = whole;
  const copies = COPIES[texts];
  copies?.make(copiedOf(list, scale, texts));
  const matrixOf = matricesOf(scale);
  let laid: WrittenText | undefined;
  for (const item of list.items) {
    const matrix = matrixOf(item);
    if (item.kind === 'panel') context = (panels?.begin(item) as Context | undefined) ?? whole;
    else if (item.kind === 'endPanel') {
      context = whole;
      panels?.end(item.element);
    } else if (item.kind !== 'push' && item.kind !== 'pop') {
      context.globalAlpha = 'opacity' in item ? item.opacity : 1;
      context.setTransform(...matrix);
      if (item.kind === 'screen') paintScreen(context, item);
      else if (item.kind === 'picture') paintPicture(context, item, scale, pictures);
      else {
        const written = item.kind === 'shape' ? item.written : undefined;
        // The picture of a text has its outline, too.
        if (written && written === laid) continue;
        const copy = copies && copyOf(item, matrix, scale, texts);
        if (!copy || !copies.copy(context, copy)) paintItem(context, item);
        else laid = written;
      }
    }
  }
  whole.globalAlpha = 1;
  whole.setTransform(1, 0, 0, 1, 0, 0);
  copies?.tidy();
}

type Source = CanvasImageSource & { width: number; height: number };
// A picture in other colours is made once for each: filters are slow where there is no graphics card.
const coloured = new WeakMap<object, Map<string, OffscreenCanvas>>();

function colouredPicture(picture: Source, tint: string | null, saturation: number): CanvasImageSource {
  let known = coloured.get(picture);
  if (!known) coloured.set(picture, (known = new Map()));
  const key = `${tint} ${saturation}`;
  const there = known.get(key);
  if (there) return there;
  const made = new OffscreenCanvas(Math.max(1, picture.width), Math.max(1, picture.height));
  const context = made.getContext('2d');
  if (!context) return picture;
  context.filter = saturation === 1 ? 'none' : `saturate(${saturation})`;
  context.drawImage(picture, 0, 0, made.width, made.height);
  context.filter = 'none';
  if (tint) {
    context.globalCompositeOperation = 'multiply';
    context.fillStyle = tint;
    context.fillRect(0, 0, made.width, made.height);
    // The colour fills what was transparent, too: only the picture's own shape is kept.
    context.globalCompositeOperation = 'destination-in';
    context.drawImage(picture, 0, 0, made.width, made.height);
  }
  known.set(key, made);
  return made;
}

/** So many pixels of a picture for one that is painted. */
const MUCH = 2;

function paintPicture(context: Context, item: PictureItem, scale: number, pictures: CanvasPictures): void {
  const picture = pictures(item.picture);
  if (!picture) return;
  // A drawing without pixels of its own comes at whatever size it was decoded at.
  const [kx, ky] = [picture.width / item.size[0], picture.height / item.size[1]];
  const [sx, sy, sw, sh] = item.from;
  const source = item.tint || item.saturation !== 1 ? colouredPicture(picture, item.tint, item.saturation) : picture;
  if (item.blurPx > 0) context.filter = `blur(${item.blurPx * scale}px)`;
  // What is made much smaller would flicker from pixel to pixel.
  context.imageSmoothingQuality = item.mesh || sw * kx > MUCH * item.width * scale ? 'high' : 'low';
  if (item.mesh) paintMesh(context, source, item, kx, ky);
  else context.drawImage(source, sx * kx, sy * ky, sw * kx, sh * ky, item.x, item.y, item.width, item.height);
  if (item.blurPx > 0) context.filter = 'none';
}

/** So far clips of neighbouring triangles overlap, so that no seam shows, pixels. */
const OVERLAP_PX = 1.2;
/** Slivers do not grow beyond this. */
const MOST_GROWN = 3;

function paintMesh(context: Context, source: CanvasImageSource, item: PictureItem, kx: number, ky: number): void {
  for (const { corners, matrix } of meshTriangles(item, kx, ky)) {
    const [cx, cy] = [0, 1].map((axis) => corners.reduce((sum, corner) => sum + (corner[axis] as number) / 3, 0)) as [number, number];
    // The middle lies a third of each height from its side; so far each side is to move outward.
    const [[ax, ay], [bx, by], [dx, dy]] = corners as [[number, number], [number, number], [number, number]];
    const twice = Math.abs((bx - ax) * (dy - ay) - (by - ay) * (dx - ax));
    const longest = Math.max(Math.hypot(bx - ax, by - ay), Math.hypot(dx - bx, dy - by), Math.hypot(ax - dx, ay - dy));
    const grow = Math.min(MOST_GROWN, 1 + (3 * OVERLAP_PX * longest) / (twice || 1));
    context.save();
    context.beginPath();
    for (const [k, [x, y]] of corners.entries()) {
      if (k === 0) context.moveTo(cx + (x - cx) * grow, cy + (y - cy) * grow);
      else context.lineTo(cx + (x - cx) * grow, cy + (y - cy) * grow);
    }
    context.clip();
    context.transform(...matrix);
    context.drawImage(source, 0, 0);
    context.restore();
  }
}

/** How much farther red reaches than green, and green than blue, where the fringe is strongest: shares of the picture. */
const FRINGE = 0.012;

/** Paint over the whole canvas as it is so far. */
function paintScreen(context: Context, { effect, amount, colour }: ScreenItem): void {
  const { width, height } = context.canvas;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.globalAlpha = amount;
  if (effect === 'fringe') paintFringe(context, amount, width, height);
  else if (effect === 'vignette') {
    const reach = Math.hypot(width, height) / 2;
    const gradient = context.createRadialGradient(width / 2, height / 2, reach * 0.4, width / 2, height / 2, reach);
    gradient.addColorStop(0, `${colour.slice(0, 7)}00`);
    gradient.addColorStop(1, colour);
    context.fillStyle = gradient;
    context.fillRect(0, 0, width, height);
  } else {
    context.globalCompositeOperation = effect === 'desaturate' ? 'saturation' : 'multiply';
    context.fillStyle = effect === 'desaturate' ? '#808080' : colour;
    context.fillRect(0, 0, width, height);
    context.globalCompositeOperation = 'source-over';
  }
}

/** Red, green and blue apart, the more the farther from the middle. */
function paintFringe(context: Context, amount: number, width: number, height: number): void {
  const channel = new OffscreenCanvas(width, height);
  const own = channel.getContext('2d');
  const sum = new OffscreenCanvas(width, height);
  const out = sum.getContext('2d');
  if (!own || !out) return;
  out.globalCompositeOperation = 'lighter';
  for (const [k, colour] of ['#0000FF', '#00FF00', '#FF0000'].entries()) {
    own.globalCompositeOperation = 'copy';
    own.drawImage(context.canvas, 0, 0);
    own.globalCompositeOperation = 'multiply';
    own.fillStyle = colour;
    own.fillRect(0, 0, width, height);
    const grow = 1 + k * FRINGE * amount;
    out.drawImage(channel, (width * (1 - grow)) / 2, (height * (1 - grow)) / 2, width * grow, height * grow);
  }
  context.globalAlpha = 1;
  context.drawImage(sum, 0, 0);
}

type Plain = Exclude<DrawItem, { kind: 'picture' | 'screen' | 'push' | 'pop' | 'panel' | 'endPanel' }>;

function paintItem(context: Context, item: Plain): void {
  switch (item.kind) {
    case 'line':
      context.strokeStyle = item.colour;
      context.lineWidth = item.widthPx;
      context.lineCap = 'round';
      context.beginPath();
      context.moveTo(item.x1, item.y1);
      context.lineTo(item.x2, item.y2);
      context.stroke();
      return;
    case 'plate':
      context.beginPath();
      context.roundRect(item.x, item.y, item.width, item.height, item.radius);
      if (item.strokePx !== undefined) {
        context.strokeStyle = item.colour;
        context.lineWidth = item.strokePx;
        context.stroke();
      } else {
        context.fillStyle = item.colour;
        context.fill();
      }
      return;
    case 'arc': {
      // A canvas counts from the right; the list counts from the top.
      const [from, to] = [item.fromRad - Math.PI / 2, item.toRad - Math.PI / 2];
      context.strokeStyle = item.colour;
      context.lineWidth = item.widthPx;
      context.lineCap = 'butt';
      context.beginPath();
      context.arc(item.x, item.y, item.radius, from, to, to < from);
      context.stroke();
      return;
    }
    case 'shape': {
      const path = outline(item);
      if (item.strokePx === undefined) {
        context.fillStyle = item.colour;
        context.fill(path, item.evenOdd ? 'evenodd' : 'nonzero');
      } else {
        context.strokeStyle = item.colour;
        context.lineWidth = item.strokePx;
        context.lineJoin = 'round';
        context.stroke(path);
      }
      return;
    }
    case 'clip':
      context.save();
      if (item.path) {
        context.clip(outline(item.path));
        return;
      }
      context.beginPath();
      context.roundRect(item.x, item.y, item.width, item.height, item.radius);
      context.clip();
      return;
    case 'unclip':
      context.restore();
      return;
    case 'text':
      paintText(context, item);
  }
}

/** So many pixels an em in which the host's own font is set: at one, hinting would spoil it. */
const SET_PX = 64;

/** Lines that the host's own canvas measured, filled by it. */
function fillLines(context: CanvasRenderingContext2D, { block, outline, colour, emPx }: TextItem): void {
  context.font = (block.font as string).replace(' 1px ', ` ${SET_PX}px `);
  context.textBaseline = 'alphabetic';
  context.scale(1 / SET_PX, 1 / SET_PX);
  for (const stroked of outline ? [true, false] : [false])
    for (const { text, xEm, baselineEm } of block.lines) {
      if (stroked && outline) {
        context.strokeStyle = outline.colour;
        context.lineWidth = (2 * outline.widthPx * SET_PX) / emPx;
        context.lineJoin = 'round';
        context.strokeText(text, xEm * SET_PX, baselineEm * SET_PX);
      } else {
        context.fillStyle = colour;
        context.fillText(text, xEm * SET_PX, baselineEm * SET_PX);
      }
    }
}

/** From its outlines. */
function paintText(
  context: Pick<Context, 'transform' | 'stroke' | 'fill' | 'strokeStyle' | 'fillStyle' | 'lineWidth' | 'lineJoin'>,
  item: TextItem,
): void {
  context.transform(item.emPx, 0, 0, item.emPx, item.x, item.y);
  if (item.block.font !== undefined) {
    fillLines(context as CanvasRenderingContext2D, item);
    return;
  }
  const path = pathOf(item.block);
  if (item.outline) {
    // Half of the stroke lies under the letter.
    context.strokeStyle = item.outline.colour;
    context.lineWidth = (2 * item.outline.widthPx) / item.emPx;
    context.lineJoin = 'round';
    context.stroke(path);
  }
  context.fillStyle = item.colour;
  context.fill(path);
}

/** A letter alone, in black, through a matrix from em to pixels. @param outlineEm where it is more than 0, a stroke about its outline. */
function paintLetter(context: OffscreenCanvasRenderingContext2D, letter: Letter, outlineEm: number): void {
  const { unitsPerEm } = letter;
  context.scale(1 / unitsPerEm, -1 / unitsPerEm);
  if (outlineEm > 0) {
    context.lineWidth = 2 * outlineEm * unitsPerEm;
    context.lineJoin = 'round';
    context.stroke(pathOf(letter));
  } else context.fill(pathOf(letter));
}
