/** Which of an element's rows stands for it. */
import type { Solver } from '@foreshore/core';

/** The row of an element: of the many that it may stand for the one that came farthest in the chain, of these the nearest. */
export function rowFor({ c, f }: Solver, id: string): number {
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
    const [mine, other] = [f.failed[row] as number, best < 0 ? -1 : (f.failed[best] as number)];
    if (mine > other || (mine === other && metresTo(row) < metresTo(best))) best = row;
  }
  return best;
}

/** The node that a row stands at and how many nodes its element stands at; null where that is one place only. */
export function nodeAmong({ c }: Solver, row: number): { name: string; of: number } | null {
  const name = c.level?.nodeIds[c.nodeOf[row] as number];
  const roots = new Set<number>();
  for (let i = 0; i < c.count; i++) if (c.sources[i] === c.sources[row]) roots.add(c.root[i] as number);
  return name !== undefined && roots.size > 1 ? { name, of: roots.size } : null;
}
