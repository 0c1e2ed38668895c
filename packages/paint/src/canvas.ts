/** Paints a draw list on a 2D canvas. */
import { type DrawItem, type DrawList, PATH_CLOSE, PATH_CUBIC, PATH_LINE, PATH_MOVE, type TextBlock } from '@foreshore/core';

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
>;

// Outlines are built once for each block of text and drawn at any size.
const paths = new WeakMap<TextBlock, Path2D>();

function pathOf(block: TextBlock): Path2D {
  let path = paths.get(block);
  if (path) return path;
  path = new Path2D();
  const { ops, coords } = block;
  let k = 0;
  const next = () => coords[k++] as number;
  for (const op of ops) {
    if (op === PATH_MOVE) path.moveTo(next(), next());
    else if (op === PATH_LINE) path.lineTo(next(), next());
    else if (op === PATH_CUBIC) path.bezierCurveTo(next(), next(), next(), next(), next(), next());
    else if (op === PATH_CLOSE) path.closePath();
    else path.quadraticCurveTo(next(), next(), next(), next());
  }
  paths.set(block, path);
  return path;
}

/**
 * @param scale canvas pixels for one pixel of the draw list, for a picture that is drawn reduced.
 * The canvas must have been cleared by the caller.
 */
export function paintCanvas(context: Context, list: DrawList, scale = 1): void {
  for (const item of list.items) {
    if ('opacity' in item) context.globalAlpha = item.opacity;
    paintItem(context, item, scale);
  }
  context.globalAlpha = 1;
  context.setTransform(1, 0, 0, 1, 0, 0);
}

function paintItem(context: Context, item: DrawItem, scale: number): void {
  context.setTransform(scale, 0, 0, scale, 0, 0);
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
    case 'clip':
      context.save();
      context.beginPath();
      context.roundRect(item.x, item.y, item.width, item.height, item.radius);
      context.clip();
      return;
    case 'unclip':
      context.restore();
      return;
    case 'text': {
      const path = pathOf(item.block);
      context.setTransform(item.emPx * scale, 0, 0, item.emPx * scale, item.x * scale, item.y * scale);
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
  }
}
