/** The API: what can be asked, with the schemas that both check requests and describe them (OpenAPI 3.1). */

import type { LevelFacts } from '@foreshore/document';
import {
  documentSchema,
  findFaults,
  MOST_PICTURE_BYTES,
  makeDocument,
  type Patch,
  PictureError,
  PROJECT_FILE_EXTENSION,
  patchSchema,
  readPicture,
  readProjectFile,
  writeProjectFile,
} from '@foreshore/document';
import { MOST_LEVEL_BYTES } from '@foreshore/level';
import { checkLevel } from '@foreshore/level/check';
import { FontError, MOST_FONT_BYTES, otherWeights, readFont } from '@foreshore/text';
import { shippedFonts } from '@foreshore/text/node';
import { type Express, json, type Request, type Response, raw } from 'express';
import { z } from 'zod';
import type { Live } from './live.ts';
import { notFound, Problem } from './problem.ts';
import type { Store } from './store.ts';

const name = z.string().trim().min(1).max(200);
const projectIdSchema = z.string().regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,80}$/);
const token = z.string().min(1).max(80);

const createSchema = z.discriminatedUnion('from', [
  z.strictObject({ from: z.literal('empty'), name }),
  z.strictObject({ from: z.literal('demo') }),
  z.strictObject({
    from: z.literal('level'),
    name,
    level: z.strictObject({
      hash: z.string().regex(/^[0-9a-f]{64}$/),
      file: z.string().min(1).max(255),
      metresPerUnit: z.number().positive(),
      upAxis: z.enum(['y', 'z']),
    }),
  }),
]);
const changeSchema = z.strictObject({ base: z.int().nonnegative(), patch: patchSchema, changeId: token, clientId: token });
const renameSchema = z.strictObject({ name, clientId: token });

export interface Demo {
  document: () => unknown;
  level: () => Uint8Array;
  fileName: string;
  /** The bytes of its pictures, by file name. */
  pictures: () => Record<string, Uint8Array>;
  /** Its picture on the shelf, JPEG. */
  shelf: () => Uint8Array;
}

interface Endpoint {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  path: string;
  summary: string;
  body?: z.ZodType;
  /** Takes a file as its body, this large at most. */
  file?: { type: string; mostBytes: number };
  answers: number;
  handle: (req: Request, res: Response) => unknown;
}

const idOf = (req: Request): string => {
  const id = projectIdSchema.safeParse(req.params.id);
  if (!id.success) throw notFound('such project');
  return id.data;
};

function parsed<T extends z.ZodType>(schema: T, input: unknown): z.infer<T> {
  const result = schema.safeParse(input);
  if (result.success) return result.data;
  const faults = result.error.issues.map((issue) => ({ code: 'request', pointer: `/${issue.path.join('/')}`, message: issue.message }));
  throw new Problem(400, 'request', faults.map((f) => `${f.pointer}: ${f.message}`).join('\n'), { faults });
}

const bodyOf = (req: Request): Uint8Array => {
  if (!Buffer.isBuffer(req.body) || req.body.length === 0)
    throw new Problem(400, 'request', 'The request has no file in its body, or is not sent as application/octet-stream.');
  return new Uint8Array(req.body);
};

export async function takeLevel(store: Store, bytes: Uint8Array, fileName: string): Promise<LevelFacts> {
  const { bytes: kept, warnings, size, nodes, triangles, asksUnit } = await checkLevel(bytes);
  return store.addLevel(kept, fileName, { warnings, size, nodes, triangles, asksUnit });
}

export function takePicture(store: Store, bytes: Uint8Array, fileName: string) {
  try {
    return store.addPicture(bytes, fileName, readPicture(bytes));
  } catch (error) {
    if (error instanceof PictureError) throw new Problem(422, 'picture', `"${fileName}" ${error.message}.`);
    throw error;
  }
}

export async function takeFont(store: Store, file: Uint8Array, fileName: string) {
  try {
    const { bytes, ...facts } = await readFont(file);
    return store.addFont(bytes, fileName, facts);
  } catch (error) {
    if (error instanceof FontError) throw new Problem(422, 'font', `"${fileName}" ${error.message}.`);
    throw error;
  }
}

export function endpoints(store: Store, live: Live, demo: Demo): Endpoint[] {
  const importFile = async (bytes: Uint8Array) => {
    const file = readProjectFile(bytes);
    for (const [id, { hash, name }] of Object.entries(file.document.pictures ?? {})) {
      const kept = takePicture(store, file.pictures[hash] as Uint8Array, name);
      if (kept.hash !== hash) throw new Problem(422, 'picture', `/pictures/${id}: its bytes are not those that the document names.`);
    }
    for (const [id, { hash, name }] of Object.entries(file.document.fonts ?? {})) {
      const kept = await takeFont(store, file.ownFonts[hash] as Uint8Array, name);
      if (kept.hash !== hash) throw new Problem(422, 'font', `/fonts/${id}: its bytes are not those that the document names.`);
    }
    if (!file.document.level || !file.level) return store.create({ ...file.document, level: null });
    const facts = await takeLevel(store, file.level, file.document.level.file);
    return store.create({ ...file.document, level: { ...file.document.level, hash: facts.hash } });
  };
  const create = async (input: unknown) => {
    const wanted = parsed(createSchema, input);
    if (wanted.from === 'empty') return store.create(makeDocument(wanted.name));
    if (wanted.from === 'level') {
      if (!store.levelPath(wanted.level.hash)) throw notFound('such level; send it first');
      return store.create({ ...makeDocument(wanted.name), level: wanted.level });
    }
    const facts = await takeLevel(store, demo.level(), demo.fileName);
    const document = demo.document();
    const faults = findFaults(document);
    if (faults.length) throw new Error(`The demo is not a document: ${faults[0]?.pointer} ${faults[0]?.message}`);
    const whole = documentSchema.parse(document);
    for (const [name, bytes] of Object.entries(demo.pictures())) takePicture(store, bytes, name);
    const made = store.create({ ...whole, level: whole.level && { ...whole.level, hash: facts.hash } });
    store.setPicture(made.id, Buffer.from(demo.shelf()));
    return made;
  };
  const change = (id: string, base: number, patch: Patch, changeId: string, clientId: string) => {
    const taken = store.change(id, base, patch, changeId, clientId);
    live.publish(id, taken);
    return { revision: taken.number };
  };
  return [
    {
      method: 'get',
      path: '/api/projects',
      summary: 'The projects, the latest first',
      answers: 200,
      handle: () => ({ projects: store.list() }),
    },
    {
      method: 'post',
      path: '/api/projects',
      summary: 'A new project: empty, from the demo, or from a level sent before',
      body: createSchema,
      answers: 201,
      handle: (req) => create(req.body),
    },
    {
      method: 'post',
      path: '/api/projects/import',
      summary: `A new project from a ${PROJECT_FILE_EXTENSION} file`,
      file: { type: 'application/octet-stream', mostBytes: MOST_LEVEL_BYTES },
      answers: 201,
      handle: (req) => importFile(bodyOf(req)),
    },
    {
      method: 'get',
      path: '/api/projects/:id',
      summary: 'One project: its document and revision',
      answers: 200,
      handle: (req) => store.read(idOf(req)),
    },
    {
      method: 'patch',
      path: '/api/projects/:id',
      summary: 'Renames a project',
      body: renameSchema,
      answers: 200,
      handle: (req) => {
        const id = idOf(req);
        const wanted = parsed(renameSchema, req.body);
        const { revision, document } = store.read(id);
        if (document.name === wanted.name) return { revision };
        const patch: Patch = [
          { op: 'test', path: '/name', value: document.name },
          { op: 'replace', path: '/name', value: wanted.name },
        ];
        return change(id, revision, patch, `rename-${Date.now()}-${Math.random()}`, wanted.clientId);
      },
    },
    {
      method: 'delete',
      path: '/api/projects/:id',
      summary: 'Removes a project; it can be restored',
      answers: 204,
      handle: (req) => store.setRemoved(idOf(req), true),
    },
    {
      method: 'post',
      path: '/api/projects/:id/restore',
      summary: 'Brings a removed project back',
      answers: 204,
      handle: (req) => store.setRemoved(idOf(req), false),
    },
    {
      method: 'post',
      path: '/api/projects/:id/duplicate',
      summary: 'A copy of a project',
      answers: 201,
      handle: (req) => {
        const { id, document } = store.read(idOf(req));
        const copy = store.create({ ...document, name: `${document.name} copy`.slice(0, 200) });
        const picture = store.picture(id);
        if (picture) store.setPicture(copy.id, picture);
        return copy;
      },
    },
    {
      method: 'get',
      path: '/api/projects/:id/changes',
      summary: 'Changes after a revision (?since=N)',
      answers: 200,
      handle: (req) => {
        const id = idOf(req);
        const since = parsed(z.coerce.number().int().nonnegative(), req.query.since ?? 0);
        return { revision: store.read(id).revision, changes: store.changesSince(id, since) };
      },
    },
    {
      method: 'post',
      path: '/api/projects/:id/changes',
      summary: 'One change as a JSON Patch on a numbered revision; 409 with the newer changes where that is stale',
      body: changeSchema,
      answers: 200,
      handle: (req) => {
        const wanted = parsed(changeSchema, req.body);
        return change(idOf(req), wanted.base, wanted.patch as Patch, wanted.changeId, wanted.clientId);
      },
    },
    {
      method: 'get',
      path: '/api/projects/:id/export',
      summary: `The project as a ${PROJECT_FILE_EXTENSION} file`,
      answers: 200,
      handle: (req, res) => {
        const { id, document } = store.read(idOf(req));
        const level = document.level?.hash ? store.levelBytes(document.level.hash) : null;
        const bytes = writeProjectFile({
          document,
          level,
          fonts: shippedFonts(otherWeights(document)),
          ownFonts: Object.fromEntries(
            Object.values(document.fonts ?? {}).flatMap(({ hash }) => {
              const bytes = store.fontFile(hash);
              return bytes ? [[hash, bytes] as const] : [];
            }),
          ),
          pictures: Object.fromEntries(
            Object.values(document.pictures ?? {}).flatMap(({ hash }) => {
              const file = store.pictureFile(hash);
              return file ? [[hash, file.bytes] as const] : [];
            }),
          ),
        });
        res.attachment(`${id}${PROJECT_FILE_EXTENSION}`).type('application/zip').send(Buffer.from(bytes));
      },
    },
    {
      method: 'get',
      path: '/api/projects/:id/picture',
      summary: 'The picture shown on the Projects view',
      answers: 200,
      handle: (req, res) => {
        const picture = store.picture(idOf(req));
        if (!picture) throw notFound('picture of this project');
        res.type('image/jpeg').set('Cache-Control', 'no-cache').send(picture);
      },
    },
    {
      method: 'put',
      path: '/api/projects/:id/picture',
      summary: 'Sets that picture (JPEG)',
      file: { type: 'image/jpeg', mostBytes: 2_000_000 },
      answers: 204,
      handle: (req) => {
        const bytes = bodyOf(req);
        if (bytes[0] !== 0xff || bytes[1] !== 0xd8) throw new Problem(415, 'picture', 'The picture is not a JPEG.');
        store.setPicture(store.read(idOf(req)).id, Buffer.from(bytes));
      },
    },
    {
      method: 'post',
      path: '/api/pictures',
      summary: 'Checks and keeps a picture (PNG, JPEG, WebP or SVG; ?name=FILE)',
      file: { type: 'application/octet-stream', mostBytes: MOST_PICTURE_BYTES + 1024 },
      answers: 201,
      handle: (req) => takePicture(store, bodyOf(req), parsed(z.string().min(1).max(255), req.query.name)),
    },
    {
      method: 'get',
      path: '/api/pictures/:hash',
      summary: 'The bytes of a picture',
      answers: 200,
      handle: (req, res) => {
        const file = /^[0-9a-f]{64}$/.test(String(req.params.hash)) ? store.pictureFile(String(req.params.hash)) : null;
        if (!file) throw notFound('such picture');
        // Whatever an SVG holds, opened by itself it may do nothing.
        res
          .set('Cache-Control', 'public, max-age=31536000, immutable')
          .set('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'; img-src data:; sandbox")
          .type(file.type)
          .send(Buffer.from(file.bytes));
      },
    },
    {
      method: 'post',
      path: '/api/fonts',
      summary: 'Checks and keeps a font (TTF, OTF, WOFF or WOFF2; ?name=FILE)',
      file: { type: 'application/octet-stream', mostBytes: MOST_FONT_BYTES + 1024 },
      answers: 201,
      handle: (req) => takeFont(store, bodyOf(req), parsed(z.string().min(1).max(255), req.query.name)),
    },
    {
      method: 'get',
      path: '/api/fonts/:hash',
      summary: 'The bytes of a font, as a plain sfnt file',
      answers: 200,
      handle: (req, res) => {
        const bytes = /^[0-9a-f]{64}$/.test(String(req.params.hash)) ? store.fontFile(String(req.params.hash)) : null;
        if (!bytes) throw notFound('such font');
        res.set('Cache-Control', 'public, max-age=31536000, immutable').type('font/sfnt').send(Buffer.from(bytes));
      },
    },
    {
      method: 'post',
      path: '/api/levels',
      summary: 'Checks and keeps a level (glTF binary; ?name=FILE)',
      file: { type: 'application/octet-stream', mostBytes: MOST_LEVEL_BYTES + 1024 },
      answers: 201,
      handle: (req) => takeLevel(store, bodyOf(req), parsed(z.string().min(1).max(255), req.query.name)),
    },
    {
      method: 'get',
      path: '/api/levels/:hash',
      summary: 'The bytes of a level',
      answers: 200,
      handle: (req, res) => {
        const path = /^[0-9a-f]{64}$/.test(String(req.params.hash)) ? store.levelPath(String(req.params.hash)) : null;
        if (!path) throw notFound('such level');
        res.set('Cache-Control', 'public, max-age=31536000, immutable').type('model/gltf-binary').sendFile(path, { dotfiles: 'allow' });
      },
    },
  ];
}

const MOST_JSON_BYTES = 8 * 1024 * 1024;

export function register(app: Express, list: Endpoint[]): void {
  for (const { method, path, handle, answers, file } of list) {
    const reader = file ? raw({ type: file.type, limit: file.mostBytes }) : json({ limit: MOST_JSON_BYTES });
    app[method](path, reader, async (req, res) => {
      const answer = await handle(req, res);
      if (res.headersSent || res.writableEnded || (answer === undefined && answers === 200)) return;
      if (answer === undefined) res.status(answers).end();
      else res.status(answers).json(answer);
    });
  }
  app.get('/api/openapi.json', (_req, res) => {
    res.json(describe(list));
  });
}

function describe(list: Endpoint[]): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const { method, path, summary, body, file, answers } of list) {
    const key = path.replace(/:(\w+)/g, '{$1}');
    const parameters = [...path.matchAll(/:(\w+)/g)].map(([, parameter]) => ({
      name: parameter,
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    const content = body
      ? { 'application/json': { schema: z.toJSONSchema(body, { unrepresentable: 'any' }) } }
      : file
        ? { [file.type]: { schema: { type: 'string', format: 'binary' } } }
        : null;
    paths[key] = {
      ...paths[key],
      [method]: {
        summary,
        ...(parameters.length ? { parameters } : {}),
        ...(content ? { requestBody: { required: true, content } } : {}),
        responses: {
          [answers]: { description: 'Done' },
          default: { description: 'What went wrong (RFC 9457)', content: { 'application/problem+json': {} } },
        },
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Foreshore', version: '1' }, paths };
}
