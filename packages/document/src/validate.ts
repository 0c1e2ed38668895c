import type { z } from 'zod';
import { boundsFault, isForbiddenKey, MOST_VALUES, valuesIn } from './bounds.ts';
import { toPointer } from './json-pointer.ts';
import { checkReferences, type ToldIssue } from './references.ts';
import { COLLECTIONS, type CollectionName, DOCUMENT_FORMAT, DOCUMENT_VERSION, type Document, documentShape } from './schema.ts';

export type FaultCode = 'json' | 'format' | 'version' | 'shape' | 'reference' | 'number' | 'size' | 'missing';

/** One thing wrong, with its place as a JSON Pointer and a sentence that says what. */
export interface Fault {
  code: FaultCode;
  pointer: string;
  message: string;
}

/** Thrown where a document or a change to it cannot be taken; nothing has been altered. */
export class DocumentError extends Error {
  readonly faults: readonly Fault[];
  constructor(faults: readonly Fault[]) {
    super(faults.map(describeFault).join('\n'));
    this.name = 'DocumentError';
    this.faults = faults;
  }
}

export const describeFault = (fault: Fault): string => `${fault.pointer || '(whole document)'}: ${fault.message}`;

/** A document as text is this long at most. */
export const MOST_DOCUMENT_CHARS = 32 * 1024 * 1024;

type ZodIssue = z.core.$ZodIssue;
function toFault(issue: ZodIssue | ToldIssue, input: unknown): Fault {
  const pointer = toPointer(issue.path);
  if (issue.code === 'custom') return { code: issue.params?.reference ? 'reference' : 'shape', pointer, message: issue.message };
  const value = issue.path.reduce<unknown>((at, part) => (at as Record<PropertyKey, unknown> | undefined)?.[part], input);
  if (typeof value === 'number' && !Number.isFinite(value)) return { code: 'number', pointer, message: `${value} is not a finite number` };
  if (issue.code === 'unrecognized_keys')
    return { code: 'shape', pointer, message: `has no field called ${issue.keys.map((k) => `"${k}"`).join(', ')}` };
  if (issue.code === 'invalid_union') {
    const kind = (value as { kind?: unknown; rule?: unknown } | undefined)?.kind ?? (value as { rule?: unknown } | undefined)?.rule;
    return {
      code: 'shape',
      pointer,
      message: kind === undefined ? issue.message : `is of a kind that is not known: ${JSON.stringify(kind)}`,
    };
  }
  return { code: 'shape', pointer, message: issue.message.replace(/^Invalid input: /, '') };
}

/**
 * Every fault of a would-be document, at most 100 of them; none means it is a `Document`.
 * An unknown format or version is the only fault named, because nothing else can be judged then.
 */
export function findFaults(input: unknown): Fault[] {
  if (typeof input !== 'object' || input === null || Array.isArray(input))
    return [{ code: 'format', pointer: '', message: 'is not a JSON object' }];
  const { format, version } = input as { format?: unknown; version?: unknown };
  if (format !== DOCUMENT_FORMAT)
    return [
      {
        code: 'format',
        pointer: '/format',
        message: `is ${JSON.stringify(format) ?? 'missing'}; a Foreshore document says "${DOCUMENT_FORMAT}"`,
      },
    ];
  if (version !== DOCUMENT_VERSION)
    return [
      {
        code: 'version',
        pointer: '/version',
        message: `version ${JSON.stringify(version) ?? '(missing)'} is not known here; this Foreshore reads version ${DOCUMENT_VERSION}`,
      },
    ];
  const { rest, values } = withoutSound(input as Record<string, unknown>);
  const bound = boundsFault(rest, Math.max(0, MOST_VALUES - values));
  if (bound) return [{ code: 'size', ...bound }];
  const result = documentShape.safeParse(rest);
  const issues: (ZodIssue | ToldIssue)[] = result.success ? [] : result.error.issues;
  if (result.success) checkReferences(input as Document, { addIssue: (issue) => issues.push(issue) });
  if (issues.length === 0) noteSound(rest);
  return issues.slice(0, 100).map((issue) => toFault(issue, input));
}

/**
 * Entries that were found sound before, by collection: under which id, and of how many values. Documents are never altered, so what
 * is the same object is as sound as it was, and a change to one of thousands is judged by itself.
 */
const sound = Object.fromEntries(COLLECTIONS.map((name) => [name, new WeakMap()])) as Record<CollectionName, WeakMap<object, Sound>>;
interface Sound {
  id: string;
  /** Counted when it is first wanted: whoever only opens a document never needs it. */
  values: number | null;
}
const entriesOf = (collection: unknown): [string, unknown][] =>
  typeof collection === 'object' && collection !== null && !Array.isArray(collection) ? Object.entries(collection) : [];

/** A would-be document without what is known to be sound, and how many values that has. */
function withoutSound(input: Record<string, unknown>): { rest: Record<string, unknown>; values: number } {
  const rest = { ...input };
  let values = 0;
  for (const name of COLLECTIONS) {
    const kept: [string, unknown][] = [];
    let known = 0;
    for (const entry of entriesOf(input[name])) {
      const [id, value] = entry;
      const before = typeof value === 'object' && value !== null ? sound[name].get(value) : undefined;
      if (before?.id === id && !isForbiddenKey(id)) {
        before.values ??= 1 + valuesIn(value as object);
        values += before.values;
        known++;
      } else kept.push(entry);
    }
    // `fromEntries` makes an own field of any name, as JSON does.
    if (known > 0) rest[name] = Object.fromEntries(kept);
  }
  return { rest, values };
}

/** Takes a document for sound that was judged elsewhere: by the server that sent it. */
export function takeForSound(document: Document): Document {
  noteSound(document);
  return document;
}

function noteSound(rest: Partial<Record<CollectionName, unknown>>): void {
  for (const name of COLLECTIONS) for (const [id, value] of entriesOf(rest[name])) sound[name].set(value as object, { id, values: null });
}

/** The input as a document. @throws DocumentError with every fault. */
export function parseDocument(input: unknown): Document {
  const faults = findFaults(input);
  if (faults.length) throw new DocumentError(faults);
  return input as Document;
}

/** A document from its text. @throws DocumentError, also where the text is no JSON. */
export function readDocument(text: string): Document {
  if (text.length > MOST_DOCUMENT_CHARS)
    throw new DocumentError([
      {
        code: 'size',
        pointer: '',
        message: `has ${(text.length / 1048576).toFixed(0)} MB; at most ${MOST_DOCUMENT_CHARS / 1048576} MB are taken`,
      },
    ]);
  let input: unknown;
  try {
    input = JSON.parse(text);
  } catch (error) {
    throw new DocumentError([{ code: 'json', pointer: '', message: `is not JSON: ${(error as Error).message}` }]);
  }
  return parseDocument(input);
}
