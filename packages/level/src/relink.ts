/**
 * Another file for the level of a project: which anchors follow, and which are lost. What stands on a node follows by the node's
 * name; what lies on a surface follows the surface, too, where that was moved or its node is called otherwise. An anchor whose
 * node is gone stays in the document as it is.
 */
import { type Level, makeHit, matchingNodes, transformPoint, type Vec3 } from '@foreshore/core';
import type { Anchor, Document } from '@foreshore/document/types';
import { invertAffine } from './matrix.ts';

/** A surface is looked for so far before and behind the place where it was, metres. */
const NEAR_M = 0.5;
/** Only what is this near is taken for the same surface on a node of another name, metres. */
const SAME_M = 0.05;
/** A surface that moved by less stands where it stood, metres. */
const STILL_M = 1e-4;

export interface Followed {
  anchors: Document['anchors'];
  /** Ids of the anchors that the other level has no place for. */
  lost: string[];
}

/** The ids of anchors whose nodes a level does not have. */
export const lostAnchors = (anchors: Document['anchors'], level: Level): string[] =>
  Object.entries(anchors).flatMap(([id, anchor]) => (isLost(anchor, level) ? [id] : []));

const isLost = (anchor: Anchor, level: Level): boolean => {
  if (anchor.kind === 'nodes') return matchingNodes(level, anchor).length === 0;
  return (anchor.kind === 'node' || anchor.kind === 'surface') && anchor.node !== null && level.nodeIndex(anchor.node) < 0;
};

/** The anchors as they stand in another level. Both levels stand at their present poses. */
export function followAnchors(anchors: Document['anchors'], from: Level, to: Level): Followed {
  const followed = Object.fromEntries(
    Object.entries(anchors).map(([id, anchor]) => [id, anchor.kind === 'surface' ? followSurface(anchor, from, to) : anchor]),
  );
  return { anchors: followed, lost: lostAnchors(followed, to) };
}

type OnSurface = Extract<Anchor, { kind: 'surface' }>;

function followSurface(anchor: OnSurface, from: Level, to: Level): OnSurface {
  const node = anchor.node === null ? -1 : to.nodeIndex(anchor.node);
  const isRenamed = anchor.node !== null && node < 0;
  // Where it stands: by its node in the other level, else where it stood in this one.
  const [at, normal] = inWorld(anchor, isRenamed ? from : to) ?? [null, null];
  if (!at) return anchor;
  const hit = makeHit();
  const reach = isRenamed ? SAME_M : NEAR_M;
  const start = at.map((v, k) => v + (normal[k] as number) * reach) as Vec3;
  if (!to.castRay(start, normal.map((v) => -v) as Vec3, 2 * reach, hit)) return anchor;
  const name = to.nodeIds[hit.node];
  // Another thing that stands before its surface is not its surface.
  if (!isRenamed && anchor.node !== null && name !== anchor.node) return anchor;
  if (!isRenamed && Math.abs(hit.distanceM - reach) < STILL_M) return anchor;
  const tied = anchor.node === null ? null : (name ?? anchor.node);
  return { ...anchor, node: tied, ...outOfWorld(tied, hit.position, hit.normal, to) };
}

/** Place and normal in the world; null where the level does not have the node. */
function inWorld({ node, position, normal }: OnSurface, level: Level): [Vec3, Vec3] | null {
  if (node === null) return [position, normal];
  const at = level.nodeIndex(node) * 16;
  const inverse = new Float64Array(16);
  if (at < 0 || !invertAffine(inverse, level.worldMatrices, at)) return null;
  // A normal goes by the transpose of the inverse.
  const n = [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, r) => sum + (inverse[k * 4 + r] as number) * (normal[r] as number), 0)) as Vec3;
  return [transformPoint(level.worldMatrices, at, ...position), unit(n)];
}

function outOfWorld(node: string | null, position: Vec3, normal: Vec3, level: Level): Pick<OnSurface, 'position' | 'normal'> {
  if (node === null) return { position: [...position], normal: [...normal] };
  const at = level.nodeIndex(node) * 16;
  const inverse = new Float64Array(16);
  invertAffine(inverse, level.worldMatrices, at);
  const m = level.worldMatrices;
  const n = [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, r) => sum + (m[at + k * 4 + r] as number) * (normal[r] as number), 0)) as Vec3;
  return { position: transformPoint(inverse, 0, ...position), normal: unit(n) };
}

const unit = (v: Vec3): Vec3 => {
  const length = Math.hypot(...v) || 1;
  return v.map((x) => x / length) as Vec3;
};

/** The names that look most like one that is gone, the likeliest first: by the share of letter pairs that both have (Dice, 1945). */
export function namesLike(gone: string, names: readonly string[], count: number): string[] {
  const pairs = (name: string): Map<string, number> => {
    const out = new Map<string, number>();
    const plain = ` ${name.toLowerCase()} `;
    for (let i = 0; i + 1 < plain.length; i++) out.set(plain.slice(i, i + 2), (out.get(plain.slice(i, i + 2)) ?? 0) + 1);
    return out;
  };
  const own = pairs(gone);
  const likeness = (name: string): number => {
    let both = 0;
    for (const [pair, n] of pairs(name)) both += Math.min(n, own.get(pair) ?? 0);
    return (2 * both) / (gone.length + name.length + 2);
  };
  return names
    .map((name) => ({ name, score: likeness(name) }))
    .sort((a, b) => b.score - a.score)
    .slice(0, count)
    .map(({ name }) => name);
}
