/** The HTTP server: guards, the API, live updates and the built application. */

import { existsSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import { join } from 'node:path';
import express from 'express';
import { rateLimit } from 'express-rate-limit';
import type { Logger } from 'pino';
import { type Demo, endpoints, register } from './endpoints.ts';
import { Live } from './live.ts';
import { notFound, Problem, problems } from './problem.ts';
import { Store } from './store.ts';

export interface ServerOptions {
  folder: string;
  host: string;
  port: number;
  /** The built application, or null where it is served elsewhere. */
  web: string | null;
  demo: Demo;
  log: Logger;
}

export interface Running {
  address: string;
  store: Store;
  close(): Promise<void>;
}

/** Names under which a server bound to this machine may be called, so that a page elsewhere cannot reach it by a name of its own (DNS rebinding). */
const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/i;

export async function startServer({ folder, host, port, web, demo, log }: ServerOptions): Promise<Running> {
  const store = new Store(folder);
  const live = new Live();
  const app = express();
  app.disable('x-powered-by');
  const localOnly = host === '127.0.0.1' || host === 'localhost' || host === '::1';
  const allowed = (req: IncomingMessage): boolean => {
    const { host: called = '', origin } = req.headers;
    if (localOnly && !LOCAL.test(called)) return false;
    return origin === undefined || new URL(origin).host === called || (localOnly && LOCAL.test(new URL(origin).host));
  };
  app.use((req, res, next) => {
    res.set({
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'no-referrer',
      'Content-Security-Policy':
        "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; connect-src 'self' ws: blob:; worker-src 'self' blob:; frame-ancestors 'none'",
    });
    let fine = false;
    try {
      fine = allowed(req);
    } catch {
      fine = false;
    }
    next(fine ? undefined : new Problem(403, 'origin', 'Requests are taken from this machine only; start with --host to serve others.'));
  });
  app.get('/healthz', (_req, res) => {
    res.json({ ok: true });
  });
  app.use('/api', rateLimit({ windowMs: 10_000, limit: 3000, standardHeaders: true, legacyHeaders: false }));
  register(app, endpoints(store, live, demo));
  app.use('/api', (_req, _res, next) => next(notFound('such address')));
  if (web && existsSync(join(web, 'index.html'))) {
    app.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
    app.use(express.static(web, { index: false }));
    app.get(/.*/, (_req, res) => res.set('Cache-Control', 'no-cache').sendFile(join(web, 'index.html'), { dotfiles: 'allow' }));
  }
  app.use(problems(log));

  const http: Server = createServer(app);
  // Longer than browsers keep a connection for reuse, so that none is closed under a request.
  http.keepAliveTimeout = 120_000;
  live.attach(http, (req) => {
    try {
      return allowed(req);
    } catch {
      return false;
    }
  });
  await new Promise<void>((resolve, reject) => {
    http.once('error', reject);
    http.listen(port, host, resolve);
  }).catch((error: unknown) => {
    store.close();
    throw error;
  });
  const bound = http.address();
  const actual = typeof bound === 'object' && bound ? bound.port : port;
  return {
    address: `http://${host === '0.0.0.0' ? 'localhost' : host}:${actual}/`,
    store,
    close: async () => {
      live.close();
      await new Promise<void>((resolve) => {
        http.close(() => resolve());
        http.closeAllConnections();
      });
      store.close();
    },
  };
}
