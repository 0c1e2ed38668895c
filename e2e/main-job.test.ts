/** The main job through the real interface: from the shelf to a label that is still there after everything was closed. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { startTestServer } from '../apps/server/src/test-server.ts';
import { openBinary, writeBinary } from '../packages/level/src/container.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { benchReady, createProject, openBench, openBrowser, placeLabel, press, type Session, saved, sendLevel } from './browser.ts';

const address = inject('address');
let session: Session;
let folder: string;
beforeAll(async () => {
  session = await openBrowser();
  folder = mkdtempSync(join(tmpdir(), 'foreshore-e2e-'));
});
afterAll(async () => {
  await session.close();
  rmSync(folder, { recursive: true, force: true });
});

const pier = async (half = 1): Promise<Uint8Array> => {
  const document = newLevel();
  addBox(document, 'Ground', 20 * half, [0, -20 * half, 0]);
  addBox(document, 'Pier', half, [0, half, 0]);
  return toBinary(document);
};
const write = (name: string, bytes: Uint8Array): string => {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
};
/** Gives files to the shelf through its file picker. */
async function choose(...paths: string[]): Promise<void> {
  await session.page.goto(address);
  await session.page.waitForSelector('.cards');
  const [picker] = await Promise.all([session.page.waitForFileChooser(), press(session.page, 'From a file')]);
  await picker.accept(paths);
}

/** The anchor's place in the world and on the screen, as the application has it now. */
const anchorOf = (id: string) =>
  session.page.evaluate((wanted) => {
    const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
    const state = bench.getState();
    const row = engine.solveAt(state.viewer, engine.pose(), state.timeS).find((e) => e.id === wanted);
    return { place: engine.anchorPlace(wanted), point: row?.point, pose: engine.pose() };
  }, id);

describe('placing a label in the demo', () => {
  it('works from the shelf, through a walk and undo, and outlives a reload', async () => {
    const { page } = session;
    await page.goto(address);
    await press(page, 'Open Low Water');
    await benchReady(page);
    expect(await page.$$eval('.row', (rows) => rows.length)).toBeGreaterThan(5);

    const id = await placeLabel(page, 0.45, 0.85, 'Ebb mark');
    const before = await anchorOf(id);
    expect(before.point?.[0]).toBeCloseTo(0.45 * 1920, -1);

    // Walk: the place in the world stays, the place on the screen moves with the camera.
    await page.focus('.picture');
    await page.keyboard.down('KeyA');
    await page.waitForFunction(
      (x) => Math.abs((globalThis.foreshore?.engine.pose().position[0] ?? x) - x) > 0.5,
      { polling: 50 },
      before.pose.position[0],
    );
    await page.keyboard.up('KeyA');
    const after = await anchorOf(id);
    expect(after.place).toEqual(before.place);
    expect(Math.hypot(...after.pose.position.map((v, k) => v - (before.pose.position[k] as number)))).toBeGreaterThan(0.4);
    expect(after.point).not.toEqual(before.point);

    const has = () => page.evaluate((wanted) => Boolean(globalThis.foreshore?.project.getState().document?.elements[wanted]), id);
    await press(page, 'Undo: Place a label');
    expect(await has()).toBe(false);
    await press(page, 'Redo: Place a label');
    expect(await has()).toBe(true);
    await saved(page, 3);

    await page.reload();
    await benchReady(page);
    expect(await has()).toBe(true);
    expect((await anchorOf(id)).place).toEqual(before.place);
    expect(session.errors).toEqual([]);
  });

  it('restores from the address what was seen', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water', '?viewer=handheld&route=out-to-the-lamp&t=6&sel=sluice-1-wheel');
    expect(await page.$eval('[data-step="attach"]', (el) => el.getAttribute('data-state'))).toBe('yes');
    const line = await page.evaluate(() => {
      const { viewer, route, timeS, selection } = globalThis.foreshore?.bench.getState() ?? {};
      return { viewer, route, timeS, selection };
    });
    expect(line).toEqual({ viewer: 'handheld', route: 'out-to-the-lamp', timeS: 6, selection: 'sluice-1-wheel' });
  });
});

describe("a level of one's own", () => {
  it('dropped on the shelf becomes a project; a label stays on it', async () => {
    const { page } = session;
    await page.goto(address);
    await page.waitForSelector('.cards');
    // A drop as the browser makes it: files in a DataTransfer.
    await page.evaluate(
      (base64) => {
        const transfer = new DataTransfer();
        transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], 'pier.glb'));
        document.querySelector('.shelf')?.dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, bubbles: true, cancelable: true }));
      },
      Buffer.from(await pier()).toString('base64'),
    );
    await benchReady(page);
    expect(page.url()).toContain('/p/pier/bench');
    const id = await placeLabel(page, 0.5, 0.5, 'Pier head');
    const { place } = await anchorOf(id);
    // It lies on the box of 2 m, or the ground about it.
    expect(Math.abs((place?.[0] ?? 99) - 0)).toBeLessThan(20);
    await saved(page, 1);
    await page.reload();
    await benchReady(page);
    expect((await anchorOf(id)).place).toEqual(place);
  });

  it('in several files, and one in centimetres that asks for its unit', async () => {
    const { page } = session;
    const { json, bin } = openBinary(await pier(100));
    const gltf = new TextEncoder().encode(JSON.stringify({ ...json, buffers: [{ uri: 'jetty.bin', byteLength: bin.byteLength }] }));
    await choose(write('jetty.gltf', gltf), write('jetty.bin', bin));
    await page.waitForSelector('aria/Use centimetres');
    await press(page, 'Use centimetres');
    await benchReady(page);
    const bounds = await page.evaluate(() => globalThis.foreshore?.engine.model.bounds());
    expect(bounds?.greatest[1]).toBeCloseTo(2, 3);
  });

  it('that is broken is refused with what is wrong and where, and the application goes on', async () => {
    const { page } = session;
    const { json, bin } = openBinary(await pier());
    const cases: [string, Uint8Array, RegExp][] = [
      ['short.glb', (await pier()).subarray(0, 300), /cut short/],
      ['circle.glb', writeBinary({ ...json, nodes: [{ children: [1] }, { children: [0] }] }, bin), /\/nodes\/\d.*ancestor/s],
      ['foreign.glb', writeBinary({ ...json, extensionsRequired: ['ACME_tide'] }, bin), /ACME_tide/],
      ['range.glb', writeBinary({ ...json, accessors: json.accessors?.map((a) => ({ ...a, count: 1e6 })) }, bin), /\/accessors\/0/],
      ['notes.zip', new TextEncoder().encode('not an archive'), /zip archive/],
    ];
    for (const [name, bytes, message] of cases) {
      await choose(write(name, bytes));
      await page.waitForSelector('.fault-list li');
      expect(await page.$eval('.fault-list', (el) => el.textContent)).toMatch(message);
    }
    await page.keyboard.press('Escape');
    await press(page, 'Open Low Water');
    await benchReady(page);
  });
});

describe('the shelf', () => {
  // Begun again, it finds nothing of its own there.
  let begun = 0;
  it('makes, renames, duplicates, removes and brings back', async () => {
    const { page } = session;
    const [sandbar, shoal] = [`Sandbar ${++begun}`, `Shoal ${begun}`];
    await page.goto(address);
    await press(page, 'New project');
    await page.waitForSelector('aria/Name[role="textbox"]');
    await page.keyboard.type(sandbar);
    await page.keyboard.press('Enter');
    await benchReady(page);
    await page.goto(address);
    const menu = async (project: string, item: string) => {
      await press(page, `More for ${project}`);
      await press(page, item);
    };
    const names = () => page.$$eval('.card h2', (all) => all.map((h) => h.textContent));
    const until = (name: string, there: boolean) =>
      page.waitForFunction(
        (n, t) => [...document.querySelectorAll('.card h2')].some((h) => h.textContent === n) === t,
        { polling: 50 },
        name,
        there,
      );
    await menu(sandbar, 'Rename');
    await page.waitForSelector('aria/Name[role="textbox"]');
    await page.keyboard.type(shoal);
    await page.keyboard.press('Enter');
    await until(shoal, true);
    await menu(shoal, 'Duplicate');
    await until(`${shoal} copy`, true);
    await menu(shoal, 'Remove');
    await until(shoal, false);
    await press(page, 'Bring it back');
    await until(shoal, true);
    expect(await names()).toContain(`${shoal} copy`);
  });

  it('imports what it exported', async () => {
    const { page } = session;
    const exported = new Uint8Array(await (await fetch(new URL('/api/projects/low-water/export', address))).arrayBuffer());
    await choose(write('low-water.foreshore.zip', exported));
    await page.waitForFunction(() => [...document.querySelectorAll('.card h2')].filter((h) => h.textContent === 'Low Water').length >= 2, {
      polling: 50,
    });
  });
});

describe('two tabs', () => {
  it("see each other's changes", async () => {
    const { page, browser } = session;
    const id = await createProject(address, { from: 'empty', name: 'Shared' });
    await openBench(page, address, id);
    const other = await browser.newPage();
    await openBench(other, address, id);
    const label = await placeLabel(other, 0.5, 0.7, 'From the other tab');
    await page.bringToFront();
    await page.waitForFunction((wanted) => globalThis.foreshore?.project.getState().document?.elements[wanted], { polling: 50 }, label);
    await other.close();
  });
});

describe('a lost connection', () => {
  it('is shown, keeps what is done meanwhile, and recovers without loss', async () => {
    const { page } = session;
    let server = await startTestServer();
    const { port } = new URL(server.address);
    const id = await createProject(server.address, { from: 'empty', name: 'Storm' });
    await openBench(page, server.address, id);
    await placeLabel(page, 0.4, 0.7, 'Before');
    await saved(page, 1);
    await server.stop('SIGKILL');
    await page.waitForSelector('.save[data-save="offline"]');
    await placeLabel(page, 0.6, 0.7, 'During');
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().waiting === 1, { polling: 50 });
    expect(await page.$eval('.save', (el) => el.textContent)).toContain('1 change kept here');
    server = await startTestServer(server.folder, Number(port));
    await saved(page, 2);
    const { document } = (await (await fetch(new URL(`/api/projects/${id}`, server.address))).json()) as {
      document: { elements: Record<string, { text: string }> };
    };
    expect(
      Object.values(document.elements)
        .map((e) => e.text)
        .sort(),
    ).toEqual(['Before', 'During']);
    await server.remove();
  });
});

describe('the picture on the shelf', () => {
  it('is taken from the bench', async () => {
    const { page } = session;
    const id = await createProject(address, {
      from: 'level',
      name: 'Pictured',
      level: { ...(await sendLevel(address, 'again.glb', await pier())), metresPerUnit: 1, upAxis: 'y' },
    });
    await openBench(page, address, id);
    await page.waitForResponse((r) => r.url().endsWith(`/${id}/picture`) && r.request().method() === 'PUT');
    await page.goto(address);
    await page.waitForSelector(`[data-project="${id}"] img`);
    expect(
      await page.$eval(`[data-project="${id}"] img`, (img) =>
        (img as HTMLImageElement).decode().then(() => (img as HTMLImageElement).naturalWidth),
      ),
    ).toBe(480);
  });
});
