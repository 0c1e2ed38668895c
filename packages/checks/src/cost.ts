/**
 * What a frame costs whoever paints it, in numbers that are the same on every machine: how many pieces are drawn, and how much paint is laid,
 * one over the other, in screens. Milliseconds are the game's machine's and its painter's.
 */
import {
  type DrawItem,
  drawList,
  isHudGroup,
  PATH_CLOSE,
  PATH_CUBIC,
  PATH_LINE,
  PATH_MOVE,
  PATH_QUADRATIC,
  type Solver,
} from '@foreshore/core';
import type { FrameBudget } from '@foreshore/document';

/** Where a project says nothing. */
export const BUDGET: FrameBudget = { pieces: 2000, screens: 2 };

export interface FrameCost {
  pieces: number;
  screens: number;
  /** Of each row id that draws something. */
  of: Map<string, { pieces: number; screens: number }>;
}

const PIECES: Record<DrawItem['kind'], 0 | 1> = {
  ...{ plate: 1, text: 1, line: 1, arc: 1, picture: 1, screen: 1, shape: 1 },
  ...{ clip: 0, unclip: 0, push: 0, pop: 0, panel: 0, endPanel: 0 },
};

/** The area of the upright box about points x and y in turn, pixels squared, within the screen. */
function boxArea(points: ArrayLike<number>, w: number, h: number): number {
  let [left, right, top, bottom] = [w, 0, h, 0];
  for (let k = 0; k + 1 < points.length; k += 2) {
    const x = Math.min(w, Math.max(0, points[k] as number));
    const y = Math.min(h, Math.max(0, points[k + 1] as number));
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return Math.max(0, right - left) * Math.max(0, bottom - top);
}

/** The same of an upright box itself. */
function uprightArea(x: number, y: number, width: number, height: number, w: number, h: number): number {
  const across = Math.min(w, x + width) - Math.max(0, x);
  const down = Math.min(h, y + height) - Math.max(0, y);
  return Math.max(0, across) * Math.max(0, down);
}

const POINTS = { [PATH_MOVE]: 1, [PATH_LINE]: 1, [PATH_QUADRATIC]: 2, [PATH_CUBIC]: 3, [PATH_CLOSE]: 0 } as Record<number, number>;

/** The area within an outline, pixels squared: of its corners and the points that its curves are drawn to, holes taken away (shoelace formula). */
function outlineArea(ops: Uint8Array, coords: Float64Array): number {
  let [sum, at] = [0, 0];
  let [firstX, firstY, x, y] = [0, 0, 0, 0];
  const close = (): void => {
    sum += x * firstY - firstX * y;
  };
  for (const op of ops) {
    if (op === PATH_MOVE) {
      close();
      [firstX, firstY] = [coords[at] as number, coords[at + 1] as number];
      [x, y] = [firstX, firstY];
    }
    for (let k = POINTS[op] as number; k > 0; k--) {
      const [nextX, nextY] = [coords[at++] as number, coords[at++] as number];
      sum += x * nextY - nextX * y;
      [x, y] = [nextX, nextY];
    }
  }
  close();
  return Math.abs(sum) / 2;
}

/** How much of the screen is painted by an item, pixels squared: by the upright box about it, of outlines by what they enclose; of strokes, by their length and width. */
function areaOf(item: DrawItem, w: number, h: number): number {
  switch (item.kind) {
    case 'plate':
      if (item.strokePx !== undefined) return 2 * (item.width + item.height) * item.strokePx;
      return uprightArea(item.x, item.y, item.width, item.height, w, h);
    case 'picture':
      return item.mesh ? boxArea(item.mesh.points, w, h) : uprightArea(item.x, item.y, item.width, item.height, w, h);
    case 'text': {
      const { x, y, emPx, block } = item;
      return uprightArea(x, y, block.widthEm * emPx, block.heightEm * emPx, w, h);
    }
    case 'line':
      return Math.min(Math.hypot(item.x2 - item.x1, item.y2 - item.y1), Math.hypot(w, h)) * item.widthPx;
    case 'arc':
      return Math.abs(item.toRad - item.fromRad) * item.radius * item.widthPx;
    case 'shape':
      return item.strokePx === undefined ? Math.min(boxArea(item.coords, w, h), outlineArea(item.ops, item.coords)) : 0;
    case 'screen':
      return w * h;
    default:
      return 0;
  }
}

/** Of the frame that was solved last, all its views together. What is turned or moved as a whole counts as if it were not. */
export function frameCost(solver: Solver): FrameCost {
  const cost: FrameCost = { pieces: 0, screens: 0, of: new Map() };
  for (let view = 0; view < solver.f.viewCount; view++) {
    const { items, widthPx, heightPx } = drawList(solver, view);
    for (const item of items) {
      if (PIECES[item.kind] === 0) continue;
      const screens = areaOf(item, widthPx, heightPx) / (widthPx * heightPx) / solver.f.viewCount;
      let own = cost.of.get(item.element);
      if (!own) cost.of.set(item.element, (own = { pieces: 0, screens: 0 }));
      own.pieces++;
      own.screens += screens;
      cost.pieces++;
      cost.screens += screens;
    }
  }
  return cost;
}

export interface CostFault {
  of: 'pieces' | 'screens';
  value: number;
  bound: number;
  /** The outermost one that draws most of it. */
  row: number;
}

/** What of a budget the frame that was solved last exceeds, and which outermost element has the greatest part in it. */
export function costFaults(solver: Solver, budget: FrameBudget): CostFault[] {
  const cost = frameCost(solver);
  const { c } = solver;
  return (['pieces', 'screens'] as const).flatMap((of) => {
    if (cost[of] <= budget[of]) return [];
    const roots = new Map<string, { row: number; sum: number }>();
    for (let row = 0; row < c.count; row++) {
      const part = cost.of.get(c.ids[row] as string)?.[of];
      if (part === undefined) continue;
      const root = outermost(solver, row);
      const source = c.sources[root] as string;
      const known = roots.get(source) ?? { row: root, sum: 0 };
      roots.set(source, { ...known, sum: known.sum + part });
    }
    const [most] = [...roots.values()].sort((a, b) => b.sum - a.sum || a.row - b.row);
    return most ? [{ of, value: cost[of], bound: budget[of], row: most.row }] : [];
  });
}

function outermost({ c }: Solver, row: number): number {
  let at = row;
  // The HUD of a headset is a panel that no project has.
  for (let up = row; up >= 0 && !isHudGroup(c.sources[up] as string); up = c.parent[up] as number) at = up;
  return at;
}
