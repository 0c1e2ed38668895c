/** The plan: what stands where, routes dragged, the readable area. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { createProject, openBrowser, press, type Session, saved } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session.close());

async function openPlan(id: string, query = ''): Promise<void> {
  await session.page.goto(new URL(`/p/${id}/plan${query}`, address).href);
  await session.page.waitForSelector('[data-plan="ready"]');
}
const pose = (timeS: number) =>
  session.page.evaluate(
    (t) => globalThis.foreshore?.project.getState().document?.routes['out-to-the-lamp']?.poses.find((p) => p.timeS === t),
    timeS,
  );

async function drag(selector: string, dx: number, dy: number): Promise<void> {
  const { page } = session;
  const found = await page.waitForSelector(selector);
  const { x, y, width, height } = (await found?.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
  await page.mouse.move(x + width / 2, y + height / 2);
  await page.mouse.down();
  await page.mouse.move(x + width / 2 + dx / 2, y + height / 2 + dy / 2);
  await page.mouse.move(x + width / 2 + dx, y + height / 2 + dy);
  await page.mouse.up();
}

describe('the plan', () => {
  it('drags a point of the route and where it looks; each is one entry for undo', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openPlan(id, '?t=9');
    const [before, far] = [await pose(20), await pose(10)];
    // How many pixels of the page a metre takes, from the scale that is drawn.
    const perMetre = await page.$eval('.plan-scale', (el) => el.getBoundingClientRect().width / Number.parseFloat(el.textContent ?? '1'));
    await drag('[data-handle-time="20"] [data-drag="move"]', 0, 3 * perMetre);
    const after = await pose(20);
    expect((after?.position[2] ?? 0) - (before?.position[2] ?? 0)).toBeCloseTo(3, 1);
    // What is farther off in time stays.
    expect(far).toBeDefined();
    expect(await pose(10)).toEqual(far);
    await saved(page, 1);
    await press(page, 'Undo: Move a route');
    expect(await pose(20)).toEqual(before);
    await drag('[data-handle-time="20"] [data-drag="turn"]', 0, -30);
    expect((await pose(20))?.rotation).not.toEqual(before?.rotation);
    expect((await pose(20))?.position).toEqual(before?.position);
    await press(page, 'Undo: Turn a route');
    const takes = await page.waitForSelector('aria/Takes[role="textbox"]');
    await takes?.click({ clickCount: 3 });
    await page.keyboard.type('80');
    await page.keyboard.press('Tab');
    await page.waitForFunction(
      () => globalThis.foreshore?.project.getState().document?.routes['out-to-the-lamp']?.poses.at(-1)?.timeS === 80,
      { polling: 50 },
    );
    // It is named, and removed: the bench goes on with another, and opens without it.
    const name = await page.waitForSelector('aria/Name of the route[role="textbox"]');
    await name?.click({ clickCount: 3 });
    await page.keyboard.type('Out at dusk');
    await page.keyboard.press('Tab');
    await press(page, 'Remove the route');
    const routes = () =>
      page.evaluate(() => {
        const { project, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        const { document } = project.getState();
        return {
          names: Object.values(document?.routes ?? {}).map((r) => r.name),
          opens: document?.opening?.route,
          on: bench.getState().route,
        };
      });
    expect(await routes()).toEqual({
      names: ['Down the slipway', 'Into the pump house', 'With the scope', 'Over the flats'],
      opens: undefined,
      on: 'down-the-slipway',
    });
    await press(page, 'Undo: Remove Out at dusk');
    expect(await routes()).toMatchObject({ names: expect.arrayContaining(['Out at dusk']), opens: 'out-to-the-lamp' });
    await saved(page);
  });

  it('drags how far a zone and a range reach, each along its own way; each is one entry for undo', async () => {
    const { page } = session;
    await openPlan(await createProject(address, { from: 'demo' }), '?t=8&sel=prompt-door');
    await press(page, 'The selection, with its zone and range');
    const perMetre = await page.$eval('.plan-scale', (el) => el.getBoundingClientRect().width / Number.parseFloat(el.textContent ?? '1'));
    expect(perMetre).toBeGreaterThan(60);
    const now = () =>
      page.evaluate(() => {
        const d = globalThis.foreshore?.project.getState().document;
        const zone = d?.anchors['door-handle']?.zone;
        return { size: zone?.kind === 'box' ? zone.sizeM : [], range: d?.elements['prompt-door']?.range };
      });
    const before = await now();
    // Of the box one side, and no other: it is turned by some 7 degrees from the sheet.
    await drag('[data-reach="zone x"]', 0.5 * perMetre, 0);
    const wider = await now();
    expect((wider.size[0] ?? 0) - (before.size[0] ?? 0)).toBeCloseTo(2 * 0.5, 1);
    expect(wider.size.slice(1)).toEqual(before.size.slice(1));
    await press(page, 'Undo: Change how far it reaches');
    expect(await now()).toEqual(before);
    // Coming in farther off pushes going out along.
    await drag('[data-reach="enter"]', -perMetre, 0);
    const farther = (await now()).range;
    expect((farther?.enterM ?? 0) - (before.range?.enterM ?? 0)).toBeCloseTo(1, 1);
    expect((farther?.leaveM ?? 0) - (before.range?.leaveM ?? 0)).toBeCloseTo(1, 1);
    await press(page, 'Undo: Change how far it reaches');
    // Going out is never nearer than coming in.
    await drag('[data-reach="leave"]', 0, 9 * perMetre);
    expect((await now()).range).toMatchObject({ enterM: before.range?.enterM, leaveM: before.range?.enterM });
    await press(page, 'Undo: Change how far it reaches');
    expect(await now()).toEqual(before);
    await saved(page);
  });

  it('shows zones and ranges, selects by a click, and draws the readable area with its share', async () => {
    const { page } = session;
    await openPlan('low-water', '?t=9');
    for (const n of [1, 2, 3]) expect(await page.$(`[data-zone="prompt-wheel@Sluice ${n} wheel"]`)).not.toBeNull();
    expect(await page.$('[data-wedge]')).not.toBeNull();
    await (await page.waitForSelector('[data-element="dinghy"] circle'))?.click();
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection === 'dinghy', { polling: 50 });
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'tide-board', area: 'viewer' }));
    for (const level of [30, 22, 16]) await page.waitForSelector(`[data-contour="${level}"]`);
    const says = await page.waitForFunction(
      () => [...document.querySelectorAll('.plan-side .hint')].map((el) => el.textContent).find((t) => t?.startsWith('Read from')),
      { polling: 50 },
    );
    expect(await says.jsonValue()).toMatch(/^Read from \d+(\.\d)? % of the ground about it, \d+ square metres\.$/);
    // The level is drawn beneath: the sheet is not one colour.
    const colours = await page.$eval('.plan-sheet canvas', (el) => {
      const canvas = el as HTMLCanvasElement;
      const { data } = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height) ?? { data: new Uint8ClampedArray() };
      const seen = new Set<string>();
      for (let k = 0; k < data.length; k += 4 * 997) seen.add(`${data[k]} ${data[k + 1]} ${data[k + 2]}`);
      return seen.size;
    });
    expect(colours).toBeGreaterThan(50);
    await page.focus('.plan-sheet');
    await page.keyboard.press('+');
    await page.keyboard.press('ArrowRight');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ area: 'off' }));
  });

  it('draws the ground that no route comes near, and has a route made over it', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openPlan(id);
    await press(page, 'Ground that no route comes near[role="combobox"]');
    const option = await page.waitForSelector('aria/drawn[role="option"]', { visible: true });
    await option?.evaluate((el) => (el as HTMLElement).click());
    await page.waitForSelector('[data-ground="unreached"] path');
    const share = () => page.$eval('.plan-ground', (el) => Number(/within 5 m of (\d+) %/.exec(el.textContent ?? '')?.[1] ?? Number.NaN));
    await expect.poll(share, { timeout: 30_000 }).toBeGreaterThan(0);
    const before = await share();
    await press(page, 'Make a route over more of the ground');
    await expect.poll(share, { timeout: 30_000 }).toBeGreaterThan(before);
    await saved(page, 1);
    expect(session.errors).toEqual([]);
  });
});

describe('the level’s colours', () => {
  it('reckoned along rays are those that are rendered: the median differs by at most 3 of 255', async () => {
    const { page } = session;
    await page.goto(new URL('/p/low-water/bench?t=0', address).href);
    await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
    const differences = await page.evaluate(() => {
      const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const out: number[] = [];
      const [w, h] = [480, 270];
      for (const timeS of [2, 9, 17, 30]) {
        bench.setState({ timeS });
        const pose = engine.pose();
        const canvas = engine.snapshot('desk', pose, w, h, false);
        const { data } = canvas?.getContext('2d')?.getImageData(0, 0, w, h) ?? { data: new Uint8ClampedArray() };
        for (let k = 0; k < 400; k++) {
          const [x, y] = [(k * 71) % w, (k * 37) % h];
          const colour = engine.places.colourAt((x + 0.5) / w, (y + 0.5) / h);
          const at = (y * w + x) * 4;
          out.push(Math.max(...colour.map((v, i) => Math.abs(v - (data[at + i] ?? 0)))));
        }
      }
      return out.sort((a, b) => a - b);
    });
    expect(differences).toHaveLength(1600);
    expect(differences[800]).toBeLessThanOrEqual(3);
  });
});
