/**
 * The document and the level as flat tables, one row an element, one row an anchor.
 *
 * Anchors stand in such an order that a midpoint comes after both its ends. What does not move has its place
 * in the world computed here once; `moving` lists the rest, to be placed every frame.
 */
import type { Anchor, Document, Element } from '@foreshore/document';
import { inOrder } from '@foreshore/document/order';
import type { Level } from './level.ts';
import type { Vec3 } from './spaces/pose.ts';

export const ON_NODE = 0;
export const MIDPOINT = 1;

export interface Compiled {
  readonly document: Document;
  readonly level: Level | null;
  readonly count: number;
  readonly ids: readonly string[];
  readonly elements: readonly Element[];
  readonly anchorIds: readonly string[];
  /** Places in the world, three numbers an anchor; rows of moving anchors are written by `placeAnchors`. */
  readonly anchorWorld: Float64Array;
  /** Why an anchor has no place, or null. */
  readonly anchorFault: readonly (string | null)[];
  readonly moving: Int32Array;
  readonly anchorKind: Uint8Array;
  /** A node's index, or the row of a midpoint's first end. */
  readonly anchorFirst: Int32Array;
  readonly anchorSecond: Int32Array;
  readonly anchorLocal: Float64Array;
  readonly elementAnchor: Int32Array;
  /** 1 where the element's anchor has no place. */
  readonly lost: Uint8Array;
}

/** A point given in a node's own space, in the world. */
export function transformPoint(m: ArrayLike<number>, at: number, x: number, y: number, z: number): Vec3 {
  const e = (i: number) => m[at + i] ?? 0;
  return [e(0) * x + e(4) * y + e(8) * z + e(12), e(1) * x + e(5) * y + e(9) * z + e(13), e(2) * x + e(6) * y + e(10) * z + e(14)];
}

/** Writes the places of moving anchors for the level's present poses. */
export function placeAnchors(c: Compiled): void {
  const { moving, anchorKind, anchorFirst, anchorSecond, anchorLocal, anchorWorld } = c;
  const m = c.level?.worldMatrices;
  for (let k = 0; k < moving.length; k++) {
    const a = moving[k] as number;
    const to = a * 3;
    if (anchorKind[a] === MIDPOINT) {
      const first = (anchorFirst[a] as number) * 3;
      const second = (anchorSecond[a] as number) * 3;
      for (let i = 0; i < 3; i++) anchorWorld[to + i] = ((anchorWorld[first + i] as number) + (anchorWorld[second + i] as number)) / 2;
    } else if (m) {
      const at = (anchorFirst[a] as number) * 16;
      const x = anchorLocal[to] as number;
      const y = anchorLocal[to + 1] as number;
      const z = anchorLocal[to + 2] as number;
      for (let i = 0; i < 3; i++)
        anchorWorld[to + i] =
          (m[at + i] as number) * x + (m[at + 4 + i] as number) * y + (m[at + 8 + i] as number) * z + (m[at + 12 + i] as number);
    }
  }
}

/** Anchor ids so that a midpoint follows its ends. */
function anchorsInDependence(anchors: Document['anchors']): string[] {
  const done = new Set<string>();
  const visit = (id: string) => {
    if (done.has(id)) return;
    const anchor = anchors[id];
    if (anchor?.kind === 'midpoint') {
      visit(anchor.first);
      visit(anchor.second);
    }
    done.add(id);
  };
  for (const [id] of inOrder(anchors)) visit(id);
  return [...done];
}

const nodeOf = (anchor: Anchor): string | null => (anchor.kind === 'midpoint' ? null : anchor.node);

/** @param document a valid document. @param level its level, or null where there is none (yet). */
export function compile(document: Document, level: Level | null): Compiled {
  const anchorIds = anchorsInDependence(document.anchors);
  const rowOf = new Map(anchorIds.map((id, row) => [id, row]));
  const anchorCount = anchorIds.length;
  const anchorKind = new Uint8Array(anchorCount);
  const anchorFirst = new Int32Array(anchorCount).fill(-1);
  const anchorSecond = new Int32Array(anchorCount).fill(-1);
  const anchorLocal = new Float64Array(anchorCount * 3);
  const anchorWorld = new Float64Array(anchorCount * 3);
  const anchorFault: (string | null)[] = new Array(anchorCount).fill(null);
  const toPlace: number[] = [];
  const moves = new Uint8Array(anchorCount);

  anchorIds.forEach((id, row) => {
    const anchor = document.anchors[id] as Anchor;
    if (anchor.kind === 'midpoint') {
      const [first, second] = [rowOf.get(anchor.first) ?? -1, rowOf.get(anchor.second) ?? -1];
      anchorKind[row] = MIDPOINT;
      anchorFirst[row] = first;
      anchorSecond[row] = second;
      anchorFault[row] = anchorFault[first] ?? anchorFault[second] ?? null;
      moves[row] = Math.max(moves[first] ?? 0, moves[second] ?? 0);
      toPlace.push(row);
      return;
    }
    anchorLocal.set(anchor.kind === 'node' ? anchor.offset : anchor.position, row * 3);
    const name = nodeOf(anchor);
    if (name === null) {
      anchorWorld.set(anchorLocal.subarray(row * 3, row * 3 + 3), row * 3);
      return;
    }
    const node = level?.nodeIndex(name) ?? -1;
    if (node < 0) {
      anchorFault[row] = level ? `the level has no node "${name}"` : 'there is no level';
      return;
    }
    anchorFirst[row] = node;
    moves[row] = level?.nodeMoves[node] ?? 0;
    toPlace.push(row);
  });

  const rows = inOrder(document.elements);
  const n = rows.length;
  const compiled: Compiled = {
    document,
    level,
    count: n,
    ids: rows.map(([id]) => id),
    elements: rows.map(([, element]) => element),
    anchorIds,
    anchorWorld,
    anchorFault,
    moving: Int32Array.from(toPlace),
    anchorKind,
    anchorFirst,
    anchorSecond,
    anchorLocal,
    elementAnchor: new Int32Array(n),
    lost: new Uint8Array(n),
  };
  rows.forEach(([, element], i) => {
    const anchor = rowOf.get(element.mount.anchor) ?? -1;
    compiled.elementAnchor[i] = Math.max(anchor, 0);
    compiled.lost[i] = anchor < 0 || anchorFault[anchor] ? 1 : 0;
  });
  // What stands still is placed now and left out of the frame's work.
  placeAnchors(compiled);
  return { ...compiled, moving: Int32Array.from(toPlace.filter((row) => moves[row])) };
}
