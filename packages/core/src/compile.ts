/**
 * The document and the level as flat tables, one row an element, one row an anchor.
 *
 * Anchors stand in such an order that a midpoint comes after both its ends. What does not move has its place
 * in the world computed here once; `moving` lists the rest, to be placed every frame.
 */
import type { Anchor, Document, Element, Gauge } from '@foreshore/document';
import { inOrder } from '@foreshore/document/order';
import type { Level } from './level.ts';
import type { Vec3 } from './spaces/pose.ts';

export const ON_NODE = 0;
export const MIDPOINT = 1;

export interface Compiled {
  readonly document: Document;
  readonly level: Level | null;
  readonly count: number;
  /** Rows before this float over an anchor of their own; the rest stand on the glass or inside a group. */
  readonly floatingCount: number;
  /** The row of the group an element is inside of, or −1. A group's row is smaller than its members'. */
  readonly parent: Int32Array;
  /** The row of the outermost element; its own where it is inside of nothing. */
  readonly root: Int32Array;
  /** Rows of a group's members, in order. */
  readonly members: readonly (readonly number[])[];
  readonly feedIds: readonly string[];
  /** Rows of the gauges. */
  readonly gauges: Int32Array;
  /** The feed of each gauge, or −1. */
  readonly gaugeFeed: Int32Array;
  /** Rows with something to say about when they apply, and the first of each one's conditions among all conditions. */
  readonly shows: Int32Array;
  readonly firstCondition: Int32Array;
  readonly conditionFeed: Int32Array;
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

/** Ids in the order of rows: what floats first, then what is inside of it, then each element of the glass followed by what is inside. */
function rowsOf(elements: Document['elements']): { ids: string[]; floatingCount: number } {
  const inside = new Map<string, string[]>();
  const floating: string[] = [];
  const glass: string[] = [];
  for (const [id, { mount }] of inOrder(elements)) {
    if (mount.kind === 'floating') floating.push(id);
    else if (mount.kind === 'glass') glass.push(id);
    else {
      const list = inside.get(mount.group);
      if (list) list.push(id);
      else inside.set(mount.group, [id]);
    }
  }
  const ids = [...floating];
  const below = (id: string): void => {
    for (const member of inside.get(id) ?? []) {
      ids.push(member);
      below(member);
    }
  };
  for (const id of floating) below(id);
  for (const id of glass) {
    ids.push(id);
    below(id);
  }
  return { ids, floatingCount: floating.length };
}

const rowsWhere = (elements: readonly Element[], wanted: (element: Element) => boolean): Int32Array =>
  Int32Array.from(elements.flatMap((element, i) => (wanted(element) ? [i] : [])));

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

  const { ids, floatingCount } = rowsOf(document.elements);
  const n = ids.length;
  const elements = ids.map((id) => document.elements[id] as Element);
  const row = new Map(ids.map((id, i) => [id, i]));
  const parent = new Int32Array(n).fill(-1);
  const root = Int32Array.from({ length: n }, (_, i) => i);
  const members: number[][] = Array.from({ length: n }, () => []);
  elements.forEach(({ mount }, i) => {
    if (mount.kind !== 'inside') return;
    const group = row.get(mount.group) ?? -1;
    parent[i] = group;
    root[i] = root[group] as number;
    members[group]?.push(i);
  });
  const feedIds = inOrder(document.feeds).map(([id]) => id);
  const feed = new Map(feedIds.map((id, i) => [id, i]));
  const gauges = rowsWhere(elements, (element) => element.kind === 'gauge');
  const shows = rowsWhere(elements, (element) => element.show !== undefined);
  const conditions = [...shows].map((i) => elements[i]?.show?.conditions ?? []);
  let first = 0;
  const compiled: Compiled = {
    document,
    level,
    count: n,
    floatingCount,
    parent,
    root,
    members,
    feedIds,
    gauges,
    gaugeFeed: gauges.map((i) => feed.get((elements[i] as Gauge).source ?? '') ?? -1),
    shows,
    firstCondition: Int32Array.from(conditions, (list) => (first += list.length) - list.length),
    conditionFeed: Int32Array.from(conditions.flat(), (c) => feed.get(c.feed) ?? -1),
    ids,
    elements,
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
  elements.forEach(({ mount }, i) => {
    if (mount.kind !== 'floating') return;
    const anchor = rowOf.get(mount.anchor) ?? -1;
    compiled.elementAnchor[i] = Math.max(anchor, 0);
    compiled.lost[i] = anchor < 0 || anchorFault[anchor] ? 1 : 0;
  });
  // What stands still is placed now and left out of the frame's work.
  placeAnchors(compiled);
  return { ...compiled, moving: Int32Array.from(toPlace.filter((row) => moves[row])) };
}
