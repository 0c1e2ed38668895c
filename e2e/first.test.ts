/** The first five minutes of somebody new: from the shelf to a label that can be read on a small screen. */
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { benchReady, openBrowser, placeLabel, press, type Session, saved, settled } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session.close());

const says = (step: string) => session.page.$eval(`[data-step="${step}"] .link-says`, (el) => el.textContent ?? '');
const states = () =>
  session.page.$$eval('.chain [data-step]', (all) => all.map((el) => [el.getAttribute('data-step'), el.getAttribute('data-state')]));

it('a prepared failure is understood and cleared; a label is placed, approached, and made readable on the handheld; an own level is dropped', async () => {
  const { page } = session;
  // Low Water is there already, with one button to open it.
  await page.goto(address);
  await press(page, 'Open Low Water');
  await benchReady(page);
  await settled(page);

  // The sluice prompt is selected and hidden: ghost, stopped line, and the chain stops at Sightline.
  expect(await page.evaluate(() => globalThis.foreshore?.bench.getState().selection)).toBe('prompt-wheel');
  expect(await page.$('[data-ghost="true"]')).not.toBeNull();
  expect(await page.$eval('[data-mark="sight"] text', (el) => el.textContent)).toMatch(/^stops at Sluice 2 posts, \d\.\d m$/);
  expect((await states()).find(([, state]) => state === 'no')).toEqual(['sightline', 'no']);
  expect(await says('sightline')).toMatch(/^Sluice 2 posts covers \d+ %; 0 % is free, needs 35 %$/);

  // One press, and every link passes.
  await page.waitForSelector('[data-offer="place"]');
  expect(await page.$eval('[data-offer] b', (el) => el.textContent)).toMatch(/^0\.\d m left/);
  await press(page, 'Go there');
  await page.waitForFunction(() => document.querySelectorAll('.chain [data-state="yes"]').length === 10, { polling: 50 });
  await settled(page);
  expect(await page.$('[data-ghost="true"]')).toBeNull();
  const painted = await page.evaluate(() => globalThis.foreshore?.engine.drawnOf('prompt-wheel.prompt-key@Sluice 2 wheel').length);
  expect(painted).toBeGreaterThan(1);

  // Place: hover, click, type.
  expect(await placeLabel(page, 0.62, 0.8, 'Mind the gap')).toBe('mind-the-gap');
  await saved(page, 1);
  // No route came past there: one was made that comes towards it, and its band is not empty.
  const { route, poses } = await page.evaluate(() => {
    const { bench, project } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
    const chosen = bench.getState().route;
    const way = project.getState().document?.routes[chosen];
    return { route: way?.name, poses: way?.poses.length ?? 0 };
  });
  expect(route).toBe('Towards Mind the gap');
  expect(poses).toBeGreaterThan(10);
  const share = () => page.$eval('.row[data-element="mind-the-gap"] .row-share', (el) => Number.parseInt(el.textContent ?? '', 10));
  await page.waitForFunction(
    () => Number.parseInt(document.querySelector('.row[data-element="mind-the-gap"] .row-share')?.textContent ?? '', 10) > 0,
    {
      polling: 50,
    },
  );

  // The handheld's tile says what it falls short of; the mend clears it, and the band fills.
  await page.evaluate(() => globalThis.foreshore?.bench.setState({ viewer: 'handheld' }));
  await settled(page);
  await page.waitForSelector('[data-mend="small"]');
  const small = await says('readable');
  expect(small).toMatch(/^\d+(\.\d)? arcmin, too small: needs 16/);
  const before = await share();
  const mend = await page.$eval('[data-mend] b', (el) => el.textContent);
  // More than is comfortable on a screen: the headset has few pixels, and must not get worse.
  expect(mend).toMatch(/^3\d arcmin on every screen/);
  await press(page, 'Take it');
  await page.waitForFunction(() => document.querySelector('[data-step="readable"]')?.getAttribute('data-state') === 'yes', { polling: 50 });
  await page.waitForFunction(
    (was) => Number.parseInt(document.querySelector('.row[data-element="mind-the-gap"] .row-share')?.textContent ?? '', 10) > was,
    { polling: 50 },
    before,
  );
  expect(await share()).toBeGreaterThan(90);
  await saved(page, 2);
  for (const name of [`Undo: Mend: ${mend}`, 'Undo: Place a label']) await press(page, name);
  await page.waitForFunction(() => Object.keys(globalThis.foreshore?.project.getState().document?.routes ?? {}).length === 5, {
    polling: 50,
  });
  await saved(page, 4);

  // Then a level of one's own.
  const level = newLevel();
  addBox(level, 'Ground', 20, [0, -20, 0]);
  addBox(level, 'Pier', 1, [0, 1, 0]);
  const bytes = [...(await toBinary(level))];
  await page.goto(address);
  await page.waitForSelector('.card');
  await page.evaluate((all) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([new Uint8Array(all)], 'own-pier.glb'));
    document.querySelector('.shelf')?.dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, bubbles: true, cancelable: true }));
  }, bytes);
  await page.waitForFunction(() => location.pathname.endsWith('/bench'));
  await benchReady(page);
  expect(await page.evaluate(() => globalThis.foreshore?.engine.model.nodeIds)).toContain('Pier');
  expect(session.errors).toEqual([]);
});
