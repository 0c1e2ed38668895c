/** Markers at the edge of the frame: placed, turned away from, walked back into view, set and undone, in the running bench. */
import { makeDocument } from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { lookingPose } from '../packages/core/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { importProject, inPicture, openBench, openBrowser, press, type Session, settled } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session?.close());

describe('an edge marker', () => {
  it('is placed, stands at the edge while its anchor is out of view, and is the label again in view', async () => {
    const { page } = session;
    const level = newLevel();
    addBox(level, 'Yard', 15, [0, -15, 0]);
    addBox(level, 'Mast', 0.5, [0, 1.6, -6]);
    const document = makeDocument('Edges');
    document.level = { file: 'yard.glb', hash: null, metresPerUnit: 1, upAxis: 'y' };
    document.opening = { timeS: 0, pose: lookingPose([0, 1.65, 0], 0, 0) };
    await openBench(page, address, await importProject(address, document, await toBinary(level)), '');
    await press(page, 'Place');
    const spot = await inPicture(page, 0.5, 0.5);
    await page.mouse.move(spot.x, spot.y);
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().hover?.node === 'Mast', { polling: 50 });
    await page.mouse.click(spot.x, spot.y);
    await press(page, 'Edge marker');
    await page.waitForSelector('.typing textarea');
    await page.keyboard.type('Mast');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection === 'mast', { polling: 50 });
    await press(page, 'Look');
    await settled(page);
    const view = () => page.$eval('[data-step="view"]', (el) => [el.getAttribute('data-state'), el.getAttribute('title') ?? '']);
    const box = () => page.evaluate(() => globalThis.foreshore?.engine.places.boxOf('mast') ?? null);
    const arrows = () =>
      page.evaluate(() => globalThis.foreshore?.engine.drawnOf('mast').filter(({ kind }) => kind === 'shape').length ?? 0);
    const turn = async (yawDeg: number) => {
      await page.evaluate((pose) => globalThis.foreshore?.bench.setState({ pose }), lookingPose([0, 1.65, 0], yawDeg, 0));
      await settled(page);
    };
    expect((await view())[1]).toMatch(/5\.\d+ m ahead/);
    expect(await arrows()).toBe(0);
    const { widthPx, insetPx } = await page.evaluate(() => {
      const solver = globalThis.foreshore?.engine.frameOf('desk');
      return { widthPx: solver?.a.projection.widthPx ?? 0, insetPx: 56 * (solver?.a.fit ?? 0) };
    });
    // Turned to the left, it is out of view to the right; behind, whichever side is the shorter way.
    for (const [yawDeg, side] of [
      [100, 'right'],
      [-100, 'left'],
      [-170, 'left'],
    ] as const) {
      await turn(yawDeg);
      const [state, title] = await view();
      expect(state).toBe('yes');
      expect(title).toMatch(new RegExp(`at the edge of the frame: \\d+ deg to the ${side}`));
      const at = await box();
      if (side === 'right') expect(at?.right).toBeCloseTo(widthPx - insetPx, 3);
      else expect(at?.left).toBeGreaterThanOrEqual(insetPx - 0.001);
      expect(await arrows()).toBe(2);
      expect(await page.evaluate(() => globalThis.foreshore?.bench.getState().info?.selectionShown)).toBe(true);
    }
    // Its inset is set in Place, and undone.
    await turn(100);
    await page.click('[data-step="place"]');
    const field = await page.waitForSelector('aria/Inset, right');
    await field?.click({ count: 3 });
    await page.keyboard.type('200');
    await page.keyboard.press('Enter');
    await settled(page);
    expect((await box())?.right).toBeCloseTo(widthPx - (200 * insetPx) / 56, 3);
    await press(page, 'Undo: Change Place');
    await settled(page);
    expect((await box())?.right).toBeCloseTo(widthPx - insetPx, 3);
    // Or dragged in the picture, by the handle on its side.
    const handle = await page.waitForSelector('[data-handle="edge 2"]');
    const from = await handle?.boundingBox();
    if (!from) throw new Error('no handle');
    const [fromX, fromY] = [from.x + from.width / 2, from.y + from.height / 2];
    await page.mouse.move(fromX, fromY);
    await page.mouse.down();
    await page.mouse.move(fromX - 30, fromY, { steps: 4 });
    await page.mouse.up();
    await settled(page);
    const pageWidth = await page.$eval('.picture', (el) => el.getBoundingClientRect().width);
    expect((await box())?.right).toBeCloseTo(widthPx - insetPx - (30 * widthPx) / pageWidth, -1);
    await press(page, 'Undo: Move an edge');
    await settled(page);
    expect((await box())?.right).toBeCloseTo(widthPx - insetPx, 3);
    // Without it, what is out of view is not shown.
    await page.locator('aria/At the edge of the frame while its anchor is out of view').click();
    await settled(page);
    expect((await view())[0]).toBe('no');
    await turn(0);
    expect((await view())[0]).toBe('yes');
  });
});
