/** Nothing lost, nobody in: windows that meet, a server that changes under a window, parts of the page that fail, other origins. */

import { rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { makeDocument, makeText, onGlass } from '@foreshore/document';
import { preparedAddress } from '@foreshore/document/addresses';
import Database from 'better-sqlite3';
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { callAt, makeEmptyAt, rename, startTestServer } from '../apps/server/src/test-server.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { createProject, openBench, openBrowser, press, type Session, saved, sendLevel, settled } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session?.close());

const demoBench = async (page: Page, id: string) => {
  await openBench(page, address, id);
  await settled(page);
};
/** Types a name into the field of the selected element, and keeps it. */
const nameIt = async (page: Page, name: string) => {
  const field = await page.waitForSelector('aria/Name in lists');
  await field?.click({ clickCount: 3 });
  await page.keyboard.type(name);
  await page.keyboard.press('Enter');
};
const document = (page: Page) => page.evaluate(() => globalThis.foreshore?.project.getState().document);
const firstElement = (page: Page) =>
  page.evaluate(() => {
    const id = Object.keys(globalThis.foreshore?.project.getState().document?.elements ?? {})[0] as string;
    globalThis.foreshore?.bench.setState({ selection: id, rail: 'content', openStep: null });
    return id;
  });

describe('two windows of one project', () => {
  it('without a connection keep a queue each; closed and opened again, both are there; what met is listed with mine and theirs', async () => {
    const { page, browser } = session;
    const made = makeDocument('Two windows');
    made.elements.text = makeText(onGlass([0.5, 0.5]), 'Low water', 'a0');
    const id = await createProject(address, { from: 'document', document: made });
    await demoBench(page, id);
    const element = await firstElement(page);
    const other = await browser.newPage();
    await other.evaluateOnNewDocument('globalThis.__name ??= (f) => f');
    await demoBench(other, id);
    await firstElement(other);
    await page.setOfflineMode(true);
    await other.setOfflineMode(true);
    await page.bringToFront();
    await nameIt(page, 'Mine');
    await page.waitForSelector('[data-save="offline"]');
    await other.bringToFront();
    await nameIt(other, 'Theirs');
    await other.waitForSelector('[data-save="offline"]');
    // The second is first to be heard.
    await other.setOfflineMode(false);
    await saved(other, 1);
    await other.close();
    // The first is closed without ever having had a connection again; the next window finds what it left.
    await page.bringToFront();
    await page.setOfflineMode(false);
    await page.goto('about:blank');
    await demoBench(page, id);
    const button = await page.waitForSelector('[data-aside-count="1"]');
    expect((await document(page))?.elements[element]?.name).toBe('Theirs');
    await button?.click();
    const row = await page.waitForSelector('[data-aside]');
    const said = await row?.evaluate((el) => el.textContent);
    expect(said).toContain('Mine');
    expect(said).toContain('Theirs');
    // What came first was done before this window was there: nobody is named who won.
    expect(said).toContain('As it stands');
    // It outlives a reload.
    await demoBench(page, id);
    await (await page.waitForSelector('[data-aside-count="1"]'))?.click();
    await press(page, 'Take mine');
    await page.waitForFunction(
      (one) => globalThis.foreshore?.project.getState().document?.elements[one]?.name === 'Mine',
      { polling: 50 },
      element,
    );
    await page.waitForSelector('[data-aside-count]', { hidden: true });
    await saved(page, 2);
  });

  it('are told when one removes it, and go on when it is brought back', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Removed elsewhere' });
    await openBench(page, address, id);
    await fetch(new URL(`/api/projects/${id}`, address), { method: 'DELETE' });
    await page.waitForSelector('[data-standing="removed"]');
    await press(page, 'Bring it back');
    await page.waitForSelector('[data-standing]', { hidden: true });
    await page.waitForSelector('[data-save="saved"]');
  });
});

describe('a server that is not what it was', () => {
  it('is told once where it is behind, and work goes on as a copy', async () => {
    const { page } = session;
    const own = await startTestServer();
    const { id, document: made } = await makeEmptyAt(own, 'Behind');
    const change = { base: 0, patch: rename(made, 'Ahead'), changeId: 'a', clientId: 'x' };
    await callAt(own, 'POST', `/api/projects/${id}/changes`, change);
    await openBench(page, own.address, id);
    await saved(page, 1);
    // The same folder as it was before the change.
    await own.stop();
    const db = new Database(join(own.folder, 'foreshore.sqlite'));
    db.prepare('delete from revision where projectId = ?').run(id);
    db.prepare('update project set revision = 0 where id = ?').run(id);
    db.close();
    const again = await startTestServer(own.folder, Number(new URL(own.address).port));
    await page.waitForSelector('[data-standing="behind"]');
    await press(page, 'Work on as a copy');
    await page.waitForFunction((was) => !location.pathname.includes(`/${was}/`), { polling: 50 }, id);
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().document?.name === 'Ahead copy', { polling: 50 });
    await again.remove();
  });
  it('lists a project that cannot be read, and goes back to its last readable revision', async () => {
    const { page } = session;
    const own = await startTestServer();
    const { id } = await makeEmptyAt(own, 'Torn');
    await own.stop();
    const db = new Database(join(own.folder, 'foreshore.sqlite'));
    db.prepare('insert into revision values (?, 1, ?, ?, ?, 0)').run(id, 'b', 'x', '[{"op":"replace","path":"/body","value":5}]');
    db.prepare('update project set revision = 1 where id = ?').run(id);
    db.close();
    const again = await startTestServer(own.folder);
    await page.goto(again.address);
    const card = await page.waitForSelector(`[data-project="${id}"][data-unreadable]`);
    expect(await card?.evaluate((el) => el.textContent)).toMatch(/\/body.*Download what is there.*Go back to rev 0/);
    await press(page, 'Go back to rev 0');
    await page.waitForSelector(`[data-project="${id}"]:not([data-unreadable])`);
    await again.remove();
  });
});

describe('a level that was opened before', () => {
  /** Names of the levels that the browser keeps for an origin, and their sizes; 0 for one that is still being written. */
  const keptIn = (page: Page) =>
    page.evaluate(async () => {
      const into = await (await navigator.storage.getDirectory()).getDirectoryHandle('levels');
      const files: [string, number][] = [];
      for await (const [name, handle] of into as unknown as AsyncIterable<[string, FileSystemFileHandle]>) {
        const file = await handle.getFile();
        const [magic] = new Uint32Array(await file.slice(0, 4).arrayBuffer());
        files.push([name, magic ? file.size : 0]);
      }
      return files;
    });
  const alter = (page: Page, how: 'rename' | 'cut' | 'spoil') =>
    page.evaluate(async (what) => {
      const into = await (await navigator.storage.getDirectory()).getDirectoryHandle('levels');
      for await (const [, handle] of into as unknown as AsyncIterable<[string, FileSystemFileHandle]>) {
        const bytes = new Uint8Array(await (await handle.getFile()).arrayBuffer());
        // One letter of a node's name, all else as it was.
        const at = new TextDecoder('latin1').decode(bytes).lastIndexOf('Crate');
        bytes[at + 3] = 'n'.charCodeAt(0);
        // It does not say any more where its tables lie.
        if (what === 'spoil') bytes.fill(0, 20, 120);
        const writing = await handle.createWritable();
        await writing.write(what === 'cut' ? bytes.subarray(0, bytes.length >> 1) : bytes);
        await writing.close();
      }
    }, how);
  const nodes = (page: Page) => page.evaluate(() => [...(globalThis.foreshore?.engine.model.nodeIds ?? [])]);

  it('is read from this browser, whole or not at all; one that the server has no more is not shown', async () => {
    const own = await startTestServer();
    const level = newLevel();
    addBox(level, 'Quay', 15, [0, -15, 0]);
    addBox(level, 'Crate', 0.5, [0, 0.5, -6]);
    const sent = await sendLevel(own.address, 'quay.glb', await toBinary(level));
    const made = { ...sent, metresPerUnit: 1, upAxis: 'y' as const };
    const id = await createProject(own.address, { from: 'level', name: 'Quay', level: made });
    const page = await session.browser.newPage();
    await page.evaluateOnNewDocument('globalThis.__name ??= (f) => f');
    await openBench(page, own.address, id);
    expect(await nodes(page)).toContain('Crate');
    await expect.poll(() => keptIn(page).catch(() => [])).toHaveLength(1);
    const size = Number((await fetch(new URL(preparedAddress(sent.hash, made), own.address))).headers.get('content-length'));
    await expect.poll(async () => (await keptIn(page))[0]?.[1]).toBe(size);

    // What the browser keeps is what is opened.
    await alter(page, 'rename');
    await openBench(page, own.address, id);
    expect(await nodes(page)).toContain('Crane');
    // Half of it is none: the server's is brought, and kept in its place.
    await alter(page, 'cut');
    await openBench(page, own.address, id);
    expect(await nodes(page)).toContain('Crate');
    await expect.poll(async () => (await keptIn(page))[0]?.[1]).toBe(size);
    // One that is whole by its length, and cannot be opened, is let go of.
    await alter(page, 'spoil');
    await openBench(page, own.address, id);
    expect(await nodes(page)).toContain('Crate');
    expect(await keptIn(page)).toEqual([]);
    await openBench(page, own.address, id);
    await expect.poll(async () => (await keptIn(page))[0]?.[1]).toBe(size);

    await own.stop();
    rmSync(join(own.folder, 'files', sent.hash));
    const again = await startTestServer(own.folder, Number(new URL(own.address).port));
    await openBench(page, again.address, id);
    await page.waitForFunction(() => globalThis.document.body.textContent?.includes('is not on the server any more'), { polling: 50 });
    expect(await nodes(page)).not.toContain('Crate');
    await page.close();
    await again.remove();
  });
});

describe('a part of the page that fails', () => {
  it('says so where it is a view that was built anew meanwhile, and offers to reload', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Rebuilt' });
    const own = await session.browser.newPage();
    await own.evaluateOnNewDocument('globalThis.__name ??= (f) => f');
    await own.setRequestInterception(true);
    own.on('request', (request) => (/assets\/plan-/.test(request.url()) ? request.respond({ status: 404 }) : request.continue()));
    await openBench(own, address, id);
    await own.click('.views a[href*="/plan"]');
    const said = await own.waitForSelector('[data-failed-view="missing"]');
    expect(await said?.evaluate((el) => el.textContent)).toContain('Reload');
    await own.close();
    await page.bringToFront();
  });
  it('is started again once where it is a worker, and told; a second time it is said what is missing', async () => {
    const id = await createProject(address, { from: 'demo' });
    for (const deaths of [1, 2]) {
      const own = await session.browser.newPage();
      await own.evaluateOnNewDocument('globalThis.__name ??= (f) => f');
      // The worker of the bands dies at its first breath, so many times.
      await own.evaluateOnNewDocument((count: number) => {
        const Real = globalThis.Worker;
        let left = count;
        globalThis.Worker = class extends Real {
          constructor(url: string | URL, options?: WorkerOptions) {
            const dies = String(url).includes('bands') && left-- > 0;
            super(dies ? URL.createObjectURL(new Blob(['throw new Error("dead")'])) : url, dies ? {} : options);
          }
        };
      }, deaths);
      await openBench(own, address, id);
      if (deaths === 1) {
        await own.waitForFunction(() => globalThis.document.body.textContent?.includes('stopped and was started again'), { polling: 50 });
        await own.waitForSelector('[data-bands="ready"]');
      } else {
        await own.waitForFunction(() => globalThis.document.body.textContent?.includes('stopped twice'), { polling: 50 });
      }
      await own.close();
    }
  });
  it('comes back by itself where it is the graphics, and shows nothing stale meanwhile', async () => {
    const { page } = session;
    await page.bringToFront();
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id);
    await settled(page);
    const graphics = (what: 'Loss' | 'Restore') =>
      page.evaluate((which) => {
        const engine = globalThis.foreshore?.engine as unknown as
          | { renderer: { renderer: { forceContextLoss(): void; forceContextRestore(): void } } }
          | undefined;
        if (which === 'Loss') engine?.renderer.renderer.forceContextLoss();
        else engine?.renderer.renderer.forceContextRestore();
      }, what);
    await graphics('Loss');
    await page.waitForSelector('[data-graphics="lost"]');
    await settled(page);
    // One colour all over: nothing of the level, nor of what lay over it.
    const colours = () =>
      page.$eval('.picture canvas', (el) => {
        const canvas = el as HTMLCanvasElement;
        const data = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data ?? [];
        const seen = new Set<number>();
        for (let k = 0; k < data.length; k += 400) seen.add(((data[k] ?? 0) << 16) | ((data[k + 1] ?? 0) << 8) | (data[k + 2] ?? 0));
        return seen.size;
      });
    expect(await colours()).toBe(1);
    await graphics('Restore');
    await page.waitForSelector('[data-graphics="lost"]', { hidden: true });
    await settled(page);
    expect(await colours()).toBeGreaterThan(20);
  });
});

describe('a bench that is left in the midst of its work', () => {
  // What a browser keeps to go back to has its workers stopped where they are; ended then, they took the tab with them.
  it('is there when it is opened again, every time, and when one goes back to it', async () => {
    const own = await openBrowser();
    try {
      const { page } = own;
      let died = 0;
      page.on('error', () => died++);
      const id = await createProject(address, { from: 'demo' });
      for (let k = 0; k < 8; k++) {
        await page.goto(new URL(`/p/${id}/bench`, address).href);
        await Promise.race([
          page.waitForFunction(() => globalThis.foreshore?.engine.firstPictureMs ?? null, { polling: 20 }),
          new Promise((resolve) => page.once('error', resolve)),
        ]);
        expect(died, `opening ${k + 1}`).toBe(0);
      }
      await page.goto('about:blank');
      await page.goBack();
      await page.waitForSelector('[data-bands="ready"]');
      await settled(page);
      expect(died).toBe(0);
    } finally {
      await own.close();
    }
  });
});

describe('a page of another origin', () => {
  let elsewhere: Server;
  beforeAll(async () => {
    elsewhere = createServer((_req, res) => res.setHeader('content-type', 'text/html').end('<title>Elsewhere</title>'));
    await new Promise<void>((resolve) => elsewhere.listen(0, '127.0.0.1', resolve));
  });
  afterAll(() => elsewhere.close());

  it.each(['127.0.0.1', 'localhost'])('called %s reads nothing, changes nothing, hears nothing, and ends nothing', async (name) => {
    const { browser } = session;
    const id = await createProject(address, { from: 'empty', name: 'Private' });
    const before = await (await fetch(new URL('/api/projects', address))).text();
    const page = await browser.newPage();
    await page.evaluateOnNewDocument('globalThis.__name ??= (f) => f');
    await page.goto(`http://${name}:${(elsewhere.address() as AddressInfo).port}/`);
    const port = new URL(address).port;
    const said = await page.evaluate(
      async (targets, project) => {
        const out: string[] = [];
        for (const base of targets) {
          for (const [method, path, body] of [
            ['GET', '/api/projects'],
            ['GET', `/api/projects/${project}`],
            ['GET', `/api/projects/${project}/export`],
            ['GET', '/api/openapi.json'],
            ['DELETE', `/api/projects/${project}`],
            ['PATCH', `/api/projects/${project}`, '{"name":"Taken","clientId":"x"}'],
            ['POST', '/api/projects', '{"from":"empty","name":"Theirs"}'],
            ['POST', '/api/levels?name=a.glb', 'glTF'],
          ] as const) {
            // Also without asking first, as a form would.
            for (const mode of ['cors', 'no-cors'] as const) {
              if (mode === 'no-cors' && (method === 'DELETE' || method === 'PATCH')) continue;
              const answer = await fetch(base + path, { method, mode, ...(body && { body }) }).then(
                (r) => (r.type === 'opaque' ? '' : r.text()),
                () => '',
              );
              if (answer) out.push(`${method} ${path}: ${answer.slice(0, 80)}`);
            }
          }
          for (const path of ['/', '//', `/api/live?project=${project}`, '/api/live?project=%E0%A4'])
            await new Promise<void>((resolve) => {
              const socket = new WebSocket(base.replace('http', 'ws') + path);
              socket.onopen = () => {
                out.push(`heard ${path}`);
                resolve();
              };
              socket.onerror = () => resolve();
              socket.onclose = () => resolve();
            });
        }
        return out;
      },
      [`http://127.0.0.1:${port}`, `http://localhost:${port}`],
      id,
    );
    expect(said).toEqual([]);
    expect(await (await fetch(new URL('/api/projects', address))).text()).toBe(before);
    await page.close();
  });
});
