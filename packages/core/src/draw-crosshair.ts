/** Crosshairs as items of the draw list: strokes about a middle, each with a wider one of the opposite tone behind it. */
import type { Crosshair, CrosshairAim } from '@foreshore/document/types';
import { AimState } from './crosshair-aim.ts';
import { type DrawItem, pushStrike, type Rect } from './draw-items.ts';
import { PLAIN, pushPicture } from './draw-picture.ts';
import { At, placeOf } from './frame.ts';
import { GaugeState } from './gauges.ts';
import type { SolveContext } from './solve-context.ts';
import type { Projection } from './spaces/lens.ts';

/** Half of its opening while it is closed, design pixels: where its arms begin, or the middle of its ring's stroke. */
export const closedGapPx = ({ form, sizePx, armPx, thickPx }: Crosshair): number =>
  form === 'ring' ? (sizePx - thickPx) / 2 : sizePx / 2 - armPx;

/**
 * Half of its opening, pixels of the viewer: from the middle to the inner ends of its arms, or to its ring.
 * By angle: focal length times the tangent of half the cone, as a cone about the view's axis meets the picture there; an
 * orthographic lens has no angles, and it stays closed.
 * @param share 0: closed, 1: fully open. @param unit pixels of the viewer for one design pixel.
 */
export function crosshairGap(
  crosshair: Crosshair,
  share: number,
  projection: Pick<Projection, 'focalY' | 'orthographic'>,
  unit: number,
): number {
  const closed = closedGapPx(crosshair) * unit;
  const { opening } = crosshair;
  if (opening.by === 'screen') return closed + opening.px * share * unit;
  return crosshair.source === null || projection.orthographic
    ? closed
    : projection.focalY * Math.tan((opening.deg * share * Math.PI) / 360);
}

type Stroke = [x1: number, y1: number, x2: number, y2: number];

/** Straight strokes from the middle outwards, by form. */
function strokesOf({ form, arms, armPx }: Crosshair, gap: number, unit: number): Stroke[] {
  const arm = armPx * unit;
  if (form === 'arms')
    return Array.from({ length: arms }, (_, k): Stroke => {
      const [x, y] = [Math.sin((2 * Math.PI * k) / arms), -Math.cos((2 * Math.PI * k) / arms)];
      return [x * gap, y * gap, x * (gap + arm), y * (gap + arm)];
    });
  if (form === 'ring' || form === 'pictures') return [];
  const far = gap + arm;
  return [-1, 1].flatMap((x) =>
    [-1, 1].flatMap((y): Stroke[] => [
      [x * far, y * far, x * gap, y * far],
      [x * far, y * far, x * far, y * gap],
    ]),
  );
}

const LOOKS: Record<AimState, keyof CrosshairAim['looks'] | null> = {
  [AimState.Nothing]: null,
  [AimState.Reachable]: 'reachable',
  [AimState.Far]: 'far',
  [AimState.Blocked]: 'blocked',
};

/** A crosshair as it looks while it is aimed at something: a colour of its own, another form. */
function asAimed({ c, f }: SolveContext, row: number, crosshair: Crosshair): Crosshair {
  const look = crosshair.aim && LOOKS[f.aimState[c.aims.indexOf(row)] as AimState];
  if (!crosshair.aim || !look) return crosshair;
  const { form, colour } = crosshair.aim.looks[look];
  return { ...crosshair, form: form ?? crosshair.form, paint: { ...crosshair.paint, colour: colour ?? crosshair.paint.colour } };
}

export function drawCrosshair(
  items: DrawItem[],
  ctx: SolveContext,
  row: number,
  base: Crosshair,
  rect: Rect,
  unit: number,
  opacity: number,
): void {
  const { a, c, f } = ctx;
  const crosshair = asAimed(ctx, row, base);
  const { form, thickPx, dotPx, source, paint } = crosshair;
  const element = c.ids[row] as string;
  const g = c.gauges.indexOf(row);
  const [x, y] = [rect[0] + rect[2] / 2, rect[1] + rect[3] / 2];
  const gap = crosshairGap(crosshair, f.gaugeShare[g] as number, a.projection, unit);
  const strokes = strokesOf(crosshair, gap, unit);
  if (form === 'pictures') {
    const tint = paint.colour === base.paint.colour ? null : paint.colour;
    if (!drawParts(items, ctx, element, crosshair, [x, y], gap, unit, { ...PLAIN, tint, opacity }))
      pushStrike(items, element, rect, thickPx * unit, paint.colour, opacity);
  }
  const layer = (colour: string, more: number) => {
    const widthPx = thickPx * unit + 2 * more;
    for (const [x1, y1, x2, y2] of strokes) {
      const long = Math.hypot(x2 - x1, y2 - y1) || 1;
      const [ex, ey] = [((x2 - x1) / long) * more, ((y2 - y1) / long) * more];
      items.push({ kind: 'line', element, x1: x + x1 - ex, y1: y + y1 - ey, x2: x + x2 + ex, y2: y + y2 + ey, widthPx, colour, opacity });
    }
    if (form === 'ring') items.push({ kind: 'arc', element, x, y, radius: gap, widthPx, fromRad: 0, toRad: 2 * Math.PI, colour, opacity });
    const dot = dotPx > 0 ? dotPx * unit + 2 * more : 0;
    if (dot > 0)
      items.push({ kind: 'plate', element, x: x - dot / 2, y: y - dot / 2, width: dot, height: dot, radius: dot / 2, colour, opacity });
  };
  if (form !== 'pictures') {
    if (paint.outline) layer(paint.outline.colour, paint.outline.widthPx * unit);
    layer(paint.colour, 0);
  }
  drawToolMark(items, ctx, row, crosshair, unit, opacity);
  // A feed without a number must not look like one that keeps it closed.
  const state = f.gaugeState[g] as GaugeState;
  if (source !== null && (state === GaugeState.Missing || state === GaugeState.NotNumber))
    pushStrike(items, element, rect, thickPx * unit, paint.colour, opacity);
}

/** Pictures in the places of arms and dot. @returns whether there is any. */
function drawParts(
  items: DrawItem[],
  { c }: SolveContext,
  element: string,
  { arms, armPx, dotPx, pictures }: Crosshair,
  [x, y]: readonly [number, number],
  gap: number,
  unit: number,
  paint: typeof PLAIN,
): boolean {
  const file = (id: string | null | undefined) => c.document.pictures?.[id ?? ''];
  const [arm, middle] = [file(pictures?.arm), file(pictures?.middle)];
  if (arm) {
    const long = armPx * unit;
    const wide = (long * arm.widthPx) / arm.heightPx;
    for (let k = 0; k < arms; k++) {
      const [cos, sin] = [Math.cos((2 * Math.PI * k) / arms), Math.sin((2 * Math.PI * k) / arms)];
      items.push({ kind: 'push', element, matrix: [cos, sin, -sin, cos, x - cos * x + sin * y, y - sin * x - cos * y] });
      pushPicture(items, element, arm, [x - wide / 2, y - gap - long, wide, long], paint);
      items.push({ kind: 'pop', element });
    }
  }
  if (middle && dotPx > 0) {
    const high = dotPx * unit;
    const wide = (high * middle.widthPx) / middle.heightPx;
    pushPicture(items, element, middle, [x - wide / 2, y - high / 2, wide, high], paint);
  }
  return arm !== undefined || (middle !== undefined && dotPx > 0);
}

/** A cross where the tool's own ray stops. What lies on a panel, as the HUD does in a headset, has none: it is in the picture, not on the panel. */
function drawToolMark(
  items: DrawItem[],
  { a, c, f }: SolveContext,
  row: number,
  { aim, paint }: Crosshair,
  unit: number,
  opacity: number,
): void {
  const k = c.aims.indexOf(row);
  if (k < 0 || !aim?.tool || Number.isNaN(f.toolStops[k * 3] as number) || (c.panelOf[row] as number) >= 0) return;
  const at = (i: number): number => (f.toolStops[k * 3 + i] as number) - (f.eye[i] as number);
  const along = (axis: number): number => [0, 1, 2].reduce((sum, i) => sum + (f.rotation[axis * 3 + i] as number) * at(i), 0);
  const { centreX, centreY, focalX, focalY, nearM, orthographic } = a.projection;
  const depth = -along(2);
  if (depth < nearM) return;
  const by = orthographic ? 1 : depth;
  const [x, y] = [centreX + (focalX * along(0)) / by, centreY - (focalY * along(1)) / by];
  const half = (aim.tool.mark.sizePx * unit) / 2;
  const element = c.ids[row] as string;
  const stroke = (widthPx: number, colour: string, more: number): void => {
    for (const side of [-1, 1]) {
      const [dx, dy] = [(half + more) * Math.SQRT1_2, side * (half + more) * Math.SQRT1_2];
      items.push({ kind: 'line', element, x1: x - dx, y1: y - dy, x2: x + dx, y2: y + dy, widthPx, colour, opacity });
    }
  };
  const widthPx = aim.tool.mark.sizePx * unit * 0.16;
  if (paint.outline) stroke(widthPx + 2 * paint.outline.widthPx * unit, paint.outline.colour, paint.outline.widthPx * unit);
  stroke(widthPx, aim.tool.mark.colour, 0);
}

/** Points along each stroke, and round a ring. */
const ALONG = 3;
const ROUND = 12;

/** A crosshair's strokes as they are drawn (none of pictures): their colour and their outline's, and points spread along them, in the pixels that it is placed in. */
export function strokesNow(ctx: SolveContext, row: number): { colour: string; outline: string | null; points: [number, number][] } {
  const { a, c, f } = ctx;
  const crosshair = asAimed(ctx, row, c.elements[row] as Crosshair);
  const [left, top, width, height] = placeOf(f, row).rect;
  const [x, y] = [left + width / 2, top + height / 2];
  const unit = (f.places[row * At.Stride + At.UnitPx] as number) || 1;
  const gap = crosshairGap(crosshair, f.gaugeShare[c.gauges.indexOf(row)] as number, a.projection, unit);
  const points = strokesOf(crosshair, gap, unit).flatMap(([x1, y1, x2, y2]) =>
    Array.from({ length: ALONG }, (_, k): [number, number] => {
      const t = (k + 0.5) / ALONG;
      return [x + x1 + t * (x2 - x1), y + y1 + t * (y2 - y1)];
    }),
  );
  if (crosshair.form === 'ring')
    for (let k = 0; k < ROUND; k++) {
      const rad = (2 * Math.PI * k) / ROUND;
      points.push([x + Math.sin(rad) * gap, y - Math.cos(rad) * gap]);
    }
  if (crosshair.dotPx > 0 && crosshair.form !== 'pictures') points.push([x, y]);
  return { colour: crosshair.paint.colour, outline: crosshair.paint.outline?.colour ?? null, points };
}
