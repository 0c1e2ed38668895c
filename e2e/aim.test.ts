/** What lies in the middle of the view: told in the picture, and in a text through feeds; driven in the real application. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Document, makeDocument, makeText, onGlass } from '../packages/document/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { createProject, inPicture, openBench, openBrowser, press, type Session, sendLevel, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let id: string;
beforeAll(async () => {
  session = await openBrowser();
  const level = newLevel();
  addBox(level, 'Ground', 20, [0, -20, 0]);
  const hut = addBox(level, 'Hut', 2, [0, 2, -12]);
  addBox(level, 'Hut door', 0.5, [0, -0.4, 2.5], hut);
  addBox(level, 'Buoy', 1, [-10, 1.6, 0]);
  const kept = await sendLevel(address, 'yard.glb', await toBinary(level));
  const document: Document = makeDocument('Yard');
  document.level = { ...kept, metresPerUnit: 1, upAxis: 'y' };
  const feed = { order: 'a0', unit: '' };
  const source = { kind: 'aimed', mostM: 30, pattern: 'Hut*', property: null, gives: 'distance' } as const;
  document.feeds.aimedNode = { ...feed, name: 'Aimed at', kind: 'text', initial: '', source };
  document.feeds.aimedFar = { ...feed, name: 'How far', kind: 'number', initial: 0, unit: 'm', source };
  document.elements.told = makeText(onGlass([0.5, 0.2]), '[{aimedNode}] {aimedFar, number, ::.0} m', 'a0');
  id = await createProject(address, { from: 'document', document });
});
afterAll(() => session.close());

/** What the text on the HUD says now. */
const says = async (): Promise<string> => {
  await settled(session.page);
  return session.page.evaluate(() =>
    (globalThis.foreshore?.engine.drawnOf('told') ?? [])
      .flatMap((item) => (item.kind === 'text' ? item.block.lines.map(({ text }) => text) : []))
      .join(''),
  );
};
const stand = async (yawDeg: number): Promise<void> => {
  await session.page.evaluate((deg) => {
    const half = (deg * Math.PI) / 360;
    const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
    engine.goTo({ position: [0, 1.6, 0], rotation: [0, Math.sin(half), 0, Math.cos(half)] });
  }, yawDeg);
  await settled(session.page);
};
/** A Low Water of its own, looking through the scope, with its crosshair selected. */
const openScope = async (): Promise<void> => {
  const demo = await createProject(address, { from: 'demo' });
  await openBench(session.page, address, demo, '?route=with-the-scope&t=3&sel=scope-aim');
  await settled(session.page);
};
const aimed = () => session.page.$eval('.aim-readout', (el) => [(el as HTMLElement).dataset.aimed, el.textContent]);

describe('the middle of the view', () => {
  it('is told in the picture without anything being selected, and in a text through feeds', async () => {
    const { page } = session;
    await openBench(page, address, id, '');
    await stand(0);
    expect(await page.$('.aim-readout')).toBeNull();
    await press(page, 'Aim');
    // The door's front lies 9 m ahead: the hut at 12, the door 2.5 before its middle, half a metre thick.
    expect(await aimed()).toEqual(['Hut door', 'Hut door, 9.0 m away']);
    expect(await says()).toBe('[Hut door] 9.0 m');
    // To the left is the buoy: seen, but none that the feeds mean.
    await stand(90);
    expect(await aimed()).toEqual(['Buoy', 'Buoy, 9.0 m away']);
    expect(await says()).toBe('[] 30.0 m');
    // To the right is nothing.
    await stand(-90);
    expect(await aimed()).toEqual(['', 'nothing within 1000 m']);
    await page.keyboard.press('KeyM');
    await page.waitForFunction(() => !document.querySelector('.aim-readout'));
  });

  it('is set among the feeds by the names of nodes, as one entry for undo', async () => {
    const { page } = session;
    await page.goto(new URL(`/p/${id}/feeds`, address).href);
    const row = await page.waitForSelector('[data-feed="aimedNode"]');
    const field = await row?.waitForSelector('aria/Nodes named (* for any)');
    await field?.click({ count: 3 });
    await page.keyboard.type('Buoy');
    await page.keyboard.press('Tab');
    await page.waitForSelector('aria/Undo: Change a source');
    await openBench(page, address, id, '');
    await stand(90);
    expect(await says()).toBe('[Buoy] 30.0 m');
    expect(session.errors).toEqual([]);
  });

  it('decides how a crosshair looks that was placed by hand, and the chain says by what', async () => {
    const { page } = session;
    await openBench(page, address, id, '');
    await stand(0);
    await press(page, 'Place');
    const spot = await inPicture(page, 0.9, 0.9);
    await page.mouse.move(spot.x, spot.y);
    await page.mouse.click(spot.x, spot.y);
    await page.waitForSelector('.palette');
    await press(page, 'Crosshair');
    await page.waitForSelector('aria/Looks otherwise by what it is aimed at');
    await press(page, 'Looks otherwise by what it is aimed at');
    const type = async (label: string, text: string) => {
      const field = await page.waitForSelector(`aria/${label}`);
      await field?.click({ count: 3 });
      await page.keyboard.type(text);
      await page.keyboard.press('Tab');
    };
    await type('Nodes named (* for any)', 'Hut door');
    await page.waitForSelector('aria/Undo: Change what is meant');
    await type('Reach', '9.5');
    await page.waitForSelector('aria/Undo: Change the reach');
    const crosshair = await page.evaluate(() => globalThis.foreshore?.bench.getState().selection as string);
    const colours = () =>
      page.evaluate(
        (row) => [...new Set((globalThis.foreshore?.engine.drawnOf(row) ?? []).flatMap((i) => (i.kind === 'line' ? [i.colour] : [])))],
        crosshair,
      );
    const paint = () => page.$eval('[data-step="paint"]', (el) => el.textContent ?? '');
    await stand(0);
    expect(await colours()).toContain('#F2C14E');
    expect(await paint()).toContain('within reach, 9.00 m');
    await type('Reach', '8.5');
    await page.waitForFunction(
      () => document.querySelector('[data-step="paint"]')?.textContent?.includes('out of reach, 9.00 m') === true,
      {
        polling: 50,
      },
    );
    await settled(page);
    expect(await colours()).not.toContain('#F2C14E');
    await stand(90);
    expect(await paint()).toContain('aims at nothing');
    expect(session.errors).toEqual([]);
  });

  it('has a crosshair of own pictures where that is chosen, as large as a share of the screen; both are undone', async () => {
    const { page } = session;
    await openScope();
    const drawn = () =>
      page.evaluate(() => {
        const items = globalThis.foreshore?.engine.drawnOf('scope-aim') ?? [];
        return {
          lines: items.filter((i) => i.kind === 'line').length,
          highs: items.flatMap((i) => (i.kind === 'picture' ? [Math.round(i.height)] : [])),
        };
      });
    const set = async (label: string, option: string) => {
      await press(page, `${label}[role="combobox"]`);
      await press(page, `${option}[role="option"]`);
    };
    await set('Form', 'Own pictures');
    await set('At each arm, its foot inwards', 'Needle');
    await page.waitForSelector('aria/Undo: Choose a picture');
    // Aimed at what is out of reach the demo's has brackets; without that it is its own.
    await press(page, 'Looks otherwise by what it is aimed at');
    await settled(page);
    const { highs } = await drawn();
    expect(highs).toEqual([18, 18, 18, 18]);
    await set('Sized by', 'a share of the screen');
    const share = await page.waitForSelector('aria/Of the shorter side');
    await share?.click({ count: 3 });
    await page.keyboard.type('20');
    await page.keyboard.press('Tab');
    await page.waitForSelector('aria/Undo: Resize');
    await settled(page);
    // A fifth of the desk's 1080 px, of which an arm is 18 of 56.
    expect((await drawn()).highs).toEqual(Array(4).fill(Math.round((216 * 18) / 56)));
    await page.waitForSelector('[data-save="saved"]');
    for (const what of ['Resize', 'Change what sizes it', 'Change what it is aimed at', 'Choose a picture', 'Change the form']) {
      await page.waitForSelector(`aria/Undo: ${what}`);
      await press(page, `Undo: ${what}`);
    }
    await settled(page);
    expect((await drawn()).highs).toEqual([]);
    expect((await drawn()).lines).toBeGreaterThan(0);
    await page.waitForSelector('[data-save="saved"]');
    expect(session.errors).toEqual([]);
  });

  it('is opened by hand: the ring about it is dragged, in pixels or as an angle, and that is undone', async () => {
    const { page } = session;
    await openScope();
    const opening = () =>
      page.evaluate(() => {
        const element = globalThis.foreshore?.engine.document.elements['scope-aim'];
        return (element?.kind === 'crosshair' ? element.opening : null) as { by: string; px: number; deg: number };
      });
    // The ring of the page, and its handle at the right of it.
    const ring = async () => {
      const [middle, radius]: [[number, number], number] = await page.$eval('[data-mark="opening"] circle', (el) => {
        const { left, top, width, height } = el.getBoundingClientRect();
        return [[left + width / 2, top + height / 2], width / 2] as [[number, number], number];
      });
      return { middle, radius };
    };
    const drag = async (by: number) => {
      const { middle, radius } = await ring();
      const from = middle[0] + radius;
      await page.mouse.move(from, middle[1]);
      await page.mouse.down();
      await page.mouse.move(from + by, middle[1], { steps: 4 });
      await page.mouse.up();
      await settled(page);
    };
    const before = await opening();
    expect(before.by).toBe('angle');
    const { radius } = await ring();
    // Twice as large in the picture: twice the tangent of half the cone.
    await drag(radius);
    expect((await ring()).radius / radius).toBeCloseTo(2, 1);
    const half = (deg: number) => Math.tan((deg * Math.PI) / 360);
    expect(half((await opening()).deg) / half(before.deg)).toBeCloseTo(2, 1);
    await press(page, 'Undo: Change the opening');
    await settled(page);
    expect(await opening()).toEqual(before);
    await press(page, 'Opens by[role="combobox"]');
    await press(page, 'pixels[role="option"]');
    await page.waitForSelector('aria/Opens by up to');
    await settled(page);
    const { px } = await opening();
    await drag(20);
    // A design pixel is a pixel of the desk monitor, of which the picture shows all.
    const perPage = await page.$eval('.picture', (el) => 1920 / el.getBoundingClientRect().width);
    expect((await opening()).px - px).toBeCloseTo(20 * perPage, -0.5);
    // Drawn together beyond its closed state, it does not open at all.
    await drag(-(await ring()).radius);
    expect((await opening()).px).toBe(0);
    // Only while its content is open, and only where a feed opens it.
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ openStep: 'paint' }));
    await page.waitForFunction(() => document.querySelector('[data-mark="opening"]') === null, { polling: 50 });
    expect(session.errors).toEqual([]);
  });
});
