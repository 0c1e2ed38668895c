import type { z } from 'zod';
import { boundsFault } from './bounds.ts';
import { toPointer } from './json-pointer.ts';
import { documentSchema } from './references.ts';
import { DOCUMENT_FORMAT, DOCUMENT_VERSION, type Document } from './schema.ts';

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
function toFault(issue: ZodIssue, input: unknown): Fault {
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
  const bound = boundsFault(input);
  if (bound) return [{ code: 'size', ...bound }];
  const result = documentSchema.safeParse(input);
  return result.success ? [] : result.error.issues.slice(0, 100).map((issue) => toFault(issue, input));
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
