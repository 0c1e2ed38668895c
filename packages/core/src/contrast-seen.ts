/** How well texts and crosshairs stand out from what is really behind them in a frame: the level, and the plates that lie over it. WCAG 2.2, 1.4.3. */
import type { Label } from '@foreshore/document/types';
import { contrastRatio, type Ink, leastContrastOf, luminance, over, type Rgb } from './contrast.ts';
import { strokesNow } from './draw-crosshair.ts';
import { opacityOf } from './draw-list.ts';
import { mapAt, placeOf } from './frame.ts';
import { styleOf } from './pointer.ts';
import type { SolveContext } from './solve-context.ts';
import { screenPoint } from './spaces/panel.ts';

/** Points across a box at which the backdrop is asked for: columns and rows. */
const COLUMNS = 6;
const ROWS = 4;
const origin: [number, number, number] = [0, 0, 0];
const direction: [number, number, number] = [0, 0, 0];
const seen: [number, number, number] = [0, 0, 0];

interface Inks {
  letters: Ink;
  plates: Ink[];
  outline: Ink | null;
}
/** What a label's letters are painted with in the frame, the plates under them, the outermost first, and their outline. */
function inksOf(ctx: SolveContext, row: number): Inks {
  const { c } = ctx;
  const { paint } = c.elements[row] as Label;
  const plates: Ink[] = [];
  for (let at = row; at >= 0; at = c.parent[at] as number) {
    const element = c.elements[at];
    if ((element?.kind === 'label' || element?.kind === 'group') && element.paint.plate)
      plates.unshift({ colour: styleOf(ctx, at).plate ?? element.paint.plate.colour, opacity: opacityOf(ctx, at) });
  }
  const opacity = opacityOf(ctx, row);
  return {
    letters: { colour: styleOf(ctx, row).text ?? paint.colour, opacity },
    plates,
    outline: paint.outline && { colour: paint.outline.colour, opacity },
  };
}

const isSameInk = (p: Ink | null, q: Ink | null): boolean =>
  p === q || (p !== null && q !== null && p.colour === q.colour && p.opacity === q.opacity);
const isSameInks = (p: Inks, q: Inks): boolean =>
  isSameInk(p.letters, q.letters) &&
  isSameInk(p.outline, q.outline) &&
  p.plates.length === q.plates.length &&
  p.plates.every((plate, k) => isSameInk(plate, q.plates[k] as Ink));

/** Of each row, what it was painted with last, and the contrast that it surely had: most keep their colours over a route. */
const lastInks = new WeakMap<SolveContext['a'], { inks: Inks; contrast: number }[]>();
function surelyOf({ a }: SolveContext, row: number, inks: Inks): number {
  let rows = lastInks.get(a);
  if (!rows) lastInks.set(a, (rows = []));
  const last = rows[row];
  if (last && isSameInks(last.inks, inks)) return last.contrast;
  const contrast = leastContrastOf(inks.letters, inks.plates, inks.outline);
  rows[row] = { inks, contrast };
  return contrast;
}

/**
 * Contrast of a text with what is really behind it: the level's colour along the ray of each of 24 points, with the plates of
 * the text and of the groups around it laid over. The third worst of the 24 is its worst tenth.
 */
function contrastBehind(ctx: SolveContext, row: number, inks: Inks): number {
  const [x, y, w, h] = placeOf(ctx.f, row).rect;
  const points: [number, number][] = [];
  for (let j = 0; j < ROWS; j++) for (let k = 0; k < COLUMNS; k++) points.push([x + ((k + 0.5) / COLUMNS) * w, y + ((j + 0.5) / ROWS) * h]);
  return contrastAt(ctx, row, inks, points);
}

/**
 * Contrast of a text with what is behind it.
 * @param needed where it surely has as much, whatever is behind it, no ray is cast to know more.
 */
export function contrastOfText(ctx: SolveContext, row: number, needed: number): number {
  const inks = inksOf(ctx, row);
  const surely = surelyOf(ctx, row, inks);
  return surely >= needed ? surely : contrastBehind(ctx, row, inks);
}

/** Contrast with what is behind it of a crosshair, at its strokes as they are drawn. */
export function strokeContrast(ctx: SolveContext, row: number): number {
  const { colour, outline, points } = strokesNow(ctx, row);
  const opacity = opacityOf(ctx, row);
  const letters = { colour: styleOf(ctx, row).text ?? colour, opacity };
  return contrastAt(ctx, row, { letters, plates: [], outline: outline === null ? null : { colour: outline, opacity } }, points);
}

/** The worst tenth of the contrasts with what is really behind some points, in the pixels that the row is placed in. */
function contrastAt(
  ctx: SolveContext,
  row: number,
  { letters, plates, outline }: Inks,
  points: readonly (readonly [number, number])[],
): number {
  const { c, f, a } = ctx;
  const { centreX, centreY, focalX, focalY, orthographic } = a.projection;
  const { rotation, eye } = f;
  const panel = c.panelOf[row] as number;
  const map = panel < 0 ? -1 : mapAt(f, panel);
  const ratios: number[] = [];
  for (const [px, py] of points) {
    const [sx, sy] = map < 0 ? [px, py] : screenPoint(f.maps, map, px, py, a.projection.nearM);
    // What of a panel lies behind the near plane is not seen.
    if (Number.isNaN(sx)) continue;
    const u = (sx - centreX) / focalX;
    const v = (centreY - sy) / focalY;
    const length = orthographic ? 1 : Math.hypot(u, v, 1);
    for (let axis = 0; axis < 3; axis++) {
      // The rows of the rotation are the camera's own axes in the world.
      const [right, up, back] = [rotation[axis] as number, rotation[3 + axis] as number, rotation[6 + axis] as number];
      direction[axis] = orthographic ? -back : (u * right + v * up - back) / length;
      origin[axis] = (eye[axis] as number) + (orthographic ? u * right + v * up : 0);
    }
    c.level?.colourAt(origin, direction, seen);
    let ground: Rgb = c.level ? [seen[0] / 255, seen[1] / 255, seen[2] / 255] : [0.5, 0.5, 0.5];
    for (const plate of plates) ground = over(plate.colour, plate.opacity, ground);
    const ink = luminance(over(letters.colour, letters.opacity, ground));
    const plain = contrastRatio(ink, luminance(ground));
    ratios.push(outline ? Math.max(plain, contrastRatio(ink, luminance(over(outline.colour, outline.opacity, ground)))) : plain);
  }
  return ratios.sort((p, q) => p - q)[Math.floor(ratios.length / 10)] ?? Number.POSITIVE_INFINITY;
}
