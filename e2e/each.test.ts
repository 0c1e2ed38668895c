/** A feed with a value for each object, as users meet it: made in Feeds, held, said by a game, recorded, undone; in a yard of its own. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { WebSocket } from 'ws';
import { barForm, type Document, makeDocument, makeGauge } from '../packages/document/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { connect } from '../packages/runtime/src/connect.ts';
import { choose, createProject, openBench, openBrowser, press, type Session, sendLevel } from './browser.ts';

const address = inject('address');
let session: Session;
let id: string;
beforeAll(async () => {
  session = await openBrowser();
  const level = newLevel();
  addBox(level, 'Ground', 20, [0, -20, 0]);
  for (const [k, x] of [-3, 0, 3].entries()) addBox(level, `Buoy ${k + 1}`, 1, [x, 0.5, -10]);
  const kept = await sendLevel(address, 'buoys.glb', await toBinary(level));
  const document: Document = makeDocument('Buoys');
  document.level = { ...kept, metresPerUnit: 1, upAxis: 'y' };
  document.feeds.charge = { name: 'Charge', order: 'a0', kind: 'number', unit: '%', initial: 50, range: [0, 100] };
  document.anchors.buoys = { kind: 'nodes', name: 'Buoys', order: 'a0', pattern: 'Buoy *', property: null, offset: [0, 1, 0] };
  const carried = {
    mount: { kind: 'floating' as const, anchor: 'buoys' },
    place: { ownPoint: [0.5, 1] as [number, number], offsetPx: [0, 0] as [number, number], stay: 'free' as const, leader: null },
  };
  document.elements.bar = { ...makeGauge(carried, 'Charge of a buoy', 'charge', barForm(), 'a0'), smoothS: 0 };
  id = await createProject(address, { from: 'document', document });
});
afterAll(() => session.close());

/** Waits until the gauges over the buoys stand so, shares of the whole; null: no value. */
const gaugesAre = (wanted: (number | null)[]) =>
  session.page.waitForFunction(
    (shares) => {
      const frame = globalThis.foreshore?.engine.frameOf('desk');
      if (!frame) return false;
      const are = [...frame.f.gaugeShare].map((share, g) => (frame.f.gaugeState[g] === 1 ? null : Math.round(share * 100) / 100));
      return JSON.stringify(are) === JSON.stringify(shares);
    },
    { polling: 50 },
    wanted,
  );
const objects = () =>
  session.page.$$eval('[data-feed="charge"] [data-object]', (all) =>
    all.map((el) => `${el.getAttribute('data-object')}: ${el.querySelector('output')?.textContent}`),
  );
const objectsAre = (wanted: string[]) => expect.poll(objects, { interval: 50 }).toEqual(wanted);
const toBench = async () => {
  await session.page.click('header a[href*="/bench"]');
  await session.page.waitForFunction(() => globalThis.foreshore?.engine.firstPictureMs, { polling: 50 });
};

describe('a value for each object', () => {
  it('is chosen in Feeds, where each object is told and held by itself; the bench shows it, and undo takes it back', async () => {
    const { page } = session;
    await openBench(page, address, id);
    await gaugesAre([0.5, 0.5, 0.5]);
    await page.click('header a[href*="/feeds"]');
    await page.waitForSelector('[data-feed="charge"] .feed-each');
    await press(page, 'A value for each object');
    await objectsAre(['Buoy 1: 50 %', 'Buoy 2: 50 %', 'Buoy 3: 50 %']);
    await page.focus('aria/Hold Charge of Buoy 2 at');
    await page.keyboard.press('End');
    await objectsAre(['Buoy 1: 50 %', 'Buoy 2: 100 %', 'Buoy 3: 50 %']);
    // Held for all: the one that is held by itself stays.
    await page.focus('aria/Hold Charge at');
    await page.keyboard.press('Home');
    await objectsAre(['Buoy 1: 0 %', 'Buoy 2: 100 %', 'Buoy 3: 0 %']);
    await toBench();
    await gaugesAre([0, 1, 0]);
    await page.click('header a[href*="/feeds"]');
    await page.waitForSelector('aria/Let go of Charge of Buoy 2');
    await press(page, 'Let go of Charge of Buoy 2');
    await objectsAre(['Buoy 1: 0 %', 'Buoy 2: 0 %', 'Buoy 3: 0 %']);
    await page.keyboard.down('Control');
    await page.keyboard.press('KeyZ');
    await page.keyboard.up('Control');
    await page.waitForFunction(() => !document.querySelector('.feed-objects'), { polling: 50 });
    await page.keyboard.down('Control');
    await page.keyboard.down('Shift');
    await page.keyboard.press('KeyZ');
    await page.keyboard.up('Shift');
    await page.keyboard.up('Control');
    await page.waitForSelector('.feed-objects');
    await page.waitForSelector('[data-save="saved"]');
    expect(session.errors).toEqual([]);
  });

  it('comes from a game by the name of the node; which are missing and which nobody reads is told; a recording keeps them', async () => {
    const { page } = session;
    const { token } = (await (await fetch(new URL(`/api/projects/${id}/games`, address), { method: 'POST' })).json()) as { token: string };
    const game = connect({ address, project: id, token, name: 'Buoy game', socket: WebSocket as never });
    try {
      game.say({ timeS: 1, camera: { position: [0, 1.6, 0], rotation: [0, 0, 0, 1] }, objects: { 'Buoy 1': { Charge: 20 } } });
      await openBench(page, address, id, '');
      await page.waitForSelector('.rail [data-choice="Game"]');
      await page.click('.rail [data-choice="Game"]');
      await page.waitForFunction(() => [...document.querySelectorAll('[data-choose]')].some((el) => el.textContent === 'Buoy game'));
      await page.evaluate(() =>
        [...document.querySelectorAll<HTMLElement>('[data-choose]')].find((el) => el.textContent === 'Buoy game')?.click(),
      );
      const faultsAre = (wanted: string[]) =>
        expect.poll(() => page.$$eval('.rail [data-fault]', (all) => all.map((el) => el.textContent)), { interval: 50 }).toEqual(wanted);
      await gaugesAre([0.2, null, null]);
      await faultsAre(['Charge of 2 objects was never sent, Buoy 2 for one.']);
      await press(page, 'Record');
      game.say({ timeS: 2, objects: { 'Buoy 2': { charge: 70 }, 'Buoy 3': { charge: 'full' } } });
      await gaugesAre([0.2, 0.7, null]);
      await faultsAre(['Charge is a number; it sends a text, which is left out.']);
      game.say({ timeS: 3, feeds: { charge: 5 } });
      await gaugesAre([0.2, 0.7, 0.05]);
      await press(page, 'Stop');
      const recorded = await page.waitForFunction(
        () => Object.values(globalThis.foreshore?.project.getState().document?.routes ?? {}).find(({ feeds }) => feeds.length > 2)?.feeds,
        { polling: 50 },
      );
      const feeds = (await recorded.jsonValue()) as Document['routes'][string]['feeds'];
      expect(feeds.map(({ feed, object, value }) => [feed, object ?? null, value])).toEqual([
        ['charge', 'Buoy 1', 20],
        ['charge', 'Buoy 2', 70],
        ['charge', null, 5],
      ]);
    } finally {
      game.close();
    }
    // Without the game, at the end of the recording: as it was said.
    await choose(page, 'Game', '');
    await page.evaluate(() => {
      const routes = globalThis.foreshore?.project.getState().document?.routes ?? {};
      const [route = ''] = Object.entries(routes).find(([, { feeds }]) => feeds.length > 2) ?? [];
      globalThis.foreshore?.bench.setState({ route, timeS: routes[route]?.poses.at(-1)?.timeS ?? 0, pose: null });
    });
    await gaugesAre([0.2, 0.7, 0.05]);
    expect(session.errors).toEqual([]);
  });
});
