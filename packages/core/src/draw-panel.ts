/**
 * What lies on a panel, brought to the screen: every item becomes an outline in the view's pixels through the panel's map, cut at
 * the near plane. Painters draw outlines; they know nothing of perspective.
 *
 * Straight edges map exactly. A curve maps to a rational one; it is split until the plain curve through the mapped control points
 * is less than about a twentieth of a pixel from it.
 */
import type { DrawItem, PictureItem, PushItem, ShapeItem, TextItem } from './draw-items.ts';
import type { Frame } from './frame.ts';
import { mapAt } from './frame.ts';
import { localScale, MapAt, outlineOf, PanelAt, worldPoint } from './spaces/panel.ts';
import { PATH_CLOSE, PATH_CUBIC, PATH_LINE, PATH_MOVE, PATH_QUADRATIC } from './text.ts';

type Matrix = PushItem['matrix'];
export interface Path {
  ops: ArrayLike<number>;
  coords: ArrayLike<number>;
}

/** A path being made. */
class Pen {
  readonly ops: number[] = [];
  readonly coords: number[] = [];
  move(x: number, y: number): void {
    this.ops.push(PATH_MOVE);
    this.coords.push(x, y);
  }
  line(x: number, y: number): void {
    this.ops.push(PATH_LINE);
    this.coords.push(x, y);
  }
  cubic(...points: [number, number, number, number, number, number]): void {
    this.ops.push(PATH_CUBIC);
    this.coords.push(...points);
  }
  close(): void {
    this.ops.push(PATH_CLOSE);
  }
  /** From where the pen is along a circle to another angle, radians clockwise from the top, in cubics of an eighth of a turn at most. */
  arc(x: number, y: number, radius: number, from: number, to: number): void {
    const pieces = Math.max(1, Math.ceil(Math.abs(to - from) / (Math.PI / 4)));
    const step = (to - from) / pieces;
    const reach = (4 / 3) * Math.tan(step / 4) * radius;
    for (let k = 0; k < pieces; k++) {
      const [a, b] = [from + k * step, from + (k + 1) * step];
      const [ax, ay, bx, by] = [x + radius * Math.sin(a), y - radius * Math.cos(a), x + radius * Math.sin(b), y - radius * Math.cos(b)];
      this.cubic(ax + reach * Math.cos(a), ay + reach * Math.sin(a), bx - reach * Math.cos(b), by - reach * Math.sin(b), bx, by);
    }
  }
  roundRect(x: number, y: number, w: number, h: number, radius: number): void {
    const r = Math.max(0, Math.min(radius, w / 2, h / 2));
    this.move(x + r, y);
    this.line(x + w - r, y);
    if (r > 0) this.arc(x + w - r, y + r, r, 0, Math.PI / 2);
    this.line(x + w, y + h - r);
    if (r > 0) this.arc(x + w - r, y + h - r, r, Math.PI / 2, Math.PI);
    this.line(x + r, y + h);
    if (r > 0) this.arc(x + r, y + h - r, r, Math.PI, 1.5 * Math.PI);
    this.line(x, y + r);
    if (r > 0) this.arc(x + r, y + r, r, 1.5 * Math.PI, 2 * Math.PI);
    this.close();
  }
}

/** A panel's map after a change of its coordinates. */
function after(map: Float64Array, at: number, [a, b, c, d, e, f]: Matrix): Float64Array {
  const out = new Float64Array(MapAt.Stride);
  for (let row = 0; row < MapAt.Front; row += 3) {
    const [x, y, one] = [map[at + row] as number, map[at + row + 1] as number, map[at + row + 2] as number];
    out[row] = x * a + y * b;
    out[row + 1] = x * c + y * d;
    out[row + 2] = x * e + y * f + one;
  }
  for (let k = MapAt.Front; k < MapAt.Stride; k++) out[k] = map[at + k] as number;
  return out;
}

/**
 * A map on which a box has been turned about one of its edges, towards the viewer: by a quarter where it has come nowhere. At a
 * distance d from the edge a point lies d·cos θ along the panel and d·sin θ before it.
 */
function folded(map: Float64Array, { box: [x, y, w, h], edge, share }: NonNullable<PushItem['fold']>): Float64Array {
  const out = map.slice();
  const angle = ((1 - share) * Math.PI) / 2;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const across = edge === 'left' || edge === 'right';
  const at = edge === 'left' ? x : edge === 'right' ? x + w : edge === 'top' ? y : y + h;
  const side = edge === 'left' || edge === 'top' ? 1 : -1;
  for (let row = 0; row < 4; row++) {
    const along = map[row * 3 + (across ? 0 : 1)] as number;
    const out1 = map[MapAt.Front + row] as number;
    out[row * 3 + (across ? 0 : 1)] = along * cos + side * out1 * sin;
    out[row * 3 + 2] = (map[row * 3 + 2] as number) + at * (along * (1 - cos) - side * out1 * sin);
    // What hangs on it folds out of its own front.
    out[MapAt.Front + row] = out1 * cos - side * along * sin;
  }
  return out;
}

/** Whether a map shows what lies on it the right way round about a point, and not mirrored. */
function facing(map: Float64Array, x: number, y: number): boolean {
  const { xx, xy, yx, yy } = localScale(map, 0, x, y);
  return xx * yy - xy * yx > 0;
}

const NOTHING = { ops: new Uint8Array(), coords: new Float64Array() };

/** So far off a split curve may be, pixels. */
const OFF_PX = 0.02;
const MOST_SPLITS = 8;

/** A path through a map, cut at the near plane. Null where nothing of it is left. */
export function mapPath({ ops, coords }: Path, map: Float64Array, nearM: number): { ops: Uint8Array; coords: Float64Array } | null {
  let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  const depth = (x: number, y: number) =>
    (map[MapAt.DepthM] as number) * x + (map[MapAt.DepthM + 1] as number) * y + (map[MapAt.DepthM + 2] as number);
  for (let k = 0; k < coords.length; k += 2) {
    const d = depth(coords[k] as number, coords[k + 1] as number);
    if (d < least) least = d;
    if (d > most) most = d;
  }
  if (!(most > nearM)) return null;
  const pen = new Pen();
  // Depth is linear, so a curve lies between the depths of its control points.
  if (least > nearM) mapWhole({ ops, coords }, map, pen);
  else for (const contour of flattened({ ops, coords })) mapCut(contour, map, nearM, depth, pen);
  return pen.ops.length > 0 ? { ops: Uint8Array.from(pen.ops), coords: Float64Array.from(pen.coords) } : null;
}

/** A disc about a point of a panel, as it is seen. Null where nothing of it is. */
export function discOnPanel(maps: Float64Array, at: number, x: number, y: number, radius: number, nearM: number) {
  const pen = new Pen();
  pen.roundRect(x - radius, y - radius, 2 * radius, 2 * radius, radius);
  return mapPath(pen, maps.slice(at, at + MapAt.Stride), nearM);
}

function mapWhole({ ops, coords }: Path, map: Float64Array, pen: Pen): void {
  const [x0, x1, x2, y0, y1, y2, w0, w1, w2] = map as unknown as number[] as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  /** Screen x, y and the divisor of each control point of the piece at hand. */
  const put = (x: number, y: number, out: number[], k: number): void => {
    const w = w0 * x + w1 * y + w2;
    out[k] = (x0 * x + x1 * y + x2) / w;
    out[k + 1] = (y0 * x + y1 * y + y2) / w;
    out[k + 2] = w;
  };
  const p: number[] = new Array(12).fill(0);
  let [fromX, fromY] = [0, 0];
  /** A curve with its control points as given, split while its divisor changes too much along it. */
  const curve = (points: readonly number[], splits: number): void => {
    const n = points.length / 2;
    let [least, most, reach] = [Number.POSITIVE_INFINITY, 0, 0];
    for (let k = 0; k < n; k++) {
      put(points[k * 2] as number, points[k * 2 + 1] as number, p, k * 3);
      const w = Math.abs(p[k * 3 + 2] as number);
      if (w < least) least = w;
      if (w > most) most = w;
      if (k > 0)
        reach += Math.abs((p[k * 3] as number) - (p[k * 3 - 3] as number)) + Math.abs((p[k * 3 + 1] as number) - (p[k * 3 - 2] as number));
    }
    if (splits < MOST_SPLITS && ((most / least - 1) * reach) / 8 > OFF_PX) {
      const halves = split(points);
      curve(halves[0], splits + 1);
      curve(halves[1], splits + 1);
      return;
    }
    pen.ops.push(n === 3 ? PATH_QUADRATIC : PATH_CUBIC);
    for (let k = 1; k < n; k++) pen.coords.push(p[k * 3] as number, p[k * 3 + 1] as number);
  };
  let k = 0;
  for (let i = 0; i < ops.length; i++) {
    const op = ops[i] as number;
    if (op === PATH_CLOSE) {
      pen.close();
      continue;
    }
    const count = op === PATH_QUADRATIC ? 2 : op === PATH_CUBIC ? 3 : 1;
    if (count === 1) {
      put(coords[k] as number, coords[k + 1] as number, p, 0);
      pen.ops.push(op);
      pen.coords.push(p[0] as number, p[1] as number);
    } else {
      const points = [fromX, fromY];
      for (let j = 0; j < count * 2; j++) points.push(coords[k + j] as number);
      curve(points, 0);
    }
    k += count * 2;
    fromX = coords[k - 2] as number;
    fromY = coords[k - 1] as number;
  }
}

/** A curve in two halves (de Casteljau). */
function split(points: readonly number[]): [number[], number[]] {
  const first: number[] = [];
  const last: number[] = [];
  let now = [...points];
  while (now.length > 0) {
    first.push(now[0] as number, now[1] as number);
    last.unshift(now.at(-2) as number, now.at(-1) as number);
    const next: number[] = [];
    for (let k = 0; k + 3 < now.length; k += 2)
      next.push(((now[k] as number) + (now[k + 2] as number)) / 2, ((now[k + 1] as number) + (now[k + 3] as number)) / 2);
    now = next;
  }
  return [first, last];
}

const PIECES = 8;
/** Each contour as a polygon, x and y in turn. */
function flattened({ ops, coords }: Path): number[][] {
  const out: number[][] = [];
  let now: number[] = [];
  let k = 0;
  for (let i = 0; i < ops.length; i++) {
    const op = ops[i] as number;
    if (op === PATH_CLOSE) continue;
    if (op === PATH_MOVE) out.push((now = []));
    const count = op === PATH_QUADRATIC ? 2 : op === PATH_CUBIC ? 3 : 1;
    const at = (j: number) => coords[k + j] as number;
    const [x, y] = [now.at(-2) ?? 0, now.at(-1) ?? 0];
    for (let piece = 1; piece <= (count === 1 ? 1 : PIECES); piece++) {
      const t = count === 1 ? 1 : piece / PIECES;
      const u = 1 - t;
      const of = (from: number, axis: number): number =>
        count === 1
          ? at(axis)
          : count === 2
            ? u * u * from + 2 * u * t * at(axis) + t * t * at(2 + axis)
            : u ** 3 * from + 3 * u * u * t * at(axis) + 3 * u * t * t * at(2 + axis) + t ** 3 * at(4 + axis);
      now.push(of(x, 0), of(y, 1));
    }
    k += count * 2;
  }
  return out;
}

/** A polygon cut at the near plane and mapped. */
function mapCut(contour: readonly number[], map: Float64Array, nearM: number, depth: (x: number, y: number) => number, pen: Pen): void {
  const n = contour.length / 2;
  // What is cut lies just in front, so that it has a place.
  const from = nearM * (1 + 1e-9);
  let begun = false;
  const put = (x: number, y: number): void => {
    const w = (map[MapAt.W] as number) * x + (map[MapAt.W + 1] as number) * y + (map[MapAt.W + 2] as number);
    const sx = ((map[MapAt.X] as number) * x + (map[MapAt.X + 1] as number) * y + (map[MapAt.X + 2] as number)) / w;
    const sy = ((map[MapAt.Y] as number) * x + (map[MapAt.Y + 1] as number) * y + (map[MapAt.Y + 2] as number)) / w;
    if (begun) pen.line(sx, sy);
    else pen.move(sx, sy);
    begun = true;
  };
  for (let k = 0; k < n; k++) {
    const [x0, y0] = [contour[k * 2] as number, contour[k * 2 + 1] as number];
    const next = (k + 1) % n;
    const [x1, y1] = [contour[next * 2] as number, contour[next * 2 + 1] as number];
    const [d0, d1] = [depth(x0, y0) - from, depth(x1, y1) - from];
    if (d0 >= 0) put(x0, y0);
    if (d0 >= 0 === d1 >= 0) continue;
    const t = d0 / (d0 - d1);
    put(x0 + (x1 - x0) * t, y0 + (y1 - y0) * t);
  }
  if (begun) pen.close();
}

const AS_IT_IS: Matrix = [1, 0, 0, 1, 0, 0];

type Laid = Exclude<DrawItem, { kind: 'panel' | 'endPanel' | 'shape' | 'screen' }>;

/** The outline of an item in the panel's own coordinates, and how it is filled; null for what has none. */
function pathOfItem(item: Laid): { path: Path; evenOdd: boolean } | null {
  const pen = new Pen();
  if (item.kind === 'plate' || item.kind === 'clip') {
    const stroke = item.kind === 'plate' ? item.strokePx : undefined;
    const { x, y, width, height, radius } = item;
    if (stroke === undefined) pen.roundRect(x, y, width, height, radius);
    else {
      const half = stroke / 2;
      pen.roundRect(x - half, y - half, width + stroke, height + stroke, radius > 0 ? radius + half : 0);
      if (width > stroke && height > stroke) pen.roundRect(x + half, y + half, width - stroke, height - stroke, Math.max(0, radius - half));
    }
    return { path: pen, evenOdd: true };
  }
  if (item.kind === 'line') {
    const half = item.widthPx / 2;
    const angle = Math.atan2(item.x2 - item.x1, -(item.y2 - item.y1));
    const [nx, ny] = [Math.cos(angle) * half, Math.sin(angle) * half];
    pen.move(item.x1 - nx, item.y1 - ny);
    pen.line(item.x2 - nx, item.y2 - ny);
    pen.arc(item.x2, item.y2, half, angle - Math.PI / 2, angle + Math.PI / 2);
    pen.line(item.x1 + nx, item.y1 + ny);
    pen.arc(item.x1, item.y1, half, angle + Math.PI / 2, angle + 1.5 * Math.PI);
    pen.close();
    return { path: pen, evenOdd: false };
  }
  if (item.kind === 'arc') {
    const { x, y, radius, widthPx, fromRad, toRad } = item;
    const [outer, inner] = [radius + widthPx / 2, Math.max(0, radius - widthPx / 2)];
    const at = (r: number, angle: number): [number, number] => [x + r * Math.sin(angle), y - r * Math.cos(angle)];
    pen.move(...at(outer, fromRad));
    pen.arc(x, y, outer, fromRad, toRad);
    pen.line(...at(inner, toRad));
    pen.arc(x, y, inner, toRad, fromRad);
    pen.close();
    return { path: pen, evenOdd: false };
  }
  return null;
}

/** A picture is drawn in so many pieces each way that none is more than about a quarter of a pixel from where it belongs. */
const MOST_PIECES = 16;

function pictureMesh(item: PictureItem, map: Float64Array, nearM: number): PictureItem['mesh'] | null {
  const { x, y, width, height } = item;
  const seen = outlineOf(map, 0, x, y, width, height, nearM);
  if (seen.length !== 8) return null;
  const w = (px: number, py: number) => (map[MapAt.W] as number) * px + (map[MapAt.W + 1] as number) * py + (map[MapAt.W + 2] as number);
  const all = [w(x, y), w(x + width, y), w(x, y + height), w(x + width, y + height)].map(Math.abs);
  const across = Math.max(
    ...[0, 2, 4, 6].map((k) =>
      Math.hypot((seen[k] as number) - (seen[(k + 2) % 8] as number), (seen[k + 1] as number) - (seen[(k + 3) % 8] as number)),
    ),
  );
  const pieces = Math.max(1, Math.min(MOST_PIECES, Math.ceil(Math.sqrt(((Math.max(...all) / Math.min(...all) - 1) * across) / 2))));
  const points = new Float64Array((pieces + 1) ** 2 * 2);
  for (let j = 0; j <= pieces; j++)
    for (let i = 0; i <= pieces; i++) {
      const [px, py] = [x + (width * i) / pieces, y + (height * j) / pieces];
      const d = w(px, py);
      const k = (j * (pieces + 1) + i) * 2;
      points[k] = ((map[MapAt.X] as number) * px + (map[MapAt.X + 1] as number) * py + (map[MapAt.X + 2] as number)) / d;
      points[k + 1] = ((map[MapAt.Y] as number) * px + (map[MapAt.Y + 1] as number) * py + (map[MapAt.Y + 2] as number)) / d;
    }
  return { columns: pieces, rows: pieces, points };
}

/**
 * Brings what was drawn on a panel to a view: into `out`, between a begin and an end of the panel.
 * @param through what the level covers is seen all the same.
 */
export function layOnPanel(
  out: DrawItem[],
  drawn: readonly DrawItem[],
  frame: Frame,
  element: string,
  panel: number,
  view: number,
  nearM: number,
  through: boolean,
): void {
  const at = mapAt(frame, panel, view);
  const from = panel * PanelAt.Stride;
  const [w, h] = [frame.panels[from + PanelAt.WidthPx] as number, frame.panels[from + PanelAt.HeightPx] as number];
  const outline = outlineOf(frame.maps, at, 0, 0, w, h, nearM);
  if (outline.length === 0) return;
  const corners = [worldPoint(frame.panels, from, 0, 0), worldPoint(frame.panels, from, w, 0), worldPoint(frame.panels, from, 0, h)];
  out.push({ kind: 'panel', element, outline, corners: corners.flat(), through });
  const maps: Float64Array[] = [after(frame.maps, at, AS_IT_IS)];
  const front = facing(maps[0] as Float64Array, w / 2, h / 2);
  /** Of each map: what lies on it is seen from its back. */
  const backs: boolean[] = [false];
  for (const item of drawn) {
    const map = maps.at(-1) as Float64Array;
    const isBack = backs.at(-1) as boolean;
    if (item.kind === 'push') {
      const next = item.fold ? folded(map, item.fold) : after(map, 0, item.matrix);
      maps.push(next);
      const [x, y, width, height] = item.fold?.box ?? [0, 0, 0, 0];
      backs.push(item.fold ? facing(next, x + width / 2, y + height / 2) !== front : isBack);
    } else if (item.kind === 'pop') {
      maps.pop();
      backs.pop();
    } else if (isBack && item.kind !== 'plate' && item.kind !== 'clip' && item.kind !== 'unclip') {
      // Nothing is written on the back of a leaf: it would be read mirrored.
    } else if (item.kind === 'picture') {
      const mesh = pictureMesh(item, map, nearM);
      if (mesh)
        out.push({ ...item, mesh, blurPx: item.blurPx * localScale(map, 0, item.x + item.width / 2, item.y + item.height / 2).best });
    } else if (item.kind === 'text') pushText(out, item, map, nearM);
    else if (item.kind === 'clip') {
      const mapped = mapPath((pathOfItem(item) as { path: Path }).path, map, nearM);
      // A clip of which nothing is left lets nothing through.
      out.push({ ...item, path: mapped ?? NOTHING });
    } else if (item.kind === 'plate' || item.kind === 'line' || item.kind === 'arc') {
      const made = pathOfItem(item);
      const mapped = made && mapPath(made.path, map, nearM);
      if (made && mapped)
        out.push({ kind: 'shape', element: item.element, ...mapped, colour: item.colour, opacity: item.opacity, evenOdd: made.evenOdd });
    } else out.push(item);
  }
  out.push({ kind: 'endPanel', element });
}

/** Letters reach beyond their block by no more than this, em. */
const OVERHANG_EM = 1;

/** Whether all of a text, whatever its letters are, lies before the near plane. */
function isInFront({ block }: TextItem, map: Float64Array, nearM: number): boolean {
  if (block.ops.length === 0) return false;
  const [a, b, c] = [map[MapAt.DepthM] as number, map[MapAt.DepthM + 1] as number, map[MapAt.DepthM + 2] as number];
  for (const x of [-OVERHANG_EM, block.widthEm + OVERHANG_EM])
    for (const y of [-OVERHANG_EM, block.heightEm + OVERHANG_EM]) if (!(a * x + b * y + c > nearM)) return false;
  return true;
}

function pushText(out: DrawItem[], item: TextItem, map: Float64Array, nearM: number): void {
  const inEm = after(map, 0, [item.emPx, 0, 0, item.emPx, item.x, item.y]);
  let mapped: ReturnType<typeof mapPath> = null;
  // Who copies texts from pictures never asks for their outlines, which take long.
  const isLate = isInFront(item, inEm, nearM);
  if (!isLate) {
    mapped = mapPath(item.block, inEm, nearM);
    if (!mapped) return;
  }
  const path = () => {
    mapped ??= mapPath(item.block, inEm, nearM) ?? NOTHING;
    return mapped;
  };
  const written = { text: item, map: inEm };
  const push = (more: Pick<ShapeItem, 'colour' | 'strokePx'>): void => {
    out.push({
      kind: 'shape',
      element: item.element,
      get ops() {
        return path().ops;
      },
      get coords() {
        return path().coords;
      },
      opacity: item.opacity,
      evenOdd: false,
      title: item.block.lines.map((line) => line.text).join(' '),
      ...(isLate && { written }),
      ...more,
    });
  };
  if (item.outline) {
    const { best, worst } = localScale(inEm, 0, item.block.widthEm / 2, item.block.heightEm / 2);
    const widthEm = item.outline.widthPx / item.emPx;
    push({ colour: item.outline.colour, strokePx: 2 * widthEm * Math.sqrt(best * worst) });
  }
  push({ colour: item.colour });
}
