/** Which nodes of a level an anchor for many stands at. */
import type { Anchor } from '@foreshore/document/types';
import type { Level } from './level.ts';

type NodesAnchor = Extract<Anchor, { kind: 'nodes' }>;

/** A pattern with * for any characters and ? for one, as a regular expression over the whole name; case does not matter. */
export const patternOf = (pattern: string): RegExp =>
  new RegExp(
    `^${pattern
      .replace(/[.+^${}()|[\]\\]/g, '\\$&')
      .replace(/\*/g, '.*')
      .replace(/\?/g, '.')}$`,
    'iu',
  );

/** Indices of the nodes that match, in the level's order. */
export function matchingNodes(level: Level | null, { pattern, property }: Pick<NodesAnchor, 'pattern' | 'property'>): number[] {
  if (!level) return [];
  const wanted = patternOf(pattern);
  const [key = '', value] = property === null ? [] : property.split('=').map((part) => part.trim());
  return level.nodeIds.flatMap((id, node) => {
    if (!wanted.test(id)) return [];
    if (property === null) return [node];
    const has = level.nodeProperties[node]?.[key];
    return has !== undefined && (value === undefined || String(has) === value) ? [node] : [];
  });
}
