/** What all endpoints are made of: their form, and how they read what is asked. */
import type { Request, Response } from 'express';
import * as z from 'zod';
import { notFound, Problem } from './problem.ts';

export interface Endpoint {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  path: string;
  summary: string;
  body?: z.ZodType;
  /** Takes a file as its body, this large at most. */
  file?: { type: string; mostBytes: number };
  answers: number;
  handle: (req: Request, res: Response) => unknown;
}

export const name = z.string().trim().min(1).max(200);
/** Chosen by clients: who they are, which change it is. */
export const token = z.string().min(1).max(80);
export const projectIdSchema = z.string().regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,80}$/);

/** @throws Problem 404 where the path names no project. */
export const idOf = (req: Request): string => {
  const id = projectIdSchema.safeParse(req.params.id);
  if (!id.success) throw notFound('such project');
  return id.data;
};

/** What is asked, by its schema. @throws Problem 400 that says where it is not so. */
export function parsed<T extends z.ZodType>(schema: T, input: unknown): z.infer<T> {
  const result = schema.safeParse(input);
  if (result.success) return result.data;
  const faults = result.error.issues.map((issue) => ({ code: 'request', pointer: `/${issue.path.join('/')}`, message: issue.message }));
  throw new Problem(400, 'request', faults.map((f) => `${f.pointer}: ${f.message}`).join('\n'), { faults });
}

/** Who asks ends the work by going away. */
export async function watchedBy<T>(res: Response, work: (signal: AbortSignal) => Promise<T>): Promise<T> {
  const gone = new AbortController();
  const onClose = () => gone.abort();
  res.once('close', onClose);
  // Whoever asks several times for one answer may have left in between.
  if (res.closed || res.destroyed) gone.abort();
  try {
    return await work(gone.signal);
  } finally {
    res.off('close', onClose);
  }
}
