/** Rays, headsets and split screens in the running bench: used by hand, by aiming and by staying; seen with two eyes and by two players. */
import {
  type Document,
  type Element,
  insideOf,
  type Mount,
  makeDocument,
  makeGroup,
  makeHeadset,
  makeSlider,
  makeText,
  viewerAs,
} from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { Pose, RaySource, Vec3 } from '../packages/core/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { importProject, inPicture, openBench, openBrowser, press, type Session, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let yard: Uint8Array;

beforeAll(async () => {
  session = await openBrowser();
  const level = newLevel();
  addBox(level, 'Yard', 15, [0, -15, 0]);
  // Between the right hand and the slider's left end, beside the way of the eye.
  addBox(level, 'Post', 0.05, [0, 1.34, -1.3]);
  yard = await toBinary(level);
});
afterAll(() => session?.close());

const HERE = { position: [0, 1.65, 0] as Vec3, rotation: [0, 0, 0, 1] as Pose['rotation'] };
const place: Element['place'] = { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null };
const standing: Mount = {
  kind: 'standing',
  anchor: 'board',
  sizeM: [1.6, 0.9],
  pxPerM: 500,
  readM: 3,
  sides: 'front',
  facing: 'fixed',
  turnDeg: 0,
  tiltDeg: 0,
  liftM: 0,
};
/** A board 3 m ahead: a slider across it, and a button above. */
function board(d: Document): void {
  d.anchors.board = { kind: 'surface', name: 'Board', order: 'a0', node: null, position: [0, 1.6, -3], normal: [0, 0, 1] };
  const group = makeGroup({ mount: standing, place }, 'Board', 'free', 'a0');
  d.elements.board = { ...group, paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 } };
  d.feeds.lamp = { name: 'Lamp', order: 'a0', kind: 'number', unit: '', initial: 0 };
  d.elements.slider = {
    ...makeSlider(insideOf('board', [0.5, 0.7]), 'Lamp', 'lamp', 'a1'),
    place,
    widthPx: 500,
    heightPx: 80,
    empty: 0,
    full: 100,
    step: 5,
  } as Element;
  d.actions = { ring: { name: 'Ring the bell', order: 'a0', reactions: [] } };
  const button = makeGroup(insideOf('board', [0.5, 0.25]), 'Bell', 'row', 'a2');
  d.elements.bell = { ...button, place, pointer: { takes: 'acts', action: 'ring', padPx: 0, pointed: {}, pressed: {} } } as Element;
  d.elements['bell-name'] = makeText(insideOf('bell'), 'Ring the bell', 'a3');
}
async function bring(fill: (document: Document) => void, query = ''): Promise<string> {
  const document = makeDocument('Rays');
  document.level = { file: 'yard.glb', hash: null, metresPerUnit: 1, upAxis: 'y' };
  document.opening = { timeS: 0, pose: HERE };
  fill(document);
  const id = await importProject(address, document, yard);
  await openBench(session.page, address, id, query);
  await settled(session.page);
  return id;
}
const trying = async (source: RaySource): Promise<void> => {
  const { page } = session;
  await press(page, 'Try');
  await page.evaluate((pointWith) => globalThis.foreshore?.bench.setState({ pointWith }), source);
  await settled(page);
};
/** Where a point of an element on the board is in the picture, as shares of it. */
const share = (id: string, u: number, v: number): Promise<[number, number]> =>
  session.page.evaluate(
    (one, x, y) => {
      const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const { widthPx, heightPx } = engine.frameOf(bench.getState().viewer)?.a.projection ?? { widthPx: 1, heightPx: 1 };
      const [px = 0, py = 0] = engine.places.seen(one)?.point(x, y) ?? [];
      return [px / widthPx, py / heightPx] as [number, number];
    },
    id,
    u,
    v,
  );
/** The same on the page. */
async function onPage(id: string, u: number, v: number): Promise<[number, number]> {
  const { x, y } = await inPicture(session.page, ...(await share(id, u, v)));
  return [x, y];
}
const lamp = (value: number) =>
  session.page.waitForFunction((v) => globalThis.foreshore?.engine.valuesNow().lamp === v, { polling: 50 }, value);
const pointed = (id: string | null) =>
  session.page.waitForFunction((one) => globalThis.foreshore?.bench.getState().pointed === one, { polling: 50 }, id);
const sent = (count: number) =>
  session.page.waitForFunction((n) => document.querySelectorAll('[data-played="sent"]').length === n, { polling: 50 }, count);

describe('a hand that the mouse leads', () => {
  it('slides, holds on beyond the panel, meets a post that the eye does not, and shows its beam', async () => {
    const { page } = session;
    await bring(board);
    await trying('right');
    await page.mouse.move(...(await onPage('slider', 0.9, 0.5)));
    await pointed('slider');
    await page.mouse.down();
    await page.mouse.move(...(await onPage('slider', 0.5, 0.5)));
    await lamp(50);
    // Below the panel's edge, and far to its right: it is held.
    await page.mouse.move(...(await onPage('board', 1.3, 1.2)), { steps: 3 });
    await lamp(100);
    await page.mouse.up();
    const drawn = await page.evaluate(() => globalThis.foreshore?.engine.trying.meets('right').met?.distanceM ?? 0);
    expect(drawn).toBeGreaterThan(2);
    // The eye sees the slider's left end past the post; the hand, from the right and below, does not reach it.
    await page.mouse.move(...(await onPage('slider', 0.15, 0.5)));
    const { has, distanceM } = await page.evaluate(() => {
      const { has, met } = globalThis.foreshore?.engine.trying.meets('right') ?? { has: 'nothing', met: null };
      return { has, distanceM: met?.distanceM ?? 0 };
    });
    // From (0.2, 1.3, −0.3) to a post whose front is at z = −1.25.
    expect(has).toBe(null);
    expect(distanceM).toBeGreaterThan(0.94);
    expect(distanceM).toBeLessThan(1.1);
    expect(await page.evaluate((u, v) => globalThis.foreshore?.engine.trying.under(u, v).has, ...(await share('slider', 0.15, 0.5)))).toBe(
      'slider',
    );
    expect(session.errors).toEqual([]);
  });
  it('does not fight the other: while one holds, the other’s key does nothing; then that one points', async () => {
    const { page } = session;
    await bring((d) => {
      board(d);
      d.ray = { reachM: 10, sources: ['left', 'right'] };
      for (const [k, id] of ['up', 'ahead'].entries())
        d.feeds[id] = { name: id, order: `a${k + 1}`, kind: 'number', unit: '', initial: k === 0 ? 0.16 : 0 };
      // The left hand lies level before the bell.
      d.ray.hands = { left: { rightM: 'ahead', upM: 'up', aheadM: 'ahead', leftDeg: 'ahead', upDeg: null } };
    });
    await trying('right');
    await page.mouse.move(...(await onPage('slider', 0.5, 0.5)));
    await pointed('slider');
    await page.mouse.down();
    await lamp(50);
    const met = await page.evaluate(() => globalThis.foreshore?.engine.trying.meets('left').acts);
    expect(met).toBe('bell');
    await page.keyboard.press('KeyZ');
    expect(await page.$$('[data-played="sent"]')).toHaveLength(0);
    expect(await page.evaluate(() => globalThis.foreshore?.engine.trying.uses)).toBe('right');
    await page.mouse.up();
    await page.keyboard.press('KeyZ');
    await sent(1);
  });
});

describe('aiming and the head', () => {
  const facing = (pitchDeg: number) =>
    session.page.evaluate((deg) => {
      const half = (deg * Math.PI) / 360;
      globalThis.foreshore?.engine.goTo({ position: [0, 1.65, 0], rotation: [Math.sin(half), 0, 0, Math.cos(half)] });
    }, pitchDeg);
  it('press what the middle of the view is on: by a click and by a key', async () => {
    const { page } = session;
    await bring((d) => {
      board(d);
      d.ray = { reachM: 10, sources: ['aim'] };
    });
    await trying('aim');
    // The bell is a quarter down a board of 0.9 m about 1.6 m: at 1.82 m, 3.2° above the eye.
    await facing(3.3);
    await pointed('bell');
    const { x, y } = await inPicture(page, 0.1, 0.9);
    await page.mouse.click(x, y);
    await sent(1);
    await page.keyboard.press('KeyX');
    await sent(2);
    await facing(30);
    await pointed(null);
    await page.keyboard.press('KeyX');
    expect(await page.$$('[data-played="sent"]')).toHaveLength(2);
  });
  it('press by staying, once', async () => {
    const { page } = session;
    await bring((d) => {
      board(d);
      d.ray = { reachM: 10, sources: ['head'], dwellS: 0.4 };
    });
    await trying('head');
    await facing(3.3);
    await sent(1);
    await page.waitForFunction(() => globalThis.foreshore?.engine.trying.dwelt === 0, { polling: 50 });
    await facing(30);
    await pointed(null);
    await facing(3.3);
    await sent(2);
  });
  it('that do not reach say so, and the ray is mended', async () => {
    const { page } = session;
    await bring((d) => {
      board(d);
      d.ray = { reachM: 2, sources: ['aim'] };
    });
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'board' }));
    await page.waitForSelector('[data-step="readable"][data-state="short"]');
    for (;;) {
      await page.waitForSelector('.offer[data-mend="reach"]');
      const words = await page.$eval('.offer .offer-words', (el) => el.textContent ?? '');
      if (words.includes('reaches')) break;
      const other = await page.waitForSelector('::-p-text(Another)');
      await other?.click();
    }
    await press(page, 'Take it');
    await page.waitForSelector('[data-step="readable"][data-state="yes"]');
    expect(await page.evaluate(() => globalThis.foreshore?.project.getState().document?.ray)).toEqual({ reachM: 3.1, sources: ['aim'] });
  });
});

describe('a headset', () => {
  it('shows both eyes side by side, the HUD before the head, and says what two eyes find hard', async () => {
    const { page } = session;
    await bring((d) => {
      board(d);
      d.viewers = { desk: d.viewers.desk as never, headset: makeHeadset('Headset', 'a9') };
      d.elements.tide = {
        ...makeText({ mount: { kind: 'glass', within: 'safe', pin: [0.5, 0.9], stretch: [false, false] }, place }, 'Tide 0.4 m', 'a5'),
        size: { rule: 'screen', emPx: 60, hideBelowPx: 0, leavePx: 0 },
      } as Element;
    }, '?viewer=headset&sel=tide');
    await page.evaluate(() => globalThis.foreshore?.engine.goTo({ position: [0, 1.65, 0], rotation: [0, 1, 0, 0] }));
    await settled(page);
    // Nothing but the sky is behind it: eyes on that are all but parallel.
    await page.waitForSelector('[data-step="readable"][data-state="short"]');
    expect(await page.$eval('[data-step="readable"]', (el) => el.getAttribute('title'))).toMatch(
      /m away, eyes on 1000 m: 1\.\d deg apart, at most 1/,
    );
    await press(page, 'Eyes');
    await settled(page);
    // The same letters in each half, as far apart as the eyes' pictures have them; light on the sky they are found by their outlines.
    const [left, right] = await page.evaluate(() => {
      const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      return engine.allSeen('headset').map(({ frame, x }) => {
        const row = frame.c.ids.indexOf('tide');
        const [min = 0, , max = 0] =
          [engine.solveAt('headset', engine.pose(), 0, x === 0 ? 0 : 1).find(({ id }) => id === 'tide')?.outline ?? []].map((o) => [
            Math.min(...o.filter((_, k) => k % 2 === 0)),
            0,
            Math.max(...o.filter((_, k) => k % 2 === 0)),
          ])[0] ?? [];
        return { row, middle: (min + max) / 2, centre: frame.a.projection.centreX, focal: frame.a.projection.focalX };
      });
    });
    // 63 mm at 2 m, between lenses whose axes are their own.
    const tangents = [left, right].map((one) => ((one?.middle ?? 0) - (one?.centre ?? 0)) / (one?.focal ?? 1)) as [number, number];
    expect(tangents[0] - tangents[1]).toBeCloseTo(0.063 / 2, 3);
    const size = await page.$eval('.picture canvas', (el) => [(el as HTMLCanvasElement).width, (el as HTMLCanvasElement).height]);
    expect((size[0] as number) / (size[1] as number)).toBeCloseTo((2 * 2064) / 2208, 1);
    // Handles and the pointer belong to the head's view alone.
    expect(await page.$$('.handles')).toHaveLength(0);
    await press(page, 'Head');
    await settled(page);
    expect(session.errors).toEqual([]);
  });
  it('is made of any viewer, and back, and undone', async () => {
    const { page } = session;
    await bring(board);
    await press(page, 'Viewer');
    await page.click('aria/Kind');
    const option = await page.waitForSelector('::-p-text(A headset)', { visible: true });
    await option?.click();
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().document?.viewers.desk?.kind === 'headset', { polling: 50 });
    await page.waitForSelector('aria/Between the eyes');
    await press(page, 'Undo: Change a viewer');
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().document?.viewers.desk?.kind === 'screen', { polling: 50 });
  });
});

describe('a split screen', () => {
  it('lays the HUD out for each player, who follows a route, and is linked to', async () => {
    const { page } = session;
    await bring((d) => {
      board(d);
      d.routes.round = {
        name: 'Round',
        order: 'a0',
        poses: [
          { timeS: 0, position: [2, 1.65, 0], rotation: [0, 0, 0, 1] },
          { timeS: 5, position: [4, 1.65, 0], rotation: [0, 0, 0, 1] },
        ],
        feeds: [],
        phases: [],
      };
      const split = viewerAs(d.viewers.television as never, 'split');
      d.viewers.couch = {
        ...(split as Extract<typeof split, { kind: 'split' }>),
        name: 'Couch',
        order: 'a9',
        players: [{ route: null }, { route: 'round' }],
      };
      d.elements.tide = makeText(
        { mount: { kind: 'glass', within: 'safe', pin: [0, 0], stretch: [false, false] }, place: { ...place, ownPoint: [0, 0] } },
        'Tide',
        'a5',
      );
    }, '?viewer=couch&see=all&t=2.5');
    await page.evaluate(() => globalThis.foreshore?.engine.goTo({ position: [0, 1.65, 0], rotation: [0, 0, 0, 1] }));
    await settled(page);
    const seen = await page.evaluate(() =>
      globalThis.foreshore?.engine.allSeen('couch').map(({ frame, pose, x }) => ({
        x,
        at: pose.position[0],
        width: frame.a.projection.widthPx,
        tide: frame.f.places[frame.c.ids.indexOf('tide') * 8 + 4],
      })),
    );
    // Half of 3840 px each; the safe area's twentieth is at the outer edge alone.
    expect(seen).toEqual([
      { x: 0, at: 0, width: 1920, tide: 192 },
      { x: 1920, at: expect.closeTo(3, 6), width: 1920, tide: 0 },
    ]);
    expect(await page.$eval('[role="group"][aria-label="Where from"] [aria-pressed="true"]', (el) => el.textContent)).toBe('All');
    expect(new URL(page.url()).searchParams.get('see')).toBe('all');
    expect(session.errors).toEqual([]);
  });
});
