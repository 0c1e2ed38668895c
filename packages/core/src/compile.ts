/**
 * The document and the level as flat tables, one row an element, one row an anchor.
 *
 * Anchors stand in such an order that a midpoint comes after both its ends. What does not move has its place
 * in the world computed here once; `moving` lists the rest, to be placed every frame.
 */

import { keyAt, partsOfKey } from '@foreshore/document/key-at';
import { anchorsBetween, isAnchored, isMember, isOnPanel, KINDS, MOUNTS } from '@foreshore/document/kinds';
import { inOrder } from '@foreshore/document/order';
import { type ParameterValue, parameterTranslations, parameterValues, standIn, withParameters } from '@foreshore/document/template';
import type { Anchor, Condition, Direction, Document, Element, Gauge, Many, ScreenPaint } from '@foreshore/document/types';
import { placeAnchors } from './anchors.ts';
import { type AnchorFault, type Compiled, EVENT, isHudGroup, MIDPOINT, ON_NODE, type Parameters, valueIndex } from './compiled.ts';
import { valuesOfRows } from './each.ts';
import { keysOf } from './keys.ts';
import type { Level } from './level.ts';
import { matchingNodes } from './match.ts';
import type { Vec3 } from './spaces/pose.ts';
import { makeZones, setZone } from './zones.ts';

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

/** An anchor of the document, or one of the many places of one. */
interface AnchorRow {
  id: string;
  anchor: Anchor;
  /** The node, where the anchor stands at many; −1: none matches. */
  node: number | null;
}

function anchorRows(document: Document, level: Level | null): AnchorRow[] {
  return anchorsInDependence(document.anchors).flatMap((id): AnchorRow[] => {
    const anchor = document.anchors[id] as Anchor;
    if (anchor.kind !== 'nodes') return [{ id, anchor, node: null }];
    const nodes = matchingNodes(level, anchor);
    if (nodes.length === 0) return [{ id, anchor, node: -1 }];
    return nodes.map((node) => ({ id: keyAt(id, level?.nodeIds[node] ?? ''), anchor, node }));
  });
}

/** The list under a key, begun where there is none. */
function listed<K, V>(lists: Map<K, V[]>, key: K): V[] {
  let list = lists.get(key);
  if (!list) lists.set(key, (list = []));
  return list;
}

/** Rows of what floats or stands by itself at one place: an element that was not changed has the row that it had. */
const plain = new WeakMap<Element, ElementRow>();

/** One row: an element, or one of the many that it stands for. */
interface ElementRow {
  id: string;
  source: string;
  element: Element;
  parent: number;
  node: number;
  /** The id of its anchor's row, where it floats. */
  anchor: string;
  parameters: Parameters | null;
  /** The element whose fields it has, by its id in the document. */
  definition: string;
  /** The group whose members stand in it: its own id, or that of its template. */
  of: string;
}

/** Parameters take on what a node carries under their names. */
function nodeValues(level: Level | null, node: number, values: Record<string, ParameterValue>): Record<string, ParameterValue> {
  const carried = node < 0 ? undefined : level?.nodeProperties[node];
  if (!carried) return values;
  return Object.fromEntries(
    Object.entries(values).map(([name, value]) => {
      const own = carried[name];
      return [name, typeof own === 'string' || typeof own === 'number' ? own : value];
    }),
  );
}

/**
 * Rows in their order: what floats, panels that stand, what is inside of both, then each panel that trails and each element of
 * the HUD, followed by what is inside.
 */
interface Rows {
  rows: ElementRow[];
  floatingCount: number;
  anchoredCount: number;
  aloneFrom: number;
}

function rowsOf(document: Document, level: Level | null, anchored: readonly AnchorRow[]): Rows {
  const inside = new Map<string, [string, Element][]>();
  const alone: [string, Element][] = [];
  const standing: [string, Element][] = [];
  const rows: ElementRow[] = [];
  const many = new Map<Anchor, AnchorRow[]>();
  for (const one of anchored) if (one.anchor.kind === 'nodes') listed(many, one.anchor).push(one);
  /** A row for an element as it stands: an instance gives way to its template. */
  const add = (row: Omit<ElementRow, 'of' | 'definition'>, key: string): number => {
    const { element } = row;
    const template =
      element.kind === 'instance' ? document.elements[element.of] : element.kind === 'group' && element.template ? element : null;
    if (template?.kind !== 'group')
      return (
        rows.push({
          ...row,
          definition: key,
          element: row.parameters ? withParameters(element, row.parameters.values, row.parameters.translations) : element,
          of: key,
        }) - 1
      );
    const instance = element.kind === 'instance' ? element : { values: {} };
    const own = parameterValues(template, instance);
    const values = nodeValues(level, row.node, own);
    // What a node carries is in no other language.
    const translations = Object.fromEntries(
      Object.entries(parameterTranslations(template, instance)).filter(([name]) => values[name] === own[name]),
    );
    const named = Object.entries(template.template?.parameters ?? {});
    const parameters = { values, translations, feeds: new Set(named.flatMap(([name, { kind }]) => (kind === 'feed' ? [name] : []))) };
    const stands = element.kind === 'instance' ? standIn(template, element) : element;
    return (
      rows.push({
        ...row,
        definition: key,
        parameters,
        element: withParameters(stands, values, translations),
        of: element.kind === 'instance' ? element.of : key,
      }) - 1
    );
  };
  const carriedAlone = { parent: -1, node: -1, anchor: '', parameters: null };
  const stand = (id: string, element: Element): void => {
    const { mount } = element;
    if (!isAnchored(mount)) return;
    const anchor = document.anchors[mount.anchor];
    const places = anchor && many.get(anchor);
    if (!places) {
      const before = plain.get(element);
      if (before?.id === id && before.anchor === mount.anchor) rows.push(before);
      else {
        add({ ...carriedAlone, id, source: id, element, anchor: mount.anchor }, id);
        if (element.kind !== 'group' && element.kind !== 'instance') plain.set(element, rows.at(-1) as ElementRow);
      }
      return;
    }
    for (const { id: place, node } of places)
      add(
        {
          ...carriedAlone,
          id: keyAt(id, partsOfKey(place).object),
          source: id,
          element,
          node: node ?? -1,
          anchor: place,
        },
        id,
      );
  };
  for (const [id, element] of inOrder(document.elements)) {
    const { mount } = element;
    if (isMember(mount)) listed(inside, mount.group).push([id, element]);
    else if (element.kind === 'group' && element.template?.only) continue;
    else if (!isAnchored(mount)) alone.push([id, element]);
    else if (isOnPanel(mount)) standing.push([id, element]);
    else stand(id, element);
  }
  const floatingCount = rows.length;
  for (const [id, element] of standing) stand(id, element);
  const anchoredCount = rows.length;
  const below = (up: number): void => {
    const { id, source, node, of, parameters } = rows[up] as ElementRow;
    // A node's name may have an @ of its own.
    const { id: own, object: place } = partsOfKey(id);
    for (const [member, element] of inside.get(of) ?? []) {
      // Inside of an instance, rows are called `instance.member`, and selecting one selects the instance.
      const within = own !== of;
      const key = keyAt(within ? `${own}.${member}` : member, place);
      const row = { id: key, source: within ? source : member, element, parent: up, node, anchor: '', parameters };
      below(add(row, member));
    }
  };
  for (let i = 0; i < anchoredCount; i++) below(i);
  const aloneFrom = rows.length;
  const trailing = alone.filter(([, { mount }]) => isOnPanel(mount));
  const onHud = alone.filter(([, { mount }]) => !isOnPanel(mount));
  for (const [id, element] of [...trailing, ...onHud]) below(add({ ...carriedAlone, id, source: id, element }, id));
  return { rows, floatingCount, anchoredCount, aloneFrom };
}

/** Conditions without their groups, in the order in which they are written. */
const leaves = (conditions: readonly Condition[]): Exclude<Condition, { kind: 'group' }>[] =>
  conditions.flatMap((c) => (c.kind === 'group' ? leaves(c.conditions) : [c]));

const rowsWhere = (elements: readonly Element[], wanted: (element: Element) => boolean): Int32Array =>
  Int32Array.from(elements.flatMap((element, i) => (wanted(element) ? [i] : [])));

/** Gates with a claim, those that contend together in one list: all, or those that have the same key. */
function contestsOf(document: Document, elements: readonly Element[], gated: Int32Array): number[][] {
  const contests = new Map<string, number[]>();
  gated.forEach((row, k) => {
    const { claim, press } = elements[row] as Element;
    if (claim) listed(contests, document.contest?.among === 'all' ? '' : keysOf(document, press?.action ?? null).keyboard).push(k);
  });
  return [...contests.values()];
}

/** Groups that float and have, somewhere inside, a member that is there in some of their forms alone. */
function formedRows(elements: readonly Element[], root: Int32Array, floatingCount: number): Int32Array {
  const formed = new Set<number>();
  elements.forEach(({ only, mount }, i) => {
    const top = root[i] as number;
    if (only && isMember(mount) && top < floatingCount) formed.add(top);
  });
  return Int32Array.from([...formed].sort((a, b) => a - b));
}

/** Floating rows that count as one kind and are merged or thinned out together. */
function crowdsOf(elements: readonly Element[], kinds: readonly string[], floatingCount: number): Compiled['crowds'] {
  const crowds = new Map<string, { rows: number[]; many: Many }>();
  for (let i = 0; i < floatingCount; i++) {
    const many = elements[i]?.place.many;
    if (!many || (many.mergePx === undefined && !many.most)) continue;
    const { kind, mergePx, most } = many;
    const key = JSON.stringify([
      kind ?? null,
      kind === undefined ? kinds[i] : '',
      mergePx ?? null,
      most?.count ?? null,
      most?.among ?? null,
    ]);
    const crowd = crowds.get(key);
    if (crowd) crowd.rows.push(i);
    else crowds.set(key, { rows: [i], many });
  }
  return [...crowds.values()];
}

/** 1 for a node and all below it; null where there is no node. */
function ownNodes(level: Level | null, node: number, known: Map<number, Uint8Array>): Uint8Array | null {
  if (!level || node < 0) return null;
  let own = known.get(node);
  if (own) return own;
  known.set(node, (own = new Uint8Array(level.nodeIds.length)));
  own[node] = 1;
  // A node may come before the one above it.
  for (let changed = true; changed; ) {
    changed = false;
    for (let i = 0; i < own.length; i++)
      if (!own[i] && own[level.parentOf[i] as number]) {
        own[i] = 1;
        changed = true;
      }
  }
  return own;
}

/**
 * How a panel lies on an anchor, in the anchor's own space: out of a surface along its normal, head up as far as that goes, on a
 * floor or a ceiling with its head to the north; on a node along its own z and y.
 */
function panelAxes(anchor: Anchor): { front: Vec3; up: Vec3 } {
  if (anchor.kind !== 'surface') return { front: [0, 0, 1], up: [0, 1, 0] };
  const [x, y, z] = anchor.normal;
  const up: Vec3 = Math.abs(y) > 0.999 ? [0, 0, -1] : [-x * y, 1 - y * y, -z * y];
  return { front: [x, y, z], up };
}

/** Of the anchors that move, those that are steadied, and the midpoints that go with them. */
function steadiedOf(
  moving: Int32Array,
  anchored: readonly AnchorRow[],
  kinds: Uint8Array,
  first: Int32Array,
  second: Int32Array,
): Pick<Compiled, 'steadied' | 'steadies'> {
  const steadied: number[] = [];
  for (const row of moving) {
    const follows = kinds[row] === MIDPOINT && (steadied.includes(first[row] as number) || steadied.includes(second[row] as number));
    if (follows || anchored[row]?.anchor.steady) steadied.push(row);
  }
  return { steadied: Int32Array.from(steadied), steadies: steadied.map((row) => anchored[row]?.anchor.steady ?? null) };
}

/** @param document a valid document. @param level its level, or null where there is none (yet). */
export function compile(document: Document, level: Level | null): Compiled {
  const anchored = anchorRows(document, level);
  const feeds = inOrder(document.feeds);
  const feedIds = feeds.map(([id]) => id);
  const anchorIds = anchored.map(({ id }) => id);
  const rowOf = new Map(anchorIds.map((id, row) => [id, row]));
  const anchorCount = anchorIds.length;
  const anchorKind = new Uint8Array(anchorCount);
  const anchorFirst = new Int32Array(anchorCount).fill(-1);
  const anchorSecond = new Int32Array(anchorCount).fill(-1);
  const anchorLocal = new Float64Array(anchorCount * 3);
  const anchorWorld = new Float64Array(anchorCount * 3);
  const anchorFault: (AnchorFault | null)[] = new Array(anchorCount).fill(null);
  const toPlace: number[] = [];
  const moves = new Uint8Array(anchorCount);

  anchored.forEach(({ anchor, node: one }, row) => {
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
    anchorLocal.set(anchor.kind === 'surface' ? anchor.position : anchor.offset, row * 3);
    if (anchor.kind === 'event') {
      anchorKind[row] = EVENT;
      anchorFirst[row] = anchor.feed === null ? -1 : feedIds.indexOf(anchor.feed);
      anchorFault[row] = anchor.feed === null ? { kind: 'noEvent' } : null;
      return;
    }
    const name = anchor.kind === 'nodes' ? (level?.nodeIds[one ?? -1] ?? anchor.pattern) : anchor.node;
    if (name === null) {
      anchorWorld.set(anchorLocal.subarray(row * 3, row * 3 + 3), row * 3);
      return;
    }
    const node = level?.nodeIndex(name) ?? -1;
    if (node < 0) {
      anchorFault[row] = !level
        ? { kind: 'noLevel' }
        : anchor.kind === 'nodes'
          ? { kind: 'noMatch', pattern: name }
          : { kind: 'noNode', node: name };
      return;
    }
    anchorFirst[row] = node;
    moves[row] = level?.nodeMoves[node] ?? 0;
    toPlace.push(row);
  });

  const { rows, floatingCount, anchoredCount, aloneFrom } = rowsOf(document, level, anchored);
  const n = rows.length;
  const ids = rows.map(({ id }) => id);
  const elements = rows.map(({ element }) => element);
  const parent = Int32Array.from(rows, (row) => row.parent);
  const root = Int32Array.from({ length: n }, (_, i) => i);
  const clipper = new Int32Array(n).fill(-1);
  const members: number[][] = Array.from({ length: n }, () => []);
  parent.forEach((up, i) => {
    if (up < 0) return;
    root[i] = root[up] as number;
    members[up]?.push(i);
    const group = elements[up];
    clipper[i] = group?.kind === 'group' && (group.layout.clip || group.layout.scroll) ? up : (clipper[up] as number);
  });
  /** The node that a row stands at: its own of many, that of its outermost element's anchor, or that which it is about. */
  const nodeAround = (row: number): number => {
    const own = rows[row]?.node ?? -1;
    if (own >= 0) return own;
    for (let up = row; up >= 0; up = parent[up] as number) {
      const { about, mount } = elements[up] as Element;
      const anchor = rowOf.get((isAnchored(mount) ? rows[up]?.anchor : about) ?? '') ?? -1;
      if (anchor >= 0) return anchorKind[anchor] === ON_NODE ? (anchorFirst[anchor] as number) : -1;
    }
    return -1;
  };
  const gauges = rowsWhere(elements, ({ kind }) => KINDS[kind].follows);
  const shows = rowsWhere(elements, (element) => element.show !== undefined);
  const conditions = [...shows].map((i) => leaves(elements[i]?.show?.conditions ?? []));
  const all = valuesOfRows(
    feeds,
    n,
    () =>
      rows.map(({ element, parameters }, row) => ({ element, parameters: Object.values(parameters?.values ?? {}), node: nodeAround(row) })),
    level,
  );
  const value = (id: string | null | undefined, row: number): number => valueIndex({ ...all, count: n }, id ?? null, row);
  const zones = makeZones(anchorCount);
  anchored.forEach(({ anchor }, row) => {
    setZone(zones, row, anchor.zone);
  });
  const gated = Int32Array.from(
    [...elements.keys()].filter((i) => {
      const { mount, about, range, look, sightline, claim, press } = elements[i] as Element;
      const onHud = isMember(mount) && isHudGroup(mount.group);
      const isAbout = MOUNTS[mount.kind].gates === 'own' || ((onHud || MOUNTS[mount.kind].gates === 'about') && about !== undefined);
      return isAbout && (range ?? look ?? sightline ?? claim ?? press) !== undefined;
    }),
  );
  const panels = rowsWhere(elements, ({ mount }) => isOnPanel(mount));
  const spans = rowsWhere(elements, ({ mount, place }) => mount.kind === 'floating' && place.span !== undefined);
  const directions = rowsWhere(elements, ({ kind }) => kind === 'direction');
  const owned = new Map<number, Uint8Array>();
  const owns: (Uint8Array | null)[] = new Array(gated.length).fill(null);
  let first = 0;
  const compiled: Compiled = {
    document,
    level,
    count: n,
    floatingCount,
    anchoredCount,
    aloneFrom,
    panels,
    panelOf: Int32Array.from(root, (top) => panels.indexOf(top)),
    panelNode: new Int32Array(panels.length).fill(-1),
    panelAxes: new Float64Array(panels.length * 6),
    parent,
    root,
    clipper,
    scrollAxis: Int8Array.from(elements, (e) => (e.kind !== 'group' || !e.layout.scroll ? -1 : e.layout.direction === 'row' ? 0 : 1)),
    members,
    ...all,
    screenLengths: feedIds.flatMap((id, feed) => {
      const source = document.feeds[id]?.source;
      if (source?.kind !== 'between' || source.along !== 'screen') return [];
      return [{ feed, anchors: anchorsBetween(source).map(({ anchor }) => anchorIds.indexOf(anchor)) }];
    }),
    gauges,
    gaugeFeed: gauges.map((i) => value((elements[i] as Gauge | ScreenPaint).source, i)),
    shows,
    firstCondition: Int32Array.from(conditions, (list) => (first += list.length) - list.length),
    conditionFeed: Int32Array.from(conditions.flatMap((list, s) => list.map((c) => value(c.feed, shows[s] as number)))),
    unpainted: Uint8Array.from(elements, ({ paint }) => (paint.opacity === 0 ? 1 : 0)),
    zones,
    gated,
    gateOfRow: new Int32Array(n).fill(-1),
    gateAnchor: new Int32Array(gated.length).fill(-1),
    ownNodes: owns,
    contests: contestsOf(document, elements, gated),
    ids,
    parameters: rows.map(({ parameters }) => parameters),
    lookers: rowsWhere(elements, ({ pointer }) => pointer !== undefined && (pointer.takes === 'acts' || pointer.offWhen !== undefined)),
    motions: rowsWhere(elements, (element) => element.motion !== undefined),
    steadied: new Int32Array(0),
    steadies: [],
    directions,
    directionFeed: directions.map((i) => value((elements[i] as Direction).source, i)),
    directionFollows: directions.map((i) => {
      const to = rowOf.get((elements[i] as Direction).follows ?? '') ?? -1;
      return to >= 0 && anchorFault[to] ? -1 : to;
    }),
    formed: formedRows(elements, root, floatingCount),
    crowds: crowdsOf(
      elements,
      rows.map(({ of }) => of),
      floatingCount,
    ),
    aims: rowsWhere(elements, (e) => e.kind === 'crosshair' && e.aim !== undefined),
    edged: rowsWhere(elements, ({ mount, place }) => mount.kind === 'floating' && place.edge !== undefined),
    spans,
    spanTo: spans.map((row) => rowOf.get(elements[row]?.place.span?.to ?? '') ?? -1),
    sources: rows.map(({ source }) => source),
    definitions: rows.map(({ definition }) => definition),
    nodeOf: Int32Array.from(rows, (row) => row.node),
    elements,
    anchorIds,
    anchorWorld,
    anchorFault,
    moving: Int32Array.from(toPlace),
    anchorKind,
    eventAnchors: Int32Array.from([...anchorKind.keys()].filter((row) => anchorKind[row] === EVENT)),
    anchorFirst,
    anchorSecond,
    anchorLocal,
    elementAnchor: new Int32Array(n),
    anyLost: false,
    lost: new Uint8Array(n),
  };
  for (let k = 0; k < gated.length; k++) compiled.gateOfRow[gated[k] as number] = k;
  rows.forEach((row, i) => {
    if (!isAnchored(row.element.mount)) return;
    const anchor = rowOf.get(row.anchor) ?? -1;
    compiled.elementAnchor[i] = Math.max(anchor, 0);
    compiled.lost[i] = anchor < 0 || anchorFault[anchor] ? 1 : 0;
  });
  // A line needs both its ends.
  compiled.spans.forEach((row, k) => {
    const to = compiled.spanTo[k] as number;
    if (to < 0 || anchorFault[to]) compiled.lost[row] = 1;
  });
  gated.forEach((row, k) => {
    const { about } = elements[row] as Element;
    const anchor = row < anchoredCount ? (compiled.elementAnchor[row] as number) : (rowOf.get(about ?? '') ?? -1);
    compiled.gateAnchor[k] = anchor;
    owns[k] = ownNodes(level, anchorKind[anchor] === ON_NODE ? (anchorFirst[anchor] as number) : -1, owned);
  });
  panels.forEach((row, p) => {
    const carrier = anchored[compiled.elementAnchor[row] as number];
    if (row >= anchoredCount || !carrier) return;
    const { front, up } = panelAxes(carrier.anchor);
    // A bundle goes through JSON, which has no negative zero.
    const axes = [...front, ...up].map((v) => v + 0);
    compiled.panelAxes.set(axes, p * 6);
    const at = compiled.elementAnchor[row] as number;
    compiled.panelNode[p] = anchorKind[at] === ON_NODE ? (anchorFirst[at] as number) : -1;
  });
  // What stands still is placed now and left out of the frame's work.
  placeAnchors(compiled);
  const anyLost = compiled.eventAnchors.length > 0 || compiled.lost.includes(1);
  const moving = Int32Array.from(toPlace.filter((row) => moves[row]));
  return { ...compiled, anyLost, moving, ...steadiedOf(moving, anchored, anchorKind, anchorFirst, anchorSecond) };
}
