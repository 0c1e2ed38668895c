/**
 * Endpoints that compare two revisions of a project along its routes: what is another at elements that nobody edited, a part at a time, and
 * which change did it. Nothing is kept here: whoever compares asks part by part, and goes away to end it.
 */
import { createHash } from 'node:crypto';
import { type CheckPart, FINDING_KINDS, isTouched, MOST_MOMENTS, partKey, partsToCompare, whereTurned } from '@foreshore/checks';
import type { Shortfall } from '@foreshore/core';
import type { CompareCauses, CompareScope, Document } from '@foreshore/document';
import type { Response } from 'express';
import * as z from 'zod';
import { type Endpoint, idOf, parsed, watchedBy } from './endpoint.ts';
import { Problem } from './problem.ts';
import type { Job, Readers } from './readers.ts';
import type { Store } from './store.ts';
import type { Turns } from './turns.ts';

const number = z.number().int().nonnegative();
const id = z.string().min(1).max(200);
const between = { from: number, to: number };
const partSchema = z.strictObject({ route: id, viewer: id, language: id });
const partOfSchema = z.strictObject({ ...between, part: partSchema });
const at = { element: id, atS: z.number().nonnegative() };
const momentSchema = z.discriminatedUnion('kind', [
  z.strictObject({ ...at, kind: z.enum(['hidden', 'shown']) }),
  z.strictObject({
    ...at,
    kind: z.literal('short'),
    short: z.custom<Shortfall['kind']>((value) => typeof value === 'string' && Object.hasOwn(FINDING_KINDS, value)),
  }),
  z.strictObject({ ...at, kind: z.enum(['moved', 'resized']), px: z.number().positive() }),
]);
const causesSchema = z.strictObject({
  ...between,
  part: partSchema,
  moments: z.array(momentSchema).min(1).max(MOST_MOMENTS),
});
const queried = z.strictObject({ from: z.coerce.number().pipe(number), to: z.coerce.number().pipe(number) });

const digestOf = (document: Document): string => createHash('sha256').update(JSON.stringify(document)).digest('hex');

export function comparisonEndpoints(store: Store, readers: Readers, turns: Turns): Endpoint[] {
  const states = (project: string, { from, to }: { from: number; to: number }): [Document, Document] => {
    if (from >= to) throw new Problem(422, 'order', `Revision ${from} is not before revision ${to}: there is nothing between them.`);
    return [store.documentAt(project, from), store.documentAt(project, to)];
  };
  const partOf = (was: Document, now: Document, part: CheckPart): CheckPart => {
    if (!partsToCompare(was, now).parts.some((one) => partKey(one) === partKey(part)))
      throw new Problem(404, 'part', `Route ${part.route} at viewer ${part.viewer} is none of the parts that may differ.`);
    return part;
  };
  const ask = (res: Response, job: Omit<Extract<Job, { kind: 'compare' }>, 'kind' | 'fileName' | 'digests'>) =>
    watchedBy(res, (signal) =>
      turns.take(() => {
        if (signal.aborted) throw new Problem(499, 'cancelled', 'The comparison was let go.');
        const digests = [digestOf(job.was), digestOf(job.now)] as const;
        return readers.read({ kind: 'compare', ...job, digests, fileName: job.now.name }, { signal });
      }),
    );
  return [
    {
      method: 'get',
      path: '/api/projects/:id/comparison',
      summary:
        'What of two revisions (?from=N&to=M) is to be compared along the routes: parts that may differ, and elements that were edited',
      answers: 200,
      handle: (req): CompareScope => {
        const [was, now] = states(idOf(req), parsed(queried, req.query));
        const ids = Object.keys(now.elements);
        return {
          ...partsToCompare(was, now),
          edited: ids.filter((one) => was.elements[one] && isTouched(one, was, now)),
          came: ids.filter((one) => !was.elements[one]),
          went: Object.keys(was.elements).filter((one) => !now.elements[one]),
        };
      },
    },
    {
      method: 'post',
      path: '/api/projects/:id/comparison',
      summary: 'One part of it: what happened along the route, at the viewer, to elements that were not edited',
      body: partOfSchema,
      answers: 200,
      handle: async (req, res) => {
        const { part, ...wanted } = parsed(partOfSchema, req.body);
        const [was, now] = states(idOf(req), wanted);
        const { effects = [] } = await ask(res, { was, now, part: partOf(was, now, part) });
        return { effects };
      },
    },
    {
      method: 'post',
      path: '/api/projects/:id/comparison/causes',
      summary: 'By which revision each of some things happened to an element, at a moment of a route',
      body: causesSchema,
      answers: 200,
      handle: async (req, res): Promise<CompareCauses> => {
        const { part, moments, ...wanted } = parsed(causesSchema, req.body);
        const project = idOf(req);
        const [was, now] = states(project, wanted);
        partOf(was, now, part);
        const route = now.routes[part.route] as Document['routes'][string];
        const found = await whereTurned(wanted.to - wanted.from + 1, moments.length, async (state, of) => {
          const then = store.documentAt(project, wanted.from + state);
          // Along the same route as the whole; a viewer that was away meanwhile shows nothing.
          if (!then.viewers[part.viewer]) return of.map(() => true);
          const asked = of.map((k) => moments[k] as (typeof moments)[number]);
          const there = { ...then, routes: { ...then.routes, [part.route]: route } };
          const { happened = [] } = await ask(res, { was, now: there, part, moments: asked });
          return happened;
        });
        return {
          causes: moments.map(({ element }, k) => ({
            element,
            revision: store.revisionAbout(project, wanted.from + (found[k] as number)),
          })),
        };
      },
    },
  ];
}
