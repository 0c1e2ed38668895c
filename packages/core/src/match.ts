/** Which nodes of a level an anchor for many stands at. */
import type { Anchor } from '@foreshore/document/types';
import type { Level } from './level.ts';

type NodesAnchor = Extract<Anchor, { kind: 'nodes' }>;

/**
 * Whether a whole name is of a pattern with * for any characters and ? for one; case does not matter. From the left, with one place to
 * come back to, the last *: at most the product of both lengths, whatever the pattern.
 */
export function isOfPattern(pattern: string, name: string): boolean {
  const [p, n] = [[...pattern.toLowerCase()], [...name.toLowerCase()]];
  let [at, star, from] = [0, -1, 0];
  for (let k = 0; k < n.length; ) {
    if (p[at] === '*') {
      star = at++;
      from = k;
    } else if (at < p.length && (p[at] === '?' || p[at] === n[k])) {
      at++;
      k++;
    } else if (star >= 0) {
      at = star + 1;
      k = ++from;
    } else return false;
  }
  while (p[at] === '*') at++;
  return at === p.length;
}

/** Indices of the nodes that match, in the level's order. */
export function matchingNodes(level: Level | null, { pattern, property }: Pick<NodesAnchor, 'pattern' | 'property'>): number[] {
  if (!level) return [];
  const [key = '', value] = property === null ? [] : property.split('=').map((part) => part.trim());
  return level.nodeIds.flatMap((id, node) => {
    if (!isOfPattern(pattern, id)) return [];
    if (property === null) return [node];
    const has = level.nodeProperties[node]?.[key];
    return has !== undefined && (value === undefined || String(has) === value) ? [node] : [];
  });
}
