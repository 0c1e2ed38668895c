/** Everything by keyboard, and nothing that axe-core finds serious, by day and by night. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { AxeResults } from 'axe-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { benchReady, checkedProject, createProject, openBench, openBrowser, press, type Session, saved } from './browser.ts';

const address = inject('address');
let checked: Promise<string> | undefined;
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session.close());

/** By night the page is the same but for its colours: only those are asked for again. */
async function serious(scheme: string): Promise<string[]> {
  const { page } = session;
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(axe);
  const only = scheme === 'night' ? ', runOnly: ["color-contrast"]' : '';
  const found = (await page.evaluate(`axe.run({ resultTypes: ["violations"]${only} })`)) as AxeResults;
  return found.violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)}`));
}

describe.each(['day', 'night'])('by %s', (scheme) => {
  beforeAll(async () => {
    await session.page.goto(address);
    await session.page.evaluate((dark) => localStorage.setItem('mantine-color-scheme-value', dark ? 'dark' : 'light'), scheme === 'night');
  });

  it('the shelf has nothing serious, its dialog neither', async () => {
    const { page } = session;
    await page.goto(address);
    await page.waitForSelector('.card');
    expect(await serious(scheme)).toEqual([]);
    await press(page, 'New project');
    await page.waitForSelector('aria/Name[role="textbox"]');
    await page.waitForFunction(() => document.getAnimations().every((a) => a.playState !== 'running'));
    expect(await serious(scheme)).toEqual([]);
  });

  it('the bench has nothing serious: nothing selected, an element selected, each step open, in each mode', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water');
    expect(await serious(scheme)).toEqual([]);
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'sluice-1-wheel' }));
    await page.waitForSelector('[data-step="attach"]');
    expect(await serious(scheme)).toEqual([]);
    for (const step of await page.$$eval('.link', (links) => links.map((l) => l.getAttribute('data-step')))) {
      await page.click(`[data-step="${step}"]`);
      await page.waitForSelector(`[data-step="${step}"][aria-expanded="true"]`);
      expect(await serious(scheme), step ?? '').toEqual([]);
    }
    await page.keyboard.press('Escape');
    await press(page, 'From outside');
    expect(await serious(scheme)).toEqual([]);
    await press(page, 'Try');
    expect(await serious(scheme)).toEqual([]);
    for (const id of ['warmth-bar', 'vitals', 'pause-button']) {
      await page.evaluate((selection) => globalThis.foreshore?.bench.setState({ selection, mode: 'look', openStep: null }), id);
      await page.waitForSelector('[data-step="phase"]');
      expect(await serious(scheme), id).toEqual([]);
      await page.click('[data-step="phase"]');
      expect(await serious(scheme), id).toEqual([]);
    }
  });

  it('a prompt has nothing serious in any of its steps, nor has the plan', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water', '?sel=prompt-wheel&t=3');
    await page.waitForSelector('.offer');
    // Those that the test before has not opened.
    for (const step of ['range', 'view', 'sightline', 'claim', 'readable']) {
      await page.click(`[data-step="${step}"]`);
      await page.waitForSelector(`[data-step="${step}"][aria-expanded="true"]`);
      expect(await serious(scheme), step).toEqual([]);
    }
    await page.goto(new URL('/p/low-water/plan?sel=tide-board', address).href);
    await page.waitForSelector('[data-plan="ready"]');
    expect(await serious(scheme)).toEqual([]);
  });

  it('the feeds have nothing serious', async () => {
    const { page } = session;
    await page.goto(new URL('/p/low-water/feeds', address).href);
    await page.waitForSelector('[data-feed="warmth"]');
    expect(await serious(scheme)).toEqual([]);
  });

  it('the checks have nothing serious, nor what is asked when a finding is accepted', async () => {
    const { page } = session;
    await page.goto(new URL(`/p/${await (checked ??= checkedProject(address))}/checks`, address).href);
    const accept = await page.waitForSelector('aria/Accept…');
    expect(await serious(scheme)).toEqual([]);
    await accept?.click();
    await page.waitForSelector('aria/Because');
    expect(await serious(scheme)).toEqual([]);
    await page.keyboard.press('Escape');
    await press(page, 'Side effects since a revision');
    await page.waitForSelector('aria/Since revision[role="combobox"]');
    await press(page, 'Variants: as recorded');
    await page.waitForSelector('[aria-label="Variants"]');
    expect(await serious(scheme)).toEqual([]);
    await press(page, 'Mend…');
    await page.waitForSelector('[data-mend]');
    expect(await serious(scheme)).toEqual([]);
  });

  it('the handoff has nothing serious', async () => {
    const { page } = session;
    await page.goto(new URL('/p/low-water/handoff', address).href);
    await page.waitForSelector('.copied');
    expect(await serious(scheme)).toEqual([]);
  });
});

describe('with the keyboard alone', () => {
  /** Presses Tab until the focus is on something of this accessible name. */
  async function tabTo(name: string): Promise<void> {
    for (let k = 0; k < 80; k++) {
      await session.page.keyboard.press('Tab');
      const here = await session.page.evaluate(() => {
        const el = document.activeElement;
        return `${el?.getAttribute('aria-label') ?? ''} ${el?.textContent ?? ''}`;
      });
      if (here.includes(name)) return;
    }
    throw new Error(`Tab never came to "${name}".`);
  }

  it('a project is opened, a label placed, moved, undone and deleted', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Sandbar keys' });
    await page.goto(address);
    await page.waitForSelector('.card');
    await tabTo('Open Sandbar keys');
    await page.keyboard.press('Enter');
    await benchReady(page);
    const count = () => page.evaluate(() => Object.keys(globalThis.foreshore?.project.getState().document?.elements ?? {}).length);
    const until = (n: number) =>
      page.waitForFunction(
        (wanted) => Object.keys(globalThis.foreshore?.project.getState().document?.elements ?? {}).length === wanted,
        { polling: 50 },
        n,
      );
    await page.keyboard.press('KeyP');
    await tabTo('Walk with W A S D');
    for (let k = 0; k < 6; k++) await page.keyboard.press('ArrowDown');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().hover, { polling: 50 });
    await page.keyboard.press('Enter');
    await page.waitForSelector('.palette');
    await page.keyboard.press('Enter');
    await page.waitForSelector('.typing textarea');
    await page.keyboard.type('Ebb');
    await page.keyboard.press('Enter');
    await until(1);
    const offset = () =>
      page.evaluate(() => Object.values(globalThis.foreshore?.project.getState().document?.elements ?? {})[0]?.place.offsetPx);
    const before = await offset();
    await page.keyboard.down('Alt');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.up('Alt');
    await expect.poll(async () => (await offset())?.[0]).toBe((before?.[0] ?? 0) + 1);
    await page.keyboard.down('Control');
    await page.keyboard.press('KeyZ');
    await page.keyboard.up('Control');
    expect(await offset()).toEqual(before);
    // Keys that come faster than they are shown all count, each an entry of undo.
    await page.evaluate(() => {
      for (let k = 0; k < 3; k++)
        document.activeElement?.dispatchEvent(
          new KeyboardEvent('keydown', { key: 'ArrowRight', code: 'ArrowRight', altKey: true, bubbles: true }),
        );
    });
    await expect.poll(async () => (await offset())?.[0]).toBe((before?.[0] ?? 0) + 3);
    for (let k = 0; k < 3; k++) {
      await page.keyboard.down('Control');
      await page.keyboard.press('KeyZ');
      await page.keyboard.up('Control');
    }
    expect(await offset()).toEqual(before);
    await page.keyboard.press('Delete');
    await until(0);
    await page.keyboard.down('Control');
    await page.keyboard.press('KeyZ');
    await page.keyboard.up('Control');
    await until(1);
    expect(await count()).toBe(1);
    await saved(page);
    expect(page.url()).toContain(id);
  });

  it('time is scrubbed, a row is chosen, and the camera walks and looks', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water');
    await page.focus('.ruler');
    await page.keyboard.press('End');
    expect(await page.$eval('.ruler', (el) => Number(el.getAttribute('aria-valuenow')))).toBe(40);
    await page.waitForSelector('[data-bands="ready"]');
    await page.focus('.row[tabindex="0"]');
    await page.keyboard.press('ArrowDown');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection, { polling: 50 });
    await page.focus('.picture');
    const pose = () => page.evaluate(() => globalThis.foreshore?.engine.pose());
    const before = await pose();
    await page.keyboard.press('ArrowLeft');
    expect((await pose())?.rotation).not.toEqual(before?.rotation);
  });
});
