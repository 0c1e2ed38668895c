/** The example game in Chromium: what its interface shows, and what it hears, from bundles that left the bench. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { WebSocket } from 'ws';
import { make } from '../examples/causeway/make.ts';
import { serveExample } from '../examples/causeway/serve.mjs';
import { buildRuntime } from '../packages/runtime/build.mjs';
import { createProject, editAt, openBrowser, type Session } from './browser.ts';
import './causeway.d.ts';

const folder = mkdtempSync(join(tmpdir(), 'foreshore-example-'));
let session: Session;
let page: Page;
let server: { address: string; close(): void };
beforeAll(async () => {
  const [runtime, bundles] = [join(folder, 'runtime'), join(folder, 'bundles')];
  await Promise.all([buildRuntime(runtime), make(bundles)]);
  server = await serveExample(0, { runtime, bundles });
  session = await openBrowser(800, 500);
  page = session.page;
  await page.goto(server.address);
  await page.waitForFunction(() => globalThis.causeway?.game.frames > 1);
});
afterAll(async () => {
  await session?.close();
  server?.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Stands the player somewhere and waits until the interface has seen it. */
const stand = async (x: number, y: number, z: number, yaw: number, pitch = 0): Promise<void> => {
  const frames = await page.evaluate(
    (at) => {
      const { game } = globalThis.causeway;
      game.eye.set(at[0] as number, at[1] as number, at[2] as number);
      game.yaw = at[3] as number;
      game.pitch = at[4] as number;
      return game.frames;
    },
    [x, y, z, yaw, pitch],
  );
  await page.waitForFunction((before) => globalThis.causeway.game.frames > before + 2, {}, frames);
};
const shown = (id: string) =>
  page.evaluate((name) => {
    const ui = globalThis.causeway.runtime();
    return ui.isShown(ui.row(name));
  }, id);
const isShown = (id: string) =>
  page.waitForFunction(
    (name) => {
      const ui = globalThis.causeway.runtime();
      return ui.isShown(ui.row(name));
    },
    {},
    id,
  );
const textOf = (id: string) =>
  page.evaluate((name) => {
    const ui = globalThis.causeway.runtime();
    return (ui.lines(ui.row(name))?.lines ?? []).map(({ text }) => text).join(' ');
  }, id);
const heard = () => page.evaluate(() => globalThis.causeway.game.heard.map(({ name, target }) => `${name}: ${target}`));

describe('the example game', () => {
  it('shows values that the game tells, and asks for none that it does not', async () => {
    expect(session.errors).toEqual([]);
    expect(await textOf('warmth-value')).toMatch(/^\d+ %$/);
    expect(await page.evaluate(() => globalThis.causeway.runtime().missing())).toEqual([]);
    for (const id of ['vitals', 'tide', 'aim']) expect(await shown(id)).toBe(true);
  });

  it('walks by its keys; labels go where their things are seen', async () => {
    const at = () => page.evaluate(() => [globalThis.causeway.game.eye.x, globalThis.causeway.game.eye.z]);
    const box = () =>
      page.evaluate(() => {
        const ui = globalThis.causeway.runtime();
        return [...ui.box(ui.row('lamp-mast'), new Float64Array(4))];
      });
    const [before, was] = [await at(), await box()];
    await page.keyboard.down('KeyW');
    await page.waitForFunction(
      ([x, z]) => Math.hypot(globalThis.causeway.game.eye.x - (x as number), globalThis.causeway.game.eye.z - (z as number)) > 1,
      {},
      before,
    );
    await page.keyboard.up('KeyW');
    expect(await box()).not.toEqual(was);
  });

  it('a prompt: shown where one stands before it, pressed by its key; the game hears of it with its node, and acts', async () => {
    // Over the second wheel, from beside its post.
    await stand(3.2, 2.4, 6.9, Math.atan2(3.2 - 0.2, 6.9 - 5.35));
    await isShown('prompt-wheel@Sluice 2 wheel');
    await page.keyboard.down('KeyE');
    await page.waitForFunction(() => globalThis.causeway.game.heard.length > 0);
    await page.keyboard.up('KeyE');
    expect(await heard()).toEqual(['Turn a wheel: Sluice 2 wheel']);
    await page.waitForFunction(() => globalThis.causeway.game.gates[1] === 1);
  });

  it('a marker at the edge leads to what lies behind', async () => {
    await stand(-38.3, 2.6, -21.4, -2.32 + Math.PI);
    await isShown('lamp-mast');
    expect(await page.evaluate(() => globalThis.causeway.runtime().edgeRad(globalThis.causeway.runtime().row('lamp-mast')))).not.toBeNaN();
    await stand(-38.3, 2.6, -21.4, -2.32);
    expect(await page.evaluate(() => globalThis.causeway.runtime().edgeRad(globalThis.causeway.runtime().row('lamp-mast')))).toBeNaN();
  });

  it('another interface takes its place while the game runs: the game goes on as it was, its code the same', async () => {
    await page.keyboard.press('KeyL');
    await page.waitForFunction(() => globalThis.causeway.name() === 'second');
    await page.waitForFunction(() => {
      const ui = globalThis.causeway.runtime();
      return ui.lines(ui.row('warmth-name'))?.lines[0]?.text === 'Wärme';
    });
    expect(await page.evaluate(() => globalThis.causeway.game.gates[1])).toBe(1);
    // What hung on the left hangs on the right there.
    const [left] = await page.evaluate(() => {
      const ui = globalThis.causeway.runtime();
      return [...ui.box(ui.row('vitals'), new Float64Array(4))];
    });
    expect(left).toBeGreaterThan(400);
    expect(session.errors).toEqual([]);
  });

  it('a panel in the world: its button is aimed at and pressed, and the game hears of it', async () => {
    await stand(-44.98, 3.43, -29.4, 1.25);
    await isShown('pump-prime');
    const { yaw, pitch } = await page.evaluate(() => {
      // Turned until the middle of the view lies on the button: by its place among the panel's own pixels.
      const ui = globalThis.causeway.runtime() as unknown as {
        row(id: string): number;
        solver: { f: { places: Float64Array; panels: Float64Array }; c: { panelOf: Int32Array } };
      };
      const row = ui.row('pump-prime');
      const { f, c } = ui.solver;
      const p = (k: number) => f.panels[(c.panelOf[row] as number) * 16 + k] as number;
      const at = (k: number) => f.places[row * 8 + k] as number;
      const [x, y] = [at(4) + at(6) / 2, at(5) + at(7) / 2];
      const eye = globalThis.causeway.game.eye as unknown as { x: number; y: number; z: number };
      const [dx, dy, dz] = [eye.x, eye.y, eye.z].map((from, k) => p(k) + (p(3 + k) * x + p(6 + k) * y) / p(12) - from) as [
        number,
        number,
        number,
      ];
      return { yaw: Math.atan2(-dx, -dz), pitch: Math.atan2(dy, Math.hypot(dx, dz)) };
    });
    await stand(-44.98, 3.43, -29.4, yaw, pitch);
    await page.keyboard.press('KeyX');
    await page.waitForFunction(() => globalThis.causeway.game.heard[0]?.name === 'Prime the pump');
    expect(session.errors).toEqual([]);
  });

  it('boxes of the page in place of a canvas: the same picture, with panels; what stays the same is not touched', async () => {
    // From the first bundle, before the pump's panel.
    await page.goto(`${server.address}?paint=boxes`);
    await page.waitForFunction(() => globalThis.causeway?.game.frames > 1);
    await page.waitForSelector('#boxes [data-element="vitals"]');
    await page.waitForSelector('#boxes image[href^="/bundles/first/pictures/"]');
    await stand(-44.98, 3.43, -29.4, 1.25);
    await isShown('pump-prime');
    // A module of the page: what is imported there is not the test's.
    await page.addScriptTag({
      type: 'module',
      content: `
        import { Boxes } from '/runtime/foreshore-boxes.js';
        import { paint } from '/runtime/foreshore-canvas.js';
        import { measuredBy, Runtime } from '/runtime/foreshore-runtime.js';
        const { bundle } = causeway.runtime();
        // The game stands still.
        globalThis.requestAnimationFrame = () => 0;
        const parts = await Promise.all(bundle.needs.map(async (part) => (await import('/runtime/foreshore-' + part + '.js'))[part]));
        const letters = measuredBy(document.createElement('canvas').getContext('2d'), 'serif');
        const standing = () => {
          const ui = new Runtime(bundle, { parts, letters });
          ui.resize(innerWidth, innerHeight);
          ui.setPhase('roaming');
          const { x, y, z } = causeway.game.eye;
          const rotation = [0, Math.sin(1.25 / 2), 0, Math.cos(1.25 / 2)];
          for (let k = 0; k < 20; k++) ui.frame({ timeS: k / 30, pose: { position: [x, y, z], rotation } });
          return ui;
        };
        const all = document.createElement('div');
        all.style.cssText = 'position:fixed;inset:0;background:#446';
        all.innerHTML = '<canvas id="flat"></canvas><div id="ours" style="position:absolute;inset:0;overflow:hidden"></div>';
        document.body.append(all);
        const [canvas, root] = all.children;
        Object.assign(canvas, { width: innerWidth, height: innerHeight });
        let boxes;
        globalThis.compare = (by) => {
          const ui = by === 'outlines' ? causeway.runtime() : standing();
          boxes?.clear();
          boxes = new Boxes(ui, root);
          const context = canvas.getContext('2d');
          context.clearRect(0, 0, canvas.width, canvas.height);
          paint(ui, context);
          boxes.paint();
          const touched = new MutationObserver(() => {});
          touched.observe(root, { subtree: true, childList: true, attributes: true, characterData: true });
          boxes.paint();
          return touched.takeRecords().length;
        };
        globalThis.clearBoxes = () => boxes.clear();
      `,
    });
    await page.waitForFunction(() => 'compare' in globalThis, { polling: 50 });
    const compare = (by: 'outlines' | 'measured') =>
      page.evaluate((one) => (globalThis as unknown as { compare(by: string): number }).compare(one), by);
    const shot = async (id: string) => {
      await page.$$eval(
        '#flat, #ours',
        (all, wanted) => {
          for (const one of all) (one as HTMLElement).style.visibility = one.id === wanted ? 'visible' : 'hidden';
        },
        id,
      );
      return PNG.sync.read(Buffer.from(await page.screenshot()));
    };
    // Painted once more from the same frame, nothing of the page changes.
    expect(await compare('outlines')).toBe(0);
    const [flat, boxes] = [await shot('flat'), await shot('ours')];
    let off = 0;
    let painted = 0;
    for (let k = 0; k < flat.data.length; k += 4) {
      const differ = (a: PNG, b: readonly number[]) => [0, 1, 2].some((c) => Math.abs((a.data[k + c] as number) - (b[c] as number)) > 64);
      if (differ(flat, [...boxes.data.subarray(k, k + 3)])) off++;
      if (differ(flat, [0x44, 0x44, 0x66])) painted++;
    }
    // All that is painted is some 9,000 pixels that differ so much from the ground; the panel's edges and letters are smoothed otherwise.
    expect(painted).toBeGreaterThan(5_000);
    expect(off).toBeLessThan(1_500);
    // Letters that the page measures are texts of the page, on panels, too.
    expect(await compare('measured')).toBe(0);
    const [left, right] = await page.$$eval('#ours text', (all) => {
      const box = all.find(({ textContent }) => textContent === 'Prime the pump')?.getBoundingClientRect();
      return [box?.left ?? 0, box?.right ?? 0];
    });
    expect(left).toBeGreaterThan(250);
    expect(right).toBeLessThan(350);
    await page.evaluate(() => (globalThis as unknown as { clearBoxes(): void }).clearBoxes());
    expect(await page.$$eval('#ours > *', (all) => all.length)).toBe(0);
    expect(session.errors).toEqual([]);
  });

  it('connects to a bench: that sees its player and its values, it hears what is used there, and an edit is seen here', async () => {
    const bench = inject('address');
    const id = await createProject(bench, { from: 'demo' });
    const { token } = (await (await fetch(new URL(`/api/projects/${id}/games`, bench), { method: 'POST' })).json()) as { token: string };
    const query = new URLSearchParams({ bench, project: id, token });
    await page.goto(`${server.address}?${query}`);
    await page.waitForFunction(() => globalThis.causeway?.game.connection === 'connected', { polling: 50 });
    const line = new WebSocket(`${bench.replace('http', 'ws')}api/games?project=${id}`);
    const told: { games?: { id: string; name: string }[]; now?: { camera: { position: number[] }; feeds: Record<string, unknown> } } = {};
    line.on('message', (data) => Object.assign(told, JSON.parse(String(data))));
    const until = async (holds: () => boolean) => {
      for (let k = 0; !holds(); k++) {
        if (k > 1000) throw new Error('What was waited for did not come.');
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    };
    await until(() => told.games?.[0]?.name === 'Causeway');
    line.send(JSON.stringify({ follow: told.games?.[0]?.id }));
    await until(() => told.now !== undefined);
    await stand(-30, 2.6, -20, 1);
    await until(() => told.now?.camera.position[0] === -30);
    expect(told.now?.feeds).toMatchObject({ lamp: { value: expect.any(Number) }, gate1: { value: 0 } });
    const params = { action: 'turn-wheel', name: 'Turn a wheel', source: 'prompt-wheel', target: 'Sluice 2 wheel' };
    line.send(JSON.stringify({ tell: { method: 'action', params } }));
    await page.waitForFunction(() => (globalThis.causeway.game.gates[1] ?? 0) > 0.2, { polling: 50 });
    // Somebody makes a text of the HUD larger: the running game has it without being loaded again.
    await editAt(bench, id, (d) => {
      const warmth = d.elements['warmth-value'];
      if (warmth?.size.rule === 'screen') warmth.size.emPx = 61;
    });
    await page.waitForFunction(() => JSON.stringify(globalThis.causeway.runtime().bundle.rows).includes('"emPx":61,'), { polling: 200 });
    expect(await textOf('warmth-value')).toMatch(/^\d+ %$/);
    line.close();
    expect(session.errors).toEqual([]);
  });
});
