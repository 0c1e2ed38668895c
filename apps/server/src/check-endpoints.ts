/** Endpoints about checks of a project: those there are, one that begins or ends, and what a change would do to what was measured. */
import { patchSchema } from '@foreshore/document';
import * as z from 'zod';
import type { Checks } from './checks.ts';
import { type Endpoint, idOf, parsed, watchedBy } from './endpoint.ts';
import { notFound } from './problem.ts';
import type { Store } from './store.ts';

const id = z.string().min(1).max(200);
const trialSchema = z.strictObject({
  base: z.int().nonnegative(),
  patch: patchSchema,
  part: z.strictObject({ route: id, viewer: id, language: id, variant: id.optional() }),
});

export const checkEndpoints = (store: Store, checks: Checks): Endpoint[] => [
  {
    method: 'get',
    path: '/api/projects/:id/checks',
    summary: 'The checks of a project, the newest first, without what they measured',
    answers: 200,
    handle: (req) => ({ checks: checks.list(store.read(idOf(req)).id) }),
  },
  {
    method: 'post',
    path: '/api/projects/:id/checks',
    summary: 'Begins to measure the project; how that gets on is told on the live line',
    answers: 202,
    handle: (req) => checks.start(idOf(req)),
  },
  {
    method: 'delete',
    path: '/api/projects/:id/checks',
    summary: 'Cancels the check that is under way; the last whole one stays',
    answers: 204,
    handle: (req) => {
      checks.cancel(store.read(idOf(req)).id);
    },
  },
  {
    method: 'get',
    path: '/api/projects/:id/checks/:check',
    summary: 'All that a check measured; of one under way, so far',
    answers: 200,
    handle: (req) => {
      const number = z.coerce.number().int().positive().safeParse(req.params.check);
      if (!number.success) throw notFound('such check');
      return checks.read(store.read(idOf(req)).id, number.data);
    },
  },
  {
    method: 'post',
    path: '/api/projects/:id/checks/trial',
    summary: 'A part of a check as it is, and as it would be with a change to the project, which is not made',
    body: trialSchema,
    answers: 200,
    handle: (req, res) => {
      const { base, patch, part } = parsed(trialSchema, req.body);
      return watchedBy(res, (signal) => checks.trial(idOf(req), base, patch, part, signal));
    },
  },
];
