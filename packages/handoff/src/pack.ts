/** A document and its level compiled for playing: what a bundle holds, as plain JSON. The same input gives the same bytes. */
import { type Compiled, compile, isBuiltIn, type Level, withHudOnPanel } from '@foreshore/core';
import { type Document, type FeedValue, inOrder } from '@foreshore/document';
import {
  BUNDLE_FORMAT,
  BUNDLE_VERSION,
  type Bundle,
  type BundleDocument,
  type BundleLevel,
  type BundleRows,
  type Packed,
  type PartName,
} from '@foreshore/runtime/bundle';
import { parsedMessage } from '@foreshore/text';

/** Not in the tables: what a bundle has once, and what only the bench uses. */
const APART = new Set<keyof Compiled>(['document', 'level', 'definitions']);

const packedNumbers = (t: Packed['t'], table: ArrayLike<number>): Packed => ({
  t,
  v: Array.from(table, (number) => (Number.isNaN(number) ? null : number)),
});

function packed(value: unknown): unknown {
  if (value instanceof Float64Array) return packedNumbers('f64', value);
  if (value instanceof Int32Array) return packedNumbers('i32', value);
  if (value instanceof Uint8Array) return packedNumbers('u8', value);
  if (value instanceof Int8Array) return packedNumbers('i8', value);
  if (value instanceof Set) return [...value];
  if (Array.isArray(value)) return value.map(packed);
  if (typeof value === 'object' && value !== null)
    return Object.fromEntries(Object.entries(value).flatMap(([key, of]) => (of === undefined ? [] : [[key, packed(of)]])));
  return value;
}

function rowsOf(c: Compiled): BundleRows {
  return Object.fromEntries(
    (Object.keys(c) as (keyof Compiled)[])
      .filter((key) => !APART.has(key))
      .map((key) => [key, key === 'elements' ? c.elements : packed(c[key])]),
  );
}

/** Every text of the rows in every language, parsed. */
function messagesOf(tables: readonly Compiled[]): Bundle['messages'] {
  const messages: Bundle['messages'] = {};
  for (const { elements } of tables)
    for (const element of elements) {
      if (element.kind !== 'label') continue;
      for (const text of [element.text, ...Object.values(element.translations ?? {})]) {
        const parts = parsedMessage(text);
        if (parts) messages[text] = parts;
      }
    }
  return Object.fromEntries(Object.entries(messages).sort(([a], [b]) => (a < b ? -1 : 1)));
}

function levelOf(level: Level, document: Document, tables: readonly Compiled[]): BundleLevel {
  const nodes = new Set<number>();
  const carries = new Set<number>();
  for (const { anchorKind, anchorFirst, panelNode, nodeOf } of tables) {
    anchorFirst.forEach((node, row) => {
      if (anchorKind[row] === 0 && node >= 0) nodes.add(node);
    });
    for (const node of panelNode) if (node >= 0) nodes.add(node);
    for (const node of nodeOf) if (node >= 0) carries.add(node);
  }
  const asked = [
    ...Object.values(document.feeds).flatMap(({ source }) => (source?.kind === 'aimed' ? [source.property] : [])),
    ...Object.values(document.elements).flatMap((e) => (e.kind === 'crosshair' && e.aim?.of.by === 'nodes' ? [e.aim.of.property] : [])),
  ];
  // A property may be asked for with its value.
  const keys = asked.flatMap((property) => (property === null ? [] : [(property.split('=')[0] as string).trim()]));
  level.nodeProperties.forEach((of, node) => {
    if (keys.some((key) => Object.hasOwn(of, key))) carries.add(node);
  });
  const sorted = (set: Set<number>) => [...set].sort((a, b) => a - b);
  return {
    nodeIds: [...level.nodeIds],
    parentOf: [...level.parentOf],
    moves: [...level.nodeMoves],
    matrices: Object.fromEntries(sorted(nodes).map((node) => [node, [...level.worldMatrices.subarray(node * 16, node * 16 + 16)]])),
    properties: Object.fromEntries(
      sorted(carries)
        .map((node) => [node, level.nodeProperties[node] as Record<string, FeedValue>] as const)
        .filter(([, of]) => of && Object.keys(of).length > 0),
    ),
  };
}

function documentOf(document: Document): BundleDocument {
  const feeds = Object.fromEntries(
    inOrder(document.feeds).map(([id, { name, kind, unit, range, source, initial, each }]) => [
      id,
      { name, kind, unit, ...(range && { range }), ...(each && { each }), ...(isBuiltIn(source) && { source, initial }) },
    ]),
  );
  const { name, language, languages, glass, body, viewers, phases, actions, contest, ray, labels, pictures, cursor, level } = document;
  const kept = { name, language, languages, glass, body, contest, ray, labels, cursor };
  const ordered = { viewers, phases, actions, pictures };
  return {
    ...Object.fromEntries(Object.entries(kept).filter(([, value]) => value !== undefined)),
    ...Object.fromEntries(Object.entries(ordered).flatMap(([key, of]) => (of ? [[key, Object.fromEntries(inOrder(of as never))]] : []))),
    feeds,
    level: level ? (level.clips ? { clips: level.clips } : {}) : null,
  } as unknown as BundleDocument;
}

/** Files that lie beside a bundle, by their names there. */
export interface BundleFiles {
  fonts: Bundle['fonts'];
  pictures: Bundle['pictures'];
}

/** All of a bundle but its hash. The level must stand as it does at its beginning. */
export function packBundle(document: Document, level: Level | null, files: BundleFiles): Omit<Bundle, 'hash'> {
  const compiled = compile(document, level);
  const hasHeadset = Object.values(document.viewers).some(({ kind }) => kind === 'headset');
  const headset = hasHeadset ? withHudOnPanel(compiled) : compiled;
  const tables = headset === compiled ? [compiled] : [compiled, headset];
  const trails = tables.some(({ elements }) => elements.some(({ mount }) => mount.kind === 'trailing'));
  const needs: PartName[] = [
    ...(document.labels?.apart ? (['apart'] as const) : []),
    ...(trails ? (['trailing'] as const) : []),
    ...(compiled.motions.length > 0 ? (['motions'] as const) : []),
    ...(compiled.spans.length + compiled.screenLengths.length > 0 ? (['measure'] as const) : []),
    ...(compiled.formed.length > 0 || compiled.crowds.length > 0 ? (['many'] as const) : []),
    ...(compiled.directions.length > 0 ? (['directions'] as const) : []),
    ...(compiled.steadied.length > 0 || document.labels?.snap ? (['calm'] as const) : []),
    ...(compiled.elements.some((e) => e.kind === 'crosshair' && (e.aim?.tool || e.screenShare)) ? (['tool'] as const) : []),
  ];
  return {
    format: BUNDLE_FORMAT,
    version: BUNDLE_VERSION,
    document: documentOf(document),
    needs,
    rows: rowsOf(compiled),
    headset: headset === compiled ? null : rowsOf(headset),
    level: level && levelOf(level, document, tables),
    messages: messagesOf(tables),
    ...files,
  };
}
