/**
 * One step beside the demo: what was once untrue, lost, or left a first-time user stuck. Each is driven in a project of its own.
 */

import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Document } from '@foreshore/document';
import type { ElementHandle } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { createProject, inPicture, openBench, openBrowser, placeLabel, press, type Session, saved, sendLevel, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let folder: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'foreshore-faults-'));
  session = await openBrowser();
});
afterAll(async () => {
  await session?.close();
  rmSync(folder, { recursive: true, force: true });
});

/** A quay with a crate on it, each at its place; sizes are half a side, metres. */
async function quay(crate: [number, number, number] | null = [0, 0.5, -6]): Promise<Uint8Array> {
  const level = newLevel();
  addBox(level, 'Quay', 15, [0, -15, 0]);
  if (crate) addBox(level, 'Crate', 0.5, crate);
  addBox(level, 'Shed', 2, [6, 2, -9]);
  return toBinary(level);
}
async function ownLevel(name: string): Promise<string> {
  const { hash, file } = await sendLevel(address, `${name}.glb`, await quay());
  return createProject(address, { from: 'level', name, level: { hash, file, metresPerUnit: 1, upAxis: 'y' } });
}
const documentNow = () => session.page.evaluate(() => globalThis.foreshore?.project.getState().document as Document);
const stateOf = (step: string) => session.page.$eval(`[data-step="${step}"]`, (el) => el.getAttribute('data-state'));
const select = (id: string) =>
  session.page.evaluate((one) => globalThis.foreshore?.bench.setState({ selection: one, openStep: null, rail: 'content' }), id);
/** Places something by the palette at a share of the picture; gives its id. */
const place = async (what: string, u: number, v: number): Promise<string> => {
  const { page } = session;
  const before = Object.keys((await documentNow()).elements);
  await press(page, 'Place');
  const spot = await inPicture(page, u, v);
  await page.mouse.move(spot.x, spot.y);
  await page.mouse.click(spot.x, spot.y);
  await page.waitForSelector('.palette');
  await press(page, what);
  await page.waitForFunction(
    (was) => Object.keys(globalThis.foreshore?.project.getState().document?.elements ?? {}).length > was,
    { polling: 50 },
    before.length,
  );
  await press(page, 'Look');
  await settled(page);
  return Object.keys((await documentNow()).elements).find((id) => !before.includes(id)) as string;
};

describe('feeds', () => {
  it('a second one of a kind has an id that texts can name', async () => {
    const { page } = session;
    const id = await ownLevel('Second feed');
    await page.goto(new URL(`/p/${id}/feeds`, address).href);
    for (let k = 0; k < 2; k++) {
      await press(page, 'Feed');
      const item = await page.waitForSelector('aria/Number[role="menuitem"]', { visible: true });
      await item?.evaluate((el) => (el as HTMLElement).click());
      await page.waitForFunction((n) => document.querySelectorAll('[data-feed]').length === n, { polling: 50 }, k + 1);
    }
    const ids = await page.$$eval('[data-feed]', (all) => all.map((row) => row.getAttribute('data-feed')));
    expect(ids).toEqual(['number', 'number2']);
    // A text that names one of them by the menu.
    await openBench(page, address, id, '?t=0');
    const text = await place('Text', 0.5, 0.1);
    await press(page, 'Insert value');
    await page.waitForSelector('[role="menuitem"]', { visible: true });
    const insert = await page.$$('[role="menuitem"]');
    expect(insert.length).toBe(2);
    await insert[1]?.evaluate((el) => (el as HTMLElement).click());
    await page.waitForFunction(
      (one) => /\{number2, number/.test(JSON.stringify(globalThis.foreshore?.project.getState().document?.elements[one])),
      { polling: 50 },
      text,
    );
    // How many decimals it is written with is chosen, not typed.
    await (await page.waitForSelector('.rail input[value="1"]', { visible: true }))?.click();
    const three = await page.waitForSelector('aria/3[role="option"]', { visible: true });
    await three?.evaluate((el) => (el as HTMLElement).click());
    await page.waitForFunction(
      (one) => /\{number2, number, ::\.000\}/.test(JSON.stringify(globalThis.foreshore?.project.getState().document?.elements[one])),
      { polling: 50 },
      text,
    );
    await settled(page);
    expect(await stateOf('paint')).toBe('yes');
    await saved(page);
  });
});

describe('undo', () => {
  it('goes by its keys on the plan and in the feeds, too', async () => {
    const { page } = session;
    const id = await ownLevel('Undo everywhere');
    await openBench(page, address, id);
    await place('Text', 0.5, 0.1);
    await saved(page, 1);
    // What stands only in the view that is come to: the keys of the one that is left are gone.
    for (const [view, there] of [
      ['plan', '[data-plan="ready"]'],
      ['feeds', '.feeds-time'],
    ] as const) {
      await page.click(`.views a[href*="/${view}"]`);
      await page.waitForFunction((v) => location.pathname.endsWith(v), { polling: 50 }, view);
      await page.waitForSelector(there);
      await page.keyboard.down('Control');
      await page.keyboard.press('KeyZ');
      await page.keyboard.up('Control');
      await page.waitForFunction(
        () =>
          Object.keys(globalThis.foreshore?.project.getState().document?.elements ?? { a: 1 }).length === 0 ||
          document.querySelector('[aria-label="Undo"]'),
        { polling: 50 },
      );
      await press(page, 'Redo: Place a text');
      await page.waitForSelector('[aria-label="Undo: Place a text"]');
    }
  });
});

describe('an own level', () => {
  it('opens on its ground, and the way back to a safe place is at hand', async () => {
    const { page } = session;
    const id = await ownLevel('Own level');
    await openBench(page, address, id, '');
    const pose = () => page.evaluate(() => globalThis.foreshore?.engine.pose().position as [number, number, number]);
    const at = await pose();
    expect(at[1]).toBeGreaterThan(1.6);
    expect(Math.max(Math.abs(at[0]), Math.abs(at[2]))).toBeLessThan(15);
    await page.evaluate(() =>
      globalThis.foreshore?.bench.setState({ pose: { position: [14.5, 1.65, 0], rotation: [0, -Math.SQRT1_2, 0, Math.SQRT1_2] } }),
    );
    await settled(page);
    await press(page, 'Back to a safe place');
    await settled(page);
    expect((await pose())[1]).toBeGreaterThan(1);
  });

  it('ties what is placed to the node under the pointer, which then never covers it; another kind of anchor keeps the place', async () => {
    const { page } = session;
    const id = await ownLevel('Tied');
    await openBench(page, address, id, '');
    await page.evaluate(() =>
      globalThis.foreshore?.bench.setState({ pose: { position: [0, 1.65, -2], rotation: [-0.1305, 0, 0, 0.9914] } }),
    );
    await settled(page);
    const label = await placeLabel(page, 0.5, 0.55, 'Crate');
    const d = await documentNow();
    const mount = d.elements[label]?.mount;
    const anchor = mount?.kind === 'floating' ? mount.anchor : '';
    expect(d.anchors[anchor]).toMatchObject({ kind: 'surface', node: 'Crate' });
    const world = () => page.evaluate((one) => globalThis.foreshore?.engine.anchorPlace(one), label);
    const before = (await world()) as number[];
    await page.click('[data-step="attach"]');
    await page.click('.rail input[value="Point on a surface"]');
    const node = await page.waitForSelector('aria/Node of the level with an offset[role="option"]', { visible: true });
    await node?.evaluate((el) => (el as HTMLElement).click());
    await page.waitForFunction(
      (one) => globalThis.foreshore?.project.getState().document?.anchors[one]?.kind === 'node',
      { polling: 50 },
      anchor,
    );
    await settled(page);
    expect((await documentNow()).anchors[anchor]).toMatchObject({ kind: 'node', node: 'Crate' });
    ((await world()) as number[]).forEach((v, k) => {
      expect(v).toBeCloseTo(before[k] as number, 3);
    });
  });

  it('is replaced: anchors follow the node, those whose node is gone are listed and relinked', async () => {
    const { page } = session;
    const id = await ownLevel('Replaced');
    await openBench(page, address, id, '');
    await page.evaluate(() =>
      globalThis.foreshore?.bench.setState({ pose: { position: [0, 1.65, -2], rotation: [-0.1305, 0, 0, 0.9914] } }),
    );
    await settled(page);
    const label = await placeLabel(page, 0.5, 0.55, 'Crate');
    await saved(page, 1);
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ rail: 'viewer', selection: null }));
    const bring = async (name: string, bytes: Uint8Array) => {
      const file = join(folder, name);
      writeFileSync(file, bytes);
      const input = await page.waitForSelector('input[aria-label="A file for the level"]');
      await (input as ElementHandle<HTMLInputElement>).uploadFile(file);
      await page.waitForFunction(
        (wanted) => globalThis.foreshore?.project.getState().document?.level?.file === wanted,
        { polling: 50 },
        name,
      );
      await page.waitForFunction((wanted) => globalThis.foreshore?.engine.document.level?.file === wanted, { polling: 50 }, name);
      await settled(page);
    };
    const world = () => page.evaluate((one) => globalThis.foreshore?.engine.anchorPlace(one), label);
    const before = (await world()) as number[];
    await bring('moved.glb', await quay([2, 0.5, -6]));
    const moved = (await world()) as number[];
    expect(moved[0]).toBeCloseTo((before[0] as number) + 2, 3);
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ rail: 'viewer', selection: null }));
    await bring('gone.glb', await quay(null));
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ rail: 'viewer', selection: null }));
    await page.waitForSelector('[data-lost="1"]');
    expect((await documentNow()).elements[label]).toBeDefined();
    await press(page, 'Relink to Quay');
    await page.waitForFunction(() => !document.querySelector('[data-lost]'), { polling: 50 });
    expect(await world()).not.toBeNull();
  });
});

describe('conditions', () => {
  it('that are new hide nothing: they hold at what their feed is worth now', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=2&sel=tide');
    await select('tide');
    await page.click('[data-step="phase"]');
    await press(page, 'Condition');
    await saved(page, 1);
    await settled(page);
    expect(await stateOf('phase')).toBe('yes');
  });
});

describe('would show', () => {
  it('of a member changes the group that really refuses, and then it shows', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=2');
    await select('carry-on-text');
    await page.waitForSelector('[data-offer]');
    const before = (await documentNow()).elements;
    // Through the offers to one that is a setting, if there is any; a state else.
    const kind = await page.$eval('[data-offer]', (el) => el.getAttribute('data-offer'));
    await page.click('.offer-take');
    await page.waitForFunction(() => document.querySelector('[data-step="phase"]')?.getAttribute('data-state') === 'yes', { polling: 50 });
    await settled(page);
    expect(await page.evaluate(() => globalThis.foreshore?.bench.getState().info?.selectionShown)).toBe(true);
    const after = (await documentNow()).elements;
    expect(after['carry-on-text']).toEqual(before['carry-on-text']);
    if (kind === 'setting') expect(after).not.toEqual(before);
  });
});

describe('what is unfinished', () => {
  it('is listed in every view, and a row leads to the thing', async () => {
    const { page } = session;
    const id = await ownLevel('Unfinished');
    await openBench(page, address, id);
    const ring = await place('Ring', 0.2, 0.2);
    await saved(page, 1);
    await page.click('.views a[href*="/feeds"]');
    await page.waitForFunction(() => location.pathname.endsWith('feeds'), { polling: 50 });
    await (await page.waitForSelector('.unfinished-count'))?.click();
    const row = await page.waitForSelector(`[data-unfinished="${ring}"]`, { visible: true });
    expect(await row?.evaluate((el) => el.textContent)).toContain('no source');
    await row?.evaluate((el) => (el as HTMLElement).click());
    await page.waitForFunction(
      (one) => location.pathname.endsWith('bench') && globalThis.foreshore?.bench.getState().selection === one,
      { polling: 50 },
      ring,
    );
  });
});
