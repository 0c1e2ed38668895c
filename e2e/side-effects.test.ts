/** The strip tells what the last change did to elements that it did not touch, at the present moment; one switch stops that. */
import { type Document, insideOf, makeDocument, makeGroup, makeText, onGlass } from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { createProject, editAt, openBench, openBrowser, press, type Session, settled } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session?.close());

/** A card of two lines, and a clock that stands by itself. */
function card(): Document {
  const made = makeDocument('Side effects');
  made.elements.card = makeGroup(onGlass([0.5, 0.2]), 'Card', 'column', 'a0');
  made.elements.tide = makeText(insideOf('card'), 'Tide', 'a0');
  made.feeds.gusts = { name: 'Gusts', order: 'a0', kind: 'text', unit: '', initial: 'none' };
  made.elements.wind = { ...makeText(insideOf('card'), 'Wind', 'a1'), text: 'Wind: {gusts}' };
  made.elements.clock = makeText(onGlass([0.1, 0.9]), 'Clock', 'a1');
  return made;
}
const count = (how: number | 'off') => session.page.waitForSelector(`[data-side-effects="${how}"]`);
/** The present moment is known, so that the next change has something to be compared with. */
const known = () => session.page.waitForSelector('[data-side-effects][data-known="true"]');
const markOf = (id: string) => session.page.$$eval(`[data-element="${id}"] .row-mark`, (all) => all.map((el) => el.textContent));
/** Types a size into the field of the selected text. */
const sizeIt = async (px: string) => {
  const { page } = session;
  const field = await page.waitForSelector('aria/Text size[role="textbox"]');
  await field?.click({ clickCount: 3 });
  await page.keyboard.type(px);
  await page.keyboard.press('Enter');
};

describe('side effects of a change', () => {
  it('are marked in the strip, listed, undone from there, and switched off', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'document', document: card() });
    await openBench(page, address, id);
    await settled(page);
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'tide', rail: 'content', openStep: 'size' }));
    await settled(page);
    await known();
    await count(0);
    await sizeIt('60');
    await count(2);
    expect((await markOf('card'))[0]).toMatch(/^resized \d/);
    expect((await markOf('wind'))[0]).toMatch(/^moved \d/);
    expect([await markOf('tide'), await markOf('clock')]).toEqual([[], []]);

    await press(page, 'Side effects marked: 2');
    await page.waitForSelector('.mantine-Menu-dropdown [role=menuitem]');
    const listed = await page.$$eval('[role="menuitem"]:not([data-switch])', (all) => all.map((el) => el.textContent));
    expect(listed.map((words) => words?.replace(/[\d.]+/, 'N'))).toEqual([
      'Card resized N px',
      'Wind moved N px',
      expect.stringMatching(/^Undo: /),
    ]);
    await page.$$eval('[role="menuitem"]:not([data-switch])', (all) => (all.at(-1) as HTMLElement).click());
    // What goes back has no side effect: it is as it was.
    await count(0);
    await known();

    // Two changes before it comes to rest are told, and undone, as two: here they are made again in one go.
    await sizeIt('30');
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().undoable.length === 1, { polling: 30 });
    await sizeIt('60');
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().undoable.length === 2, { polling: 30 });
    for (let k = 0; k < 2; k++) await page.click('header button[aria-label^="Undo"]');
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().redoable.length === 2, { polling: 30 });
    await settled(page);
    await known();
    await count(0);
    await page.evaluate(() => {
      for (let k = 0; k < 2; k++) document.querySelector<HTMLElement>('header button[aria-label^="Redo"]')?.click();
    });
    await count(2);
    await press(page, 'Side effects marked: 2');
    await page.waitForFunction(() =>
      document.querySelector('.mantine-Menu-dropdown')?.textContent?.includes('2 side effects of the last 2 changes'),
    );
    await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('[role="menuitem"]')].find((el) => el.textContent === 'Undo the last 2 changes')?.click(),
    );
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().undoable.length === 0, { polling: 30 });
    await count(0);
    await known();

    // A value that is held is not the document's doing: what comes after is compared with the frame as it then is.
    await page.evaluate(() => globalThis.foreshore?.live.setState({ held: { gusts: 'from the north, all day and all night' } }));
    await settled(page);
    await known();
    const clockPx = (emPx: number) =>
      editAt(
        address,
        id,
        (d) => void Object.assign(d.elements.clock as object, { size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 } }),
      );
    await clockPx(44);
    await page.waitForFunction(() =>
      JSON.stringify(globalThis.foreshore?.project.getState().document?.elements.clock).includes('"emPx":44'),
    );
    await settled(page);
    await known();
    await count(0);

    // Somebody else's change, too; and a moment later it is another moment.
    await editAt(
      address,
      id,
      (d) => void Object.assign(d.elements.tide as object, { size: { rule: 'screen', emPx: 50, hideBelowPx: 0, leavePx: 0 } }),
    );
    await count(2);
    // That cannot be undone from here; what can is another change.
    await press(page, 'Side effects marked: 2');
    await page.waitForSelector('[data-switch]');
    const offered = await page.$$eval('[role="menuitem"]', (all) => all.map((el) => el.textContent ?? ''));
    expect(offered.filter((words) => words.startsWith('Undo'))).toEqual([]);
    await page.keyboard.press('Escape');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ pose: { position: [0, 2, 3], rotation: [0, 0, 0, 1] } }));
    await count(0);

    await press(page, 'Side effects marked: 0');
    await (await page.waitForSelector('[data-switch]'))?.evaluate((el) => (el as HTMLElement).click());
    await count('off');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'tide', openStep: 'size' }));
    await sizeIt('40');
    await settled(page);
    // It stays so in this browser.
    await openBench(page, address, id);
    await settled(page);
    await count('off');
    await press(page, 'Side effects of changes are not marked');
    await (await page.waitForSelector('[data-switch]'))?.evaluate((el) => (el as HTMLElement).click());
    await count(0);
    await known();
  });
});
