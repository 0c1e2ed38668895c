/** The API: what can be asked, with the schemas that both check requests and describe them (OpenAPI 3.1). */

import { existsSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import {
  boundsFault,
  type Document,
  diff,
  levelSchema,
  MOST_PICTURE_BYTES,
  makeDocument,
  type Patch,
  PROJECT_FILE_EXTENSION,
  patchSchema,
  withoutFiles,
  writeProjectFile,
} from '@foreshore/document';
import { LEVEL_HEADER, preparedAddress } from '@foreshore/document/addresses';
import { MOST_LEVEL_BYTES } from '@foreshore/level';
import type { LevelStage } from '@foreshore/level/check';
import { MOST_FONT_BYTES, otherWeights } from '@foreshore/text';
import { shippedFonts } from '@foreshore/text/node';
import { type Express, json, type Request, type Response, raw } from 'express';
import * as z from 'zod';
import { checkEndpoints } from './check-endpoints.ts';
import type { Checks } from './checks.ts';
import { bothNames } from './doors.ts';
import { type Endpoint, idOf, name, parsed, token, watchedBy } from './endpoint.ts';
import type { Games } from './games.ts';
import type { Live } from './live.ts';
import { pagePolicy, withRunner } from './page-runner.ts';
import { notFound, Problem } from './problem.ts';
import type { KeptFile, Readers, Watching, WorkerAnswer } from './readers.ts';
import { revisionEndpoints } from './revisions.ts';
import type { Store } from './store.ts';

const createSchema = z.discriminatedUnion('from', [
  z.strictObject({ from: z.literal('empty'), name }),
  /** Low Water, as it is or with five faults to be found. */
  z.strictObject({ from: z.literal('demo'), which: z.enum(['now', 'before']).default('now'), measured: z.boolean().default(true) }),
  /** A document as a whole, such as one that a tab still has; its files are here already. */
  z.strictObject({ from: z.literal('document'), document: z.unknown() }),
  z.strictObject({
    from: z.literal('level'),
    name,
    // As a document has it, so that what is taken here can be read back.
    level: z.strictObject({ ...levelSchema.omit({ clips: true }).shape, hash: z.string().regex(/^[0-9a-f]{64}$/) }),
  }),
]);
/** A large file is read in parts of so many bytes. */
const READ_BYTES = 1 << 20;

const preparedSchema = z.object({
  metresPerUnit: z.coerce.number().pipe(levelSchema.shape.metresPerUnit),
  upAxis: levelSchema.shape.upAxis,
});
const changeSchema = z.strictObject({ base: z.int().nonnegative(), patch: patchSchema, changeId: token, clientId: token });
const renameSchema = z.strictObject({ name, clientId: token });

export interface Demo {
  document: () => unknown;
  /** As it was at its first revision; `document` is its second. What the two are called. */
  first: () => unknown;
  revisions: readonly string[];
  /** The same with faults. */
  before: () => unknown;
  level: () => Uint8Array;
  fileName: string;
  /** The bytes of its pictures, by file name. */
  pictures: () => Record<string, Uint8Array>;
  /** Their pictures on the shelf, JPEG. */
  shelf: (which: 'now' | 'before') => Uint8Array;
  /** A check of it, measured before it was shipped: what `Checks.bring` takes, as JSON, packed by gzip. */
  lastRun: () => Uint8Array;
}

/** Of all ids in a query together. */
const MOST_NAMED_CHARS = 12_000;
/** Ids with commas between them; undefined where none are named. */
const named = (query: unknown): string[] | undefined =>
  parsed(z.string().max(MOST_NAMED_CHARS).optional(), query)
    ?.split(',')
    .filter((id) => id !== '');

const hashOf = (req: Request): string => {
  const hash = String(req.params.hash);
  if (!/^[0-9a-f]{64}$/.test(hash)) throw notFound('such file');
  return hash;
};

/** A file that a project names and the data folder has no more. `id`: of the picture or the font in the document. */
interface MissingFile {
  kind: 'level' | 'picture' | 'font';
  id: string | null;
  name: string;
}

const bodyOf = (req: Request): Uint8Array => {
  if (!Buffer.isBuffer(req.body) || req.body.length === 0)
    throw new Problem(400, 'request', 'The request has no file in its body, or is not sent as application/octet-stream.');
  return new Uint8Array(req.body);
};

export function endpoints(store: Store, live: Live, readers: Readers, games: Games, checks: Checks, demo: Demo): Endpoint[] {
  /** Reads a file away from here, and notes what came of it. */
  const take = async (
    kind: KeptFile['kind'] | 'page' | 'project',
    bytes: Uint8Array,
    fileName: string,
    watching: Watching = {},
  ): Promise<WorkerAnswer> => {
    const answer = await readers.read({ kind, bytes, fileName }, watching);
    store.addFiles(answer.files);
    return answer;
  };
  /** What is being done with files that are being read, by the name that whoever waits gave the reading. */
  const stages = new Map<string, LevelStage>();
  /** Who asks can look how far it is, under a name of their own; and ends it by going away. */
  const watched = async <T>(req: Request, res: Response, work: (watching: Watching) => Promise<T>): Promise<T> => {
    const watch = parsed(token.optional(), req.query.watch);
    try {
      return await watchedBy(res, (signal) => work({ signal, ...(watch && { onStage: (stage) => stages.set(watch, stage) }) }));
    } finally {
      if (watch) stages.delete(watch);
    }
  };
  const takeOne = async (kind: KeptFile['kind'] | 'page', req: Request, res: Response) => {
    const fileName = parsed(z.string().min(1).max(255), req.query.name);
    const { files } = await watched(req, res, (watching) => take(kind, bodyOf(req), fileName, watching));
    const { hash, facts } = files[0] as KeptFile;
    return { hash, fileName, ...facts };
  };
  const importFile = async (bytes: Uint8Array) => {
    const { document } = await take('project', bytes, 'the project file');
    return store.create(document as Document);
  };
  const create = async (input: unknown) => {
    const wanted = parsed(createSchema, input);
    if (wanted.from === 'empty') return store.create(makeDocument(wanted.name));
    if (wanted.from === 'document') return store.create(wanted.document as Document);
    if (wanted.from === 'level') {
      if (!store.hasLevel(wanted.level.hash)) throw notFound('such level; send it first');
      return store.create({ ...makeDocument(wanted.name), level: wanted.level });
    }
    const { files } = await take('level', demo.level(), demo.fileName);
    const [document, next] = (wanted.which === 'before' ? [demo.before()] : [demo.first(), demo.document()]) as [Document, Document?];
    if (wanted.which === 'now') for (const [name, bytes] of Object.entries(demo.pictures())) await take('picture', bytes, name);
    const made = store.create({ ...document, level: document.level && { ...document.level, hash: (files[0] as KeptFile).hash } });
    store.setPicture(made.id, Buffer.from(demo.shelf(wanted.which)));
    if (!next) return made;
    store.change(made.id, 0, diff(document, next), 'second', 'demo');
    for (const [number, called] of demo.revisions.entries()) store.nameRevision(made.id, number, called);
    if (wanted.measured) checks.bring(made.id, JSON.parse(gunzipSync(demo.lastRun()).toString()));
    return store.read(made.id);
  };
  /** What a document names and the disk has no more. */
  const missingFiles = async ({ level, pictures = {}, fonts = {} }: Document): Promise<MissingFile[]> => {
    const named = [
      ...(level?.hash ? [{ kind: 'level' as const, id: null, name: level.file, hash: level.hash }] : []),
      ...Object.entries(pictures).map(([id, { name, hash }]) => ({ kind: 'picture' as const, id, name, hash })),
      ...Object.entries(fonts).map(([id, { name, hash }]) => ({ kind: 'font' as const, id, name, hash })),
    ];
    const out: MissingFile[] = [];
    for (const { hash, ...file } of named) if ((await store.fileBytes(file.kind, hash)) === null) out.push(file);
    return out;
  };
  /** The project file, without what is gone; what it lacks is said in it and beside it. */
  const exported = async (document: Document): Promise<{ bytes: Uint8Array; missing: MissingFile[] }> => {
    const missing = await missingFiles(document);
    const isGone = (kind: string) => (id: string) => missing.some((one) => one.kind === kind && one.id === id);
    const kept = withoutFiles(document, {
      level: missing.some(({ kind }) => kind === 'level'),
      pictures: Object.keys(document.pictures ?? {}).filter(isGone('picture')),
      fonts: Object.keys(document.fonts ?? {}).filter(isGone('font')),
    });
    const all = async (kind: 'picture' | 'font', files: Record<string, { hash: string }>) => {
      const out: Record<string, Uint8Array> = {};
      for (const { hash } of Object.values(files)) out[hash] = (await store.fileBytes(kind, hash)) as Uint8Array;
      return out;
    };
    const bytes = writeProjectFile({
      document: kept,
      level: kept.level?.hash ? await store.fileBytes('level', kept.level.hash) : null,
      fonts: shippedFonts(otherWeights(kept)),
      ownFonts: await all('font', kept.fonts ?? {}),
      pictures: await all('picture', kept.pictures ?? {}),
    });
    return { bytes, missing };
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
      summary: 'A new project: empty, from the demo, from a document, or from a level sent before',
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
      summary: 'One project: its document and revision; the header Foreshore-Level says where its prepared level lies',
      answers: 200,
      handle: (req, res) => {
        const project = store.read(idOf(req));
        const { level } = project.document;
        if (level?.hash) res.set(LEVEL_HEADER, preparedAddress(level.hash, level));
        return project;
      },
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
      handle: (req) => {
        store.setRemoved(idOf(req), true);
        live.publishRemoved(idOf(req), true);
      },
    },
    {
      method: 'post',
      path: '/api/projects/:id/restore',
      summary: 'Brings a removed project back',
      answers: 204,
      handle: (req) => {
        store.setRemoved(idOf(req), false);
        live.publishRemoved(idOf(req), false);
      },
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
        // By its name the client sees whether the revision it stands on is the same one here.
        return {
          revision: store.read(id).revision,
          removed: store.isRemoved(id),
          at: store.changeIdAt(id, since),
          changes: store.changesSince(id, since),
        };
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
    ...revisionEndpoints(store),
    {
      method: 'get',
      path: '/api/projects/:id/export',
      summary: `The project as a ${PROJECT_FILE_EXTENSION} file`,
      answers: 200,
      handle: async (req, res) => {
        const { id, document } = store.read(idOf(req));
        const { bytes, missing } = await exported(document);
        if (missing.length) res.set('Foreshore-Missing', encodeURIComponent(JSON.stringify(missing)).slice(0, 4000));
        res.attachment(`${id}${PROJECT_FILE_EXTENSION}`).type('application/zip').send(Buffer.from(bytes));
      },
    },
    {
      method: 'get',
      path: '/api/projects/:id/handoff',
      summary:
        'What leaves of the project for a game: bundle, contract, spec sheet, as an archive (?level=yes with the level; ?letters=used with fonts of only the letters that are used; ?runtime=yes with the modules that play it in a web game; ?elements=ID,ID and ?viewers=ID,ID only these)',
      answers: 200,
      handle: async (req, res) => {
        const { id, document } = store.read(idOf(req));
        const withLevel = parsed(z.enum(['yes', 'no']).default('no'), req.query.level) === 'yes';
        const usedLetters = parsed(z.enum(['all', 'used']).default('all'), req.query.letters) === 'used';
        const withRuntime = parsed(z.enum(['yes', 'no']).default('no'), req.query.runtime) === 'yes';
        const [elements, viewers] = [named(req.query.elements), named(req.query.viewers)];
        const choice = { withLevel, usedLetters, withRuntime, ...(elements && { elements }), ...(viewers && { viewers }) };
        const { bytes } = await readers.read({ kind: 'leaving', document, what: 'export', choice, fileName: document.name });
        res
          .attachment(`${id}-handoff.zip`)
          .type('application/zip')
          .send(Buffer.from(bytes as Uint8Array));
      },
    },
    {
      method: 'get',
      path: '/api/projects/:id/anchored-level',
      summary: 'The level as glTF, with every anchor and standing panel as a named node with extras',
      answers: 200,
      handle: async (req, res) => {
        const { id, document } = store.read(idOf(req));
        const { bytes } = await readers.read({ kind: 'leaving', document, what: 'gltf', fileName: document.name });
        res
          .attachment(`${id}-anchors.glb`)
          .type('model/gltf-binary')
          .send(Buffer.from(bytes as Uint8Array));
      },
    },
    {
      method: 'get',
      path: '/api/projects/:id/proof',
      summary: "Frames that a port of the calculation must give, in the project's convention",
      answers: 200,
      handle: async (req, res) => {
        const { id, document } = store.read(idOf(req));
        const { bytes } = await readers.read({ kind: 'leaving', document, what: 'proof', fileName: document.name });
        res
          .attachment(`${id}-proof.json`)
          .type('application/json')
          .send(Buffer.from(bytes as Uint8Array));
      },
    },
    {
      method: 'get',
      path: '/api/projects/:id/sheet',
      summary: "The spec sheet: every element as somebody builds it by hand, in the project's convention",
      answers: 200,
      handle: async (req, res) => {
        const { document } = store.read(idOf(req));
        const { bytes } = await readers.read({ kind: 'leaving', document, what: 'sheet', fileName: document.name });
        res.type('application/json').send(Buffer.from(bytes as Uint8Array));
      },
    },
    ...checkEndpoints(store, checks),
    {
      method: 'post',
      path: '/api/projects/:id/games',
      summary: 'Lets running games connect; the token is told this once, and replaces one that was before',
      answers: 201,
      handle: (req) => {
        const { id } = store.read(idOf(req));
        return { token: games.open(id) };
      },
    },
    {
      method: 'delete',
      path: '/api/projects/:id/games',
      summary: 'Lets no game connect any more, and closes the connections there are',
      answers: 204,
      handle: (req) => games.shut(store.read(idOf(req)).id),
    },
    {
      method: 'get',
      path: '/api/projects/:id/missing',
      summary: 'What the project names and the data folder has no more',
      answers: 200,
      handle: async (req) => ({ missing: await missingFiles(store.read(idOf(req)).document) }),
    },
    {
      method: 'get',
      path: '/api/projects/:id/raw',
      summary: 'All that is kept of a project that cannot be read',
      answers: 200,
      handle: (req, res) => {
        res.attachment(`${idOf(req)}.json`).json(store.raw(idOf(req)));
      },
    },
    {
      method: 'post',
      path: '/api/projects/:id/back',
      summary: 'Brings a project that cannot be read back to its last readable revision, as a new one',
      answers: 200,
      handle: (req) => store.goBack(idOf(req)),
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
      handle: (req, res) => takeOne('picture', req, res),
    },
    {
      method: 'get',
      path: '/api/pictures/:hash',
      summary: 'The bytes of a picture',
      answers: 200,
      handle: async (req, res) => {
        const hash = hashOf(req);
        const type = store.pictureType(hash);
        const bytes = type && (await store.fileBytes('picture', hash));
        if (!type || !bytes) throw notFound('such picture');
        // Whatever an SVG holds, opened by itself it may do nothing.
        res
          .set('Cache-Control', 'public, max-age=31536000, immutable')
          .set('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'; img-src data:; sandbox")
          .type(type)
          .send(Buffer.from(bytes));
      },
    },
    {
      method: 'post',
      path: '/api/pages',
      summary: 'Checks a page (HTML, or a zip of it and its assets; ?name=FILE) and keeps it as one file among the pictures',
      file: { type: 'application/octet-stream', mostBytes: MOST_PICTURE_BYTES + 1024 },
      answers: 201,
      handle: (req, res) => takeOne('page', req, res),
    },
    {
      method: 'get',
      path: '/api/pages/:hash',
      summary: 'A page, to run in a frame of the bench',
      answers: 200,
      handle: async (req, res) => {
        const hash = hashOf(req);
        const bytes = store.pictureType(hash) === 'text/html' ? await store.fileBytes('picture', hash) : null;
        if (!bytes) throw notFound('such page');
        res
          .set('Cache-Control', 'no-store')
          .set('Content-Security-Policy', pagePolicy(bothNames(req.headers.host ?? '')))
          .type('text/html')
          .send(withRunner(Buffer.from(bytes).toString('utf8')));
      },
    },
    {
      method: 'post',
      path: '/api/fonts',
      summary: 'Checks and keeps a font (TTF, OTF, WOFF or WOFF2; ?name=FILE)',
      file: { type: 'application/octet-stream', mostBytes: MOST_FONT_BYTES + 1024 },
      answers: 201,
      handle: (req, res) => takeOne('font', req, res),
    },
    {
      method: 'get',
      path: '/api/fonts/:hash',
      summary: 'The bytes of a font, as a plain sfnt file',
      answers: 200,
      handle: async (req, res) => {
        const bytes = await store.fileBytes('font', hashOf(req));
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
      handle: (req, res) => takeOne('level', req, res),
    },
    {
      method: 'get',
      path: '/api/readings/:watch',
      summary: 'What is being done with a file that was sent with ?watch=NAME and is still being read',
      answers: 200,
      handle: (req) => {
        const stage = stages.get(String(req.params.watch));
        if (!stage) throw notFound('file being read under this name');
        return { stage };
      },
    },
    {
      method: 'get',
      path: '/api/levels/:hash',
      summary: 'The bytes of a level',
      answers: 200,
      handle: (req, res) => {
        const path = store.levelPath(hashOf(req));
        if (!path || !existsSync(path)) throw notFound('such level on this server');
        res.set('Cache-Control', 'public, max-age=31536000, immutable').type('model/gltf-binary').sendFile(path, { dotfiles: 'allow' });
      },
    },
    {
      method: 'get',
      path: '/api/levels/:hash/prepared',
      summary:
        'A level as the bench uses it (?metresPerUnit=NUMBER&upAxis=y|z): read, with its trees of triangles; made where it is not there',
      answers: 200,
      handle: async (req, res) => {
        const hash = hashOf(req);
        const path = store.levelPath(hash);
        if (!path || !existsSync(path)) throw notFound('such level on this server');
        const { metresPerUnit, upAxis } = parsed(preparedSchema, req.query);
        const prepared = await readers.prepared({ hash, metresPerUnit, upAxis });
        // Browsers keep no copy: it lies on this machine, and is large.
        const options = { dotfiles: 'allow', highWaterMark: READ_BYTES } as const;
        res.set('Cache-Control', 'no-store').type('application/octet-stream').sendFile(prepared, options);
      },
    },
  ];
}

const MOST_JSON_BYTES = 8 * 1024 * 1024;

/** A body within bounds: nothing further in walks through one that is not. */
const bounded = (req: Request): void => {
  const bound = Buffer.isBuffer(req.body) ? null : boundsFault(req.body);
  if (bound) throw new Problem(400, 'request', `${bound.pointer || '(whole request)'}: ${bound.message}`);
};

export function register(app: Express, list: Endpoint[]): void {
  const methods = new Map<string, string[]>();
  for (const { method, path, handle, answers, file } of list) {
    methods.set(path, [...(methods.get(path) ?? []), method.toUpperCase()]);
    const reader = file ? raw({ type: file.type, limit: file.mostBytes }) : json({ limit: MOST_JSON_BYTES });
    app[method](path, reader, async (req, res) => {
      bounded(req);
      const answer = await handle(req, res);
      if (res.headersSent || res.writableEnded || (answer === undefined && answers === 200)) return;
      if (answer === undefined) res.status(answers).end();
      else res.status(answers).json(answer);
    });
  }
  app.get('/api/openapi.json', (_req, res) => {
    res.json(describe(list));
  });
  for (const [path, allowed] of methods)
    app.all(path, (req, res) => {
      res.set('Allow', allowed.join(', '));
      throw new Problem(405, 'method', `${req.method} is not taken here; there are ${allowed.join(', ')}.`);
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
