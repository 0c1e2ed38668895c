import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { fileURLToPath } from 'node:url';
import { type Document, readProjectFile } from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { callAt, MAIN, makeEmptyAt, rename, startTestServer, type TestServer } from './test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.remove());

const call = (method: string, path: string, body?: unknown, at: TestServer = server) => callAt(at, method, path, body);
const makeEmpty = (name: string, at: TestServer = server) => makeEmptyAt(at, name);
const DOCUMENT = fileURLToPath(new URL('../../../demo/low-water.json', import.meta.url));
const LEVEL = fileURLToPath(new URL('../../../demo/low-water.glb', import.meta.url));

describe('projects', () => {
  it('begin with the Low Water demo and its first draft, their level stored', async () => {
    const { body } = await call('GET', '/api/projects');
    const { anchors } = JSON.parse(readFileSync(DOCUMENT, 'utf8'));
    expect(body.projects).toMatchObject([
      { id: 'low-water', anchors: Object.keys(anchors).length, level: 'low-water.glb', hasPicture: true },
      { id: 'low-water-before', anchors: 4, level: 'low-water.glb', hasPicture: true },
    ]);
    const { body: demo } = await call('GET', '/api/projects/low-water');
    const level = await fetch(new URL(`/api/levels/${demo.document.level.hash}`, server.address));
    expect(readFileSync(LEVEL).equals(Buffer.from(await level.arrayBuffer()))).toBe(true);
  });

  it('are asked for with the page of their bench; the head of the answer says where the level lies', async () => {
    const linkOf = async (path: string) => (await fetch(new URL(path, server.address))).headers.get('link');
    expect(await linkOf('/p/low-water/bench?t=3')).toBe('</api/projects/low-water>; rel=preload; as=fetch; crossorigin');
    // Another view has no use for it so soon, and nothing else is taken for a project's name.
    for (const path of ['/', '/p/low-water/plan', '/p/low%3E%2Cwater/bench', '/p//bench', '/p/a/b/bench'])
      expect(await linkOf(path)).toBe(null);
    const { headers } = await fetch(new URL('/api/projects/low-water', server.address));
    const prepared = await fetch(new URL(headers.get('foreshore-level') ?? '', server.address), { method: 'HEAD' });
    expect(prepared.status).toBe(200);
    expect(Number(prepared.headers.get('content-length'))).toBeGreaterThan(0);
    const { body } = await call('POST', '/api/projects', { from: 'empty', name: 'No level yet' });
    expect((await fetch(new URL(`/api/projects/${body.id}`, server.address))).headers.get('foreshore-level')).toBe(null);
  });

  it('are renamed, duplicated, removed and brought back', async () => {
    const { id } = await makeEmpty('Sandbar');
    expect((await call('PATCH', `/api/projects/${id}`, { name: 'Shoal', clientId: 'test' })).body).toEqual({ revision: 1 });
    const copy = (await call('POST', `/api/projects/${id}/duplicate`)).body;
    expect(copy.document.name).toBe('Shoal copy');
    expect((await call('DELETE', `/api/projects/${id}`)).status).toBe(204);
    const names = async () => (await call('GET', '/api/projects')).body.projects.map((p: { name: string }) => p.name);
    expect(await names()).not.toContain('Shoal');
    await call('POST', `/api/projects/${id}/restore`);
    expect(await names()).toContain('Shoal');
  });

  it('bring their pictures along in the file, whatever server they come to', async () => {
    const file = new Uint8Array(await (await fetch(new URL('/api/projects/low-water/export', server.address))).arrayBuffer());
    const { pictures, document } = readProjectFile(file);
    const hashes = Object.values(document.pictures ?? {}).map(({ hash }) => hash);
    expect(Object.keys(pictures).sort()).toEqual([...hashes].sort());
    for (const [hash, bytes] of Object.entries(pictures)) expect(createHash('sha256').update(bytes).digest('hex')).toBe(hash);
    const other = await startTestServer();
    const came = await callAt(other, 'POST', '/api/projects/import', file);
    expect(came.status).toBe(201);
    const there = await fetch(new URL(`/api/pictures/${hashes[0]}`, other.address));
    expect(there.status).toBe(200);
    await other.remove();
  });
  it('go out and come in as one file', async () => {
    const exported = new Uint8Array(await (await fetch(new URL('/api/projects/low-water/export', server.address))).arrayBuffer());
    const inside = readProjectFile(exported);
    expect(inside.level?.length).toBe(readFileSync(LEVEL).length);
    // Regular, bold and the semibold that the demo's prompts are in, each in two files.
    expect(Object.keys(inside.fonts)).toHaveLength(6);
    const { status, body } = await call('POST', '/api/projects/import', exported);
    expect(status).toBe(201);
    expect(body.id).toBe('low-water-2');
    expect(body.document).toEqual({ ...inside.document });
  });
});

describe('the demo', () => {
  it('has its picture on the shelf from the first moment', async () => {
    const { body } = await call('POST', '/api/projects', { from: 'demo' });
    const picture = await fetch(`${server.address}api/projects/${body.id}/picture`);
    expect(picture.headers.get('content-type')).toBe('image/jpeg');
    expect([...new Uint8Array(await picture.arrayBuffer()).subarray(0, 2)]).toEqual([0xff, 0xd8]);
  });
});

describe('changes', () => {
  it('are numbered; one sent twice is taken once; a stale one gets the newer ones', async () => {
    const { id, document } = await makeEmpty('Creek');
    const send = (base: number, name: string, from: Document, changeId: string) =>
      call('POST', `/api/projects/${id}/changes`, { base, patch: rename(from, name), changeId, clientId: 'a' });
    expect((await send(0, 'First', document, 'one')).body).toEqual({ revision: 1 });
    expect((await send(0, 'First', document, 'one')).body).toEqual({ revision: 1 });
    const stale = await send(0, 'Other', document, 'two');
    expect(stale.status).toBe(409);
    expect(stale.body).toMatchObject({ revision: 1, changes: [{ number: 1, changeId: 'one' }] });
    expect((await call('GET', `/api/projects/${id}/changes?since=0`)).body.changes).toHaveLength(1);
  });

  it('that would leave no document are refused with their place, and change nothing', async () => {
    const { id } = await makeEmpty('Reef');
    const bad = await call('POST', `/api/projects/${id}/changes`, {
      base: 0,
      patch: [{ op: 'replace', path: '/glass/widthPx', value: -1 }],
      changeId: 'x',
      clientId: 'a',
    });
    expect(bad.status).toBe(422);
    expect(bad.type).toContain('application/problem+json');
    expect(bad.body.faults[0].pointer).toBe('/glass/widthPx');
    expect((await call('GET', `/api/projects/${id}`)).body.revision).toBe(0);
  });

  it('reach others who have the project open', async () => {
    const { id, document } = await makeEmpty('Bar');
    const socket = new WebSocket(`${server.address.replace('http', 'ws')}api/live?project=${id}`);
    await once(socket, 'open');
    const heard = once(socket, 'message');
    await call('POST', `/api/projects/${id}/changes`, { base: 0, patch: rename(document, 'Heard'), changeId: 'h', clientId: 'b' });
    expect(JSON.parse(String((await heard)[0]))).toMatchObject({ number: 1, clientId: 'b' });
    socket.close();
  });
});

describe('bad input', () => {
  it('is answered with problem details', async () => {
    expect((await call('GET', '/api/projects/none')).status).toBe(404);
    expect((await call('GET', '/api/nothing')).status).toBe(404);
    expect((await call('POST', '/api/projects', { from: 'cloud' })).status).toBe(400);
    expect((await call('POST', '/api/projects/import', Uint8Array.of(1, 2, 3))).status).toBe(422);
    expect((await call('POST', '/api/levels?name=x.glb', Uint8Array.of(1, 2, 3))).body.faults[0].code).toBe('container');
    const raw = await fetch(new URL('/api/projects', server.address), {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{"from":',
    });
    expect([raw.status, raw.headers.get('content-type')]).toEqual([400, expect.stringContaining('problem+json')]);
  });

  it('from elsewhere is not taken: another origin, another name of the host', async () => {
    const origin = await fetch(new URL('/api/projects', server.address), { headers: { origin: 'https://example.org' } });
    expect(origin.status).toBe(403);
    const { port } = new URL(server.address);
    const named = await new Promise<number | undefined>((resolve, reject) => {
      request({ host: '127.0.0.1', port, path: '/api/projects', headers: { host: 'rebound.example.org' } }, (res) =>
        resolve(res.statusCode),
      )
        .on('error', reject)
        .end();
    });
    expect(named).toBe(403);
  });

  it('with a picture is checked: kept under its hash, sent back so that it can do nothing, or refused with the reason', async () => {
    const drawing = new TextEncoder().encode(
      '<svg xmlns="http://www.w3.org/2000/svg" width="8" height="6"><rect width="8" height="6"/></svg>',
    );
    const { status, body } = await call('POST', '/api/pictures?name=post.svg', drawing);
    expect([status, body]).toEqual([
      201,
      { hash: expect.stringMatching(/^[0-9a-f]{64}$/), fileName: 'post.svg', type: 'image/svg+xml', widthPx: 8, heightPx: 6 },
    ]);
    const sent = await fetch(new URL(`/api/pictures/${body.hash}`, server.address));
    expect(new Uint8Array(await sent.arrayBuffer())).toEqual(drawing);
    expect(sent.headers.get('content-type')).toContain('image/svg+xml');
    expect(sent.headers.get('content-security-policy')).toContain('sandbox');
    const harmful = new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg" width="8" height="6"><script>1</script></svg>');
    const refused = await call('POST', '/api/pictures?name=bad.svg', harmful);
    expect([refused.status, refused.body.detail]).toEqual([422, '"bad.svg" is an SVG that holds a script.']);
    expect((await call('POST', '/api/pictures?name=words.txt', new TextEncoder().encode('Low Water'))).status).toBe(422);
    // A level's hash is no picture's.
    expect((await fetch(new URL(`/api/pictures/${'0'.repeat(64)}`, server.address))).status).toBe(404);
  });

  it('is described', async () => {
    const { body } = await call('GET', '/api/openapi.json');
    expect(body.openapi).toBe('3.1.0');
    expect(Object.keys(body.paths['/api/projects/{id}/changes'])).toEqual(['get', 'post']);
    expect((await call('GET', '/healthz')).body).toEqual({ ok: true });
  });
});

describe('starting and stopping', () => {
  it('says plainly that the port is taken, and how to choose another', async () => {
    const { port } = new URL(server.address);
    await expect(startTestServer(undefined, Number(port))).rejects.toThrow(
      new RegExp(`Port ${port} is taken. Choose another: npm start -- --port ${Number(port) + 1}`),
    );
  });
  it('closes cleanly when told to', async () => {
    const other = await startTestServer();
    expect(await other.stop('SIGTERM')).toBe(0);
    await other.remove();
  });
  it('refuses words it does not know', async () => {
    const child = spawn(process.execPath, [MAIN, '--port', 'tide'], {
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    const [code] = (await once(child, 'exit')) as [number];
    expect(code).toBe(1);
  });
});

describe('pages', () => {
  const html = new TextEncoder().encode('<!doctype html><head><title>Tide</title></head><body>2 m<script src="gone.js"></script>');
  it('are put into one file, kept among the pictures, and run under a policy that lets nothing out', async () => {
    const sent = await call('POST', '/api/pages?name=tide.html', html);
    expect([sent.status, sent.body.type, sent.body.missing]).toEqual([201, 'text/html', ['gone.js']]);
    const at = new URL(`/api/pages/${sent.body.hash}`, server.address);
    const run = await fetch(at);
    expect(run.headers.get('content-type')).toContain('text/html');
    const policy = (run.headers.get('content-security-policy') ?? '').split('; ');
    expect(policy).toEqual(
      expect.arrayContaining(['sandbox allow-scripts', "default-src 'none'", "form-action 'none'", "base-uri 'none'"]),
    );
    expect(policy.find((one) => one.startsWith('frame-ancestors'))).toBe(
      `frame-ancestors 'self' http://localhost:${at.port} http://127.0.0.1:${at.port}`,
    );
    // What runs in it comes first.
    expect(await run.text()).toMatch(/^<!DOCTYPE html><html><head><script>\(function/i);
    // By the other door it is as it is kept, and may do nothing.
    const kept = await fetch(new URL(`/api/pictures/${sent.body.hash}`, server.address));
    expect(kept.headers.get('content-security-policy')).toContain('sandbox');
    expect(kept.headers.get('content-security-policy')).not.toContain('allow-scripts');
  });
  it('that are none are refused with what is wrong; a picture does not run as one', async () => {
    const refused = await call('POST', '/api/pages?name=a.txt', new TextEncoder().encode('tide'));
    expect([refused.status, refused.body.detail]).toEqual([422, '"a.txt" is not an HTML page.']);
    const { body } = await call('GET', '/api/projects/low-water');
    const { hash } = Object.values(body.document.pictures as Record<string, { type: string; hash: string }>).find(
      ({ type }) => type === 'image/svg+xml',
    ) as { hash: string };
    expect((await call('GET', `/api/pages/${hash}`)).status).toBe(404);
    expect((await call('GET', `/api/pages/${'0'.repeat(64)}`)).status).toBe(404);
  });
});
