/** Endpoints about the revisions of a project: what each touched, what it is called, the document as it was. */
import type { Request } from 'express';
import * as z from 'zod';
import { type Endpoint, idOf, name, parsed } from './endpoint.ts';
import { notFound } from './problem.ts';
import type { Store } from './store.ts';

const nameSchema = z.strictObject({ name: name.nullable() });

const numberOf = (req: Request): number => {
  const number = z.coerce.number().int().nonnegative().safeParse(req.params.number);
  if (!number.success) throw notFound('such revision');
  return number.data;
};

export const revisionEndpoints = (store: Store): Endpoint[] => [
  {
    method: 'get',
    path: '/api/projects/:id/revisions',
    summary: 'Its revisions, the newest first (?before=N goes on), with what each touched; and all that have names',
    answers: 200,
    handle: (req) => {
      const before = req.query.before === undefined ? undefined : parsed(z.coerce.number().int().nonnegative(), req.query.before);
      return store.revisions(idOf(req), before);
    },
  },
  {
    method: 'get',
    path: '/api/projects/:id/revisions/:number',
    summary: 'The document as it was at a revision',
    answers: 200,
    handle: (req) => store.documentAt(idOf(req), numberOf(req)),
  },
  {
    method: 'put',
    path: '/api/projects/:id/revisions/:number/name',
    summary: 'Calls a revision something; null takes the name away',
    body: nameSchema,
    answers: 204,
    handle: (req) => store.nameRevision(idOf(req), numberOf(req), parsed(nameSchema, req.body).name),
  },
  {
    method: 'post',
    path: '/api/projects/:id/revisions/:number/copy',
    summary: 'A project of its own with the document as it was at a revision',
    answers: 201,
    handle: (req) => {
      const [id, number] = [idOf(req), numberOf(req)];
      const document = store.documentAt(id, number);
      const copy = store.create({ ...document, name: `${document.name.slice(0, 180)}, revision ${number}` });
      const picture = store.picture(id);
      if (picture) store.setPicture(copy.id, picture);
      return copy;
    },
  },
];
