/** The HTTP server: guards, the API, live updates and the built application. */

import { existsSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { join } from 'node:path';
import { benchOf, projectAddress } from '@foreshore/document/addresses';
import { GAME_PATH, MOST_GAME_BYTES } from '@foreshore/handoff/game';
import express from 'express';
import { rateLimit } from 'express-rate-limit';
import type { Logger } from 'pino';
import { Checks } from './checks.ts';
import { comparisonEndpoints } from './compare.ts';
import { answerMalformed, bothNames, isLocalGame, makeDoors } from './doors.ts';
import { type Demo, endpoints, register } from './endpoints.ts';
import { Games } from './games.ts';
import { attachLines } from './lines.ts';
import { Live } from './live.ts';
import { notFound, Problem, problems } from './problem.ts';
import { Readers } from './readers.ts';
import { Store } from './store.ts';
import { Turns } from './turns.ts';

/** What a page says on a line is short. */
const MOST_ROOMS_BYTES = 64 * 1024;

export interface ServerOptions {
  folder: string;
  host: string;
  port: number;
  /** The built application, or null where it is served elsewhere. */
  web: string | null;
  demo: Demo;
  /** Other origins whose pages may use the server. */
  origins?: readonly string[];
  log: Logger;
}

export interface Running {
  address: string;
  store: Store;
  close(): Promise<void>;
}

export async function startServer({ folder, host, port, web, demo, origins = [], log }: ServerOptions): Promise<Running> {
  const store = new Store(folder);
  const live = new Live();
  const readers = new Readers(store.files);
  const doors = makeDoors(host, origins);
  const games = new Games(store, {
    bundle: async (id) => {
      const { document, revision } = store.read(id);
      const { bytes } = await readers.read({ kind: 'leaving', document, what: 'bundle', fileName: document.name });
      return { revision, bundle: JSON.parse(new TextDecoder().decode(bytes as Uint8Array)) };
    },
  });
  const turns = new Turns();
  const checks = new Checks(store, readers, live, turns);
  live.onChange((project, revision) => games.changed(project, revision));
  const app = express();
  app.disable('x-powered-by');
  app.use((req, res, next) => {
    res.set({
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'no-referrer',
      'Content-Security-Policy':
        "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; connect-src 'self' blob:; worker-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'; frame-src " +
        bothNames(req.headers.host ?? ''),
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Resource-Policy': 'same-origin',
    });
    next(
      doors.allows(req)
        ? undefined
        : new Problem(
            403,
            'origin',
            'Requests are taken from pages of this server only; --origin names others, --host serves other machines.',
          ),
    );
  });
  app.get('/healthz', (_req, res) => {
    res.json({ ok: true });
  });
  const tooMany = (_req: unknown, _res: unknown, next: (error: unknown) => void) =>
    next(new Problem(429, 'too-many', 'More requests came than are taken; wait ten seconds.'));
  app.use('/api', rateLimit({ windowMs: 10_000, limit: 3000, standardHeaders: true, legacyHeaders: false, handler: tooMany }));
  register(app, [...endpoints(store, live, readers, games, checks, demo), ...comparisonEndpoints(store, readers, turns)]);
  app.use('/api', (_req, _res, next) => next(notFound('such address')));
  if (web && existsSync(join(web, 'index.html'))) {
    app.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
    app.use(express.static(web, { index: false }));
    app.get(/.*/, (req, res) => {
      // The bench wants its project first of all: browsers ask for it while the program is on its way.
      const id = benchOf(req.path);
      if (id) res.set('Link', `<${projectAddress(id)}>; rel=preload; as=fetch; crossorigin`);
      res.set('Cache-Control', 'no-cache').sendFile(join(web, 'index.html'), { dotfiles: 'allow' });
    });
  }
  app.use(problems(log));

  const http: Server = createServer(app);
  // Longer than browsers keep a connection for reuse, so that none is closed under a request.
  http.keepAliveTimeout = 120_000;
  answerMalformed(http);
  const ours = 'The live line is for pages of this server only.';
  const shutLines = attachLines(http, [
    {
      ...{ path: '/api/live', mostBytes: MOST_ROOMS_BYTES, allows: doors.allows, refusal: ours },
      exists: (id) => store.has(id),
      accept: (client, id) => live.accept(client, id),
    },
    {
      ...{ path: '/api/games', mostBytes: MOST_ROOMS_BYTES, allows: doors.allows, refusal: ours },
      exists: (id) => store.has(id),
      accept: (client, id) => games.watch(client, id),
    },
    {
      ...{ path: GAME_PATH, mostBytes: MOST_GAME_BYTES, allows: isLocalGame, refusal: 'Games connect from this machine only.' },
      exists: (id) => store.has(id) && games.isOn(id),
      accept: (client, id) => games.accept(client, id),
    },
  ]);
  await new Promise<void>((resolve, reject) => {
    http.once('error', reject);
    http.listen(port, host, resolve);
  }).catch((error: unknown) => {
    readers.close();
    store.close();
    throw error;
  });
  const bound = http.address();
  const actual = typeof bound === 'object' && bound ? bound.port : port;
  const address = `http://${host === '0.0.0.0' ? 'localhost' : host}:${actual}/`;
  store.tellAddress(address);
  return {
    address,
    store,
    close: async () => {
      checks.close();
      live.close();
      games.close();
      shutLines();
      readers.close();
      await new Promise<void>((resolve) => {
        http.close(() => resolve());
        http.closeAllConnections();
      });
      store.close();
    },
  };
}
