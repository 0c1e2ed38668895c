/** Revisions over the real server and database: what each touched, names, the document as it was, copies; across whole documents and restarts. */
import { type Document, diff, makeDocument, makeLabel, type Revisions } from '@foreshore/document';
import { afterEach, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './test-server.ts';

let server: TestServer;
afterEach(() => server.stop());

const ask = async (path: string, method = 'GET', body?: unknown): Promise<{ status: number; json: unknown }> => {
  const response = await fetch(new URL(path, server.address), {
    method,
    ...(body !== undefined && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  });
  const text = await response.text();
  return { status: response.status, json: text ? JSON.parse(text) : null };
};
const revisions = async (id: string, query = ''): Promise<Revisions> =>
  (await ask(`/api/projects/${id}/revisions${query}`)).json as Revisions;

/** A project with so many revisions; gives the document at each. */
async function made(changes: number): Promise<{ id: string; documents: Document[] }> {
  const created = await ask('/api/projects', 'POST', { from: 'document', document: makeDocument('Revised') });
  const { id, document } = created.json as { id: string; document: Document };
  const documents = [document];
  for (let k = 1; k <= changes; k++) {
    const last = documents.at(-1) as Document;
    const next: Document =
      k === 1
        ? {
            ...last,
            anchors: { a: { kind: 'surface', name: 'Stone', order: 'a0', node: null, position: [0, 0, 0], normal: [0, 1, 0] } },
            elements: { e: { ...makeLabel('a', 'Stone', 'a0'), name: 'Stone' } },
          }
        : { ...last, elements: { ...last.elements, e: { ...makeLabel('a', `Stone ${k}`, 'a0'), name: 'Stone' } } };
    const answer = await ask(`/api/projects/${id}/changes`, 'POST', {
      base: k - 1,
      patch: diff(last, next),
      changeId: `c${k}`,
      clientId: 'me',
    });
    expect(answer.status).toBe(200);
    documents.push(next);
  }
  return { id, documents };
}

describe('revisions', () => {
  it('of Low Water are two: in the second the brass plate has a back that reads, too', async () => {
    server = await startTestServer();
    const { revision, named } = await revisions('low-water');
    expect(revision).toBe(1);
    expect(named.map(({ number, name, touched }) => [number, name, touched])).toEqual([
      [1, 'Brass plate, both sides', ['/elements/brass-plate/mount']],
      [0, 'Brass plate, one side', []],
    ]);
    const sides = async (number: number) =>
      ((await ask(`/api/projects/low-water/revisions/${number}`)).json as Document).elements['brass-plate']?.mount;
    expect([await sides(0), await sides(1)]).toMatchObject([{ sides: 'front' }, { sides: 'both' }]);
  });

  it('are listed with what each touched, the newest first, a page at a time; each gives its document as it was', async () => {
    server = await startTestServer();
    const { id, documents } = await made(63);
    const first = await revisions(id);
    expect(first.revision).toBe(63);
    expect(first.revisions.map(({ number }) => number)).toEqual(Array.from({ length: 50 }, (_, k) => 63 - k));
    expect(first.revisions[0]).toMatchObject({ name: null, touched: ['/elements/e/text'], more: 0, at: expect.any(Number) });
    const second = await revisions(id, `?before=${first.revisions.at(-1)?.number}`);
    expect(second.revisions.map(({ number }) => number)).toEqual(Array.from({ length: 14 }, (_, k) => 13 - k));
    expect(second.revisions.at(-1)).toMatchObject({ number: 0, touched: [], at: null });
    expect(second.revisions.at(-2)?.touched).toEqual(['/anchors/a', '/elements/e']);
    // Before and after the whole document that is written at every fiftieth.
    for (const number of [0, 1, 49, 50, 51, 62, 63])
      expect((await ask(`/api/projects/${id}/revisions/${number}`)).json, `revision ${number}`).toEqual(documents[number]);
  });

  it('have names, which stay over a restart; a copy is a project of its own', async () => {
    server = await startTestServer();
    const { id, documents } = await made(3);
    expect((await ask(`/api/projects/${id}/revisions/2/name`, 'PUT', { name: ' Before the storm ' })).status).toBe(204);
    expect((await ask(`/api/projects/${id}/revisions/1/name`, 'PUT', { name: 'Begun' })).status).toBe(204);
    const { folder } = server;
    await server.stop();
    server = await startTestServer(folder);
    const list = await revisions(id);
    expect(list.named.map(({ number, name }) => [number, name])).toEqual([
      [2, 'Before the storm'],
      [1, 'Begun'],
    ]);
    expect(list.revisions.map(({ name }) => name)).toEqual([null, 'Before the storm', 'Begun', null]);
    expect((await ask(`/api/projects/${id}/revisions/2/name`, 'PUT', { name: 'Before the flood' })).status).toBe(204);
    expect((await ask(`/api/projects/${id}/revisions/1/name`, 'PUT', { name: null })).status).toBe(204);
    expect((await revisions(id)).named).toMatchObject([{ number: 2, name: 'Before the flood' }]);
    const copied = await ask(`/api/projects/${id}/revisions/2/copy`, 'POST');
    expect(copied.status).toBe(201);
    expect(copied.json).toMatchObject({ revision: 0, document: { ...documents[2], name: 'Revised, revision 2' } });
    // The first project is as it was.
    expect((await revisions(id)).revision).toBe(3);
  });

  it('that are not there, or are asked for by what is no number, are refused with what is wrong', async () => {
    server = await startTestServer();
    const { id } = await made(1);
    expect(await ask(`/api/projects/${id}/revisions/9`)).toMatchObject({ status: 404, json: { detail: expect.stringContaining('at 1') } });
    for (const number of ['x', '-1', '1.5', '1e99', '%00']) expect((await ask(`/api/projects/${id}/revisions/${number}`)).status).toBe(404);
    expect((await ask(`/api/projects/${id}/revisions?before=x`)).status).toBe(400);
    expect((await ask(`/api/projects/${id}/revisions/1/name`, 'PUT', { name: '' })).status).toBe(400);
    expect((await ask(`/api/projects/${id}/revisions/1/name`, 'PUT', { name: 'x'.repeat(201) })).status).toBe(400);
    expect((await ask(`/api/projects/${id}/revisions/2/name`, 'PUT', { name: 'Later' })).status).toBe(404);
    expect((await ask('/api/projects/nobody/revisions')).status).toBe(404);
  });
});
