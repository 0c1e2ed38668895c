/** A project compared with an earlier revision along its routes, in the real application: what happened to what nobody edited, which change did it, and taking that back. */
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { type Document, makeDocument, makeLabel } from '../packages/document/src/index.ts';
import { createProject, editAt, openBrowser, press, type Session } from './browser.ts';

const address = inject('address');
let session: Session;
let id: string;
const at = (d: Document, anchor: string, x: number, y = 1.6) => Object.assign(d.anchors[anchor] as object, { position: [x, y, -9] });
beforeAll(async () => {
  session = await openBrowser();
  const document: Document = makeDocument('Quay');
  const pose = (timeS: number) => ({
    timeS,
    position: [0, 1.6, -timeS] as [number, number, number],
    rotation: [0, 0, 0, 1] as [number, number, number, number],
  });
  document.routes = { walk: { name: 'Walk', order: 'a0', poses: [pose(0), pose(4)], feeds: [], phases: [] } };
  document.viewers = { desk: document.viewers.desk as never, phone: document.viewers.phone as never };
  for (const [k, one] of ['hut', 'crane', 'mast'].entries()) {
    document.anchors[one] = { kind: 'surface', name: one, order: `a${k}`, node: null, position: [k - 1, 1.6, -9], normal: [0, 1, 0] };
    document.elements[one] = { ...makeLabel(one, one, `a${k}`), name: one };
  }
  id = await createProject(address, { from: 'document', document });
  await editAt(address, id, (d) => at(d, 'crane', 0, 2.2));
  await editAt(address, id, (d) => at(d, 'hut', -2));
  await editAt(address, id, (d) => Object.assign(d.elements.mast as object, { text: 'Mast' }));
});
afterAll(() => session.close());

/** What is told: by which revision, which element, and what happened. */
const told = () =>
  session.page.$$eval('.checks-since [data-effect]', (all) =>
    all
      .map((el) => {
        const { element, effect } = (el as HTMLElement).dataset;
        return `${el.closest<HTMLElement>('[data-cause]')?.dataset.cause} ${element} ${effect}`;
      })
      .sort(),
  );
const compared = async (what: string, effects: number): Promise<void> => {
  await press(session.page, what);
  await session.page.waitForSelector(`.checks-since[data-state="done"][data-effects="${effects}"]`);
};

it('tells which change moved what nobody edited, leads to the moment, and takes one change back', async () => {
  const { page } = session;
  await page.goto(new URL(`/p/${id}/checks`, address).href);
  // From the list of revisions, as from any view.
  await page.waitForSelector('[data-save="saved"][data-revision="3"]');
  await page.click('.save-button');
  await page.waitForSelector('[data-revision-of="0"]');
  await page.evaluate(() => {
    const buttons = [...document.querySelectorAll<HTMLElement>('[data-revision-of="0"] button')];
    buttons.find((one) => one.textContent === 'Compare')?.click();
  });
  await compared('Compare with revision 3', 2);
  expect(await told()).toEqual(['1 crane moved', '2 hut moved']);
  const said = await page.$eval('.checks-since', (el) => el.textContent ?? '');
  expect(said).toContain('2 of 2 parts may differ');
  expect(said).toContain('1 edited');
  expect(said).toMatch(/By revision 2 · hut, position/);
  // As long as the walk, whatever the number of viewers.
  expect(said).toMatch(/moved by up to \d+ px for 4\.0 s/);

  await press(page, 'Undo revision 1');
  await page.waitForSelector('[data-save="saved"][data-revision="4"]');
  await page.waitForFunction(() => document.querySelector('.checks-since')?.textContent?.includes('Compare again'), { polling: 50 });
  await compared('Compare with revision 4', 1);
  expect(await told()).toEqual(['2 hut moved']);

  // What was changed again since cannot be taken back by itself; nothing is lost.
  await editAt(address, id, (d) => at(d, 'hut', -2.5));
  await page.waitForSelector('[data-revision="5"]');
  await press(page, 'Undo revision 2');
  await page.waitForFunction(() => document.body.textContent?.includes('was changed again since'), { polling: 50 });
  await page.waitForSelector('[data-revision="5"]');

  await page.evaluate(() => document.querySelector<HTMLElement>('.checks-since [data-element="hut"] a')?.click());
  await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
  const { selection, timeS, route } = await page.evaluate(() => {
    const { selection, timeS, route } = (globalThis.foreshore as NonNullable<typeof globalThis.foreshore>).bench.getState();
    return { selection, timeS, route };
  });
  expect([selection, route]).toEqual(['hut', 'walk']);
  expect(timeS).toBeGreaterThan(3);
  expect(session.errors).toEqual([]);
});

it('is cancelled, begins again, and says so where nothing can differ', async () => {
  const { page } = session;
  // Without findings there is one list of options on the page.
  const demo = await createProject(address, { from: 'demo', measured: false });
  await editAt(address, demo, (d) => {
    const [anchor] = Object.values(d.anchors).filter(({ kind }) => kind === 'surface');
    Object.assign(anchor as object, { position: [0, 2, 0] });
  });
  await page.goto(new URL(`/p/${demo}/checks`, address).href);
  await press(page, 'Side effects since a revision');
  const choose = async (nth: number): Promise<void> => {
    await press(page, 'Since revision[role="combobox"]');
    await page.waitForFunction(() => document.querySelectorAll('[role="option"]').length > 0, { polling: 50 });
    await page.evaluate((k) => document.querySelectorAll<HTMLElement>('[role="option"]')[k]?.click(), nth);
  };
  await choose(0);
  await press(page, 'Compare with revision 2');
  await page.waitForSelector('.checks-since[data-state="parts"]');
  await press(page, 'Cancel');
  await page.waitForSelector('.checks-since[data-state="cancelled"]');
  await editAt(address, demo, (d) => {
    d.name = 'Low Water at dusk';
  });
  await page.waitForSelector('[data-save="saved"][data-revision="3"]');
  await choose(0);
  await compared('Compare with revision 3', 0);
  expect(await page.$eval('.checks-since', (el) => el.textContent)).toContain('Nothing that any route shows depends on what was changed.');
  expect(session.errors).toEqual([]);
});
