/** By hand in the picture: dragging an anchor over surfaces and a label's offset; recording a walk. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { createProject, inPicture, openBench, openBrowser, placeLabel, press, type Session, saved, settled } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session.close());

const at = async (id: string) => {
  await settled(session.page);
  return session.page.evaluate((wanted) => {
    const { engine, project, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
    return {
      place: engine.anchorPlace(wanted),
      offset: project.getState().document?.elements[wanted]?.place.offsetPx,
      point: bench.getState().info?.point,
      rect: bench.getState().info?.rect,
    };
  }, id);
};

async function drag(from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  const { mouse } = session.page;
  await mouse.move(from.x, from.y);
  await mouse.down();
  await mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2);
  await mouse.move(to.x, to.y);
  await mouse.up();
}

describe('the selected label', () => {
  it('is moved by its body, its anchor by the handle over the ground; each is one entry for undo', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'By hand' });
    await openBench(page, address, id);
    const label = await placeLabel(page, 0.5, 0.75, 'Mooring');
    const before = await at(label);
    const [px = 0, py = 0] = before.point ?? [];
    const [rx = 0, ry = 0, rw = 0, rh = 0] = before.rect ?? [];
    const on = (x: number, y: number) => inPicture(page, x / 1920, y / 1080);

    await drag(await on(rx + rw / 2, ry + rh / 2), await on(rx + rw / 2 + 200, ry + rh / 2 - 100));
    const moved = await at(label);
    expect(moved.place).toEqual(before.place);
    // As many design pixels as viewer pixels at this screen; the pointer's own pixels are coarser.
    expect(Math.abs((moved.offset?.[0] ?? 0) - (before.offset?.[0] ?? 0) - 200)).toBeLessThan(4);
    expect(Math.abs((moved.offset?.[1] ?? 0) - (before.offset?.[1] ?? 0) + 100)).toBeLessThan(4);

    await drag(await on(px, py), await on(px - 400, py + 100));
    const again = await at(label);
    expect(again.offset).toEqual(moved.offset);
    expect(again.place?.[1]).toBeCloseTo(0, 6);
    expect(Math.abs((again.point?.[0] ?? 0) - (px - 400))).toBeLessThan(4);

    await press(page, 'Undo: Move an anchor');
    expect((await at(label)).place).toEqual(before.place);
    await press(page, 'Undo: Move an element');
    expect((await at(label)).offset).toEqual(before.offset);
    await saved(page);
  });
});

describe('a bar on the glass', () => {
  it('is resized by any of its edges, the opposite one standing still', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Sizes' });
    await openBench(page, address, id);
    await press(page, 'Place');
    const spot = await inPicture(page, 0.4, 0.4);
    await page.mouse.click(spot.x, spot.y);
    await page.waitForSelector('.palette');
    await press(page, 'Bar');
    await page.waitForSelector('[data-handle="size -1 0"]');
    const box = async () => {
      await settled(page);
      return page.evaluate(() => {
        const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        return engine.places.boxOf(bench.getState().selection ?? '');
      });
    };
    const pull = async (handle: string, dx: number, dy: number) => {
      const grip = await page.$(`[data-handle="${handle}"]`);
      const { x, y, width, height } = (await grip?.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
      const scale = await page.evaluate(() => 1920 / (document.querySelector('.picture')?.clientWidth ?? 1));
      const from = { x: x + width / 2, y: y + height / 2 };
      await drag(from, { x: from.x + dx / scale, y: from.y + dy / scale });
    };
    const before = await box();
    await pull('size -1 0', -120, 40);
    const wider = await box();
    // The pointer's own pixels are coarser than the viewer's.
    expect(Math.abs((before?.left ?? 0) - (wider?.left ?? 0) - 120)).toBeLessThan(4);
    expect(wider?.right).toBeCloseTo(before?.right ?? 0, 1);
    expect([wider?.top, wider?.bottom]).toEqual([before?.top, before?.bottom]);
    // A thin bar has no room for handles at its corners.
    expect(await page.$('[data-handle="size 1 -1"]')).toBeNull();
    await pull('size 1 0', 60, 0);
    const longer = await box();
    expect(Math.abs((longer?.right ?? 0) - (wider?.right ?? 0) - 60)).toBeLessThan(4);
    expect(longer?.left).toBeCloseTo(wider?.left ?? 0, 1);
    await press(page, 'Undo: Resize');
    expect(await box()).toEqual(wider);
    await saved(page);
  });
});

describe('one label', () => {
  it('is put on all forty stakes by a pattern, and back by undo', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=2');
    const rows = () =>
      page.evaluate(() => {
        const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        return engine.solveAt('desk', engine.pose(), bench.getState().timeS).filter((e) => e.id.startsWith('notice')).length;
      });
    expect(await rows()).toBe(1);
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'notice', openStep: 'attach' }));
    // The rail is laid out anew for the step: where the field is on the page is not settled, what it is is.
    const kind = await page.waitForSelector('aria/Kind', { visible: true });
    await kind?.evaluate((el) => (el as HTMLElement).click());
    const option = await page.waitForSelector('aria/Every node that matches[role="option"]', { visible: true });
    // The list is still unfolding: where it is on the page is not settled, what it is is.
    await option?.evaluate((el) => (el as HTMLElement).click());
    await page.waitForSelector('[data-matches="1"]');
    const pattern = await page.waitForSelector('aria/Nodes called (* any characters, ? one)');
    await pattern?.click({ clickCount: 3 });
    await page.keyboard.type('stake *');
    await page.keyboard.press('Tab');
    await page.waitForSelector('[data-matches="40"]');
    expect(await page.$eval('[data-matches="40"]', (el) => el.textContent)).toContain('{heightM}');
    expect(await rows()).toBe(40);
    await press(page, 'Undo: Change the pattern');
    await press(page, 'Undo: Change the anchor');
    expect(await rows()).toBe(1);
    await saved(page);
  });
});

describe('recording', () => {
  it('keeps the walk as a route that can be replayed', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Walked' });
    await openBench(page, address, id);
    const start = await page.evaluate(() => globalThis.foreshore?.engine.pose());
    await press(page, 'Record');
    await page.keyboard.down('KeyW');
    await page.waitForFunction(
      (z) => Math.abs((globalThis.foreshore?.engine.pose().position[2] ?? z) - z) > 1,
      { polling: 50 },
      start?.position[2] ?? 0,
    );
    await page.keyboard.up('KeyW');
    await press(page, 'Stop');
    await saved(page, 1);
    const route = await page.evaluate(() => Object.values(globalThis.foreshore?.project.getState().document?.routes ?? {})[0]);
    expect(route?.poses.length).toBeGreaterThan(1);
    expect(route?.poses[0]?.timeS).toBe(0);
    expect(route?.poses[0]?.position[2]).toBeCloseTo(start?.position[2] ?? 0, 0);
    await page.focus('.ruler');
    await page.keyboard.press('End');
    const end = await page.evaluate(() => globalThis.foreshore?.engine.pose());
    expect(end?.position).toEqual(route?.poses.at(-1)?.position);
  });
});
