/** What is painted after a change over a level that stands, against the whole picture painted anew; and that no turn is lost on the way. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Document, insideOf, makeDocument, makeGroup, makeLabel, makeText } from '../packages/document/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { createProject, openBench, openBrowser, type Session, sendLevel, settled } from './browser.ts';

const address = inject('address');
const MARKS = 60;
/** What is smoothed at an edge is rounded another way where only a part of it is painted. */
const ROUNDED = 2;
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
  const level = newLevel();
  addBox(level, 'Ground', 60, [0, -60, 0]);
  for (let k = 0; k < MARKS; k++) addBox(level, `Stone ${k}`, 0.3, [(k % 12) - 6, 0.3, -8 - 2 * Math.floor(k / 12)]);
  const kept = await sendLevel(address, 'stones.glb', await toBinary(level));
  const document: Document = makeDocument('Stones');
  document.level = { ...kept, metresPerUnit: 1, upAxis: 'y' };
  for (let k = 0; k < MARKS; k++) {
    const id = `mark-${k}`;
    document.anchors[id] = { kind: 'node', name: id, order: 'a0', node: `Stone ${k}`, offset: [0, 0.5, 0] };
    document.elements[id] = makeLabel(id, `Mark ${k}`, 'a0');
  }
  const id = await createProject(address, { from: 'document', document });
  await openBench(session.page, address, id, '?t=0');
  await stand([0, 1.6, 0]);
});
afterAll(() => session.close());

const stand = async (position: [number, number, number]): Promise<void> => {
  await session.page.evaluate((at) => globalThis.foreshore?.engine.goTo({ position: at, rotation: [0, 0, 0, 1] }), position);
  await settled(session.page);
};

/** The picture as it stands, and as it is when all of it is painted anew: in how many pixels they differ, and how many there are. */
const afresh = async (): Promise<{ other: number; all: number }> => {
  const taken = () =>
    session.page.evaluate((rounded) => {
      const canvas = document.querySelector('.picture canvas') as HTMLCanvasElement;
      const { data } = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, canvas.width, canvas.height);
      const inside = globalThis as unknown as { taken?: Uint8ClampedArray };
      const before = inside.taken;
      inside.taken = data;
      let other = 0;
      for (let k = 0; k < data.length; k += 4)
        if (before && [0, 1, 2].some((c) => Math.abs((before[k + c] as number) - (data[k + c] as number)) > rounded)) other++;
      return { other, all: data.length / 4 };
    }, ROUNDED);
  await taken();
  await session.page.evaluate(() => globalThis.foreshore?.engine.setMain(document.querySelector('.picture canvas') as HTMLCanvasElement));
  await settled(session.page);
  return taken();
};

const nudged = async (key: string): Promise<void> => {
  await session.page.focus('.picture');
  const before = await session.page.evaluateHandle(() => globalThis.foreshore?.project.getState().document);
  await session.page.keyboard.down('Alt');
  await session.page.keyboard.press(key as 'ArrowRight');
  await session.page.keyboard.up('Alt');
  await session.page.waitForFunction((was) => globalThis.foreshore?.project.getState().document !== was, { polling: 20 }, before);
  await settled(session.page);
};

describe('a picture over a level that stands', () => {
  it('is the whole one after a nudge, a longer text, one that is gone, and back', async () => {
    const { page } = session;
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'mark-17' }));
    await settled(page);
    const { all } = await afresh();
    expect(all).toBeGreaterThan(100_000);
    await nudged('ArrowRight');
    expect((await afresh()).other).toBe(0);
    await nudged('ArrowDown');
    expect((await afresh()).other).toBe(0);
    await page.focus('.picture');
    await page.keyboard.press('Delete');
    await page.waitForFunction(() => !globalThis.foreshore?.engine.document.elements['mark-17'], { polling: 50 });
    await settled(page);
    expect((await afresh()).other).toBe(0);
    await page.keyboard.down('Control');
    await page.keyboard.press('KeyZ');
    await page.keyboard.up('Control');
    await page.waitForFunction(() => globalThis.foreshore?.engine.document.elements['mark-17'], { polling: 50 });
    await settled(page);
    expect((await afresh()).other).toBe(0);
  });
  it('is that of the last place, however fast the camera goes from one to the next', async () => {
    const { page } = session;
    await page.evaluate(async () => {
      const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      for (let k = 0; k < 40; k++) {
        engine.goTo({ position: [Math.sin(k), 1.6, 0], rotation: [0, 0, 0, 1] });
        await new Promise((resolve) => requestAnimationFrame(resolve));
      }
      engine.goTo({ position: [1, 1.6, 0], rotation: [0, 0, 0, 1] });
    });
    await settled(page);
    expect((await afresh()).other).toBe(0);
    // A picture by itself, drawn for somebody who waits for it, from the same place.
    const off = await page.evaluate(() => {
      const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const canvas = document.querySelector('.picture canvas') as HTMLCanvasElement;
      const { width, height } = canvas;
      const one = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, width, height).data;
      const other = engine.snapshot('desk', engine.pose(), width, height)?.getContext('2d')?.getImageData(0, 0, width, height)
        .data as Uint8ClampedArray;
      let far = 0;
      for (let k = 0; k < one.length; k += 4)
        if ([0, 1, 2].some((c) => Math.abs((one[k + c] as number) - (other[k + c] as number)) > 24)) far++;
      return far / (width * height);
    });
    expect(off).toBeLessThan(0.002);
  });
  it('has at rest all the pixels that there is time for, however slow the first pictures were', async () => {
    const { page } = session;
    interface Renderer {
      most: number;
      learn(density: number, ms: number, triangles: number): void;
      raise(density: number, wanted: number, ms: number): boolean;
    }
    const most = (to?: number) =>
      page.evaluate((value) => {
        const engine = globalThis.foreshore?.engine as unknown as { renderer: Renderer } | undefined;
        if (engine && value !== undefined) {
          engine.renderer.most = value;
          // Whatever else this machine does meanwhile: pictures are taken to be quick from now on.
          const { learn, raise } = engine.renderer;
          engine.renderer.learn = (density, _, triangles) => learn.call(engine.renderer, density, 10, triangles);
          engine.renderer.raise = (density, wanted) => raise.call(engine.renderer, density, wanted, 10);
        }
        return engine?.renderer.most;
      }, to);
    // As after a picture that took seconds, because something else had the graphics.
    await most(0.3);
    await stand([0.3, 1.6, 0]);
    expect(await most()).toBeGreaterThanOrEqual(1);
    const { other, all } = await afresh();
    expect(other / all).toBeLessThan(0.001);
  });

  it('is never blank while one of another size is on its way', async () => {
    const { page } = session;
    const black = await page.evaluate(async () => {
      const { bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const canvas = document.querySelector('.picture canvas') as HTMLCanvasElement;
      const before = canvas.width;
      bench.setState({ outside: true });
      let worst = 0;
      for (let k = 0; k < 30; k++) {
        await new Promise((resolve) => requestAnimationFrame(resolve));
        const { data } = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, canvas.width, canvas.height);
        let dark = 0;
        for (let p = 0; p < data.length; p += 4) if ((data[p] as number) + (data[p + 1] as number) + (data[p + 2] as number) === 0) dark++;
        worst = Math.max(worst, dark / (data.length / 4));
      }
      return { worst, resized: canvas.width !== before };
    });
    expect(black.resized).toBe(true);
    expect(black.worst).toBeLessThan(0.01);
    await settled(page);
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ outside: false }));
    await settled(page);
    expect((await afresh()).other).toBe(0);
  });
});

describe('far along a route, over much that remembers', () => {
  it('a picture at rest is exactly that of the way from the start, after changes, while going on, and by undo', async () => {
    const { page } = session;
    const document: Document = makeDocument('Long way');
    const pose = (timeS: number, z: number, yaw: number) => ({
      ...{ timeS, position: [0, 1.6, z] as [number, number, number] },
      rotation: [0, Math.sin(yaw / 2), 0, Math.cos(yaw / 2)] as [number, number, number, number],
    });
    const poses = Array.from({ length: 31 }, (_, k) => pose(k, 5 - k, 0.5 * Math.sin(k)));
    document.routes = { way: { name: 'Way', order: 'a0', poses, feeds: [], phases: [] } };
    document.labels = { apart: true };
    for (let k = 0; k < 400; k++) {
      const id = `mark-${k}`;
      const position: [number, number, number] = [((k * 7) % 41) - 20, 1 + (k % 5) / 2, -((k * 13) % 60)];
      document.anchors[id] = { kind: 'surface', name: id, order: 'a0', node: null, position, normal: [0, 1, 0] };
      // It stays for as long as it takes to forget that it was near.
      document.elements[id] = { ...makeLabel(id, `Mark ${k}`, 'a0'), range: { from: 'eye', enterM: 12, leaveM: 16, dwellS: 1 } };
    }
    const id = await createProject(address, { from: 'document', document });
    const state = () =>
      page.evaluate(() => {
        const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        const frame = engine.frameOf(bench.getState().viewer);
        return JSON.stringify([bench.getState().timeS, [...(frame?.f.failed ?? [])], [...(frame?.f.places ?? [])]]);
      });
    const reloaded = async (): Promise<string> => {
      await page.waitForSelector('[data-save="saved"]');
      await page.reload();
      await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
      return state();
    };
    await openBench(page, address, id, '?t=28&route=way&sel=mark-17');
    await settled(page);
    // Something did stand in meanwhile; else this tells nothing.
    await page.evaluate(() => {
      const inside = globalThis as unknown as { stood: boolean };
      inside.stood = false;
      const engine = globalThis.foreshore?.engine as unknown as { frames: { standIns: Map<string, unknown> } } | undefined;
      if (engine === undefined) throw new Error('the bench is not there');
      const look = () => {
        inside.stood ||= engine.frames.standIns.size > 0;
        requestAnimationFrame(look);
      };
      look();
    });
    await nudged('ArrowRight');
    await nudged('ArrowDown');
    expect(await page.evaluate(() => (globalThis as unknown as { stood: boolean }).stood)).toBe(true);
    expect(await state()).toBe(await reloaded());
    // From one change to the next without waiting, elsewhere on the way, and back.
    await page.focus('.picture');
    await page.keyboard.down('Alt');
    for (const key of ['ArrowLeft', 'ArrowLeft', 'ArrowUp'] as const) await page.keyboard.press(key);
    await page.keyboard.up('Alt');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ timeS: 24.5 }));
    await settled(page);
    const there = await state();
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ timeS: 3 }));
    await page.keyboard.down('Control');
    await page.keyboard.press('KeyZ');
    await page.keyboard.press('KeyZ');
    await page.keyboard.press('KeyZ');
    await page.keyboard.up('Control');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ timeS: 24.5 }));
    await settled(page);
    const back = await state();
    expect(back).not.toBe(there);
    await page.waitForFunction(() => /t=24\.5/.test(location.search), { polling: 50 });
    expect(back).toBe(await reloaded());
    expect(session.errors).toEqual([]);
  });
});

describe('a text on a panel', () => {
  it('stands while the camera moves where it stands at rest, and covers as much', async () => {
    const { page } = session;
    const document: Document = makeDocument('Board');
    const anchor = { kind: 'surface' as const, name: 'Board', order: 'a0', node: null };
    document.anchors.board = { ...anchor, position: [0, 1.6, -2.4], normal: [0, 0, 1] };
    const mount = {
      ...{ kind: 'standing' as const, anchor: 'board', sizeM: [1.6, 0.9] as [number, number], pxPerM: 300, readM: 2.4 },
      ...{ sides: 'both' as const, facing: 'fixed' as const, turnDeg: 32, tiltDeg: 0, liftM: 0 },
    };
    const own = { ownPoint: [0.5, 0.5] as [number, number], offsetPx: [0, 0] as [number, number], stay: 'free' as const, leader: null };
    const board = makeGroup({ mount, place: own }, 'Board', 'column', 'a0');
    document.elements.board = { ...board, paint: { plate: { colour: '#000000', radiusPx: 0, border: null }, opacity: 1 } };
    for (const [k, colour] of ['#FF0000', '#00FF00', '#0000FF'].entries()) {
      const line = makeText(insideOf('board'), 'Mind the gap', `a${k}`);
      document.elements[`line-${k}`] = { ...line, paint: { ...line.paint, colour, outline: null } };
    }
    await openBench(page, address, await createProject(address, { from: 'document', document }), '');
    await stand([0, 1.6, 0]);
    // Of each text, by its colour: the middle of what it covers, and how much that is.
    const found = await page.evaluate(async () => {
      const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const canvas = globalThis.document.querySelector('.picture canvas') as HTMLCanvasElement;
      const ink = () => {
        const { data } = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, canvas.width, canvas.height);
        return [0, 1, 2].map((channel) => {
          let [sum, x, y] = [0, 0, 0];
          for (let k = 0; k < data.length; k += 4) {
            const [one, two] = [data[k + ((channel + 1) % 3)] as number, data[k + ((channel + 2) % 3)] as number];
            const here = data[k + channel] as number;
            if (one + two > 12 || here < 13) continue;
            sum += here;
            x += here * ((k / 4) % canvas.width);
            y += here * Math.floor(k / 4 / canvas.width);
          }
          return [x / sum, y / sum, sum / 255] as const;
        });
      };
      const rest = ink();
      const pose = engine.pose();
      const moving = await new Promise<typeof rest>((resolve) => {
        let pictures = 0;
        engine.onPicture = () => {
          pictures++;
          if (pictures < 6) engine.goTo({ ...pose, position: [0.001 * (pictures % 2), 1.6, 0] });
          else if (pictures === 6) engine.goTo(pose);
          else {
            engine.onPicture = null;
            resolve(ink());
          }
        };
        engine.goTo({ ...pose, position: [0.001, 1.6, 0] });
      });
      return { rest, moving };
    });
    for (const [k, [x, y, much]] of found.moving.entries()) {
      const [restX, restY, restMuch] = found.rest[k] as readonly [number, number, number];
      expect(restMuch).toBeGreaterThan(100);
      expect(Math.hypot(x - restX, y - restY)).toBeLessThan(0.5);
      expect(Math.abs(much / restMuch - 1)).toBeLessThan(0.1);
    }
    // They are not the same pixels: one was copied from a picture, the other filled.
    expect(found.moving).not.toEqual(found.rest);
  });
});
