/** A measure line in Chromium: placed by two clicks, read, set, one end behind, undone. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { createProject, editAt, inPicture, openBench, openBrowser, press, type Session, saved, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let id: string;
beforeAll(async () => {
  session = await openBrowser();
  id = await createProject(address, { from: 'demo' });
  await openBench(session.page, address, id, '?t=8');
});
afterAll(() => session.close());

const line = () =>
  session.page.evaluate(() => {
    const { project, bench, engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
    const { document } = project.getState();
    const { selection } = bench.getState();
    const element = selection === null ? undefined : document?.elements[selection];
    const solver = engine.frameOf('desk');
    const row = solver?.c.ids.indexOf(selection ?? '') ?? -1;
    const span = solver?.c.spans.indexOf(row) ?? -1;
    const mount = element?.mount as { anchor?: string } | undefined;
    const at = (anchor: string | undefined) => {
      const k = solver?.c.anchorIds.indexOf(anchor ?? '') ?? -1;
      return [0, 1, 2].map((axis) => solver?.c.anchorWorld[k * 3 + axis] ?? Number.NaN);
    };
    return {
      element: selection,
      to: element?.place.span?.to,
      shown: solver?.f.failed[row],
      text: solver?.a.blocks[row]?.lines[0]?.text,
      ends: [at(mount?.anchor), at(element?.place.span?.to)] as [number[], number[]],
      point: [0, 1].map((k) => solver?.f.places[row * 8 + k]),
      seen: [...(solver?.f.spanEnds.subarray(span * 10, span * 10 + 6) ?? [])],
    };
  });
const click = async (u: number, v: number): Promise<void> => {
  const { x, y } = await inPicture(session.page, u, v);
  await session.page.mouse.move(x, y);
  await session.page.waitForFunction(() => globalThis.foreshore?.bench.getState().hover, { polling: 50 });
  await session.page.mouse.click(x, y);
};

describe('a measure line', () => {
  it('is placed by two clicks, and says how far they are from one another', async () => {
    const { page } = session;
    await press(page, 'Place');
    await click(0.3, 0.86);
    await press(page, 'Measure line');
    await page.waitForFunction(() => document.body.textContent?.includes('Click the other end'));
    await click(0.62, 0.8);
    await saved(page, 2);
    await settled(page);
    const { ends, text, to, seen } = await line();
    const [a, b] = ends;
    const far = Math.hypot(...a.map((v, k) => v - (b[k] as number)));
    expect(to).toBeDefined();
    expect(text).toBe(`${far.toFixed(1)} m`);
    expect(seen.slice(4)).toEqual([1, 1]);
  });

  it('keeps its text at the middle, and its line where one end goes behind; what it measures and where its text is are set apart', async () => {
    const { page } = session;
    const before = await line();
    await page.click('[data-step="place"]');
    const field = await page.waitForSelector('aria/Its text is at the middle of');
    await field?.click();
    const option = await page.waitForSelector('aria/What is seen of it[role="option"]', { visible: true });
    await option?.click();
    await saved(page, 3);
    await settled(page);
    const after = await line();
    expect(after.text).toBe(before.text);
    expect(after.seen).toEqual(before.seen);
    // From between both ends, looking at the second: the first lies behind.
    await page.evaluate(([a, b]) => {
      const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const between = (p: number | undefined, q: number | undefined, t: number) => (p ?? 0) + t * ((q ?? 0) - (p ?? 0));
      const at = (t: number, up: number): [number, number, number] => [
        between(a?.[0], b?.[0], t),
        between(a?.[1], b?.[1], t) + up,
        between(a?.[2], b?.[2], t),
      ];
      const [from, to] = [at(0.4, 0.15), at(1, 0)];
      const yaw = Math.atan2(from[0] - to[0], from[2] - to[2]) / 2;
      engine.goTo({ position: from, rotation: [0, Math.sin(yaw), 0, Math.cos(yaw)] });
    }, after.ends);
    await settled(page);
    const behind = await line();
    expect(behind.text).toBe(before.text);
    expect(behind.seen[4]).toBe(0);
    expect(behind.point[0]).toBeCloseTo(((behind.seen[0] as number) + (behind.seen[2] as number)) / 2, 3);
  });

  it('goes with its anchors and back by undo; the end that is used by nothing goes, too', async () => {
    const { page } = session;
    const count = () => page.evaluate(() => Object.keys(globalThis.foreshore?.project.getState().document?.anchors ?? {}).length);
    const [anchors, { element }] = [await count(), await line()];
    await page.focus('.picture');
    await page.keyboard.press('Delete');
    await saved(page, 4);
    expect(await page.evaluate((one) => globalThis.foreshore?.project.getState().document?.elements[one ?? ''], element)).toBeUndefined();
    await page.keyboard.down('Control');
    await page.keyboard.press('KeyZ');
    await page.keyboard.up('Control');
    await saved(page, 5);
    expect(await count()).toBe(anchors);
    expect(session.errors).toEqual([]);
  });

  it('measures on the screen where that is chosen: pixels, at each viewer its own, and none where an end is behind', async () => {
    const { page } = session;
    const feed = await page.evaluate(() => {
      const feeds = globalThis.foreshore?.project.getState().document?.feeds ?? {};
      return Object.keys(feeds).find((one) => feeds[one]?.source?.kind === 'between');
    });
    await editAt(address, id, (d) => Object.assign(d.feeds[feed as string]?.source as object, { along: 'screen' }));
    await openBench(page, address, id, '?route=with-the-scope&t=3');
    await settled(page);
    const values = (viewers: string[]) =>
      page.evaluate(
        (one, names) =>
          names.map((viewer) => {
            const frame = globalThis.foreshore?.engine.frameOf(viewer);
            return frame?.f.values[frame.c.feedIds.indexOf(one as string)] as number | undefined;
          }),
        feed,
        viewers,
      );
    const turned = async (deg: number) => {
      await page.evaluate((by) => globalThis.foreshore?.engine.turn(by, 0), deg);
      await settled(page);
    };
    // Towards both ends, then away from them.
    await turned(30);
    const [desk, handheld] = await values(['desk', 'handheld']);
    await turned(150);
    const [behind] = await values(['desk']);
    expect([typeof desk, typeof handheld, behind ?? null]).toEqual(['number', 'number', null]);
    expect(desk).not.toBeCloseTo(handheld as number, 0);
    expect(session.errors).toEqual([]);
  });
});
