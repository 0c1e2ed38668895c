/** Checks on the server: what is measured, kept from before, cancelled, cut short, and refused; against the real server. */
import { type CheckRun, type Finding, findingsOf, type Trial, trialOf } from '@foreshore/checks';
import { type CheckAbout, type CheckProgress, type Document, diff, makeDocument, makeLabel, makeText, onGlass } from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { callAt, startTestServer, type TestServer } from './test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.remove());

const call = (method: string, path: string, body?: unknown) => callAt(server, method, path, body);
const pose = (timeS: number, x = 0) => ({
  timeS,
  position: [x, 1.6, 0] as [number, number, number],
  rotation: [0, 0, 0, 1] as [number, number, number, number],
});
/** Two routes, a text that is too small, one that is fine in the written language and lacks another. */
function yard(): Document {
  const made = makeDocument('Yard');
  const route = (name: string, order: string) => ({ name, order, poses: [pose(0), pose(4, 1)], feeds: [], phases: [] });
  made.routes = { wait: route('Wait', 'a0'), walk: route('Walk', 'a1') };
  made.languages = ['de'];
  made.viewers = { desk: made.viewers.desk as never, handheld: made.viewers.handheld as never };
  const tiny = makeText(onGlass([0.5, 0.2]), 'Low tide at seven', 'a0');
  made.elements.tiny = { ...tiny, size: { rule: 'screen', emPx: 6, hideBelowPx: 0, leavePx: 0 } };
  made.anchors.hut = { kind: 'surface', name: 'Hut', order: 'a0', node: null, position: [0, 1.6, -6], normal: [0, 1, 0] };
  made.elements.hut = { ...makeLabel('hut', 'Hut', 'a1'), translations: { de: 'Hütte' } };
  return made;
}
const make = async (document: Document): Promise<string> => (await call('POST', '/api/projects', { from: 'document', document })).body.id;
async function edit(id: string, change: (document: Document) => void): Promise<void> {
  const { document, revision } = (await call('GET', `/api/projects/${id}`)).body;
  const after = structuredClone(document);
  change(after);
  const body = { base: revision, patch: diff(document, after), changeId: crypto.randomUUID(), clientId: 'test' };
  expect((await call('POST', `/api/projects/${id}/changes`, body)).status).toBe(200);
}
const list = async (id: string): Promise<CheckAbout[]> => (await call('GET', `/api/projects/${id}/checks`)).body.checks;
async function until<T>(ask: () => Promise<T | null | false | undefined>): Promise<T> {
  const endMs = Date.now() + 60_000;
  for (;;) {
    const got = await ask();
    if (got) return got;
    if (Date.now() > endMs) throw new Error('What was waited for did not come.');
    await new Promise((resolve) => setTimeout(resolve, 30));
  }
}
async function check(id: string): Promise<{ about: CheckAbout; run: CheckRun }> {
  const { status, body } = await call('POST', `/api/projects/${id}/checks`);
  expect(status).toBe(202);
  const about = await until(async () => (await list(id)).find((one) => one.id === body.id && one.state !== 'running'));
  expect(about).toMatchObject({ state: 'done' });
  return { about, run: (await call('GET', `/api/projects/${id}/checks/${body.id}`)).body };
}

describe('a check on the server', () => {
  it('tries a change on a part without making it: what it clears, makes new, and what is no part', async () => {
    const id = await make(yard());
    const { run } = await check(id);
    const { document, revision } = (await call('GET', `/api/projects/${id}`)).body as { document: Document; revision: number };
    const after = structuredClone(document);
    (after.elements.tiny as { size: { emPx: number } }).size.emPx = 40;
    (after.elements.hut as { size: object }).size = { rule: 'screen', emPx: 5, hideBelowPx: 0, leavePx: 0 };
    const tried = (part: object, base = revision) =>
      call('POST', `/api/projects/${id}/checks/trial`, { base, patch: diff(document, after), part });
    const trials: Trial[] = [];
    for (const part of run.parts) trials.push((await tried(part)).body);
    expect(trials.map(({ was }) => was)).toEqual(run.results);
    const { fresh, gone } = trialOf(run, trials);
    const named = (all: readonly Finding[]) => [...new Set(all.map(({ kind, element }) => `${kind} ${element}`))];
    expect(named(gone)).toEqual(['small tiny']);
    expect(named(fresh)).toEqual(['small hut']);
    // It equals measuring the project with the change made, and the project is as it was.
    const changed = await make(after);
    expect(trials.map(({ is }) => is)).toEqual((await check(changed)).run.results);
    expect((await call('GET', `/api/projects/${id}`)).body).toMatchObject({ revision, document });
    expect(await tried({ route: 'away', viewer: 'desk', language: 'en' })).toMatchObject({ status: 404 });
    expect(await tried({ route: 'wait', viewer: 'desk', language: 'en', variant: 'upside down' })).toMatchObject({ status: 404 });
    expect((await tried(run.parts[0] as object, 7)).status).toBe(404);
    expect((await call('POST', `/api/projects/${id}/checks/trial`, { base: revision, patch: 'all', part: run.parts[0] })).status).toBe(400);
  });

  it('measures every route at every viewer in every language, and tells how it gets on', async () => {
    const id = await make(yard());
    const line = new WebSocket(`${server.address.replace('http', 'ws')}api/live?project=${id}`);
    const told: CheckProgress[] = [];
    line.on('message', (data) => told.push(JSON.parse(String(data)).check));
    await until(async () => line.readyState === line.OPEN);
    const { about, run } = await check(id);
    expect(about).toMatchObject({ revision: 0, parts: 8, kept: 0 });
    expect(run.results).toHaveLength(8);
    const findings = findingsOf(run);
    expect(findings.some(({ kind, element, viewer }) => kind === 'small' && element === 'tiny' && viewer === 'handheld')).toBe(true);
    expect(findings.some(({ kind, element, viewer }) => kind === 'small' && element === 'hut' && viewer === 'desk')).toBe(false);
    expect(about.counts?.small).toBe(findings.filter(({ kind }) => kind === 'small').length);
    await until(async () => told.at(-1)?.state === 'done');
    expect(told.map(({ done }) => done)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 8]);
    expect(told[1]?.part).toEqual({ route: 'wait', viewer: 'desk', language: 'en' });
    line.close();
  });

  it('measures anew only what depends on what was edited, and gives what measuring all of it gives', async () => {
    const id = await make(yard());
    await check(id);
    expect((await check(id)).about.kept).toBe(8);
    const edits: [kept: number, change: (document: Document) => void][] = [
      // One route of two; one viewer of two; a text in the other language; a name; the text that both languages read.
      [4, (d) => void d.routes.walk?.poses.push(pose(6, 3))],
      [4, (d) => Object.assign(d.viewers.handheld as object, { distanceM: 0.5 })],
      [4, (d) => Object.assign(d.elements.hut as object, { translations: { de: 'Die alte Hütte' } })],
      [8, (d) => Object.assign(d.elements.hut as object, { name: 'Old hut' })],
      [
        8,
        (d) =>
          Object.assign(d, { checks: { accepted: [{ kind: 'small', element: 'tiny', reason: 'A mark.', by: 'Ada', on: '2026-11-27' }] } }),
      ],
      [0, (d) => Object.assign(d.elements.tiny as object, { text: 'Low tide at eight' })],
    ];
    for (const [kept, change] of edits) {
      await edit(id, change);
      const { about, run } = await check(id);
      expect(about.kept).toBe(kept);
      const { document } = (await call('GET', `/api/projects/${id}`)).body;
      const { run: whole } = await check(await make(document));
      expect(run).toEqual({ ...whole, document: run.document });
    }
    // Accepted findings are told with who said so.
    const [last] = await list(id);
    const run: CheckRun = (await call('GET', `/api/projects/${id}/checks/${last?.id}`)).body;
    expect(run.accepted).toMatchObject([{ by: 'Ada' }]);
  });

  it('measures variants once they are chosen, and those alone', async () => {
    const id = await make(yard());
    await check(id);
    await edit(id, (document) => {
      document.checks = { variants: ['shake'] };
    });
    const shaken = await check(id);
    expect(shaken.about).toMatchObject({ parts: 16, kept: 8 });
    await edit(id, (document) => {
      document.checks = { variants: ['shake'], shake: { deg: 1, hz: 2 } };
    });
    expect((await check(id)).about).toMatchObject({ parts: 16, kept: 8 });
    expect((await check(id)).about).toMatchObject({ parts: 16, kept: 16 });
  });

  it('ships with Low Water: whole, of what the project holds, and as measuring it anew gives', async () => {
    const { id, revision } = (await call('POST', '/api/projects', { from: 'demo' })).body;
    const [shipped] = await list(id);
    expect(shipped).toMatchObject({ state: 'done', revision });
    const { results, parts } = (await call('GET', `/api/projects/${id}/checks/${shipped?.id}`)).body as CheckRun;
    expect(results).toHaveLength(parts.length);
    // All of it is taken over by the next.
    expect((await check(id)).about).toMatchObject({ parts: parts.length, kept: parts.length });
    const anew = (await call('POST', '/api/projects', { from: 'demo', measured: false })).body.id;
    expect(await list(anew)).toEqual([]);
    await edit(anew, (d) => {
      d.checks = { ...d.checks, routes: ['with-the-scope'], viewers: ['desk', 'phone'], languages: ['de'] };
    });
    const { run } = await check(anew);
    expect(run.results).toHaveLength(2);
    for (const result of run.results) expect(results).toContainEqual(result);
  });

  it('is cancelled, one at a time, and keeps the last whole one; what is chosen alone is measured', async () => {
    const { id } = (await call('POST', '/api/projects', { from: 'demo', measured: false })).body;
    await edit(id, (d) =>
      Object.assign(d, { checks: { routes: ['with-the-scope'], viewers: ['desk'], languages: ['en'], off: ['neverShown'] } }),
    );
    const { about, run } = await check(id);
    expect(about.parts).toBe(1);
    expect(findingsOf(run).some(({ kind }) => kind === 'neverShown')).toBe(false);
    await edit(id, (d) => Object.assign(d, { checks: {} }));
    const started = (await call('POST', `/api/projects/${id}/checks`)).body;
    expect((await call('POST', `/api/projects/${id}/checks`)).status).toBe(409);
    // So far: what was kept is there at once.
    expect((await call('GET', `/api/projects/${id}/checks/${started.id}`)).body.results.length).toBeGreaterThan(0);
    // Requests do not wait for it.
    expect((await call('GET', '/api/projects')).status).toBe(200);
    expect((await call('DELETE', `/api/projects/${id}/checks`)).status).toBe(204);
    await until(async () => (await list(id))[0]?.state === 'cancelled');
    expect((await call('GET', `/api/projects/${id}/checks/${started.id}`)).status).toBe(404);
    expect((await call('GET', `/api/projects/${id}/checks/${about.id}`)).status).toBe(200);
  });

  it('of two projects take turns; one that is cancelled while it waits lets the other go on', async () => {
    const ids = [await make(yard()), await make(yard()), await make(yard())];
    const started = await Promise.all(ids.map((id) => call('POST', `/api/projects/${id}/checks`)));
    expect(started.map(({ status }) => status)).toEqual([202, 202, 202]);
    await call('DELETE', `/api/projects/${ids[1]}/checks`);
    const states = await until(async () => {
      const all = await Promise.all(ids.map(async (id) => (await list(id))[0]?.state));
      return all.every((state) => state !== 'running') && all;
    });
    expect([states[0], states[2]]).toEqual(['done', 'done']);
    expect(states[1]).toMatch(/cancelled|done/);
  });

  it('that a kill cuts short says so, and the last whole one is there', async () => {
    const { id } = (await call('POST', '/api/projects', { from: 'demo', measured: false })).body;
    await edit(id, (d) => Object.assign(d, { checks: { routes: ['with-the-scope'], viewers: ['desk'], languages: ['en'] } }));
    const { about } = await check(id);
    await edit(id, (d) => Object.assign(d, { checks: {} }));
    await call('POST', `/api/projects/${id}/checks`);
    await server.stop('SIGKILL');
    server = await startTestServer(server.folder);
    expect((await list(id)).map(({ state }) => state)).toEqual(['cut', 'done']);
    expect((await call('GET', `/api/projects/${id}/checks/${about.id}`)).status).toBe(200);
  });

  it('of what cannot be measured is refused, with what to do', async () => {
    const nothing = async (change: (document: Document) => void) => {
      const document = yard();
      change(document);
      const { status, body } = await call('POST', `/api/projects/${await make(document)}/checks`);
      return [status, body.detail];
    };
    expect(await nothing((d) => Object.assign(d, { routes: {} }))).toEqual([422, expect.stringContaining('no route')]);
    expect(await nothing((d) => Object.assign(d, { checks: { viewers: ['gone'] } }))).toEqual([
      422,
      expect.stringContaining('nothing is there any more'),
    ]);
    expect((await call('POST', '/api/projects/none/checks')).status).toBe(404);
    const id = await make(yard());
    for (const wrong of ['0', 'x', '99999', '__proto__'])
      expect((await call('GET', `/api/projects/${id}/checks/${wrong}`)).status).toBe(404);
    // A level that is gone from the disk.
    const lost = yard();
    lost.level = { file: 'gone.glb', hash: 'a'.repeat(64), metresPerUnit: 1, upAxis: 'y' };
    const gone = await make(lost);
    await call('POST', `/api/projects/${gone}/checks`);
    const failed = await until(async () => (await list(gone)).find(({ state }) => state === 'failed'));
    expect(failed.why).toContain('gone.glb');
  });
});
