/** Where a dragged box comes to rest: on lines of its parent and of the boxes beside it, within a few pixels of the page. */

export interface Rect {
  left: number;
  top: number;
  right: number;
  bottom: number;
}
/** A line that a box was snapped to, in the viewer's pixels. */
export interface Guide {
  axis: 'x' | 'y';
  at: number;
}

const SPANS = { x: ['left', 'right'], y: ['top', 'bottom'] } as const;
const lines = (rect: Rect, axis: 'x' | 'y'): [number, number, number] => {
  const [from, to] = [rect[SPANS[axis][0]], rect[SPANS[axis][1]]];
  return [from, (from + to) / 2, to];
};

/** @returns how far to move the box, and the lines it then lies on. */
export function snap(box: Rect, targets: readonly Rect[], within: number): { dx: number; dy: number; guides: Guide[] } {
  const guides: Guide[] = [];
  const by = (axis: 'x' | 'y'): number => {
    let best: { move: number; at: number } | null = null;
    for (const target of targets)
      for (const at of lines(target, axis))
        for (const own of lines(box, axis)) {
          const move = at - own;
          if (Math.abs(move) <= within && (!best || Math.abs(move) < Math.abs(best.move))) best = { move, at };
        }
    if (best) guides.push({ axis, at: best.at });
    return best?.move ?? 0;
  };
  return { dx: by('x'), dy: by('y'), guides };
}

/** The pin of nine nearest to a share of a box. */
export const nearestPin = (u: number, v: number): [number, number] => {
  const near = (share: number) => (share < 1 / 3 ? 0 : share > 2 / 3 ? 1 : 0.5);
  return [near(u), near(v)];
};
