/** On the glass, through the real interface: placing, pins, live values, phases; painted gauges against their values. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { Element } from '../packages/document/src/index.ts';
import { choose, createProject, inPicture, openBench, openBrowser, press, type Session, saved, settled } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session.close());

const element = (id: string) =>
  session.page.evaluate((wanted) => globalThis.foreshore?.project.getState().document?.elements[wanted], id) as Promise<Element>;
const rectOf = (id: string, viewer = 'desk') =>
  session.page.evaluate(
    (wanted, v) => {
      const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      return engine.solveAt(v, engine.pose(), bench.getState().timeS).find((e) => e.id === wanted)?.rect ?? [];
    },
    id,
    viewer,
  );
const shownAt = (id: string) =>
  session.page.evaluate((wanted) => {
    const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
    return engine.solveAt('desk', engine.pose(), bench.getState().timeS).find((e) => e.id === wanted)?.failed === 255;
  }, id);

/** Places something on the glass by hand; gives its id. */
async function place(kind: string, u: number, v: number): Promise<string> {
  const { page } = session;
  await press(page, 'Place');
  const spot = await inPicture(page, u, v);
  await page.mouse.move(spot.x, spot.y);
  await page.mouse.click(spot.x, spot.y);
  await page.waitForSelector('.palette');
  const before = await page.evaluate(() => Object.keys(globalThis.foreshore?.project.getState().document?.elements ?? {}));
  await press(page, kind);
  const handle = await page.waitForFunction(
    (old) => Object.keys(globalThis.foreshore?.project.getState().document?.elements ?? {}).find((id) => !old.includes(id)) ?? null,
    { polling: 50 },
    before,
  );
  return (await handle.jsonValue()) as string;
}

describe('an element of the glass', () => {
  let project: string;
  beforeAll(async () => {
    project = await createProject(address, { from: 'empty', name: 'Glass' });
    await openBench(session.page, address, project);
  });

  it('is placed where the pointer is, from the nearest pin, and stays there at every viewer by that pin', async () => {
    const id = await place('Bar', 0.8, 0.1);
    const bar = await element(id);
    expect(bar.mount).toMatchObject({ kind: 'glass', within: 'safe', pin: [1, 0] });
    const [x = 0, y = 0, w = 0] = await rectOf(id);
    expect(Math.abs(x + w - 0.8 * 1920)).toBeLessThan(2);
    expect(Math.abs(y - 0.1 * 1080)).toBeLessThan(2);
    // The same offset from the safe area's corner on the ultrawide, brought there by the fit of 4/3.
    const [X = 0, Y = 0, W = 0] = await rectOf(id, 'ultrawide');
    const fromRight = (1920 * 0.97 - x - w) * (4 / 3);
    expect(Math.abs(3440 * 0.97 - X - W - fromRight)).toBeLessThan(0.01);
    expect(Y - 1440 * 0.03).toBeCloseTo((y - 1080 * 0.03) * (4 / 3), 6);
  });

  it('dragged onto a pin of its parent is put on it, in one entry of undo', async () => {
    const { page } = session;
    const id = await page.evaluate(() => globalThis.foreshore?.bench.getState().selection as string);
    const [x = 0, y = 0, w = 0, h = 0] = await rectOf(id);
    const from = await inPicture(page, (x + w / 2) / 1920, (y + h / 2) / 1080);
    // Its middle at the foot, to the foot's middle of the safe area.
    const to = await inPicture(page, 0.5, 0.97 - h / 2 / 1080);
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2);
    await page.waitForSelector('[data-pins="shown"]');
    await page.mouse.move(to.x, to.y);
    await page.mouse.up();
    const bar = await element(id);
    expect(bar.mount).toMatchObject({ pin: [0.5, 1] });
    expect(bar.place).toMatchObject({ ownPoint: [0.5, 1], offsetPx: [0, 0] });
    await press(page, 'Undo: Move an element');
    expect((await element(id)).mount).toMatchObject({ pin: [1, 0] });
  });

  it('grows away from its own point as its text does', async () => {
    const { page } = session;
    const id = await place('Text', 0.9, 0.5);
    const right = async () => {
      const [x = 0, , w = 0] = await rectOf(id);
      return { edge: x + w, w };
    };
    const before = await right();
    const field = await page.waitForSelector('.rail textarea');
    await field?.click({ clickCount: 3 });
    await page.keyboard.type('Water returns soon');
    await page.waitForFunction(
      (wanted) => {
        const shown = globalThis.foreshore?.project.getState();
        const one = (shown?.draft ?? shown?.document)?.elements[wanted];
        return one?.kind === 'label' && one.text === 'Water returns soon';
      },
      { polling: 50 },
      id,
    );
    const after = await right();
    expect(after.w).toBeGreaterThan(before.w * 2);
    expect(after.edge).toBeCloseTo(before.edge, 6);
    // A message that cannot be read is shown as it stands, with the place of the fault; nothing is lost.
    await page.keyboard.type(' {tide');
    await page.waitForSelector('.rail .fault');
    expect(await page.$eval('.rail .fault', (el) => el.textContent)).toMatch(/character 20.*closing brace/i);
    await page.keyboard.press('Escape');
    await saved(page);
  });

  it('is brought to each screen by the fit that the project chooses, in the viewer settings', async () => {
    const { page } = session;
    // The choice of viewers in the bar is called the same.
    await press(page, 'Viewer[role="button"]');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ viewer: 'phone' }));
    const fit = () => page.evaluate(() => globalThis.foreshore?.engine.fitOf('phone'));
    expect(await fit()).toBeCloseTo(1170 / 1920, 9);
    await page.waitForSelector('aria/Fit to another screen');
    await page.click('aria/Fit to another screen');
    const option = await page.waitForSelector('aria/By the height[role="option"]', { visible: true });
    await option?.evaluate((el) => (el as HTMLElement).click());
    await page.waitForFunction((before) => globalThis.foreshore?.engine.fitOf('phone') !== before, { polling: 50 }, 1170 / 1920);
    expect(await fit()).toBeCloseTo(2532 / 1080, 9);
    await press(page, 'Undo: Change the HUD');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ viewer: 'desk', rail: 'content' }));
  });

  it('is put inside a group, and laid out by it', async () => {
    const { page } = session;
    const tray = await place('Row', 0.2, 0.2);
    const spot = async () => {
      const [x = 0, y = 0, w = 0, h = 0] = await rectOf(tray);
      return [(x + w / 2) / 1920, (y + h / 2) / 1080] as const;
    };
    const first = await place('Ring inside', ...(await spot()));
    const second = await place('Segments inside', ...(await spot()));
    expect((await element(first)).mount).toMatchObject({ kind: 'inside', group: tray });
    const [a, b] = [await rectOf(first), await rectOf(second)];
    expect((b[0] ?? 0) - (a[0] ?? 0) - (a[2] ?? 0)).toBeCloseTo(12, 6);
    // It has no feed to show: listed on the element and counted in the header.
    expect(await page.$eval('.rail .unfinished', (el) => el.textContent)).toContain('no source');
    expect(await page.$eval('.unfinished-count', (el) => el.textContent)).toMatch(/\d+ unfinished/);
  });
});

describe('Low Water', () => {
  const hold = (feed: string, value: number | string) =>
    session.page.evaluate((f, v) => globalThis.foreshore?.live.setState(({ held }) => ({ held: { ...held, [f]: v } })), feed, value);

  it('paints a gauge as full as its value says, at three viewers', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water', '?t=2');
    for (const [viewer, warmth] of [
      ['desk', 80],
      ['desk', 15],
      ['handheld', 50],
      ['phone', 65],
    ] as const) {
      await hold('warmth', warmth);
      const share = await page.evaluate((v) => {
        const { engine, project } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        const { widthPx = 0, heightPx = 0 } = project.getState().document?.viewers[v] ?? {};
        const pose = engine.pose();
        const rect = engine.solveAt(v, pose, 2).find((e) => e.id === 'warmth-bar')?.rect ?? [];
        const [x = 0, y = 0, w = 0, h = 0] = rect;
        const context = engine.snapshot(v, pose, widthPx, heightPx)?.getContext('2d') as OffscreenCanvasRenderingContext2D;
        // Along the middle of the bar, inside its border: the track is nearly black, the fill is not.
        const from = Math.ceil(x + 3);
        const { data } = context.getImageData(from, Math.round(y + h / 2), Math.floor(w - 6), 1);
        let filled = 0;
        for (let k = 0; k < data.length; k += 4)
          if (Math.max(data[k] as number, data[k + 1] as number, data[k + 2] as number) > 100) filled++;
        return { share: (from - x + filled) / w, pixel: 1 / w };
      }, viewer);
      expect(Math.abs(share.share - warmth / 100)).toBeLessThan(1.5 * share.pixel);
    }
  });

  it('changes with the phase: in the picture, in the chain, and back by the route', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water', '?t=2&sel=vitals');
    expect(await shownAt('pause-card')).toBe(false);
    await choose(page, 'Phase', 'stranded');
    expect(await shownAt('stranded-title')).toBe(true);
    expect(await shownAt('warmth-bar')).toBe(false);
    await page.waitForSelector('[data-step="phase"][data-state="no"]');
    expect(await page.$eval('[data-step="phase"]', (el) => el.textContent)).toContain('hidden in Stranded');
    await choose(page, 'Phase', 'paused');
    expect(await shownAt('pause-card')).toBe(true);
    // A route with a phase of its own: cinematic from its first second.
    await page.evaluate(() => globalThis.foreshore?.live.setState({ phase: null }));
    await choose(page, 'Route', 'over-the-flats');
    await page.waitForFunction(() => globalThis.foreshore?.engine.phase() === 'cinematic', { polling: 50 });
    await page.waitForSelector('[data-step="phase"][data-state="no"]');
  });
});

describe('trying Low Water', () => {
  const middle = async (id: string) => {
    const [x = 0, y = 0, w = 0, h = 0] = await rectOf(id);
    return inPicture(session.page, (x + w / 2) / 1920, (y + h / 2) / 1080);
  };
  const live = () =>
    session.page.evaluate(() => {
      const { engine, live: store } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const what = store.getState().log[0]?.what;
      return { phase: engine.phase(), did: what?.kind === 'sent' ? what.did : [], warmth: store.getState().held.warmth };
    });
  const bench = () => session.page.evaluate(() => globalThis.foreshore?.bench.getState());

  it('points, presses and lets go: the button answers with its text, sends its action, and the phase changes', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water', '?t=2');
    await press(page, 'Try');
    const button = await middle('pause-button');
    await page.mouse.move(button.x, button.y);
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().pointed === 'pause-button', { polling: 50 });
    // Pressed there and let go elsewhere, nothing is sent.
    await page.mouse.down();
    expect((await bench())?.pressed).toBe('pause-button');
    await page.mouse.move(button.x + 300, button.y + 60);
    await page.mouse.up();
    expect((await live()).did).toEqual([]);
    await page.mouse.click(button.x, button.y);
    await page.waitForFunction(() => globalThis.foreshore?.engine.phase() === 'paused', { polling: 50 });
    expect((await live()).did).toEqual([{ kind: 'phase', phase: 'paused' }]);
    await page.waitForSelector('.live-list b');

    // The text lies over its button and passes the pointer on; the button's plate and its text both answer.
    const choice = await middle('carry-on-text');
    const colourAt = (x: number, y: number) =>
      page.evaluate(
        (px, py) => {
          const canvas = document.querySelector('.picture canvas') as HTMLCanvasElement;
          const box = canvas.getBoundingClientRect();
          const at = [((px - box.left) / box.width) * canvas.width, ((py - box.top) / box.height) * canvas.height] as const;
          return [...(canvas.getContext('2d')?.getImageData(Math.round(at[0]), Math.round(at[1]), 1, 1).data ?? [])];
        },
        x,
        y,
      );
    const [left = 0, top = 0, , high = 0] = await rectOf('carry-on');
    const plate = await inPicture(page, (left + 14) / 1920, (top + high / 2) / 1080);
    await page.mouse.move(choice.x, choice.y);
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().pointed === 'carry-on', { polling: 50 });
    // #1B6E83: the look while the pointer is on it.
    await page.waitForFunction(() => (globalThis.foreshore?.engine.frameOf('desk')?.f.pointedRow ?? -1) >= 0, { polling: 50 });
    // It takes its time over the change, then stands.
    await settled(page);
    const [r = 0, g = 0, b = 0] = await colourAt(plate.x, plate.y);
    expect(Math.abs(r - 0x1b) + Math.abs(g - 0x6e) + Math.abs(b - 0x83)).toBeLessThan(12);
  });

  it('keeps what an element holds from the world, and stands still in a phase that has the input', async () => {
    const { page } = session;
    const pose = () => page.evaluate(() => globalThis.foreshore?.engine.pose());
    const before = await pose();
    const card = await middle('pause-title');
    await page.mouse.move(card.x, card.y);
    await page.mouse.down();
    await page.mouse.move(card.x + 120, card.y + 10);
    await page.mouse.up();
    expect(await pose()).toEqual(before);
    await page.focus('.picture');
    await page.keyboard.down('KeyW');
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done(null)))));
    await page.keyboard.up('KeyW');
    expect(await pose()).toEqual(before);
    // By the keys alone: to the choice, and use it.
    for (let k = 0; k < 6 && (await bench())?.pointed !== 'carry-on'; k++) await page.keyboard.press('Tab');
    expect((await bench())?.pointed).toBe('carry-on');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => globalThis.foreshore?.engine.phase() === 'roaming', { polling: 50 });
    // Where nothing is drawn, the pointer turns the view.
    const sky = await inPicture(page, 0.65, 0.25);
    await page.mouse.move(sky.x, sky.y);
    await page.mouse.down();
    await page.mouse.move(sky.x + 40, sky.y, { steps: 4 });
    await page.mouse.move(sky.x + 80, sky.y, { steps: 4 });
    await page.mouse.up();
    await page.waitForFunction((yaw) => globalThis.foreshore?.engine.pose().rotation[1] !== yaw, { polling: 50 }, before?.rotation[1] ?? 0);
    expect((await pose())?.rotation).not.toEqual(before?.rotation);
  });

  it('runs a chain of reactions and starts over', async () => {
    const { page } = session;
    // The stranded notice arrives step by step, and offers its choice only once it has.
    const sent = () => page.evaluate(() => globalThis.foreshore?.live.getState().log.length);
    const before = await sent();
    await page.evaluate(() => {
      globalThis.foreshore?.live.setState({ phase: 'stranded' });
      globalThis.foreshore?.engine.trying.use('ebb');
    });
    expect(await sent()).toBe(before);
    await settled(page);
    const choice = await middle('ebb-text');
    await page.mouse.click(choice.x, choice.y);
    await page.waitForFunction(() => globalThis.foreshore?.engine.phase() === 'roaming', { polling: 50 });
    expect(await live()).toEqual({
      phase: 'roaming',
      did: [
        { kind: 'set', feed: 'warmth', value: 60 },
        { kind: 'set', feed: 'clockS', value: 240 },
        { kind: 'phase', phase: 'roaming' },
      ],
      warmth: 60,
    });
    await press(page, 'Start over');
    expect((await live()).warmth).toBeUndefined();
  });
});

describe('extremes', () => {
  it('show every feed at its ends and list what then leaves its place, viewer by viewer', async () => {
    const { page } = session;
    await openBench(page, address, await createProject(address, { from: 'demo' }), '?t=2&sel=objective-text');
    await press(page, 'Extremes');
    await page.waitForSelector('.extremes[data-found="0"]');
    expect(await page.evaluate(() => globalThis.foreshore?.live.getState().held.warmth)).toBe(100);
    await press(page, 'Done');
    expect(await page.evaluate(() => globalThis.foreshore?.live.getState().held)).toEqual({});
    // A far too large objective: its longest text runs into its neighbours, on the narrow phone above all.
    await page.click('[data-step="size"]');
    const field = await page.waitForSelector('aria/Text size[role="textbox"]');
    await field?.click({ clickCount: 3 });
    await page.keyboard.type('110');
    await page.keyboard.press('Enter');
    await saved(page, 1);
    await press(page, 'Extremes');
    await page.waitForSelector('.extremes:not([data-found="0"])');
    const rows = await page.$$eval('.extremes li', (all) => all.map((li) => li.textContent ?? ''));
    expect(rows.some((row) => /runs into Objective.*Phone, English, all greatest/.test(row))).toBe(true);
    // All least is the shortest objective at the same size: less goes wrong.
    expect(rows.filter((row) => row.includes('all least')).length).toBeLessThanOrEqual(
      rows.filter((row) => row.includes('all greatest')).length,
    );
    await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('.extremes li')]
        .find((li) => li.textContent?.includes('Phone'))
        ?.querySelector('button')
        ?.click(),
    );
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().viewer === 'phone', { polling: 50 });
    expect(await page.evaluate(() => globalThis.foreshore?.bench.getState().selection)).toMatch(/objective|tide|samples/);
    await press(page, 'Done');
  });
});

describe('the order', () => {
  it('shows nesting from the front to the back, folds, and moves one among its neighbours by keys', async () => {
    const { page } = session;
    await openBench(page, address, await createProject(address, { from: 'demo' }), '?t=2');
    await press(page, 'Order');
    const names = () => page.$$eval('.order-row', (all) => all.map((row) => row.getAttribute('data-order')));
    expect((await names()).indexOf('tide-value')).toBeGreaterThan((await names()).indexOf('tide'));
    await press(page, 'Fold Tide');
    expect(await names()).not.toContain('tide-value');
    await press(page, 'Unfold Tide');
    const before = await names();
    await page.click('[data-order="tide-stages"] .order-name');
    await page.keyboard.down('Alt');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.up('Alt');
    // Stages and words change places in the row, which is listed from its start; what is inside of the words goes along.
    const after = await names();
    expect(after.indexOf('tide-words')).toBe(before.indexOf('tide-stages'));
    const rects = [await rectOf('tide-words'), await rectOf('tide-stages')];
    expect(rects[0]?.[0] ?? 0).toBeLessThan(rects[1]?.[0] ?? 0);
    await press(page, 'Undo: Move towards the end');
    await expect.poll(names).toEqual(before);
  });
});

describe('the Feeds view', () => {
  it('shows what feeds are worth, holds one, and the bench shows it; a feed that is removed is left unfinished, not in the way', async () => {
    const { page } = session;
    const exported = new Uint8Array(await (await fetch(new URL('/api/projects/low-water/export', address))).arrayBuffer());
    const copy = (await (
      await fetch(new URL('/api/projects/import', address), {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream' },
        body: exported,
      })
    ).json()) as { id: string };
    await openBench(page, address, copy.id, '?t=2');
    await press(page, 'Feeds');
    await page.waitForSelector('[data-feed="warmth"] output');
    const worth = (feed: string) => page.$eval(`[data-feed="${feed}"] output`, (el) => el.textContent);
    expect(await worth('warmth')).toBe('92');
    // A quarter of 90 s of falling from 1 to 0.1 would be 0.775; after 2 s it is 1 − 0.9·2/90.
    expect(Number(await worth('lamp'))).toBeCloseTo(0.98, 6);
    await page.focus('aria/Hold Warmth at');
    await page.keyboard.press('Home');
    await page.waitForFunction(() => document.querySelector('[data-feed="warmth"] output')?.textContent === '0', { polling: 50 });
    await press(page, 'Bench');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().info, { polling: 50 });
    expect(await shownAt('cold')).toBe(true);
    await press(page, 'Feeds');
    await page.waitForSelector('aria/Remove Warmth');
    await press(page, 'Remove Warmth');
    await page.waitForSelector('.unfinished-count');
    await press(page, 'Bench');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().info, { polling: 50 });
    expect(await element('warmth-bar')).toMatchObject({ source: null });
    await page.keyboard.down('Control');
    await page.keyboard.press('KeyZ');
    await page.keyboard.up('Control');
    expect(await element('warmth-bar')).toMatchObject({ source: 'warmth' });
    expect(session.errors).toEqual([]);
  });
});
