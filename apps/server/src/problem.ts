/** Failures as problem details (RFC 9457). */

import { ConflictError, DocumentError } from '@foreshore/document';
import { LevelError } from '@foreshore/level';
import type { NextFunction, Request, Response } from 'express';
import type { Logger } from 'pino';

interface PlacedFault {
  code: string;
  pointer: string;
  message: string;
}

export class Problem extends Error {
  readonly status: number;
  readonly code: string;
  readonly extra: Record<string, unknown>;
  constructor(status: number, code: string, detail: string, extra: Record<string, unknown> = {}) {
    super(detail);
    this.status = status;
    this.code = code;
    this.extra = extra;
  }
}

export const notFound = (what: string): Problem => new Problem(404, 'not-found', `There is no ${what}.`);

const STORAGE = /^(SQLITE_(FULL|READONLY|IOERR|CANTOPEN)|ENOSPC|EDQUOT|EROFS|EFBIG|EACCES|EPERM|EIO)/;
/** The disk takes no more, or nothing at all. */
const isStorageFault = (error: unknown): boolean => STORAGE.test(String((error as { code?: unknown } | null)?.code ?? ''));

function toProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  const faults = (list: readonly PlacedFault[]) => ({ faults: list });
  if (error instanceof DocumentError) return new Problem(422, 'document', error.message, faults(error.faults));
  if (error instanceof LevelError) return new Problem(422, 'level', error.message, faults(error.faults));
  if (error instanceof ConflictError)
    return new Problem(409, 'conflict', error.message, { pointer: error.pointer, expected: error.expected, found: error.found });
  if (isStorageFault(error))
    return new Problem(507, 'storage', 'The disk of the data folder is full or cannot be written to; nothing was changed.');
  const { status, type } = error as { status?: number; type?: string };
  if (type === 'entity.too.large') return new Problem(413, 'too-large', 'The request is larger than is taken here.');
  if (error instanceof URIError) return new Problem(400, 'request', 'The address cannot be read.');
  if (status && status >= 400 && status < 500) return new Problem(status, 'request', (error as Error).message);
  return new Problem(500, 'internal', 'Something went wrong in the server; nothing was changed. The log says more.');
}

export const problems =
  (log: Logger) =>
  (error: unknown, req: Request, res: Response, next: NextFunction): void => {
    const problem = toProblem(error);
    if (problem.status >= 500) log.error({ err: error, method: req.method, path: req.path }, 'request failed');
    else log.info({ status: problem.status, code: problem.code, method: req.method, path: req.path }, problem.message.slice(0, 500));
    if (res.headersSent) {
      next(error);
      return;
    }
    res
      .status(problem.status)
      .type('application/problem+json')
      .send(
        JSON.stringify({
          type: `urn:foreshore:problem:${problem.code}`,
          title: problem.code,
          status: problem.status,
          detail: problem.message,
          ...problem.extra,
        }),
      );
  };
