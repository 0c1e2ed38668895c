/** Many of one kind, near and far, and from where something came: set by hand in a yard of one's own and read in the picture and the chain. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Document, insideOf, makeDocument, makeGroup, makeLabel, makeText } from '../packages/document/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { createProject, editAt, inPicture, openBench, openBrowser, press, type Session, sendLevel, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let id: string;
beforeAll(async () => {
  session = await openBrowser();
  const level = newLevel();
  addBox(level, 'Ground', 60, [0, -60, 0]);
  // Two near one another, one by itself, one far away.
  for (const [k, at] of [
    [-1.2, 1, -12],
    [-0.4, 1, -12.2],
    [3, 1, -11],
    [6, 1, -40],
  ].entries())
    addBox(level, `Buoy ${k + 1}`, 0.3, at as [number, number, number]);
  const kept = await sendLevel(address, 'yard.glb', await toBinary(level));
  const document: Document = makeDocument('Yard');
  document.level = { ...kept, metresPerUnit: 1, upAxis: 'y' };
  document.labels = { apart: true };
  document.anchors.buoys = { kind: 'nodes', name: 'Buoys', order: 'a0', pattern: 'Buoy *', property: null, offset: [0, 0.6, 0] };
  const { mount, place } = makeLabel('buoys', '', 'a0');
  document.elements.buoys = makeGroup({ mount, place }, 'Buoys', 'column', 'a0');
  document.elements.number = { ...makeText(insideOf('buoys'), '{node}', 'a0'), name: 'Number' };
  document.elements.several = { ...makeText(insideOf('buoys'), '{merged} buoys', 'a1'), name: 'Several' };
  document.feeds.blow = { name: 'Blow', order: 'a0', kind: 'event', unit: '', initial: { number: 0, place: null } };
  id = await createProject(address, { from: 'document', document });
});
afterAll(() => session.close());

const stand = async (position: [number, number, number], yawDeg = 0): Promise<void> => {
  await session.page.evaluate(
    (at, deg) => {
      const half = (deg * Math.PI) / 360;
      const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      engine.goTo({ position: at, rotation: [0, Math.sin(half), 0, Math.cos(half)] });
    },
    position,
    yawDeg,
  );
  await settled(session.page);
};
/** Rows that are shown now, by their ids. */
const shown = () =>
  session.page.evaluate(() => {
    const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
    return engine.solveAt('desk', engine.pose(), bench.getState().timeS).flatMap((row) => (row.failed === 255 ? [row.id] : []));
  });
const said = (row: string) =>
  session.page.evaluate(
    (one) =>
      (globalThis.foreshore?.engine.drawnOf(one) ?? [])
        .flatMap((item) => (item.kind === 'text' ? item.block.lines.map(({ text }) => text) : []))
        .join(''),
    row,
  );
const step = (name: string) => session.page.$eval(`[data-step="${name}"]`, (el) => el.textContent ?? '');
async function type(label: string, text: string): Promise<void> {
  const { page } = session;
  const field = await page.waitForSelector(`aria/${label}`);
  await field?.click({ count: 3 });
  await page.keyboard.type(text);
  await page.keyboard.press('Tab');
  await settled(page);
}
async function open(selection: string, openStep: string): Promise<void> {
  await session.page.evaluate(
    (one, which) => globalThis.foreshore?.bench.setState({ selection: one, openStep: which as 'place' }),
    selection,
    openStep,
  );
  await settled(session.page);
}

describe('many of one kind', () => {
  it('show less where they are far: set in the step and by ticks, told in the chain, taken back by undo', async () => {
    const { page } = session;
    await openBench(page, address, id, '');
    await stand([0, 1.6, 0]);
    expect(await shown()).toContain('number@Buoy 4');
    await open('buoys', 'place');
    await press(page, 'Shows less of itself where it is far away');
    await type('Detail 2 from', '20');
    await type('Detail 3 from', '30');
    await press(page, 'Number, detail 3, from 30 m[role="checkbox"]');
    await press(page, 'Several, detail 3, from 30 m[role="checkbox"]');
    await page.waitForSelector('aria/Undo: Change in which form it is there');
    await settled(page);
    const rows = await shown();
    // At 40 m nothing of it is left but its plate; at 11 m all is.
    expect(rows).toContain('buoys@Buoy 4');
    expect(rows).not.toContain('number@Buoy 4');
    expect(rows).toContain('number@Buoy 3');
    // What cannot be unticked: it would be there in no detail.
    await press(page, 'Number, detail 1, to 20 m[role="checkbox"]');
    expect(await page.$eval('aria/Number, detail 2, from 20 m, to 30 m[role="checkbox"]', (el) => (el as HTMLInputElement).disabled)).toBe(
      true,
    );
    await press(page, 'Undo: Change in which form it is there');
    await settled(page);
    await open('number', 'phase');
    await stand([6, 1.6, -4]);
    expect(await shown()).not.toContain('number@Buoy 4');
    await stand([6, 1.6, -34]);
    expect(await shown()).toContain('number@Buoy 4');
    await stand([0, 1.6, 0]);
  });

  it('merge where they are seen close together, and say how many; the chain says so', async () => {
    const { page } = session;
    await open('buoys', 'place');
    await type('Merged with its kind when closer than (0: never)', '90');
    await press(page, 'Number, standing for several[role="checkbox"]');
    await press(page, 'Several, standing for itself[role="checkbox"]');
    await settled(page);
    const rows = await shown();
    expect(rows.filter((row) => row.startsWith('buoys@'))).toEqual(['buoys@Buoy 1', 'buoys@Buoy 3', 'buoys@Buoy 4']);
    expect(rows).toContain('several@Buoy 1');
    expect(rows).not.toContain('number@Buoy 1');
    expect(await said('several@Buoy 1')).toBe('2 buoys');
    expect(await said('number@Buoy 3')).toBe('Buoy 3');
    // The chain tells of the nearest, which stands for itself; seen from nearer by, of one that stands for two.
    expect(await step('place')).not.toContain('for 2');
    await stand([-1, 1.6, -4]);
    await type('Merged with its kind when closer than (0: never)', '200');
    expect(await step('place')).toContain('for 2');
    await press(page, 'Undo: Change Place');
    await stand([0, 1.6, 0]);
    // Turned by a right angle none is in view, and none is merged.
    await stand([0, 1.6, 0], 90);
    expect((await shown()).filter((row) => row.startsWith('buoys@'))).toEqual([]);
    await stand([0, 1.6, 0]);
    // Of those in view, the nearest two: one of them stands for two.
    await open('buoys', 'place');
    await type('Of its kind, only the nearest (0: all)', '2');
    await settled(page);
    expect((await shown()).filter((row) => row.startsWith('buoys@'))).toHaveLength(2);
    await press(page, 'Undo: Change Place');
    await settled(page);
    expect((await shown()).filter((row) => row.startsWith('buoys@'))).toHaveLength(3);
  });

  it('tells of the node whose label was clicked, of one that is chosen, or of the one that comes farthest', async () => {
    const { page } = session;
    const told = () => page.$eval('nav.chain', (el) => el.getAttribute('data-row'));
    const middleOf = (row: string) =>
      page.evaluate((one) => {
        const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        const [x, y, w, h] = engine.solveAt('desk', engine.pose(), bench.getState().timeS).find(({ id }) => id === one)?.rect ?? [];
        const { desk } = engine.document.viewers;
        return [((x ?? 0) + (w ?? 0) / 2) / (desk?.widthPx ?? 0), ((y ?? 0) + (h ?? 0) / 2) / (desk?.heightPx ?? 0)];
      }, row);
    await open('buoys', 'place');
    expect(await told()).toBe('buoys@Buoy 3');
    const [u, v] = (await middleOf('buoys@Buoy 4')) as [number, number];
    const at = await inPicture(page, u, v);
    await page.mouse.click(at.x, at.y);
    await page.waitForSelector('nav.chain[data-row="buoys@Buoy 4"]');
    // The address keeps it; selected anew, it is no node in particular.
    await page.waitForFunction(() => new URLSearchParams(window.location.search).get('node') === 'Buoy 4', { polling: 50 });
    await open('number', 'place');
    await open('buoys', 'place');
    expect(await told()).toBe('buoys@Buoy 3');
    // One that is hidden, merged into another, can be asked about.
    await press(page, 'Reasons are of one of 4 nodes[role="combobox"]');
    await press(page, 'Buoy 2[role="option"]');
    await page.waitForSelector('nav.chain[data-row="buoys@Buoy 2"]');
    expect(await step('place')).toContain('Buoy 1');
    await press(page, 'Reasons are of one of 4 nodes[role="combobox"]');
    await press(page, 'The one that comes farthest, then the nearest[role="option"]');
    await page.waitForSelector('nav.chain[data-row="buoys@Buoy 3"]');
  });

  it('draws the places that a label could have, and what has those that it cannot', async () => {
    const { page } = session;
    await open('buoys', 'place');
    expect(await page.$('[data-mark="choices"]')).toBeNull();
    await press(page, 'Show its places in the picture');
    await page.waitForSelector('[data-choice="chosen"]');
    expect(await page.$$eval('[data-choice]', (all) => all.length)).toBeGreaterThan(8);
    await press(page, 'Show its places in the picture');
    await page.waitForFunction(() => !document.querySelector('[data-mark="choices"]'));
  });

  it('steadies an anchor and says what lag that costs; lays labels at rest on whole pixels', async () => {
    const { page } = session;
    await open('buoys', 'attach');
    await press(page, 'Steadied, for a node that jitters');
    await page.waitForSelector('aria/Undo: Change whether an anchor is steadied');
    // 1 Hz: 159 ms; with 2 Hz more for each m/s, 5 Hz at 2 m/s: 32 ms.
    await page.waitForFunction(() =>
      document.body.textContent?.includes('Behind its node by 159 ms while that hardly moves, by 32 ms at 2 m/s'),
    );
    await open('buoys', 'place');
    await press(page, 'Labels of the project lie on whole pixels at rest');
    await page.waitForSelector('aria/Undo: Change how labels lie at rest');
    await stand([0.0123, 1.6, 0.0171]);
    const corner = await page.evaluate(() => {
      const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      return engine
        .solveAt('desk', engine.pose(), bench.getState().timeS)
        .find((row) => row.id === 'buoys@Buoy 3')
        ?.rect?.slice(0, 2);
    });
    expect(corner?.map((v) => v % 1)).toEqual([0, 0]);
  });
});

describe('the direction of an event', () => {
  it('is placed, wired to the feed of events by itself, and points to where it happened while one tries it', async () => {
    const { page } = session;
    await openBench(page, address, id, '');
    await stand([0, 1.6, 0]);
    await press(page, 'Place');
    const spot = await inPicture(page, 0.9, 0.9);
    await page.mouse.move(spot.x, spot.y);
    await page.mouse.click(spot.x, spot.y);
    await page.waitForSelector('.palette');
    await press(page, 'Direction');
    await page.waitForSelector('aria/At once at most');
    const direction = await page.evaluate(() => globalThis.foreshore?.bench.getState().selection as string);
    // Nothing has happened yet, and Paint says so.
    expect(await step('paint')).toContain('nothing has happened');
    const middle = () =>
      page
        .waitForFunction(
          (row) => {
            const arc = (globalThis.foreshore?.engine.drawnOf(row) ?? []).find((item) => item.kind === 'arc');
            return arc?.kind === 'arc' ? Math.round((((arc.fromRad + arc.toRad) / 2) * 180) / Math.PI) : null;
          },
          { polling: 50 },
          direction,
        )
        .then((found) => found.jsonValue());
    // Let happen by hand: to the right of the viewer, then of one that has turned to it.
    await press(page, 'Right');
    expect(await middle()).toBe(90);
    expect(await page.evaluate(() => globalThis.foreshore?.bench.getState().mode)).toBe('try');
    await page.evaluate(() => globalThis.foreshore?.engine.turn(-90, 0));
    await page.waitForFunction(
      (row) => {
        const arc = (globalThis.foreshore?.engine.drawnOf(row) ?? []).find((item) => item.kind === 'arc');
        return arc?.kind === 'arc' && Math.abs(arc.fromRad + arc.toRad) < 0.05;
      },
      { polling: 50 },
      direction,
    );
    await page.keyboard.press('Escape');
    expect(session.errors).toEqual([]);
  });

  it('is confirmed by a mark, which is there for a moment and says when it was', async () => {
    const { page } = session;
    await openBench(page, address, id, '');
    await stand([0, 1.6, 0]);
    await press(page, 'Place');
    const spot = await inPicture(page, 0.9, 0.9);
    await page.mouse.move(spot.x, spot.y);
    await page.mouse.click(spot.x, spot.y);
    await page.waitForSelector('.palette');
    await press(page, 'Event mark');
    await page.waitForSelector('aria/Across');
    const mark = await page.evaluate(() => globalThis.foreshore?.bench.getState().selection as string);
    await page.waitForFunction(() => [...document.querySelectorAll('.hint')].some((el) => el.textContent?.startsWith('Event mark, ')), {
      polling: 50,
    });
    expect(await step('paint')).toContain('nothing has happened');
    // Long enough to be looked at here.
    await editAt(address, id, (d) => Object.assign(d.elements[mark] as object, { holdS: 30 }));
    await page.waitForFunction(
      (row) => (globalThis.foreshore?.engine.document.elements[row] as { holdS?: number })?.holdS === 30,
      { polling: 50 },
      mark,
    );
    const drawn = (kind: 'line' | 'arc') =>
      page.waitForFunction(
        (row, of) => (globalThis.foreshore?.engine.drawnOf(row) ?? []).filter((item) => item.kind === of).length,
        { polling: 50 },
        mark,
        kind,
      );
    await press(page, 'Now');
    // Four strokes, each with its outline.
    expect(await (await drawn('line')).jsonValue()).toBe(8);
    await expect.poll(() => step('paint')).toMatch(/\d s ago/);
    await editAt(address, id, (d) => Object.assign(d.elements[mark] as object, { form: 'ring' }));
    expect(await (await drawn('arc')).jsonValue()).toBe(2);
    await page.keyboard.press('Escape');
    expect(session.errors).toEqual([]);
  });
});
