/**
 * Three windows, random edits that meet, files, spells without a connection, windows closed and opened, the server killed and its disk
 * full at random moments. After each round every acknowledged change and file is on the server, every other change is in the list that
 * the user sees, and every project opens. FORESHORE_CHAOS asks for more rounds.
 */
import 'fake-indexeddb/auto';
import { spawn } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Patch } from '@foreshore/document';
import { PNG } from 'pngjs';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { root } from '../../../../scripts/house.mjs';
import { MAIN } from '../../../server/src/test-server.ts';
import type { Sync } from './sync.ts';

const ROUNDS = Number(process.env.FORESHORE_CHAOS ?? 30);
const SAYS_EVERY = 25;
/** So many files, twice, after each round. */
const LOOKED = 30;
const PORT = 20_000 + (process.pid % 20_000);
const ADDRESS = `http://127.0.0.1:${PORT}/`;
const folder = mkdtempSync(join(tmpdir(), 'foreshore-chaos-'));
const real = globalThis.fetch;

/** Park and Miller's generator, so that a run can be had again. */
let state = Number(process.env.FORESHORE_SEED ?? 20261126);
const random = () => (state = (state * 48271) % 2147483647) / 2147483647;
const below = (n: number) => Math.floor(random() * n);

/** The server, with room for files of so many kilobytes each, or without a limit. */
async function startServer(kilobytes: number | null) {
  const limit = kilobytes === null ? '' : `trap '' XFSZ; ulimit -f ${kilobytes}; `;
  const child = spawn('bash', ['-c', `${limit}exec "$0" "$@"`, process.execPath, MAIN, '--port', String(PORT), '--data', folder], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  await Promise.race([once(child.stdout, 'data'), once(child, 'exit')]);
  return {
    running: child.exitCode === null,
    limited: kilobytes !== null,
    kill: async () => {
      if (child.exitCode !== null || child.signalCode !== null) return;
      child.kill('SIGKILL');
      await once(child, 'exit');
    },
  };
}

/** One window: modules of its own, so that it has an id of its own. The browser's store and its locks are shared. */
interface Tab {
  id: string;
  sync: Sync | null;
  open(project: string): Promise<void>;
  close(): void;
}
const living = new Set<string>();
const offline = new Set<string>();

class Quiet extends EventTarget {
  close(): void {}
}
vi.stubGlobal('WebSocket', Quiet);
vi.stubGlobal('window', { location: { href: ADDRESS }, addEventListener: () => {}, removeEventListener: () => {} });
vi.stubGlobal('navigator', {
  locks: {
    request: async (_name: string, run: () => unknown) => run(),
    query: async () => ({ held: [...living].map((tab) => ({ name: `foreshore-tab-${tab}` })) }),
  },
});
vi.stubGlobal('fetch', (path: string, init?: RequestInit) => {
  const from = /"clientId":"([^"]+)"/.exec(String(init?.body ?? ''))?.[1];
  if (from && offline.has(from)) return Promise.reject(new TypeError('no network'));
  return real(new URL(path, ADDRESS), init);
});

async function newTab(): Promise<Tab> {
  vi.resetModules();
  const [{ Sync }, { clientId }, { api }] = await Promise.all([import('./sync.ts'), import('./api.ts'), import('./api.ts')]);
  const tab: Tab = {
    id: clientId,
    sync: null,
    open: async (project) => {
      living.add(clientId);
      tab.sync = await Sync.open(await api.open(project), {
        changed: () => {},
        state: () => {},
        setAside: () => {},
        keepsNothing: () => {},
      });
    },
    close: () => {
      tab.sync?.close();
      tab.sync = null;
      living.delete(clientId);
    },
  };
  return tab;
}

const picture = (): Uint8Array => {
  const png = new PNG({ width: 40 + below(120), height: 40 });
  png.data.set(randomBytes(png.data.length));
  return new Uint8Array(PNG.sync.write(png));
};

afterAll(() => {
  vi.unstubAllGlobals();
  rmSync(folder, { recursive: true, force: true });
});

describe('chaos', () => {
  it(`${ROUNDS} rounds: nothing acknowledged is lost, nothing else is dropped in silence`, {
    timeout: 60_000 + ROUNDS * 20_000,
  }, async () => {
    let server = await startServer(null);
    const { asideOf, unsentOf } = await import('./unsent.ts');
    const made = await real(new URL('/api/projects', ADDRESS), {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ from: 'empty', name: 'Chaos' }),
    });
    const { id: project } = (await made.json()) as { id: string };
    const tabs = [await newTab(), await newTab(), await newTab()];
    const pushed = new Set<string>();
    const files = new Map<string, number>();
    const counts = { edits: 0, kills: 0, full: 0, refusedFiles: 0, setAside: 0, closed: 0 };
    const say = (rounds: number): void =>
      void process.stdout.write(`chaos, ${rounds} rounds: ${JSON.stringify({ ...counts, files: files.size })}\n`);

    for (let round = 0; round < ROUNDS; round++) {
      for (const tab of tabs) if (!tab.sync) await tab.open(project);
      const full = below(4) === 0;
      if (full) {
        // So little room that the database cannot grow, nor a picture be written.
        await server.kill();
        server = await startServer(120 + below(60));
        if (!server.running) server = await startServer(null);
        counts.full++;
      }
      // In every second round; the rest is what windows do to one another.
      const killAt = below(28);
      for (let step = 0; step < 14; step++) {
        const tab = tabs[below(tabs.length)] as Tab;
        const way = below(12);
        if (way < 7 && tab.sync) {
          // Few places, so that changes meet.
          const key = `f${below(5)}`;
          const now = tab.sync.document.feeds[key];
          const value = { name: key, order: 'a0', kind: 'number', unit: '', initial: below(1e6) };
          const patch = (
            now
              ? [
                  { op: 'test', path: `/feeds/${key}/initial`, value: now.initial },
                  { op: 'replace', path: `/feeds/${key}/initial`, value: value.initial },
                ]
              : [{ op: 'add', path: `/feeds/${key}`, value }]
          ) as Patch;
          tab.sync.push(patch, 'Change a feed');
          pushed.add((tab.sync as unknown as { waiting: { changeId: string }[] }).waiting.at(-1)?.changeId as string);
          counts.edits++;
        } else if (way === 7) offline.add(tab.id);
        else if (way === 8) offline.delete(tab.id);
        else if (way === 9 && tab.sync) {
          await tab.sync.kept;
          tab.close();
          counts.closed++;
        } else if (way === 10) {
          const bytes = picture();
          const answer = await real(new URL('/api/pictures?name=a.png', ADDRESS), {
            method: 'POST',
            headers: { 'content-type': 'application/octet-stream' },
            body: bytes as BodyInit,
          }).catch(() => null);
          if (answer?.status === 201) files.set(createHash('sha256').update(bytes).digest('hex'), bytes.byteLength);
          else counts.refusedFiles++;
        }
        if (step === killAt) {
          await server.kill();
          counts.kills++;
          server = await startServer(null);
        }
        await new Promise((resolve) => setImmediate(resolve));
      }
      // All is well again: whoever is closed is opened, and everything is let go through.
      if (server.limited) {
        await server.kill();
        server = await startServer(null);
      }
      offline.clear();
      for (const tab of tabs) {
        if (!tab.sync) await tab.open(project);
        (tab.sync as unknown as { wake(): void }).wake();
      }
      await vi.waitFor(async () => expect(await unsentOf(project)).toEqual([]), { timeout: 15_000 });
      for (const tab of tabs) await tab.sync?.kept;
      const listed = await real(new URL(`/api/projects/${project}/changes?since=0`, ADDRESS));
      const { changes } = (await listed.json()) as { changes: { changeId: string }[] };
      const taken = new Set(changes.map(({ changeId }) => changeId));
      const aside = new Set((await asideOf(project)).map(({ id }) => id));
      counts.setAside = aside.size;
      expect(taken.size).toBe(changes.length);
      expect([...pushed].filter((change) => !taken.has(change) && !aside.has(change))).toEqual([]);
      // All of them after the last round; before that the latest and some others, or the server would say that these are too many requests.
      const all = [...files];
      const looked =
        round === ROUNDS - 1 ? all : [...all.slice(-LOOKED), ...all.slice(0, -LOOKED).filter(() => below(all.length) < LOOKED)];
      for (const [hash, size] of looked) {
        const answer = await real(new URL(`/api/pictures/${hash}`, ADDRESS));
        const bytes = new Uint8Array(await answer.arrayBuffer());
        expect([answer.status, bytes.byteLength, createHash('sha256').update(bytes).digest('hex')]).toEqual([200, size, hash]);
      }
      const shelf = (await (await real(new URL('/api/projects', ADDRESS))).json()) as { projects: { unreadable?: object }[] };
      expect(shelf.projects.filter(({ unreadable }) => unreadable)).toEqual([]);
      // A long run tells how far it is.
      if ((round + 1) % SAYS_EVERY === 0) say(round + 1);
    }
    for (const tab of tabs) tab.close();
    await server.kill();
    if (ROUNDS % SAYS_EVERY !== 0) say(ROUNDS);
    expect(counts.edits).toBeGreaterThan(ROUNDS * 3);
  });
});
