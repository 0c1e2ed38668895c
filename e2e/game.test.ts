/** A running game on the bench: let in, followed, wrong in what it says, used from here, recorded, lost and back, in the real application. */
import { afterAll, afterEach, beforeAll, describe, expect, inject, it } from 'vitest';
import { WebSocket } from 'ws';
import { type Document, makeDocument, makeGroup, makeText, onGlass } from '../packages/document/src/index.ts';
import { CONVENTIONS } from '../packages/handoff/src/convention.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { type Connection, type ConnectOptions, connect } from '../packages/runtime/src/connect.ts';
import { createProject, inPicture, openBench, openBrowser, press, type Session, saved, sendLevel, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let id: string;
let token: string;
const games: Connection[] = [];
beforeAll(async () => {
  session = await openBrowser();
  const level = newLevel();
  addBox(level, 'Ground', 20, [0, -20, 0]);
  addBox(level, 'Hut', 2, [0, 2, -12]);
  const kept = await sendLevel(address, 'yard.glb', await toBinary(level));
  const document: Document = makeDocument('Yard');
  document.level = { ...kept, metresPerUnit: 1, upAxis: 'y' };
  // Left-handed, z up, x ahead, in centimetres, the angle of view across: (x, y, z) of the game is (−z, x, y) here, a hundred times.
  document.convention = CONVENTIONS[3] as (typeof CONVENTIONS)[number];
  document.feeds.tide = { name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0.3, range: [-1, 2] };
  document.feeds.hint = { name: 'Hint', order: 'a1', kind: 'text', unit: '', initial: 'none' };
  document.phases = { roaming: { name: 'Roaming', order: 'a0' }, paused: { name: 'Paused', order: 'a1' } };
  document.actions = { ring: { name: 'Ring the bell', order: 'a0', reactions: [{ kind: 'set', when: [], feed: 'tide', value: 1.5 }] } };
  document.elements.told = makeText(onGlass([0.5, 0.2]), '{tide, number, ::.0} m, {hint}', 'a0');
  const bell = makeGroup(onGlass([0.5, 0.5]), 'Bell', 'row', 'a1');
  document.elements.bell = {
    ...bell,
    layout: { ...bell.layout, padPx: [60, 60, 60, 60] },
    paint: { plate: { colour: '#E6D5A6', radiusPx: 6, border: null }, opacity: 1 },
    pointer: { takes: 'acts', action: 'ring', padPx: 0, pointed: {}, pressed: {} },
  };
  id = await createProject(address, { from: 'document', document });
});
afterEach(() => {
  for (const game of games.splice(0)) game.close();
});
afterAll(() => session.close());

const game = (more: Partial<ConnectOptions> = {}): Connection => {
  const made = connect({ address, project: id, token, name: 'Yard game', socket: WebSocket as never, ...more });
  games.push(made);
  return made;
};
/** Where the eye stands on the bench, once it is so far to the east. */
const eyeAt = async (x: number): Promise<number[]> => {
  await session.page.waitForFunction(
    (wanted) => Math.abs((globalThis.foreshore?.bench.getState().info?.pose.position[0] ?? Number.NaN) - wanted) < 1e-4,
    { polling: 50 },
    x,
  );
  return session.page.evaluate(() => [...(globalThis.foreshore?.bench.getState().info?.pose.position ?? [])]);
};
const says = () =>
  session.page.evaluate(() =>
    (globalThis.foreshore?.engine.drawnOf('told') ?? [])
      .flatMap((item) => (item.kind === 'text' ? item.block.lines.map(({ text }) => text) : []))
      .join(''),
  );
const faultsAre = (wanted: string[]) =>
  session.page.waitForFunction(
    (these) => JSON.stringify([...document.querySelectorAll('.rail [data-fault]')].map((el) => el.textContent)) === JSON.stringify(these),
    { polling: 50 },
    wanted,
  );
const following = async (): Promise<void> => {
  const { page } = session;
  await openBench(page, address, id, '');
  await page.waitForSelector('.rail [data-choice="Game"]');
  await page.click('.rail [data-choice="Game"]');
  await page.waitForFunction(() => [...document.querySelectorAll('[data-choose]')].some((el) => el.textContent === 'Yard game'));
  await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('[data-choose]')].find((el) => el.textContent === 'Yard game')?.click(),
  );
  await page.waitForSelector('.game-state');
};

describe('a running game', () => {
  it('is let in by a switch, with a token that is shown once', async () => {
    const { page } = session;
    await page.goto(new URL(`/p/${id}/handoff`, address).href);
    await page.waitForSelector('[data-save="saved"]');
    await press(page, 'Games may connect');
    const shown = await page.waitForSelector('[data-token]');
    token = (await shown?.evaluate((el) => el.textContent)) ?? '';
    expect(token.length).toBeGreaterThan(20);
    await page.reload();
    await page.waitForSelector('aria/Make a new token');
    expect(await page.$('[data-token]')).toBeNull();
    const one = game();
    await page.waitForSelector('[data-game="Yard game"][data-connected="true"]');
    one.say({ timeS: 1, camera: { position: [200, 100, 160], rotation: [0, 0, 0, 1] } });
    await press(page, 'Show on the bench');
    await page.waitForFunction(() => location.pathname.endsWith('/bench'));
    await page.waitForFunction(() => globalThis.foreshore?.engine.firstPictureMs, { polling: 50 });
    expect(await eyeAt(1)).toEqual([expect.closeTo(1, 6), expect.closeTo(1.6, 6), expect.closeTo(-2, 6)]);
    expect(session.errors).toEqual([]);
  });

  it('is what the bench shows: its camera, its lens, its values, which are empty until they come; what is wrong is named', async () => {
    const { page } = session;
    const one = game();
    one.say({ timeS: 1, camera: { position: [0, 0, 160], rotation: [0, 0, 0, 1] } });
    await following();
    expect(await eyeAt(0)).toHaveLength(3);
    await faultsAre(['Tide was never sent: it is empty.', 'Hint was never sent: it is empty.']);
    expect(await says()).toBe('{tide} m, {hint}');
    one.say({ timeS: 2, feeds: { Tide: 0.75, hint: 'Ring the bell' }, lens: { fov: 90, aspect: 16 / 9 }, phase: 'Paused' });
    await faultsAre([]);
    await page.waitForFunction(
      () => globalThis.foreshore?.engine.phase() === 'paused' && globalThis.foreshore.engine.valuesNow().tide === 0.75,
      { polling: 50 },
    );
    expect(await says()).toBe('0.8 m, Ring the bell');
    // 90 degrees across a 16:9 picture: its half height lies at 1/(16/9) of the focal length. The desk is 1080 px high.
    const focal = await page.evaluate(() => globalThis.foreshore?.engine.frameOf('desk')?.a.projection.focalY);
    expect(focal).toBeCloseTo(540 * (16 / 9), 3);
    one.say({ timeS: 3, feeds: { Tide: 9, hint: 4, gulls: 1 }, phase: 'flying' });
    await faultsAre([
      'It is in the phase "flying", which the project does not have.',
      'Tide is 9, outside its range of -1 to 2.',
      'Hint is a text; it sends a number, which is left out.',
      'It sends "gulls", which is no feed of the project.',
    ]);
    // In Feeds its values are curves, as they were sent.
    await page.click('header a[href*="/feeds"]');
    await page.waitForSelector('[data-feed="tide"] [data-sent]');
    one.say({ timeS: 4, feeds: { Tide: 1.5 } });
    await page.waitForFunction(
      () => {
        const feed = document.querySelector('[data-feed="tide"]');
        return (
          feed?.querySelector('output')?.textContent === '1.5' && Number(feed.querySelector<HTMLElement>('[data-sent]')?.dataset.sent) >= 2
        );
      },
      { polling: 50 },
    );
    expect(await page.$('[data-feed="tide"] .feed-playhead')).toBeNull();
    await page.click('header a[href*="/bench"]');
    await page.waitForFunction(() => globalThis.foreshore?.engine.firstPictureMs, { polling: 50 });
    // Reasons are of the game's frame.
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'told' }));
    await page.waitForSelector('[data-step="paint"]');
    expect(session.errors).toEqual([]);
  });

  it('hears what is used on the bench, that the pointer is held, what is set, and that the project was edited', async () => {
    const { page } = session;
    const heard: unknown[] = [];
    const one = game({
      onAction: (told) => heard.push(told),
      onSet: (told) => heard.push(told),
      onHeld: (held) => heard.push(held),
      onChanged: (revision) => heard.push(revision),
    });
    one.say({ timeS: 1, camera: { position: [0, 0, 160], rotation: [0, 0, 0, 1] }, feeds: { tide: 0.5, hint: '' } });
    await following();
    await press(page, 'Try');
    const spot = await inPicture(page, 0.5, 0.5);
    await page.mouse.move(spot.x, spot.y);
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().pointed === 'bell', { polling: 50 });
    await page.mouse.click(spot.x, spot.y);
    const until = async (holds: () => boolean) => {
      for (let k = 0; !holds(); k++) {
        if (k > 500) throw new Error(`Only ${JSON.stringify(heard)} was heard.`);
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    };
    await until(() => heard.length >= 3);
    expect(heard).toContainEqual({ action: 'ring', name: 'Ring the bell', source: 'bell', target: null });
    expect(heard[0]).toBe(true);
    // What its reaction sets is the game's to take over: here it stays as the game says.
    expect(heard).toContainEqual({ feed: 'tide', value: 1.5 });
    expect(await page.evaluate(() => globalThis.foreshore?.engine.valuesNow().tide)).toBe(0.5);
    one.say({ feeds: { tide: 1.5 } });
    await page.waitForFunction(() => globalThis.foreshore?.engine.valuesNow().tide === 1.5, { polling: 50 });
    // By the game's own pointer, too: from the world onto the bell, pressed, let go.
    heard.length = 0;
    for (const pointer of [
      { x: 0.1, y: 0.9, down: false },
      { x: 0.5, y: 0.5, down: false },
      { x: 0.5, y: 0.5, down: true },
      { x: 0.5, y: 0.5, down: false },
    ]) {
      one.say({ pointer });
      await page.waitForFunction(
        (down) => (globalThis.foreshore?.bench.getState().pressed !== null) === down,
        { polling: 50 },
        pointer.down,
      );
    }
    await until(() => heard.some((told) => (told as { action?: string }).action === 'ring'));
    expect(session.errors).toEqual([]);
    await press(page, 'Look');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'bell' }));
    await page.keyboard.down('Alt');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.up('Alt');
    await saved(page);
    await until(() => heard.includes(1));
    const { revision, bundle } = await one.bundle();
    expect(revision).toBe(1);
    expect(bundle).toMatchObject({ document: { name: 'Yard' } });
  });

  it('is kept as a route: where its player went, and its values', async () => {
    const { page } = session;
    const one = game();
    const at = (k: number) =>
      one.say({ timeS: k / 30, camera: { position: [0, 3 * k, 160], rotation: [0, 0, 0, 1] }, feeds: { tide: k < 30 ? 0 : 1 } });
    at(0);
    await following();
    await press(page, 'Record');
    let k = 0;
    const walking = setInterval(() => at(++k), 33);
    await page.waitForFunction(() => (globalThis.foreshore?.bench.getState().info?.pose.position[0] ?? 0) > 1.5, { polling: 50 });
    clearInterval(walking);
    await press(page, 'Stop');
    await saved(page);
    const routes = await page.evaluate(() => Object.values(globalThis.foreshore?.project.getState().document?.routes ?? {}));
    const walked = routes.at(-1);
    expect(walked?.poses.at(-1)?.position[0]).toBeGreaterThan(1.4);
    expect(walked?.feeds.filter(({ feed }) => feed === 'tide').map(({ value }) => value)).toEqual([0, 1]);
    expect(session.errors).toEqual([]);
  });

  it('may be killed, started again, and send far too much: the bench goes on', async () => {
    const { page } = session;
    const first = game();
    first.say({ timeS: 1, camera: { position: [0, 100, 160], rotation: [0, 0, 0, 1] }, feeds: { tide: 0.1, hint: '' } });
    await following();
    await eyeAt(1);
    first.close();
    await page.waitForSelector('.game-state[data-connected="false"]');
    const flood = new WebSocket(`${address.replace('http', 'ws')}api/game?project=${id}`);
    await new Promise((resolve) => flood.once('open', resolve));
    const send = (method: string, params: object, more: object = {}) =>
      flood.send(JSON.stringify({ jsonrpc: '2.0', method, params, ...more }));
    send('hello', { protocol: 1, token, name: 'Yard game' }, { id: 1 });
    await page.waitForSelector('.game-state[data-connected="true"]');
    // Ten thousand in each of three seconds, in hundreds.
    let k = 0;
    const flooding = setInterval(() => {
      for (const upTo = k + 100; k < upTo; k++)
        send('state', {
          timeS: 2 + k / 10_000,
          camera: { position: [0, k / 100, 160], rotation: [0, 0, 0, 1] },
          feeds: { tide: k / 30_000 },
        });
      if (k >= 30_000) clearInterval(flooding);
    }, 10);
    // Meanwhile the page answers: an element is selected, and its chain is there.
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: null }));
    await page.waitForFunction(() => !document.querySelector('[data-step="paint"]'));
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'bell' }));
    await page.waitForSelector('[data-step="paint"]');
    expect(await eyeAt(299.99 / 100)).toHaveLength(3);
    flood.terminate();
    await page.waitForSelector('.game-state[data-connected="false"]');
    // Let go of, the bench is its own again.
    await page.click('.rail [data-choice="Game"]');
    await page.waitForSelector('[data-choose=""]');
    await page.click('[data-choose=""]');
    await page.waitForSelector('.game-state', { hidden: true });
    await settled(page);
    expect(session.errors).toEqual([]);
  });
});
