/**
 * Panels that cross one another, or lie over one another in a ring. Panels are painted one after the other, the farthest first, which
 * no order does right for these: they are cut along one another's planes, and the pieces have an order (binary space partitioning:
 * Fuchs, Kedem and Naylor 1980). All others stay whole.
 */
import type { ClipItem, DrawItem, PanelItem } from './draw-items.ts';
import { mapAt } from './frame.ts';
import type { SolveContext } from './solve-context.ts';
import { beforePanelM, MapAt, PanelAt, worldPoint } from './spaces/panel.ts';
import { PATH_CLOSE, PATH_LINE, PATH_MOVE } from './text.ts';

/** A panel in a draw list. */
export interface LaidPanel {
  panel: number;
  /** Its items: the first begins the panel, the one before `to` ends it. */
  from: number;
  to: number;
}

/** x and y in turn. */
type Polygon = readonly number[];
type Bounds = readonly [left: number, top: number, right: number, bottom: number];

/** A piece of a panel: which of those laid, and its outline in the panel's design pixels. */
interface Piece {
  of: number;
  outline: Polygon;
}

/** Panels that touch do not cross, metres. */
const TOUCH_M = 1e-3;
/** What is smaller is not cut off, square pixels. */
const LEAST_PX2 = 0.5;
/** So many that cross in one heap are cut; more stay whole. */
const MOST_CUT = 12;

/** What of a convex polygon has a·x + b·y + c ≥ 0 (Sutherland and Hodgman 1974). */
function kept(polygon: Polygon, a: number, b: number, c: number): number[] {
  const out: number[] = [];
  for (let k = 0; k < polygon.length; k += 2) {
    const next = (k + 2) % polygon.length;
    const [x0, y0, x1, y1] = [polygon[k], polygon[k + 1], polygon[next], polygon[next + 1]] as [number, number, number, number];
    const [d0, d1] = [a * x0 + b * y0 + c, a * x1 + b * y1 + c];
    if (d0 >= 0) out.push(x0, y0);
    if (d0 >= 0 === d1 >= 0) continue;
    const t = d0 / (d0 - d1);
    out.push(x0 + (x1 - x0) * t, y0 + (y1 - y0) * t);
  }
  return out.length >= 6 ? out : [];
}

/** With a sign for the way round. */
function areaOf(polygon: Polygon): number {
  let sum = 0;
  for (let k = 0; k < polygon.length; k += 2) {
    const next = (k + 2) % polygon.length;
    sum += (polygon[k] as number) * (polygon[next + 1] as number) - (polygon[next] as number) * (polygon[k + 1] as number);
  }
  return sum / 2;
}

/** What two convex polygons have in common. */
function common(one: Polygon, other: Polygon): Polygon {
  const sign = Math.sign(areaOf(other));
  let out = one;
  for (let k = 0; k < other.length && out.length > 0; k += 2) {
    const next = (k + 2) % other.length;
    const [x0, y0] = [other[k] as number, other[k + 1] as number];
    const [dx, dy] = [(other[next] as number) - x0, (other[next + 1] as number) - y0];
    out = kept(out, -dy * sign, dx * sign, (dy * x0 - dx * y0) * sign);
  }
  return out;
}

function boundsOf(polygon: Polygon): Bounds {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let k = 0; k < polygon.length; k += 2) {
    const [x, y] = [polygon[k] as number, polygon[k + 1] as number];
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return [left, top, right, bottom];
}
const touch = (a: Bounds, b: Bounds): boolean => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];

/** The panels of one draw list, as one view has them. */
class Cuts {
  private readonly ctx: SolveContext;
  private readonly view: number;
  readonly laid: readonly LaidPanel[];
  private readonly outlines: readonly Polygon[];
  private readonly bounds: readonly Bounds[];

  constructor(ctx: SolveContext, view: number, laid: readonly LaidPanel[], outlines: readonly Polygon[]) {
    this.ctx = ctx;
    this.view = view;
    this.laid = laid;
    this.outlines = outlines;
    this.bounds = outlines.map(boundsOf);
  }

  private panel(k: number): number {
    return (this.laid[k] as LaidPanel).panel;
  }

  whole(k: number): Piece {
    const { panels } = this.ctx.f;
    const at = this.panel(k) * PanelAt.Stride;
    const [w, h] = [panels[at + PanelAt.WidthPx] as number, panels[at + PanelAt.HeightPx] as number];
    return { of: k, outline: [0, 0, w, 0, w, h, 0, h] };
  }

  /** Metres that a point of one panel is on the eye's side of another's plane: a·x + b·y + c of its design pixels. */
  private before(one: number, other: number): [a: number, b: number, c: number] {
    const { panels, eye } = this.ctx.f;
    const plane = this.panel(other) * PanelAt.Stride;
    const side = beforePanelM(panels, plane, eye) < 0 ? -1 : 1;
    const far = (x: number, y: number) => side * beforePanelM(panels, plane, worldPoint(panels, this.panel(one) * PanelAt.Stride, x, y));
    const c = far(0, 0);
    return [far(1, 0) - c, far(0, 1) - c, c];
  }

  /** A piece as it is seen, cut at the near plane. */
  seen({ of, outline }: Piece): number[] {
    const { f, a } = this.ctx;
    const at = mapAt(f, this.panel(of), this.view);
    const row = (first: MapAt) => [0, 1, 2].map((k) => f.maps[at + first + k] as number) as [number, number, number];
    const [depth, across, down, divisor] = [row(MapAt.DepthM), row(MapAt.X), row(MapAt.Y), row(MapAt.W)];
    const deep = kept(outline, depth[0], depth[1], depth[2] - a.projection.nearM);
    const out: number[] = [];
    for (let k = 0; k < deep.length; k += 2) {
      const of = (r: readonly [number, number, number]) => r[0] * (deep[k] as number) + r[1] * (deep[k + 1] as number) + r[2];
      const w = of(divisor);
      out.push(of(across) / w, of(down) / w);
    }
    return out;
  }

  /** Whether a panel is seen before one that is painted over it. */
  private isWrong(earlier: number, later: number): boolean {
    if (!touch(this.bounds[earlier] as Bounds, this.bounds[later] as Bounds)) return false;
    const [a, b, c] = this.before(earlier, later);
    const { outline } = this.whole(earlier);
    const nearer = kept(outline, a, b, c - TOUCH_M);
    if (nearer.length === 0) return false;
    const both = common(this.seen({ of: earlier, outline: nearer }), this.outlines[later] as Polygon);
    return both.length > 0 && Math.abs(areaOf(both)) > LEAST_PX2;
  }

  /** Panels that no order paints right together, by their numbers, ascending. */
  heaps(): number[][] {
    const n = this.laid.length;
    const heap = Array.from({ length: n }, (_, k) => k);
    const join = (a: number, b: number): void => {
      const [to, from] = [heap[a] as number, heap[b] as number];
      if (to !== from) for (let k = 0; k < n; k++) if (heap[k] === from) heap[k] = to;
    };
    for (let later = 1; later < n; later++)
      for (let earlier = 0; earlier < later; earlier++) if (this.isWrong(earlier, later)) join(earlier, later);
    const gathered = () => {
      const out = new Map<number, number[]>();
      for (const [k, of] of heap.entries()) out.set(of, [...(out.get(of) ?? []), k]);
      return [...out.values()].filter((heap) => heap.length > 1);
    };
    // What is painted between them, over or under one of them, is in the heap, too.
    for (let grew = true; grew; ) {
      grew = false;
      for (const members of gathered())
        for (let k = (members[0] as number) + 1; k < (members.at(-1) as number); k++)
          if (!members.includes(k) && members.some((one) => touch(this.bounds[one] as Bounds, this.bounds[k] as Bounds))) {
            join(members[0] as number, k);
            grew = true;
          }
    }
    return gathered().filter((members) => members.length <= MOST_CUT);
  }

  /** Pieces in the order in which none is painted before what it covers. */
  ordered(pieces: readonly Piece[]): Piece[] {
    const [first, ...others] = pieces;
    if (!first || others.length === 0) return [...pieces];
    const { f, a } = this.ctx;
    // A pixel of the picture where that panel stands: what is farther reaches so far under what is nearer that no seam shows.
    const at = mapAt(f, this.panel(first.of), this.view);
    const middle = this.whole(first.of).outline;
    const depthM = [0, 1].reduce(
      (sum, k) => sum + ((f.maps[at + MapAt.DepthM + k] as number) * (middle[4 + k] as number)) / 2,
      f.maps[at + MapAt.DepthM + 2] as number,
    );
    const pixelM = (a.projection.orthographic ? 1 : Math.max(depthM, a.projection.nearM)) / a.projection.focalX;
    const [behind, before]: [Piece[], Piece[]] = [[], []];
    for (const piece of others) {
      const [x, y, c] = this.before(piece.of, first.of);
      const ds = piece.outline.filter((_, k) => k % 2 === 0).map((px, k) => x * px + y * (piece.outline[2 * k + 1] as number) + c);
      if (Math.max(...ds) <= TOUCH_M) behind.push(piece);
      else if (Math.min(...ds) >= -TOUCH_M) before.push(piece);
      else {
        behind.push({ ...piece, outline: kept(piece.outline, -x, -y, pixelM - c) });
        before.push({ ...piece, outline: kept(piece.outline, x, y, c) });
      }
    }
    return [...this.ordered(behind), first, ...this.ordered(before)];
  }
}

const NO_BOX = { x: 0, y: 0, width: 0, height: 0, radius: 0 } as const;

function clipTo(element: string, polygon: Polygon): ClipItem {
  const ops = Uint8Array.from({ length: polygon.length / 2 + 1 }, (_, k) =>
    k === 0 ? PATH_MOVE : k === polygon.length / 2 ? PATH_CLOSE : PATH_LINE,
  );
  return { kind: 'clip', element, ...NO_BOX, path: { ops, coords: Float64Array.from(polygon) } };
}

/**
 * @param laid the panels of the list that lie in their planes and are not seen through everything, in the order in which they are
 * painted. @returns the list with those cut that cross one another; the list itself where none do.
 */
export function cutPanels(ctx: SolveContext, view: number, items: DrawItem[], laid: readonly LaidPanel[]): DrawItem[] {
  if (laid.length < 2) return items;
  const outlines = laid.map(({ from }) => (items[from] as PanelItem).outline);
  const cuts = new Cuts(ctx, view, laid, outlines);
  const heaps = cuts.heaps();
  if (heaps.length === 0) return items;
  const out: DrawItem[] = [];
  let at = 0;
  for (const [k, { from, to }] of laid.entries()) {
    const heap = heaps.find((members) => members.includes(k));
    if (!heap) continue;
    while (at < from) out.push(items[at++] as DrawItem);
    at = to;
    // A heap is painted where its last panel is.
    if (heap.at(-1) !== k) continue;
    for (const piece of cuts.ordered(heap.map((one) => cuts.whole(one)))) {
      const own = laid[piece.of] as LaidPanel;
      const polygon = cuts.seen(piece);
      if (polygon.length === 0) continue;
      const { element } = items[own.from] as PanelItem;
      out.push(items[own.from] as DrawItem, clipTo(element, polygon));
      for (let one = own.from + 1; one < own.to - 1; one++) out.push(items[one] as DrawItem);
      out.push({ kind: 'unclip', element }, items[own.to - 1] as DrawItem);
    }
  }
  while (at < items.length) out.push(items[at++] as DrawItem);
  return out;
}
