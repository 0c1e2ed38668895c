/** Whoever calls, from wherever, with whatever: the server stays, and answers with a problem document. */
import { spawn } from 'node:child_process';
import { randomFillSync } from 'node:crypto';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { diff } from '@foreshore/document';
import { backup, restore } from '@foreshore/storage';
import Database from 'better-sqlite3';
import { PNG } from 'pngjs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import WebSocket from 'ws';
import { addBox, newLevel, toBinary } from '../../../packages/level/src/sample.ts';
import { root } from '../../../scripts/house.mjs';
import { callAt, MAIN, makeEmptyAt, rename, startTestServer, type TestServer } from './test-server.ts';

let at: TestServer;
beforeAll(async () => {
  at = await startTestServer();
});
afterAll(() => at.remove());
const alive = async () => (await fetch(new URL('/healthz', at.address))).ok;
const port = () => Number(new URL(at.address).port);

/** A request as no browser would send it; gives what came back. */
const raw = (text: string, thenReset = false) =>
  new Promise<string>((resolve) => {
    const socket = connect(port(), '127.0.0.1');
    let said = '';
    socket.on('data', (data) => {
      said += data.toString();
      if (thenReset) socket.resetAndDestroy();
    });
    socket.on('error', () => {});
    socket.on('close', () => resolve(said));
    socket.write(text);
  });
const called = (path: string, headers: Record<string, string>, method = 'GET') =>
  new Promise<{ status: number; type: string; body: string }>((resolve, reject) => {
    const req = request({ host: '127.0.0.1', port: port(), path, method, headers }, (res) => {
      let body = '';
      res.on('data', (piece) => (body += piece));
      res.on('end', () => resolve({ status: res.statusCode ?? 0, type: res.headers['content-type'] ?? '', body }));
    });
    req.on('error', reject);
    req.end();
  });
const UPGRADE = 'Connection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n';

describe('nobody comes in', () => {
  it('by an address that cannot be parsed on the live line, from any page', async () => {
    for (const path of ['//', '/\\', '//%', '/api/live?project=%E0%A4%A', '/api/live?project='])
      expect(await raw(`GET ${path} HTTP/1.1\r\nHost: 127.0.0.1:${port()}\r\nOrigin: http://elsewhere.invalid\r\n${UPGRADE}\r\n`)).toMatch(
        /^HTTP\/1\.1 4\d\d .*application\/problem\+json/s,
      );
    expect(await alive()).toBe(true);
  });
  it('by a connection that is reset after it was refused', async () => {
    for (let k = 0; k < 20; k++) await raw(`GET /api/live?project=none HTTP/1.1\r\nHost: 127.0.0.1:${port()}\r\n${UPGRADE}\r\n`, true);
    expect(await alive()).toBe(true);
  });
  it('of another origin: another name, another port of this machine, a name of its own for this machine', async () => {
    const host = `127.0.0.1:${port()}`;
    for (const headers of [
      { host, origin: 'http://elsewhere.invalid' },
      { host, origin: `http://127.0.0.1:${port() + 1}` },
      { host, origin: 'null' },
      { host: `rebound.invalid:${port()}` },
      { host: `rebound.invalid:${port()}`, origin: `http://rebound.invalid:${port()}` },
    ] as Record<string, string>[]) {
      const answer = await called('/api/projects', headers);
      expect([answer.status, answer.type]).toEqual([403, 'application/problem+json; charset=utf-8']);
    }
    expect((await called('/api/projects', { host, origin: `http://${host}` })).status).toBe(200);
  });
  it('but one that is named by an option', async () => {
    const other = await startTestServer(undefined, 0, ['--origin', 'http://localhost:5173']);
    const answer = await fetch(new URL('/api/projects', other.address), { headers: { origin: 'http://localhost:5173' } });
    expect(answer.status).toBe(200);
    await other.remove();
  });
  it('with messages on the live line that are none', async () => {
    const { id } = await makeEmptyAt(at, 'Live');
    const url = `${at.address.replace('http', 'ws')}api/live?project=${id}`;
    const socket = new WebSocket(url);
    await new Promise((resolve) => socket.once('open', resolve));
    socket.on('error', () => {});
    socket.send('x'.repeat(70_000));
    await new Promise((resolve) => socket.once('close', resolve));
    expect(await alive()).toBe(true);
  });
});

describe('every refusal is a problem document', () => {
  it.each<[string, string, string, number]>([
    ['an address that is not there', 'GET', '/api/tide', 404],
    ['a method that is not taken', 'DELETE', '/api/projects', 405],
    ['a method nobody knows', 'PUT', '/api/levels', 405],
    ['an address that cannot be decoded', 'GET', '/api/projects/%E0%A4%A', 400],
    ['a project that is not there', 'GET', '/api/projects/none', 404],
    ['a file by a wrong hash', 'GET', '/api/levels/none', 404],
  ])('%s', async (_, method, path, status) => {
    const answer = await called(path, { host: `127.0.0.1:${port()}` }, method);
    expect(answer.status).toBe(status);
    expect(answer.type).toMatch(/^application\/problem\+json/);
    expect(JSON.parse(answer.body)).toMatchObject({ status, detail: expect.any(String) });
  });
  it("and so are Node's own", async () => {
    expect(await raw('TIDE\r\n\r\n')).toMatch(/^HTTP\/1\.1 400 .*problem\+json/s);
    expect(await raw(`GET / HTTP/1.1\r\nHost: a\r\nX: ${'y'.repeat(20_000)}\r\n\r\n`)).toMatch(/^HTTP\/1\.1 431 .*problem\+json/s);
  });
  it('for patches of every faulty kind: none is an error of the server', async () => {
    const { id, document } = await makeEmptyAt(at, 'Faulty');
    // As text: to write them from values would take as much stack as it takes a server that walks through them.
    const deep = (open: string, close: string, n: number) => `${open.repeat(n)}1${close.repeat(n)}`;
    const patches: unknown[] = [
      [{ op: 'add', path: '/body/radiusM/x', value: 1 }],
      [{ op: 'add', path: '/name/x/y', value: 1 }],
      [{ op: 'replace', path: '', value: {} }],
      [{ op: 'replace', path: '/', value: {} }],
      `[{"op":"add","path":"/elements/a","value":${deep('[', ']', 200_000)}}]`,
      `[{"op":"test","path":"/name","value":${deep('{"a":', '}', 100_000)}}]`,
      [{ op: 'add', path: '/elements/a', value: { kind: 'label', children: 5 } }],
      [{ op: 'remove', path: '/elements' }],
      [{ op: 'add', path: '/elements/__proto__', value: {} }],
      [{ op: 'add', path: '/feeds/constructor', value: {} }],
      [{ op: 'move', from: '/name', path: '/body' }],
      [{ op: 'add', path: '/anchors/a', value: null }],
      [{ op: 'replace', path: '/viewers/desk/widthPx', value: Number.POSITIVE_INFINITY }],
      [],
      {},
      'tide',
      null,
    ];
    for (const patch of patches) {
      const written = typeof patch === 'string' && patch.startsWith('[') ? patch : JSON.stringify(patch);
      const text = `{"base":0,"patch":${written},"changeId":"c","clientId":"x"}`;
      const answer = await fetch(new URL(`/api/projects/${id}/changes`, at.address), {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: text,
      });
      expect(answer.status, text.slice(0, 120)).toBeGreaterThanOrEqual(400);
      expect(answer.status, text.slice(0, 120)).toBeLessThan(500);
      expect(answer.headers.get('content-type')).toMatch(/^application\/problem\+json/);
    }
    const hidden = await fetch(new URL('/api/projects', at.address), {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{"from":"empty","name":"x","__proto__":{"a":1}}',
    });
    expect(hidden.status).toBe(400);
    expect((await callAt(at, 'GET', `/api/projects/${id}`)).body.document).toEqual(document);
  });
});

describe('one project that cannot be read', () => {
  it('locks no other: it is listed with its reason, given as it lies, and goes back to its last readable revision', async () => {
    const own = await startTestServer();
    const { id, document } = await makeEmptyAt(own, 'Ebb');
    const fine = await makeEmptyAt(own, 'Fine');
    await callAt(own, 'POST', `/api/projects/${id}/changes`, { base: 0, patch: rename(document, 'Flood'), changeId: 'a', clientId: 'x' });
    await own.stop('SIGKILL');
    // A change that no server would take, as an older one may have.
    const db = new Database(join(own.folder, 'foreshore.sqlite'));
    db.prepare('insert into revision values (?, 2, ?, ?, ?, 0)').run(
      id,
      'b',
      'x',
      '[{"op":"add","path":"/level","value":{"file":"a\\\\b"}}]',
    );
    db.prepare('update project set revision = 2 where id = ?').run(id);
    db.close();
    const again = await startTestServer(own.folder);
    const { projects } = (await callAt(again, 'GET', '/api/projects')).body;
    expect(projects.find((one: { id: string }) => one.id === id).unreadable).toMatchObject({
      why: expect.stringContaining('level'),
      readable: 1,
    });
    expect((await callAt(again, 'GET', `/api/projects/${fine.id}`)).status).toBe(200);
    expect((await callAt(again, 'GET', `/api/projects/${id}`)).status).toBe(422);
    expect((await callAt(again, 'GET', `/api/projects/${id}/raw`)).body.changes).toHaveLength(2);
    const back = (await callAt(again, 'POST', `/api/projects/${id}/back`)).body;
    expect(back).toMatchObject({ revision: 3, document: { name: 'Flood' } });
    const next = { base: 3, patch: rename(back.document, 'Slack'), changeId: 'c', clientId: 'x' };
    expect((await callAt(again, 'POST', `/api/projects/${id}/changes`, next)).status).toBe(200);
    await again.remove();
  });
  it('is none that was taken: a level named with a backslash and a condition 585 deep are refused at the door', async () => {
    const level = newLevel();
    addBox(level, 'Quay', 5, [0, 0, 0]);
    const { hash } = (await callAt(at, 'POST', '/api/levels?name=quay.glb', await toBinary(level))).body;
    const answer = await callAt(at, 'POST', '/api/projects', {
      from: 'level',
      name: 'Backslash',
      level: { hash, file: 'a\\b.glb', metresPerUnit: 1, upAxis: 'y' },
    });
    expect(answer.status).toBe(400);
    const { id, document } = await makeEmptyAt(at, 'Deep');
    let condition: unknown = { kind: 'group', need: 'all', conditions: [] };
    for (let k = 0; k < 585; k++) condition = { kind: 'group', need: 'all', conditions: [condition] };
    const patch = [{ op: 'add', path: '/elements/a', value: { show: { conditions: [condition] } } }];
    expect((await callAt(at, 'POST', `/api/projects/${id}/changes`, { base: 0, patch, changeId: 'a', clientId: 'x' })).status).toBeLessThan(
      500,
    );
    expect((await callAt(at, 'GET', `/api/projects/${id}`)).body.document).toEqual(document);
  });
});

describe('files', () => {
  const picture = (side: number) => {
    const png = new PNG({ width: side, height: side });
    randomFillSync(png.data);
    return new Uint8Array(PNG.sync.write(png));
  };
  /** A server that may write files of so many kilobytes only: what is longer is cut off in the middle of a write, as on a full disk. */
  const limited = (kilobytes: number, folder: string) =>
    new Promise<{ address: string; stop: () => Promise<unknown> }>((resolve, reject) => {
      // A file size limit, in blocks of 1,024 bytes; the signal that goes with it is ignored, so that writes fail instead.
      const child = spawn(
        'bash',
        ['-c', `trap '' XFSZ; ulimit -f ${kilobytes}; exec "$0" "$@"`, process.execPath, MAIN, '--port', '0', '--data', folder],
        {
          cwd: root,
          stdio: ['ignore', 'pipe', 'inherit'],
        },
      );
      const gone = new Promise((done) => child.once('exit', done));
      child.stdout.on('data', (data) => {
        const found = /ready at (\S+)/.exec(String(data));
        if (found?.[1])
          resolve({
            address: found[1],
            stop: () => {
              child.kill('SIGKILL');
              return gone;
            },
          });
      });
      void gone.then(() => reject(new Error('The limited server ended.')));
    });

  it('that the disk does not take whole are refused, leave nothing, and are taken once there is room', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'foreshore-limit-'));
    // The demo is seeded first, without a limit.
    const first = await startTestServer(folder);
    await first.stop();
    const bytes = picture(700);
    expect(bytes.byteLength).toBeGreaterThan(1_200_000);
    const small = await limited(1000, folder);
    const send = async (address: string) => {
      const answer = await fetch(new URL('/api/pictures?name=a.png', address), {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream' },
        body: bytes as BodyInit,
      });
      return { status: answer.status, body: (await answer.json()) as { hash: string; title: string } };
    };
    const before = readdirSync(join(folder, 'files'));
    for (let k = 0; k < 3; k++) expect(await send(small.address)).toMatchObject({ status: 507, body: { title: 'storage' } });
    expect(readdirSync(join(folder, 'files'))).toEqual(before);
    await small.stop();
    const again = await startTestServer(folder);
    const { status, body } = await send(again.address);
    expect(status).toBe(201);
    expect(readFileSync(join(folder, 'files', body.hash)).byteLength).toBe(bytes.byteLength);
    await again.remove();
  });
  it('that are stumps on the disk are named at the start and replaced by the next upload; drafts are cleaned', async () => {
    const own = await startTestServer();
    const bytes = picture(80);
    const { hash } = (await callAt(own, 'POST', '/api/pictures?name=a.png', bytes)).body;
    const path = join(own.folder, 'files', hash);
    const draft = `${path}.123e4567-e89b-42d3-a456-426614174000`;
    await own.stop('SIGKILL');
    truncateSync(path, 300);
    writeFileSync(draft, 'half');
    const again = await startTestServer(own.folder);
    let said = '';
    again.process.stderr?.on('data', (data) => (said += data));
    await expect.poll(() => said, { timeout: 10_000 }).toContain('damaged: a.png');
    expect(existsSync(draft)).toBe(false);
    expect((await callAt(again, 'POST', '/api/pictures?name=a.png', bytes)).status).toBe(201);
    expect(readFileSync(path).byteLength).toBe(bytes.byteLength);
    await again.remove();
  });
  it('that are gone: the export goes on without them and says so', async () => {
    const own = await startTestServer();
    const demo = (await callAt(own, 'POST', '/api/projects', { from: 'demo' })).body;
    const [, first] = Object.entries(demo.document.pictures as Record<string, { hash: string; name: string }>)[0] ?? [];
    rmSync(join(own.folder, 'files', first?.hash ?? ''));
    rmSync(join(own.folder, 'files', demo.document.level.hash));
    const answer = await fetch(new URL(`/api/projects/${demo.id}/export`, own.address));
    expect(answer.status).toBe(200);
    const missing = JSON.parse(decodeURIComponent(answer.headers.get('foreshore-missing') ?? '[]'));
    expect(missing.map((one: { kind: string }) => one.kind)).toEqual(['level', 'picture']);
    const made = await callAt(own, 'POST', '/api/projects/import', new Uint8Array(await answer.arrayBuffer()));
    expect([made.status, made.body.document?.level]).toEqual([201, null]);
    expect((await callAt(own, 'GET', `/api/levels/${demo.document.level.hash}`)).status).toBe(404);
    await own.remove();
  });
  it('of others keep no request waiting while they are read', async () => {
    const level = newLevel();
    for (let k = 0; k < 1500; k++) addBox(level, `Box ${k}`, 1, [k * 3, 0, 0]);
    const bytes = await toBinary(level);
    let done = false;
    const sent = callAt(at, 'POST', '/api/levels?name=boxes.glb', bytes).then((answer) => {
      done = true;
      return answer;
    });
    let others = 0;
    let slowest = 0;
    while (!done) {
      const before = performance.now();
      await fetch(new URL('/api/projects', at.address));
      slowest = Math.max(slowest, performance.now() - before);
      others++;
    }
    expect((await sent).status).toBe(201);
    // While the level was read, requests were answered one after the other.
    expect(others).toBeGreaterThan(3);
    expect(slowest).toBeLessThan(5000);
  });
});

describe('a data folder', () => {
  it('is kept by one server: a second names the first; a killed one leaves no lock behind', async () => {
    const second = await startTestServer(at.folder).then(
      () => 'started',
      (error: Error) => error.message,
    );
    expect(second).toContain(`process ${at.process.pid}`);
    expect(second).toContain(at.address.replace(/\/$/, ''));
    expect(await alive()).toBe(true);
    const own = await startTestServer();
    await own.stop('SIGKILL');
    const again = await startTestServer(own.folder);
    expect((await callAt(again, 'GET', '/api/projects')).status).toBe(200);
    await again.remove();
  });
  it('is backed up while changes are made and the server is killed, and put back whole', async () => {
    const own = await startTestServer();
    const demo = (await callAt(own, 'POST', '/api/projects', { from: 'demo' })).body;
    const { id, document } = await makeEmptyAt(own, 'Busy');
    let acknowledged = 0;
    let now = document;
    const busy = (async () => {
      for (let k = 0; k < 400; k++) {
        const next = { ...now, name: `Busy ${k}` };
        const answer = await callAt(own, 'POST', `/api/projects/${id}/changes`, {
          base: k,
          patch: diff(now, next),
          changeId: `c${k}`,
          clientId: 'x',
        });
        if (answer.status !== 200) return;
        acknowledged = k + 1;
        now = next;
      }
    })().catch(() => {});
    await expect.poll(() => acknowledged).toBeGreaterThan(5);
    const target = join(own.folder, '..', `${own.folder.split('/').at(-1)}-backup`);
    const least = acknowledged;
    const facts = await backup(own.folder, target);
    expect(facts.broken).toEqual([]);
    await own.stop('SIGKILL');
    await busy;
    const data = `${target}-restored`;
    await restore(target, data);
    const again = await startTestServer(data);
    expect((await callAt(again, 'GET', `/api/projects/${id}`)).body.revision).toBeGreaterThanOrEqual(least);
    expect((await callAt(again, 'GET', `/api/projects/${demo.id}`)).body.document).toEqual(demo.document);
    expect((await callAt(again, 'GET', `/api/levels/${demo.document.level.hash}`)).status).toBe(200);
    // Over a folder that is in use, or full, nothing is put.
    await expect(restore(target, data)).rejects.toThrow(/not empty/);
    await expect(restore(target, data, true)).rejects.toThrow(/kept by another/);
    await again.remove();
    rmSync(target, { recursive: true, force: true });
    rmSync(own.folder, { recursive: true, force: true });
  });
});
