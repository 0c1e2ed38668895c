/** Revisions in the real application: named, looked at without changing anything, brought back as a new one, and that undone. */
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { createProject, openBench, openBrowser, press, type Session, saved, settled } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session.close());

const textOf = () =>
  session.page.evaluate(() =>
    (globalThis.foreshore?.engine.drawnOf('pump-house') ?? [])
      .flatMap((item) => (item.kind === 'text' ? item.block.lines.map(({ text }) => text) : []))
      .join(),
  );
const rename = async (text: string): Promise<void> => {
  const { page } = session;
  const field = await page.waitForSelector('aria/Text[role="textbox"]');
  await field?.click({ count: 3 });
  await page.keyboard.type(text);
  await page.keyboard.press('Tab');
  await saved(page);
};

it('a revision is named, looked at in the picture, and brought back as a new one, which is undone', async () => {
  const { page } = session;
  const id = await createProject(address, { from: 'demo' });
  // From where the house is seen.
  await openBench(page, address, id, '?route=with-the-scope&t=9&sel=pump-house');
  await settled(page);
  expect(await textOf()).toBe('Pump house');
  await rename('House of pumps');
  await rename('Engine house');
  await settled(page);
  expect(await textOf()).toBe('Engine house');
  const number = await saved(page);
  await page.click('.save-button');
  await page.waitForSelector(`[data-revision-of="${number}"]`);
  // What each touched is told by its name.
  expect(await page.$eval(`[data-revision-of="${number - 1}"]`, (el) => el.textContent)).toContain('Pump house');
  const name = await page.waitForSelector(`aria/Name of revision ${number - 1}[role="textbox"]`);
  await name?.click();
  await page.keyboard.type('First try');
  await page.keyboard.press('Enter');
  await page.waitForFunction((n) => document.querySelectorAll(`[data-revision-of="${n}"]`).length === 2, {}, number - 1);

  const inRow = async (button: string): Promise<void> => {
    const found = await page.waitForSelector(
      `xpath/(//li[@data-revision-of="${number - 2}"])[last()]//button[normalize-space()="${button}"]`,
    );
    await found?.click();
  };
  await inRow('Look');
  await page.waitForSelector(`[data-revision-of="${number - 2}"][data-looked]`);
  await settled(page);
  expect(await textOf()).toBe('Pump house');
  // Nothing is changed by that, and closing the list shows what is.
  expect(await saved(page)).toBe(number);
  await page.keyboard.press('Escape');
  await page.waitForFunction(() => !document.querySelector('[data-revisions]'));
  await settled(page);
  expect(await textOf()).toBe('Engine house');

  await page.click('.save-button');
  await inRow('Bring back');
  await saved(page, number + 1);
  await settled(page);
  expect(await textOf()).toBe('Pump house');
  await page.waitForSelector(`[data-revision-of="${number + 1}"]`);
  await page.keyboard.press('Escape');
  await press(page, `Undo: Bring back revision ${number - 2}`);
  await saved(page, number + 2);
  await settled(page);
  expect(await textOf()).toBe('Engine house');
  expect(session.errors).toEqual([]);
});
