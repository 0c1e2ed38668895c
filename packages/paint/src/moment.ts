/** A picture of one solved frame by itself, in a browser or not: the level as rays see it, coarsely; what is painted over it; and a frame about some of it. */
import {
  drawList,
  freeOfLevel,
  type PanelItem,
  type Pose,
  type SolveContext,
  screenBox,
  screenOutline,
  screenRay,
  type Vec3,
  Verdict,
} from '@foreshore/core';
import { paintSvg, type SvgPictures } from './svg.ts';

/** The level is seen by so many rays along the picture's width: enough to know it again. */
const COLUMNS = 96;
const MARK = '#C8321F';

/**
 * As SVG, in the viewer's own pixels.
 * @param pose of the head. The level must stand as it was when the frame was solved.
 * @param rows that a frame is drawn about.
 */
export function momentSvg(solver: SolveContext, pose: Pose, rows: readonly number[], pictures: SvgPictures = () => undefined): string {
  const { widthPx, heightPx } = solver.a.projection;
  const free = (panel: PanelItem) => (panel.through ? null : freeOfLevel(solver, solver.c.ids.indexOf(panel.element)));
  const painted = paintSvg(drawList(solver), pictures, free);
  const whole = `width="${widthPx}" height="${heightPx}"`;
  const line = Math.max(2, widthPx / 160);
  const frames = rows.map((row) => frameAbout(solver, row, line)).join('');
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${widthPx} ${heightPx}" ${whole}>` +
    `<image href="${backdrop(solver, pose)}" ${whole} preserveAspectRatio="none"/>${painted}${frames}</svg>`
  );
}

/** Rows of an element that are shown in a frame. */
export const rowsShown = ({ c, f }: SolveContext, element: string): number[] =>
  c.sources.flatMap((source, row) => (source === element && f.failed[row] === Verdict.Shown ? [row] : []));

function frameAbout(solver: SolveContext, row: number, line: number): string {
  const { widthPx, heightPx } = solver.a.projection;
  const panel = solver.c.panelOf[row] as number;
  const outline = panel >= 0 ? screenOutline(solver, row) : null;
  const draw = (d: string) =>
    `<path d="${d}" fill="none" stroke="#fff" stroke-width="${line * 2}"/><path d="${d}" fill="none" stroke="${MARK}" stroke-width="${line}"/>`;
  const path = (points: readonly (readonly [number, number])[]) =>
    `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z`;
  if (outline && outline.length >= 6)
    return draw(
      path(Array.from({ length: outline.length / 2 }, (_, k) => [outline[k * 2] as number, outline[k * 2 + 1] as number] as const)),
    );
  const [x, y, w, h] = screenBox(solver, row);
  if (![x, y, w, h].every(Number.isFinite)) return '';
  // What is cut off is marked along the edge, where it can be seen.
  const [left, top] = [Math.max(line, x - line * 2), Math.max(line, y - line * 2)];
  const [right, bottom] = [Math.min(widthPx - line, x + w + line * 2), Math.min(heightPx - line, y + h + line * 2)];
  if (right <= left || bottom <= top) return '';
  return draw(
    path([
      [left, top],
      [right, top],
      [right, bottom],
      [left, bottom],
    ]),
  );
}

/** The level as rays see it, as an address of a bitmap. */
function backdrop(solver: SolveContext, pose: Pose): string {
  const { projection } = solver.a;
  const { level } = solver.c;
  const columns = COLUMNS;
  const lines = Math.max(1, Math.round((columns * projection.heightPx) / projection.widthPx));
  const colours = new Uint8Array(columns * lines * 3);
  const seen: Vec3 = [176, 196, 204];
  for (let j = 0; j < lines; j++)
    for (let i = 0; i < columns; i++) {
      if (level) {
        const ray = screenRay(projection, pose, ((i + 0.5) / columns) * projection.widthPx, ((j + 0.5) / lines) * projection.heightPx);
        level.colourAt(ray.origin, ray.direction, seen);
      }
      for (let k = 0; k < 3; k++) colours[(j * columns + i) * 3 + k] = Math.max(0, Math.min(255, Math.round(seen[k] as number)));
    }
  return bitmap(columns, lines, colours);
}

/** Colours, three bytes each, from the top left, as an address of a BMP of 24 bits: a file form that needs no packing. */
export function bitmap(columns: number, lines: number, colours: Uint8Array): string {
  const stride = (columns * 3 + 3) & ~3;
  const bytes = new Uint8Array(54 + stride * lines);
  const view = new DataView(bytes.buffer);
  view.setUint16(0, 0x424d);
  view.setUint32(2, bytes.length, true);
  view.setUint32(10, 54, true);
  view.setUint32(14, 40, true);
  view.setInt32(18, columns, true);
  // Lines go from the top down where their number is negative.
  view.setInt32(22, -lines, true);
  view.setUint16(26, 1, true);
  view.setUint16(28, 24, true);
  for (let j = 0; j < lines; j++)
    for (let i = 0; i < columns; i++)
      for (let k = 0; k < 3; k++) bytes[54 + j * stride + i * 3 + 2 - k] = colours[(j * columns + i) * 3 + k] as number;
  let text = '';
  for (const byte of bytes) text += String.fromCharCode(byte);
  return `data:image/bmp;base64,${btoa(text)}`;
}
