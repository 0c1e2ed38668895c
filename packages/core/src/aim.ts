/** What lies in the middle of the view: the nearest surface of the level along the way the head faces. */
import type { FeedSource, FeedValue } from '@foreshore/document/types';
import { type Level, makeHit } from './level.ts';
import { matchingNodes } from './match.ts';
import type { Pose, Vec3 } from './spaces/pose.ts';

export interface Aimed {
  /** Index of the node that is met. */
  node: number;
  /** From the head, metres. */
  distanceM: number;
  /** In the world. */
  position: Vec3;
}

const hit = makeHit();

/** The way a head faces: its own −z, turned by its quaternion. */
export function facing({ rotation: [x, y, z, w] }: Pose): Vec3 {
  return [-2 * (x * z + w * y), -2 * (y * z - w * x), -(1 - 2 * (x * x + y * y))];
}

/** @param mostM what is farther is not met. The level must have been placed for the moment. */
export function aimedAt(level: Level | null, head: Pose, mostM: number): Aimed | null {
  if (!level?.castRay(head.position, facing(head), mostM, hit)) return null;
  return { node: hit.node, distanceM: hit.distanceM, position: [...hit.position] };
}

export type NodesMeant = { pattern: string; property: string | null };
type AimedSource = Extract<FeedSource, { kind: 'aimed' }>;
/** Of each node of a level: itself, or the nearest node above it, that is meant; −1 where there is none. By what names them. */
const named = new WeakMap<object, { level: Level; of: Int32Array }>();

/** @param by what names them: the same object gives the same table, until the level is another. */
export function namedNodes(level: Level, by: object, meant: () => readonly number[]): Int32Array {
  const known = named.get(by);
  if (known?.level === level) return known.of;
  const of = new Int32Array(level.nodeIds.length).fill(-1);
  for (const node of meant()) of[node] = node;
  // Parents come before their children.
  for (let node = 0; node < of.length; node++) {
    const parent = level.parentOf[node] as number;
    if (of[node] === -1 && parent >= 0) of[node] = of[parent] as number;
  }
  named.set(by, { level, of });
  return of;
}
export const meantNodes = (level: Level, source: NodesMeant): Int32Array => namedNodes(level, source, () => matchingNodes(level, source));

/**
 * The value of a feed of what is aimed at. A flag: whether the nearest surface within reach is of a node that is meant. A text: that
 * node, or nothing. A number: how far it is, or one of its coordinates; the reach, or 0, where it is none of these. Undefined where the
 * level is not known.
 */
export function aimedValue(level: Level | null, head: Pose, source: AimedSource, initial: FeedValue): FeedValue | undefined {
  if (!level) return undefined;
  const met = aimedAt(level, head, source.mostM);
  const node = met ? (meantNodes(level, source)[met.node] as number) : -1;
  if (typeof initial === 'boolean') return node >= 0;
  if (typeof initial === 'string') return level.nodeIds[node] ?? '';
  if (source.gives === 'distance') return met && node >= 0 ? met.distanceM : source.mostM;
  return met && node >= 0 ? (met.position['xyz'.indexOf(source.gives)] as number) : 0;
}
