/** npm run game against the real server: what it says is the project's own simulation, and what it hears it does. */
import { spawn } from 'node:child_process';
import { parseDocument } from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { walkOf } from '../../../examples/game/walk.ts';
import { root } from '../../../scripts/house.mjs';
import { callAt, startTestServer, type TestServer } from './test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.remove());

function play(args: string[]) {
  const child = spawn(process.execPath, ['--import', 'tsx', 'examples/game/main.ts', '--address', server.address, ...args], { cwd: root });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => (said += data));
  const gone = new Promise<number | null>((resolve) => child.once('exit', resolve));
  return { said: () => said, gone, stop: () => child.kill('SIGTERM') };
}
const until = async (holds: () => boolean, said: () => string): Promise<void> => {
  const endMs = Date.now() + 90_000;
  while (!holds()) {
    if (Date.now() > endMs) throw new Error(`What was waited for did not come. The game said:\n${said()}`);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
};

describe('the made-up game', () => {
  it('says what it needs, and where it cannot go on', async () => {
    const [none, wrong, bad, far] = [
      play([]),
      play(['--token', 'guess', '--project', 'none']),
      play(['--token', 'guess', '--rate', '0']),
      play(['--token', 'x', '--route', 'nowhere']),
    ];
    for (const [one, words] of [
      [none, 'Name the token'],
      [wrong, 'no project "none"'],
      [bad, '--rate takes 1 to 1000'],
      [far, 'There is no route "nowhere"; there are out-to-the-lamp'],
    ] as const) {
      expect(await one.gone).toBe(1);
      expect(one.said()).toContain(words);
      expect(one.said()).not.toMatch(/ {4}at /);
    }
    expect((await callAt(server, 'POST', '/api/projects/low-water/games')).status).toBe(201);
    const stranger = play(['--token', 'guess']);
    expect(await stranger.gone).toBe(1);
    expect(stranger.said()).toContain('This token lets nobody in.');
  });

  it('walks the route, sends each value that the game is to supply, and takes over what the bench sets', async () => {
    const { body } = await callAt(server, 'POST', '/api/projects/low-water/games');
    const document = parseDocument((await callAt(server, 'GET', '/api/projects/low-water')).body.document);
    const game = play(['--token', body.token, '--rate', '60']);
    const line = new WebSocket(`${server.address.replace('http', 'ws')}api/games?project=low-water`);
    // biome-ignore lint/suspicious/noExplicitAny: what the server tells is looked into
    const told: any = {};
    line.on('message', (data) => Object.assign(told, JSON.parse(String(data))));
    await until(() => told.games?.[0]?.connected, game.said);
    line.send(JSON.stringify({ follow: told.games[0].id }));
    await until(() => told.now?.timeS > 1, game.said);
    const { timeS, camera, feeds, phase } = told.now;
    const meant = walkOf(document, null).at(timeS);
    expect(camera.position).toEqual(meant.camera?.position);
    expect(phase).toBe(meant.phase);
    for (const [feed, value] of Object.entries(meant.feeds ?? {})) expect(feeds[feed]?.value).toEqual(value);
    await until(() => told.games[0].perS > 0, game.said);
    line.send(JSON.stringify({ tell: { method: 'set', params: { feed: 'lamp', value: 0.25 } } }));
    line.send(JSON.stringify({ tell: { method: 'phase', params: { phase: 'paused' } } }));
    await until(() => told.now.feeds.lamp.value === 0.25 && told.now.phase === 'paused', game.said);
    await until(() => game.said().includes('lamp was set to 0.25.'), game.said);
    line.close();
    game.stop();
    expect(await game.gone).toBe(0);
  }, 240_000);
});
