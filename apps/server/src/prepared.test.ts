/** Levels as they are kept beside their files: made once, made again where they are damaged or gone; and levels that are let go. */
import { mkdirSync, readdirSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { openPrepared, readLevel } from '@foreshore/level';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { largeLevel } from '../../../benchmarks/large-level.ts';
import { callAt, startTestServer, type TestServer } from './test-server.ts';

const LEVEL = readFileSync(fileURLToPath(new URL('../../../demo/low-water.glb', import.meta.url)));
let server: TestServer;
let hash: string;
beforeAll(async () => {
  server = await startTestServer();
  hash = (await callAt(server, 'GET', '/api/projects/low-water')).body.document.level.hash;
});
afterAll(() => server.remove());

const ask = (query: string, of = hash) => fetch(new URL(`/api/levels/${of}/prepared${query}`, server.address));
const kept = () => readdirSync(join(server.folder, 'prepared'));

describe('a level prepared by the server', () => {
  it('is there from the start and stands as the file does; another unit makes another', async () => {
    expect(kept().filter((name) => name.startsWith(`${hash}-1-y-`))).toHaveLength(1);
    for (const metresPerUnit of [1, 0.5]) {
      const answer = await ask(`?metresPerUnit=${metresPerUnit}&upAxis=y`);
      expect(answer.status).toBe(200);
      const theirs = await readLevel(new Uint8Array(LEVEL), { metresPerUnit, upAxis: 'y' });
      const ours = openPrepared(await answer.arrayBuffer());
      expect(ours.bounds()).toEqual(theirs.bounds());
      expect(ours.nodeIds).toEqual(theirs.nodeIds);
    }
  });

  it('is made once for several that ask at once, and few of one level stay', async () => {
    const answers = await Promise.all([0.1, 0.1, 0.1, 0.2, 0.3].map((unit) => ask(`?metresPerUnit=${unit}&upAxis=z`)));
    expect(answers.map(({ status }) => status)).toEqual(Array(5).fill(200));
    await Promise.all(answers.map((answer) => answer.arrayBuffer()));
    expect(kept().filter((name) => name.startsWith(hash)).length).toBeLessThanOrEqual(3);
  });

  it('that was damaged on the disk, or is of another version, is made anew', async () => {
    await (await ask('?metresPerUnit=1&upAxis=y')).arrayBuffer();
    const path = join(server.folder, 'prepared', kept().find((name) => name.startsWith(`${hash}-1-y-`)) ?? '');
    truncateSync(path, 5000);
    writeFileSync(join(server.folder, 'prepared', `${hash}-1-y-v0`), 'of a version that is gone');
    const bounds = openPrepared(await (await ask('?metresPerUnit=1&upAxis=y')).arrayBuffer()).bounds();
    expect(bounds).toEqual((await readLevel(new Uint8Array(LEVEL), { metresPerUnit: 1, upAxis: 'y' })).bounds());
    expect(kept().some((name) => name.endsWith('-v0'))).toBe(false);
  });

  it('is asked for by what there is, in units that can be', async () => {
    expect((await ask('?metresPerUnit=1&upAxis=y', '0'.repeat(64))).status).toBe(404);
    for (const query of ['', '?metresPerUnit=-1&upAxis=y', '?metresPerUnit=1&upAxis=x', '?metresPerUnit=1e999&upAxis=y'])
      expect((await ask(query)).status).toBe(400);
  });

  it('that cannot be kept leaves the level to be read by whoever asks', async () => {
    const folder = join(server.folder, 'prepared');
    rmSync(folder, { recursive: true });
    writeFileSync(folder, 'not a folder');
    expect((await ask('?metresPerUnit=1&upAxis=y')).status).toBeGreaterThanOrEqual(500);
    expect((await fetch(new URL(`/api/levels/${hash}`, server.address))).status).toBe(200);
    rmSync(folder);
    mkdirSync(folder);
    expect((await ask('?metresPerUnit=1&upAxis=y')).status).toBe(200);
  });
});

describe('a level that is being read', () => {
  it('says what is done with it, and is let go when whoever sent it goes away', async () => {
    const bytes = await largeLevel(400_000, 400);
    const going = new AbortController();
    const sent = fetch(new URL('/api/levels?name=terraces.glb&watch=mine', server.address), {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: bytes as BodyInit,
      signal: going.signal,
    }).catch((error: Error) => error.name);
    const look = async () => (await callAt(server, 'GET', '/api/readings/mine')) as { status: number; body: { stage?: string } };
    const until = async (wanted: (status: number) => boolean) => {
      for (;;) {
        const seen = await look();
        if (wanted(seen.status)) return seen.body;
      }
    };
    expect(['check', 'read', 'prepare']).toContain((await until((status) => status === 200)).stage);
    going.abort();
    expect(await sent).toBe('AbortError');
    await until((status) => status === 404);
    // The next file is read as ever.
    const next = await callAt(server, 'POST', '/api/levels?name=low-water.glb', new Uint8Array(LEVEL));
    expect([next.status, next.body.hash]).toEqual([201, hash]);
  });
});
