/** Which of an element's rows stands for it. */
import type { Compiled, Solver } from '@foreshore/core';
import { useBench } from '../state/bench.ts';

/** The node that a row, or what it is inside of, stands at, of the many that its element does; null where it is one place only. */
export const nodeOfRow = (c: Compiled, row: number): string | null => c.level?.nodeIds[c.nodeOf[row] as number] ?? null;

/**
 * The row of an element: of the many that it may stand for the one at the node that is chosen, else the one that came farthest in the
 * chain, of these the nearest.
 */
export function rowFor({ c, f }: Solver, id: string): number {
  const { selection, node } = useBench.getState();
  const wanted = id === selection ? node : null;
  const metresTo = (row: number): number => {
    const top = c.root[row] as number;
    if (top >= c.anchoredCount) return 0;
    const anchor = (c.elementAnchor[top] as number) * 3;
    return Math.hypot(...[0, 1, 2].map((k) => (c.anchorWorld[anchor + k] as number) - (f.eye[k] as number)));
  };
  let best = -1;
  for (let row = c.sources.indexOf(id); row >= 0 && row < c.count; row++) {
    if (c.sources[row] !== id) continue;
    // Of an instance, its outermost row stands for it.
    if (best >= 0 && c.root[row] === c.root[best]) continue;
    if (wanted !== null && nodeOfRow(c, row) === wanted) return row;
    const [mine, other] = [f.failed[row] as number, best < 0 ? -1 : (f.failed[best] as number)];
    if (mine > other || (mine === other && metresTo(row) < metresTo(best))) best = row;
  }
  return best;
}

/** The nodes that an element stands at, in the order of the level; none where it is one place only. */
export function nodesOf({ c }: Solver, id: string): string[] {
  const names = new Set<string>();
  for (let row = 0; row < c.count; row++) if (c.sources[row] === id) names.add(nodeOfRow(c, row) ?? '');
  names.delete('');
  return names.size > 1 ? [...names] : [];
}

/** The node that a row stands at and how many nodes its element stands at; null where that is one place only. */
export function nodeAmong(solver: Solver, row: number): { name: string; of: number } | null {
  const name = nodeOfRow(solver.c, row);
  const { length } = name === null ? [] : nodesOf(solver, solver.c.sources[row] as string);
  return name !== null && length > 0 ? { name, of: length } : null;
}
