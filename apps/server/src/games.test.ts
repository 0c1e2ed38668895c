/** Games that connect: who is let in, what is merged, handed on and told back; against the real server, by the game's own side of it. */
import { once } from 'node:events';
import type { GameInfo, GameNow } from '@foreshore/handoff/game';
import { type Connection, type ConnectOptions, connect } from '@foreshore/runtime/connect';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { isLocalGame } from './doors.ts';
import { callAt, makeEmptyAt, startTestServer, type TestServer } from './test-server.ts';

let server: TestServer;
const open: { close(): void }[] = [];
beforeAll(async () => {
  server = await startTestServer();
});
afterEach(() => {
  for (const one of open.splice(0)) one.close();
});
afterAll(() => server.remove());

const call = (method: string, path: string, body?: unknown) => callAt(server, method, path, body);
const line = (path: string) => `${server.address.replace('http', 'ws')}api/${path}`;
const until = async (holds: () => boolean): Promise<void> => {
  const endMs = Date.now() + 15_000;
  while (!holds()) {
    if (Date.now() > endMs) throw new Error('What was waited for did not come.');
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
};
const letIn = async (): Promise<{ project: string; token: string }> => {
  const { id: project } = await makeEmptyAt(server, 'Sandbar');
  const { status, body } = await call('POST', `/api/projects/${project}/games`);
  expect(status).toBe(201);
  return { project, token: body.token };
};
function game(project: string, token: string, more: Partial<ConnectOptions> = {}): { line: Connection; states: string[] } {
  const states: string[] = [];
  const options = { address: server.address, project, token, name: 'Causeway', socket: WebSocket as never, ...more };
  const made = connect({ ...options, onState: (state, why) => states.push(why ? `${state}: ${why}` : state) });
  open.push(made);
  return { line: made, states };
}
/** A bench that listens, and follows the first game there is. */
async function bench(project: string) {
  const socket = new WebSocket(line(`games?project=${project}`));
  const told = {
    on: false,
    games: [] as GameInfo[],
    now: null as GameNow | null,
    count: 0,
    say: (what: object) => socket.send(JSON.stringify(what)),
  };
  socket.on('message', (data) => {
    const { now, on, games } = JSON.parse(String(data));
    if (now) {
      told.now = now;
      told.count++;
    } else Object.assign(told, { on, games });
  });
  open.push(socket);
  await once(socket, 'open');
  return told;
}
/** Says something on a line that it opens; gives all that comes back, and how it was closed. */
async function raw(path: string, said: string[], headers: Record<string, string> = {}) {
  const socket = new WebSocket(line(path), { headers });
  const answers: string[] = [];
  socket.on('message', (data) => answers.push(String(data)));
  socket.on('error', () => undefined);
  socket.on('open', () => {
    for (const one of said) socket.send(one);
  });
  const refused = new Promise<number>((resolve) => socket.on('unexpected-response', (_, response) => resolve(response.statusCode ?? 0)));
  const closed = new Promise<number>((resolve) => socket.on('close', resolve));
  open.push(socket);
  return { answers, refused, closed, socket };
}
const hello = (token: string) =>
  JSON.stringify({ jsonrpc: '2.0', id: 1, method: 'hello', params: { protocol: 1, token, name: 'Causeway' } });

describe('the game connection', () => {
  it('is off until it is switched on, and shuts everybody out when it is switched off', async () => {
    const { id } = await makeEmptyAt(server, 'Shoal');
    expect(await (await raw(`game?project=${id}`, [])).refused).toBe(404);
    expect((await call('POST', '/api/projects/none/games')).status).toBe(404);
    const { project, token } = await letIn();
    const { line: causeway, states } = game(project, token);
    await until(() => causeway.connected);
    expect((await call('DELETE', `/api/projects/${project}/games`)).status).toBe(204);
    await until(() => states.includes('lost: The connection was lost.'));
    expect(await (await raw(`game?project=${project}`, [])).refused).toBe(404);
  });

  it('lets in who has the token, once it has said hello, and nobody else', async () => {
    const { project, token } = await letIn();
    const wrong = await raw(`game?project=${project}`, [hello('guess')]);
    expect(await wrong.closed).toBe(1008);
    expect(JSON.parse(wrong.answers[0] as string)).toMatchObject({ id: 1, error: { code: 1, message: 'This token lets nobody in.' } });
    const early = await raw(`game?project=${project}`, [JSON.stringify({ jsonrpc: '2.0', method: 'state', params: {} })]);
    expect(await early.closed).toBe(1008);
    // A page of another machine is turned away before anything is read; a game in a page of this one is not.
    expect(await (await raw(`game?project=${project}`, [], { origin: 'http://shallows.example' })).refused).toBe(403);
    const page = await raw(`game?project=${project}`, [hello(token)], { origin: 'http://127.0.0.1:4190' });
    await until(() => page.answers.length > 0);
    expect(JSON.parse(page.answers[0] as string)).toMatchObject({ id: 1, result: { protocol: 1 } });
    // It can be given on any command line as it is.
    expect(token).toMatch(/^[0-9a-f]{36}$/);
    // Switched on again, the token of before is worth nothing.
    await call('POST', `/api/projects/${project}/games`);
    const { states } = game(project, token);
    await until(() => states.includes('refused: This token lets nobody in.'));
    // The bench's own line is for pages of the server alone.
    expect(await (await raw(`games?project=${project}`, [], { origin: 'http://127.0.0.1:4190' })).refused).toBe(403);
  });

  it('lets nobody in by a token that is replaced while it is waited for a game of the same name to go', async () => {
    const { project, token } = await letIn();
    const { line: first } = game(project, token);
    await until(() => first.connected);
    const late = await raw(`game?project=${project}`, [hello(token)]);
    await once(late.socket, 'open');
    await call('POST', `/api/projects/${project}/games`);
    expect(await late.closed).toBe(1008);
    expect(late.answers.some((one) => one.includes('"result"'))).toBe(false);
  });

  it('is for this machine only, whatever the server is bound to', () => {
    const asks = (remoteAddress: string, host: string, origin?: string) =>
      isLocalGame({ headers: { host, origin }, socket: { remoteAddress } });
    expect(asks('127.0.0.1', '127.0.0.1:4180')).toBe(true);
    expect(asks('::ffff:127.0.0.1', 'localhost:4180', 'http://localhost:4190')).toBe(true);
    expect(asks('::1', '[::1]:4180', 'http://[::1]:8080')).toBe(true);
    // From another machine that says it calls this one by a name of its own; from a page of elsewhere; by a rebound name.
    expect(asks('192.168.7.3', '127.0.0.1:4180')).toBe(false);
    expect(asks('127.0.0.1', '127.0.0.1:4180', 'http://127.0.0.1.shallows.example')).toBe(false);
    expect(asks('127.0.0.1', 'shallows.example:4180')).toBe(false);
    expect(asks('127.0.0.1', '127.0.0.1:4180', 'null')).toBe(false);
  });

  it('merges what is said, hands it on whole, and says what it refuses', async () => {
    const { project, token } = await letIn();
    const told = await bench(project);
    const { line: causeway } = game(project, token);
    causeway.say({ timeS: 1, feeds: { warmth: 40, Tide: 0.5 } });
    causeway.say({ timeS: 2, feeds: { warmth: 41 }, camera: { position: [1, 2, 3], rotation: [0, 0, 0, 1] } });
    await until(() => told.games[0]?.connected === true);
    told.say({ follow: told.games[0]?.id });
    await until(() => told.now?.timeS === 2);
    expect(told.now).toMatchObject({ camera: { position: [1, 2, 3] }, feeds: { warmth: { value: 41 }, Tide: { value: 0.5 } } });
    causeway.happened('surge', [4, 5, 6]);
    causeway.happened('surge', [7, 8, 9]);
    await until(() => (told.now?.feeds.surge?.value as { number: number } | undefined)?.number === 2);
    expect(told.now?.feeds.surge?.value).toEqual({ number: 2, place: [7, 8, 9] });
    causeway.say({ feeds: { warmth: Number.NaN as never } });
    await until(() => told.games[0]?.refused?.count === 1);
    expect(told.games[0]?.refused?.why).toMatch(/^state: feeds\.warmth: /);
    expect(told.now?.feeds.warmth?.value).toBe(41);
    await until(() => (told.games[0]?.roundTripMs ?? null) !== null);
    // A session that begins anew has nothing of the one before.
    causeway.say({ timeS: 0, feeds: { Tide: 0.7 } });
    await until(() => told.now?.timeS === 0);
    expect(told.now?.feeds.surge).toBeUndefined();
  });

  it('merges values of objects one by one, says them again after an interruption, and counts them among all', async () => {
    const { project, token } = await letIn();
    const { line: causeway } = game(project, token);
    await until(() => causeway.connected);
    causeway.say({ timeS: 5, objects: { 'Stake 1': { lean: 3, tied: true } }, feeds: { tide: 1 } });
    causeway.say({ objects: { 'Stake 1': { lean: 4 }, 'Stake@2': { lean: 9 } } });
    const told = await bench(project);
    await until(() => told.games.length > 0);
    told.say({ follow: told.games[0]?.id });
    await until(() => told.now?.objects['Stake@2'] !== undefined);
    const values = () =>
      Object.fromEntries(
        Object.entries(told.now?.objects ?? {}).map(([o, of]) => [
          o,
          Object.fromEntries(Object.entries(of).map(([f, { value }]) => [f, value])),
        ]),
      );
    expect(values()).toEqual({ 'Stake 1': { lean: 4, tied: true }, 'Stake@2': { lean: 9 } });
    // A new session has none of the one before; what the game goes on to say is all there is.
    causeway.say({ timeS: 1, objects: { 'Stake@2': { lean: 1 } } });
    await until(() => told.now?.timeS === 1);
    expect(values()).toEqual({ 'Stake@2': { lean: 1 } });
    const many = (from: number, count: number) =>
      Object.fromEntries(Array.from({ length: count }, (_, k) => [`Stake ${from + k}`, { lean: k }]));
    causeway.say({ objects: many(10, 1999) });
    await until(() => Object.keys(told.now?.objects ?? {}).length === 2000);
    causeway.say({ objects: many(5000, 1) });
    await until(() => told.games[0]?.refused !== null);
    expect(told.games[0]?.refused?.why).toBe('state: objects: more than 2000 values are named');
    expect(Object.keys(told.now?.objects ?? {})).toHaveLength(2000);
    // The next session may name others, as many.
    causeway.say({ timeS: 20 });
    await until(() => told.now?.timeS === 20);
    causeway.say({ timeS: 2, objects: many(7000, 1500) });
    await until(() => told.now?.timeS === 2);
    expect(Object.keys(told.now?.objects ?? {})).toHaveLength(1500);
    // A slider of one stake is set at the bench: the game hears of which.
    const heard: unknown[] = [];
    const { line: other } = game(project, token, { name: 'Slipway', onSet: (set) => heard.push(set) });
    await until(() => other.connected && told.games.length === 2);
    told.say({ follow: told.games[1]?.id });
    told.say({ tell: { method: 'set', params: { feed: 'lean', object: 'Stake 1', value: 8 } } });
    await until(() => heard.length > 0);
    expect(heard).toEqual([{ feed: 'lean', object: 'Stake 1', value: 8 }]);
  });

  it('tells the game that is followed what is used on the bench, and that the project was edited; it asks for the bundle', async () => {
    const { project, token } = await letIn();
    const told = await bench(project);
    const heard: unknown[] = [];
    const { line: causeway } = game(project, token, {
      onAction: (what) => heard.push(what),
      onHeld: (held) => heard.push(held),
      onSet: (what) => heard.push(what),
      onChanged: (revision) => heard.push(revision),
    });
    await until(() => told.games.length === 1);
    const action = { action: 'turn', name: 'Turn a wheel', source: 'prompt', target: 'Sluice 2 wheel' };
    told.say({ tell: { method: 'action', params: action } });
    told.say({ follow: told.games[0]?.id });
    told.say({ tell: { method: 'held', params: { held: true } } });
    told.say({ tell: { method: 'held', params: { held: 'yes' } } });
    told.say({ tell: { method: 'action', params: action } });
    told.say({ tell: { method: 'set', params: { feed: 'lamp', value: 0.5 } } });
    await until(() => heard.length === 3);
    // Before it was followed, it was not told.
    expect(heard).toEqual([true, action, { feed: 'lamp', value: 0.5 }]);
    await call('PATCH', `/api/projects/${project}`, { name: 'Shoal', clientId: 'test' });
    await until(() => heard.includes(1));
    const { revision, bundle } = await causeway.bundle();
    expect(revision).toBe(1);
    expect(bundle).toMatchObject({ format: 'foreshore-bundle', document: { viewers: {} } });
  });

  it('goes on where it was when the game comes back under its name', async () => {
    const { project, token } = await letIn();
    const told = await bench(project);
    const first = game(project, token).line;
    first.say({ timeS: 5, feeds: { warmth: 12 } });
    await until(() => told.games.length === 1);
    const id = told.games[0]?.id;
    told.say({ follow: id });
    await until(() => told.now?.timeS === 5);
    first.close();
    // Another that is started before the first is known to be gone.
    const second = game(project, token).line;
    second.say({ timeS: 6 });
    await until(() => told.now?.timeS === 6);
    expect(told.games).toMatchObject([{ id, connected: true }]);
    expect(told.now?.feeds.warmth?.value).toBe(12);
  });

  it('stands ten thousand messages at once, loses nothing of them, and hands on thirty a second at most', async () => {
    const { project, token } = await letIn();
    const told = await bench(project);
    const flood = await raw(`game?project=${project}`, [hello(token)]);
    await until(() => told.games.length === 1);
    told.say({ follow: told.games[0]?.id });
    const beganMs = performance.now();
    for (let k = 0; k < 10_000; k++)
      flood.socket.send(JSON.stringify({ jsonrpc: '2.0', method: 'state', params: { timeS: k / 100, feeds: { [`feed ${k % 500}`]: k } } }));
    // Meanwhile others are answered.
    expect((await call('GET', `/api/projects/${project}`)).status).toBe(200);
    await until(() => told.now?.timeS === 99.99);
    const seconds = (performance.now() - beganMs) / 1000;
    for (let k = 9500; k < 10_000; k++) expect(told.now?.feeds[`feed ${k % 500}`]?.value).toBe(k);
    expect(told.count).toBeLessThanOrEqual(2 + seconds * 31);
    expect(told.games[0]?.dropped).toBe(0);
  });

  it('refuses what is too much or no message, and goes on', async () => {
    const { project, token } = await letIn();
    const bad = await raw(`game?project=${project}`, [hello(token), 'no json', '[]', '{"jsonrpc":"2.0","method":"constructor","id":7}']);
    await until(() => bad.answers.length === 4);
    expect(bad.answers.slice(1).map((one) => JSON.parse(one).error.code)).toEqual([-32700, -32600, -32601]);
    const many = Object.fromEntries(Array.from({ length: 2001 }, (_, k) => [`feed ${k}`, k]));
    bad.socket.send(JSON.stringify({ jsonrpc: '2.0', id: 8, method: 'state', params: { feeds: many } }));
    await until(() => bad.answers.length === 5);
    expect(JSON.parse(bad.answers[4] as string).error.message).toContain('more than 2000');
    bad.socket.send('x'.repeat(300_000));
    expect(await bad.closed).toBe(1009);
    const others = await Promise.all(Array.from({ length: 9 }, () => raw(`game?project=${project}`, [hello(token)])));
    await until(() => others.flatMap(({ answers }) => answers).filter((one) => one.includes('"error"')).length >= 1);
    expect((await call('GET', '/api/projects')).status).toBe(200);
  });
});
