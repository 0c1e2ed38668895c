/** Pictures as items of the draw list: fitted into a box, filling it, stretched, or in nine parts. */
import type { Document, PageElement, Picture } from '@foreshore/document/types';
import type { DrawItem, PictureItem, Rect } from './draw-items.ts';

type PicturePaint = Pick<PictureItem, 'tint' | 'saturation' | 'blurPx' | 'opacity'>;
export const PLAIN: PicturePaint = { tint: null, saturation: 1, blurPx: 0, opacity: 1 };

/** One piece of a picture into a box; nothing where either is empty. @param from in the picture's pixels; without it, the whole. */
export function pushPicture(
  items: DrawItem[],
  element: string,
  file: NonNullable<Document['pictures']>[string],
  box: Rect,
  paint: PicturePaint,
  from?: Rect,
): void {
  const [x, y, width, height] = box;
  const part = from ?? [0, 0, file.widthPx, file.heightPx];
  if (!(width > 0 && height > 0 && part[2] > 0 && part[3] > 0)) return;
  items.push({
    kind: 'picture',
    element,
    picture: file.hash,
    size: [file.widthPx, file.heightPx],
    from: part,
    x,
    y,
    width,
    height,
    ...paint,
  });
}

/** The largest box of a picture's shape inside another, in its middle. */
export function contained(widthPx: number, heightPx: number, [x, y, w, h]: Rect): Rect {
  const scale = Math.min(w / widthPx, h / heightPx);
  return [x + (w - widthPx * scale) / 2, y + (h - heightPx * scale) / 2, widthPx * scale, heightPx * scale];
}

/** The part of a picture, in its own pixels, that fills a box of another shape. */
export function covering(widthPx: number, heightPx: number, w: number, h: number): Rect {
  const scale = Math.max(w / widthPx, h / heightPx);
  const [pw, ph] = [w / scale, h / scale];
  return [(widthPx - pw) / 2, (heightPx - ph) / 2, pw, ph];
}

/** Where the lines between corners and middle lie, from one end to the other; corners that have no room shrink together. */
function cuts(length: number, first: number, last: number): [number, number, number, number] {
  const share = Math.min(1, length / Math.max(first + last, 1e-9));
  return [0, first * share, length - last * share, length];
}

/** How a page lies in its box: whole, with its shape. */
const PAGE = { fill: 'contain', beyondPx: [0, 0, 0, 0], cornersPx: [0, 0, 0, 0], cornerScale: 1 } as const;

/** A page, as a picture of itself, which whoever paints has. */
export function drawPage(
  items: DrawItem[],
  element: string,
  { paint }: PageElement,
  file: NonNullable<Document['pictures']>[string] | undefined,
  rect: Rect,
  unit: number,
  opacity: number,
): void {
  drawPicture(items, element, { ...PAGE, paint: { ...paint, ...PLAIN } }, file, rect, unit, opacity);
}

/** @param unit pixels of the viewer for one design pixel. */
export function drawPicture(
  items: DrawItem[],
  element: string,
  picture: Pick<Picture, 'paint'> &
    Readonly<Pick<Picture, 'fill' | 'cornerScale'>> & {
      readonly [K in 'beyondPx' | 'cornersPx']: readonly [number, number, number, number];
    },
  file: NonNullable<Document['pictures']>[string] | undefined,
  rect: Rect,
  unit: number,
  opacity: number,
): void {
  const [l, t, r, b] = picture.beyondPx.map((v) => v * unit) as Rect;
  const box: Rect = [rect[0] - l, rect[1] - t, rect[2] + l + r, rect[3] + t + b];
  const { tint, saturation, blurPx, radiusPx } = picture.paint;
  const [x, y, width, height] = box;
  // None chosen, or gone: a crossed frame, never nothing.
  if (!file) {
    const line = { kind: 'line' as const, element, widthPx: 1.5 * unit, colour: '#7C8490', opacity };
    items.push({ kind: 'plate', element, x, y, width, height, radius: 0, colour: '#7C8490', opacity, strokePx: 1.5 * unit });
    items.push({ ...line, x1: x, y1: y, x2: x + width, y2: y + height }, { ...line, x1: x, y1: y + height, x2: x + width, y2: y });
    return;
  }
  const looks = { tint, saturation, blurPx: blurPx * unit, opacity };
  if (radiusPx > 0) items.push({ kind: 'clip', element, x, y, width, height, radius: radiusPx * unit });
  if (picture.fill === 'stretch') pushPicture(items, element, file, box, looks);
  else if (picture.fill === 'contain') pushPicture(items, element, file, contained(file.widthPx, file.heightPx, box), looks);
  else if (picture.fill === 'cover') pushPicture(items, element, file, box, looks, covering(file.widthPx, file.heightPx, width, height));
  else {
    const [cl, ct, cr, cb] = picture.cornersPx;
    const scale = picture.cornerScale * unit;
    const fromX = cuts(file.widthPx, cl, cr);
    const fromY = cuts(file.heightPx, ct, cb);
    const toX = cuts(width, cl * scale, cr * scale);
    const toY = cuts(height, ct * scale, cb * scale);
    for (let row = 0; row < 3; row++)
      for (let column = 0; column < 3; column++) {
        const at = (cut: readonly number[], k: number): [number, number] => [cut[k] as number, (cut[k + 1] as number) - (cut[k] as number)];
        const [dx, dw] = at(toX, column);
        const [dy, dh] = at(toY, row);
        const [sx, sw] = at(fromX, column);
        const [sy, sh] = at(fromY, row);
        pushPicture(items, element, file, [x + dx, y + dy, dw, dh], looks, [sx, sy, sw, sh]);
      }
  }
  if (radiusPx > 0) items.push({ kind: 'unclip', element });
}
