/** Two revisions compared along the routes, over the real server: which parts, what happened there, and which change did it. */
import type { RouteEffect } from '@foreshore/checks';
import { type CompareCauses, type CompareScope, type Document, diff, makeDocument, makeLabel } from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
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

/** A quay with a hut and a crane, seen by two viewers on one route. */
function quay(): Document {
  const made = makeDocument('Quay');
  made.routes = { walk: { name: 'Walk', order: 'a0', poses: [pose(0), pose(2, 1)], feeds: [], phases: [] } };
  made.viewers = { desk: made.viewers.desk as never, handheld: made.viewers.handheld as never };
  for (const [k, id] of ['hut', 'crane'].entries()) {
    made.anchors[id] = { kind: 'surface', name: id, order: `a${k}`, node: null, position: [k, 1.6, -6], normal: [0, 1, 0] };
    made.elements[id] = makeLabel(id, id, `a${k}`);
  }
  return made;
}
const at = (d: Document, anchor: string, x: number): Document => ({
  ...d,
  anchors: { ...d.anchors, [anchor]: { ...d.anchors[anchor], position: [x, 1.6, -6] } as never },
});
const saying = (d: Document, text: string): Document => ({ ...d, elements: { ...d.elements, hut: { ...d.elements.hut, text } as never } });

/** What is done, one revision after another. */
async function made(...steps: ((d: Document) => Document)[]): Promise<string> {
  const { id, document } = (await call('POST', '/api/projects', { from: 'document', document: quay() })).body;
  let last: Document = document;
  for (const [k, step] of steps.entries()) {
    const next = step(last);
    const body = { base: k, patch: diff(last, next), changeId: `${id} ${k}`, clientId: 'test' };
    expect((await call('POST', `/api/projects/${id}/changes`, body)).status).toBe(200);
    last = next;
  }
  return id;
}

describe('two revisions', () => {
  it('tell of elements that nobody edited, and of the change that moved each', async () => {
    const id = await made(
      (d) => at(d, 'crane', 2),
      (d) => ({ ...d, anchors: { ...d.anchors, spare: { ...d.anchors.hut, name: 'Spare' } as never } }),
      (d) => at(d, 'hut', -1),
      (d) => ({ ...d, elements: { ...d.elements, gull: makeLabel('spare', 'Gull', 'a5') } }),
      (d) => ({ ...d, name: 'The quay' }),
    );
    await call('PUT', `/api/projects/${id}/revisions/3/name`, { name: 'Huts in line' });
    const scope: CompareScope = (await call('GET', `/api/projects/${id}/comparison?from=0&to=5`)).body;
    expect(scope).toEqual({
      parts: ['desk', 'handheld'].map((viewer) => ({ route: 'walk', viewer, language: 'en' })),
      ...{ same: 0, newViewers: [], newLanguages: [], edited: [], came: ['gull'], went: [] },
    });
    for (const part of scope.parts) {
      const { status, body } = await call('POST', `/api/projects/${id}/comparison`, { from: 0, to: 5, part });
      expect(status).toBe(200);
      const effects: RouteEffect[] = body.effects;
      expect(effects.map(({ element, kind }) => `${element} ${kind}`).sort()).toEqual(['crane moved', 'hut moved']);
      const moments = effects.map(({ forS: _, ...moment }) => moment);
      const { causes }: CompareCauses = (await call('POST', `/api/projects/${id}/comparison/causes`, { from: 0, to: 5, part, moments }))
        .body;
      expect(Object.fromEntries(causes.map(({ element, revision }) => [element, revision.number]))).toEqual({ crane: 1, hut: 3 });
      expect(causes.find(({ element }) => element === 'hut')?.revision).toMatchObject({
        name: 'Huts in line',
        touched: ['/anchors/hut/position'],
      });
    }
    // Nothing that counts came after the third.
    const later: CompareScope = (await call('GET', `/api/projects/${id}/comparison?from=4&to=5`)).body;
    expect(later).toMatchObject({ parts: [], same: 2 });
  });

  it('leave out what was edited, and name it', async () => {
    const id = await made((d) => at(saying(d, 'Hut of the warden'), 'hut', -1));
    const scope: CompareScope = (await call('GET', `/api/projects/${id}/comparison?from=0&to=1`)).body;
    expect(scope.edited).toEqual(['hut']);
    const { body } = await call('POST', `/api/projects/${id}/comparison`, { from: 0, to: 1, part: scope.parts[0] });
    expect(body.effects).toEqual([]);
  });

  it('are refused in the wrong order, where there is no such revision, and parts and moments that make no sense', async () => {
    const id = await made((d) => at(d, 'hut', -1));
    const path = `/api/projects/${id}/comparison`;
    const [part] = [{ route: 'walk', viewer: 'desk', language: 'en' }];
    const refused = async (...[method, way, body]: Parameters<typeof call>): Promise<[number, string]> => {
      const answer = await call(method, way, body);
      return [answer.status, String(answer.body.detail)];
    };
    expect(await refused('GET', `${path}?from=1&to=1`)).toEqual([422, expect.stringMatching(/not before revision 1/)]);
    expect(await refused('GET', `${path}?from=0&to=7`)).toEqual([404, expect.stringMatching(/no revision 7.*at 1/)]);
    expect(await refused('GET', `${path}?from=x&to=7`)).toEqual([400, expect.stringMatching(/from/)]);
    expect(await refused('GET', path)).toEqual([400, expect.any(String)]);
    expect(await refused('POST', path, { from: 0, to: 1, part: { ...part, viewer: '__proto__' } })).toEqual([404, expect.any(String)]);
    expect(await refused('POST', path, { from: 0, to: 1, part: { ...part, route: 'sail' } })).toEqual([
      404,
      expect.stringMatching(/sail at viewer desk/),
    ]);
    const moments = [{ element: 'hut', kind: 'hidden', atS: -1 }];
    expect(await refused('POST', `${path}/causes`, { from: 0, to: 1, part, moments })).toEqual([400, expect.stringMatching(/atS/)]);
    const fault = [{ element: 'hut', kind: 'short', short: 'constructor', atS: 1 }];
    expect(await refused('POST', `${path}/causes`, { from: 0, to: 1, part, moments: fault })).toEqual([
      400,
      expect.stringMatching(/short/),
    ]);
    const many = Array.from({ length: 201 }, () => ({ element: 'hut', kind: 'hidden', atS: 1 }));
    expect((await refused('POST', `${path}/causes`, { from: 0, to: 1, part, moments: many }))[0]).toBe(400);
  });
});
