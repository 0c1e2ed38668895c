/**
 * A change that lost against another one: what it wanted, in the parts of the document that it touched, and how to make it all the
 * same.
 */
import { applyChange, diff, type Patch, valueAt } from './change.ts';
import { fromPointer, toPointer } from './json-pointer.ts';
import type { Document } from './schema.ts';

/** One place that a change wanted otherwise than it stands. `undefined`: not there. */
export interface Difference {
  pointer: string;
  mine: unknown;
  theirs: unknown;
}

/** What a change wants at each place it writes to, and what stands there. Places that are as it wants them are left out. */
export function differences(document: Document, patch: Patch): Difference[] {
  return patch.flatMap((op): Difference[] => {
    if (op.op === 'test') return [];
    const mine = op.op === 'remove' ? undefined : (op as unknown as { value: unknown }).value;
    const theirs = valueAt(document, op.path);
    return diff(theirs ?? null, mine ?? null).length === 0 && (theirs === undefined) === (mine === undefined)
      ? []
      : [{ pointer: op.path, mine, theirs }];
  });
}

/**
 * The document with what a change wanted, whatever stands there now. A part whose surroundings are gone cannot be had back alone.
 * @throws DocumentError, ConflictError where the result would not be a document.
 */
export function forced(document: Document, patch: Patch): Document {
  const now: Patch = patch.flatMap((op): Patch => {
    if (op.op === 'test') return [];
    const there = valueAt(document, op.path) !== undefined;
    if (op.op === 'remove') return there ? [{ op: 'remove', path: op.path }] : [];
    const { value } = op as unknown as { value: never };
    return [{ op: there ? 'replace' : 'add', path: op.path, value }];
  });
  return now.length ? applyChange(document, now) : document;
}

/** The element, anchor or other named thing that a place belongs to, and the field of it. */
export function placeOfPointer(
  document: Document,
  pointer: string,
): { collection: string | null; id: string | null; name: string | null; field: string } {
  const [collection = '', id, ...field] = fromPointer(pointer);
  if (id === undefined) return { collection: null, id: null, name: null, field: collection };
  const thing = valueAt(document, toPointer([collection, id])) as { name?: string } | undefined;
  // As words: "range enterM" reads "range enter m".
  const words = field
    .join(' ')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase();
  return { collection, id, name: thing?.name ?? null, field: words };
}
