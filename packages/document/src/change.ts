/**
 * Changes to a document as JSON Patch (RFC 6902).
 *
 * Every `replace` and `remove` that Foreshore makes is preceded by a `test` of the old value, so that a change
 * that is replayed on a newer revision either means the same there or is refused. Arrays are replaced whole.
 * Untouched parts keep their identity: whoever caches by identity recomputes only what changed.
 */
import { immutableJSONPatch, type JSONPatchDocument, type JSONPatchOperation } from 'immutable-json-patch';
import * as z from 'zod';
import { boundsFault, isForbiddenKey } from './bounds.ts';
import { fromPointer, toPointer } from './json-pointer.ts';
import type { Document } from './schema.ts';
import { DocumentError, parseDocument } from './validate.ts';

export type Patch = JSONPatchOperation[];

const pointer = z
  .string()
  .max(1000)
  .regex(/^(\/[^/]*)*$/, 'a JSON Pointer starts with /');
export const patchSchema = z
  .array(
    z.discriminatedUnion('op', [
      z.object({ op: z.literal('add'), path: pointer, value: z.unknown() }),
      z.object({ op: z.literal('replace'), path: pointer, value: z.unknown() }),
      z.object({ op: z.literal('test'), path: pointer, value: z.unknown() }),
      z.object({ op: z.literal('remove'), path: pointer }),
    ]),
  )
  .min(1)
  .max(20000);

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);

/** In JSON a field that is undefined is not there. */
const isThere = (of: Record<string, unknown>, key: string): boolean => Object.hasOwn(of, key) && of[key] !== undefined;
const keysOf = (of: Record<string, unknown>): string[] => Object.keys(of).filter((key) => of[key] !== undefined);

/** Deep equality of JSON values. */
export function sameJson(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a)) return Array.isArray(b) && a.length === b.length && a.every((value, i) => sameJson(value, b[i]));
  if (!isObject(a) || !isObject(b)) return false;
  let more = 0;
  for (const key of Object.keys(a)) {
    if (a[key] === undefined) continue;
    if (!isThere(b, key) || !sameJson(a[key], b[key])) return false;
    more++;
  }
  for (const key of Object.keys(b)) if (b[key] !== undefined) more--;
  return more === 0;
}

/** As JSON has it: without fields that are undefined. The same value where there are none. */
function asJson(value: unknown): JSONPatchDocument {
  if (Array.isArray(value)) {
    const all = value.map(asJson);
    return (all.some((one, i) => one !== value[i]) ? all : value) as JSONPatchDocument;
  }
  if (!isObject(value)) return value as JSONPatchDocument;
  const all = keysOf(value).map((key) => [key, asJson(value[key])] as const);
  const isSame = all.length === Object.keys(value).length && all.every(([key, one]) => one === value[key]);
  return (isSame ? value : Object.fromEntries(all)) as unknown as JSONPatchDocument;
}

/** The change that turns `from` into `to`; both may have fields that are undefined. */
export function diff(from: unknown, to: unknown, path: string[] = []): Patch {
  if (from === to || sameJson(from, to)) return [];
  const at = toPointer(path);
  if (!isObject(from) || !isObject(to) || from.kind !== to.kind || from.rule !== to.rule)
    return [
      { op: 'test', path: at, value: asJson(from) },
      { op: 'replace', path: at, value: asJson(to) },
    ];
  const patch: Patch = [];
  for (const key of keysOf(from))
    if (!isThere(to, key)) {
      const gone = toPointer([...path, key]);
      patch.push({ op: 'test', path: gone, value: asJson(from[key]) }, { op: 'remove', path: gone });
    }
  for (const key of keysOf(to)) {
    if (!isThere(from, key)) patch.push({ op: 'add', path: toPointer([...path, key]), value: asJson(to[key]) });
    else patch.push(...diff(from[key], to[key], [...path, key]));
  }
  return patch;
}

/** What stands at a pointer, or undefined. */
export function valueAt(doc: unknown, at: string): unknown {
  let value: unknown = doc;
  for (const key of fromPointer(at)) {
    if (typeof value !== 'object' || value === null || !Object.hasOwn(value, key)) return undefined;
    value = (value as Record<string, unknown>)[key];
  }
  return value;
}

/** Where a change cannot be taken because something else has changed the same thing. */
export class ConflictError extends Error {
  readonly pointer: string;
  readonly expected: unknown;
  readonly found: unknown;
  constructor(at: string, expected: unknown, found: unknown) {
    super(`${at}: was changed by somebody else: found ${JSON.stringify(found)}, expected ${JSON.stringify(expected)}`);
    this.name = 'ConflictError';
    this.pointer = at;
    this.expected = expected;
    this.found = found;
  }
}

/** A place in a list as RFC 6901 writes it: a number without leading zeros, or "-" for the one after the last. */
const isListPlace = (part: string, length: number): boolean => part === '-' || (/^(0|[1-9]\d{0,6})$/.test(part) && Number(part) <= length);

/**
 * The document after the change, validated as a whole.
 * @throws ConflictError where a `test` fails, DocumentError where the result would not be a document.
 */
export function applyChange(doc: Document, patch: Patch): Document {
  let next: unknown = doc;
  for (const [i, op] of patch.entries()) {
    const parts = fromPointer(op.path);
    if (parts.length === 0 || parts.some(isForbiddenKey))
      throw new DocumentError([{ code: 'shape', pointer: op.path, message: 'is not a place in a document' }]);
    const bound = 'value' in op ? boundsFault(op.value) : null;
    if (bound) throw new DocumentError([{ code: 'size', pointer: `${op.path}${bound.pointer}`, message: bound.message }]);
    if (op.op === 'test') {
      const found = valueAt(next, op.path);
      if (!sameJson(found, op.value)) throw new ConflictError(op.path, op.value, found);
      continue;
    }
    if (op.op !== 'add' && op.op !== 'replace' && op.op !== 'remove')
      throw new DocumentError([{ code: 'shape', pointer: op.path, message: `step ${i} is of a kind that is not taken: "${op.op}"` }]);
    const parent = valueAt(next, toPointer(parts.slice(0, -1)));
    if (parent !== undefined && (typeof parent !== 'object' || parent === null))
      throw new DocumentError([{ code: 'shape', pointer: op.path, message: 'lies below something that has no parts' }]);
    if (Array.isArray(parent) && !isListPlace(parts.at(-1) as string, parent.length))
      throw new DocumentError([{ code: 'shape', pointer: op.path, message: `is not a place in a list of ${parent.length}` }]);
    if ((op.op === 'add' ? parent : valueAt(next, op.path)) === undefined)
      throw new ConflictError(op.path, 'something to change here', undefined);
    next = immutableJSONPatch(next as JSONPatchDocument, [op]);
  }
  return parseDocument(next);
}

/**
 * Takes a change that alters nothing, and forgets it: the first change of a page costs twice as much as those that follow, while its
 * code is warmed, and is better paid for when nobody waits.
 */
export function rehearseChange(doc: Document): void {
  const [first] = Object.keys(doc.elements);
  if (first === undefined) return;
  const copy = structuredClone(doc.elements[first]) as Document['elements'][string];
  diff(doc, { ...doc, elements: { ...doc.elements, [first]: copy } });
  applyChange(doc, [{ op: 'replace', path: toPointer(['elements', first]), value: copy as unknown as JSONPatchDocument }]);
}

/** The change that takes `patch`, applied to `before`, back. */
export const invert = (before: Document, patch: Patch): Patch => diff(applyChange(before, patch), before);

/**
 * Takes an earlier change back in a later document; what came after it stays.
 * @param before, after what stood before and after that change.
 * @throws ConflictError where something that it changed was changed again since, DocumentError where the result would not be a document.
 */
export function takeBack(document: Document, before: Document, after: Document): Document {
  const back = diff(after, before);
  for (const op of back) {
    const found = op.op === 'add' ? valueAt(document, op.path) : undefined;
    if (found !== undefined) throw new ConflictError(op.path, undefined, found);
  }
  return applyChange(document, back);
}
