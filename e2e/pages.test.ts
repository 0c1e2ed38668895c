/** Pages as content, in the running bench: brought, drawn, fed, used by every pointer, measured, and stopped where they misbehave. */

import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Document, type Element, makeDocument, makePage, onGlass } from '@foreshore/document';
import { strToU8, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { PageState } from '../apps/web/src/level/pages.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { importProject, inPicture, openBench, openBrowser, press, type Session, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let yard: Uint8Array;
let folder: string;
beforeAll(async () => {
  session = await openBrowser();
  folder = mkdtempSync(join(tmpdir(), 'foreshore-pages-'));
  const level = newLevel();
  addBox(level, 'Yard', 15, [0, -15, 0]);
  yard = await toBinary(level);
});
afterAll(async () => {
  await session?.close();
  rmSync(folder, { recursive: true, force: true });
});

const HERE: NonNullable<Document['opening']>['pose'] = { position: [0, 1.65, 0], rotation: [0, 0, 0, 1] };
const page = (body: string, script = ''): string =>
  `<!doctype html><meta charset="utf-8"><meta name="viewport" content="width=400, height=300"><style>body{margin:0;font:20px sans-serif}</style><body>${body}<script>${script}</script>`;

/** A project with one page on the HUD, twice as large as it is, opened with it selected. */
async function bring(html: string, fill: (d: Document) => void = () => {}): Promise<string> {
  const answer = await fetch(new URL('/api/pages?name=own.html', address), {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: html,
  });
  const { hash, widthPx, heightPx } = (await answer.json()) as { hash: string; widthPx: number; heightPx: number };
  const bytes = new Uint8Array(await (await fetch(new URL(`/api/pictures/${hash}`, address))).arrayBuffer());
  const document = makeDocument('Pages');
  document.level = { file: 'yard.glb', hash: null, metresPerUnit: 1, upAxis: 'y' };
  document.opening = { timeS: 0, pose: HERE };
  document.pictures = { own: { name: 'Own', order: 'a0', hash, type: 'text/html', widthPx, heightPx } };
  document.elements.page = makePage(onGlass([0.5, 0.5]), 'Notice', 'own', 800, 600, 'a0');
  document.feeds.water = { name: 'Water', order: 'a0', kind: 'number', unit: 'm', initial: 1.5 };
  document.actions = { ring: { name: 'Ring the bell', order: 'a0', reactions: [{ kind: 'set', when: [], feed: 'water', value: 2 }] } };
  fill(document);
  const id = await importProject(address, document, yard, { [hash]: bytes });
  await openBench(session.page, address, id, '');
  await session.page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'page', rail: 'content' }));
  return id;
}
const state = (wanted: PageState) => session.page.waitForSelector(`[data-page="${wanted}"]`);
const says = () => session.page.$eval('[data-page]', (el) => el.textContent ?? '');
const saysAlso = (words: string) =>
  session.page.waitForFunction((part) => document.querySelector('[data-page]')?.textContent?.includes(part), { polling: 50 }, words);
/** The frame in which the page runs. */
const inside = () => session.page.frames().find((frame) => frame.url().includes('/api/pages/'));
/** A place of the page, in its own pixels, on the screen. */
async function at(x: number, y: number): Promise<[number, number]> {
  const [u, v] = await session.page.evaluate(
    (px, py) => {
      const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const { widthPx, heightPx } = engine.frameOf(bench.getState().viewer)?.a.projection ?? { widthPx: 1, heightPx: 1 };
      const [sx = 0, sy = 0] = engine.places.seen('page')?.point(px / 400, py / 300) ?? [];
      return [sx / widthPx, sy / heightPx] as [number, number];
    },
    x,
    y,
  );
  const place = await inPicture(session.page, u, v);
  return [place.x, place.y];
}
/** The colour that is painted at a place of the page. */
async function colourAt(x: number, y: number): Promise<number[]> {
  const [px, py] = await at(x, y);
  return session.page.evaluate(
    (left, top) => {
      const canvas = document.querySelector<HTMLCanvasElement>('.picture canvas');
      const box = canvas?.getBoundingClientRect();
      if (!canvas || !box) return [];
      const [u, v] = [(left - box.left) / box.width, (top - box.top) / box.height];
      return [
        ...(canvas.getContext('2d')?.getImageData(Math.round(u * canvas.width), Math.round(v * canvas.height), 1, 1).data ?? []),
      ].slice(0, 3);
    },
    px,
    py,
  );
}

describe('a page', () => {
  it('is brought as an archive with its assets; what it lacks is told, and stays told', async () => {
    const { page: bench } = session;
    await bring(page('first'));
    await state('runs');
    const file = join(folder, 'notice.zip');
    writeFileSync(
      file,
      zipSync({
        'index.html': strToU8('<!doctype html><link rel=stylesheet href=css/a.css><body>Notice<img src=lamp.png>'),
        'css/a.css': strToU8('body { margin: 0; background: rgb(200, 40, 40) }'),
      }),
    );
    const input = await bench.$('input[type="file"][accept*="zip"]');
    await input?.uploadFile(file);
    await bench.waitForFunction(() => document.body.textContent?.includes('Missing from it: lamp.png'), { polling: 50 });
    await state('runs');
    await settled(bench);
    const element = await bench.evaluate(() => globalThis.foreshore?.project.getState().document?.elements.page);
    expect(element).toMatchObject({ page: 'notice' });
    // 640 x 400 in 800 x 600: its place is reckoned by another shape.
    expect(await colourAt(200, 200)).toEqual([200, 40, 40]);
  });

  it('hears feeds and the language, draws what it makes of them, and is used by the mouse', async () => {
    const { page: bench } = session;
    await bring(
      page(
        '<div id=bar style="height:100px;background:rgb(20,60,200)"></div><button id=b style="position:absolute;left:0;top:200px;width:400px;height:100px">Ring</button>',
        `addEventListener('message', ({ data }) => { if (data.feeds) { bar.style.width = data.feeds.water * 100 + 'px'; document.title = data.language } });
         b.onclick = () => parent.postMessage({ action: 'Ring the bell' }, '*');
         b.addEventListener('pointermove', () => { b.dataset.over = 'yes' });`,
      ),
    );
    await state('runs');
    await settled(bench);
    expect(await inside()?.title()).toBe('en');
    // 1.5 m are 150 px of the page.
    expect(await colourAt(140, 50)).toEqual([20, 60, 200]);
    expect(await colourAt(160, 50)).not.toEqual([20, 60, 200]);
    await press(bench, 'Try');
    await bench.mouse.move(...(await at(200, 250)));
    await inside()?.waitForSelector('#b[data-pointed][data-over]');
    await bench.mouse.down();
    await inside()?.waitForSelector('#b[data-pressed]');
    await bench.mouse.up();
    await bench.waitForFunction(() => globalThis.foreshore?.engine.valuesNow().water === 2, { polling: 50 });
    await inside()?.waitForFunction(() => document.getElementById('bar')?.style.width === '200px');
    await bench.waitForFunction(() => document.querySelectorAll('[data-played="sent"]').length === 1, { polling: 50 });
    // Beside it, it hears that the pointer has left.
    await bench.mouse.move(...(await at(200, -20)));
    await inside()?.waitForSelector('#b:not([data-pointed])');
  });

  it('stands in the level as it lies on the HUD, and is pressed there by the middle of the view', async () => {
    const { page: bench } = session;
    await bring(
      page(
        '<button id=b style="width:400px;height:300px;border:0;background:rgb(30,160,60)">Ring</button>',
        "b.onclick = () => parent.postMessage({ action: 'ring' }, '*'); b.onpointerdown = () => b.focus()",
      ),
      (d) => {
        d.ray = { reachM: 5, sources: ['aim'] };
        d.anchors.wall = { kind: 'surface', name: 'Wall', order: 'a0', node: null, position: [0, 1.65, -3], normal: [0, 0, 1] };
        d.elements.page = {
          ...makePage(
            {
              mount: {
                kind: 'standing',
                anchor: 'wall',
                sizeM: [1.6, 1.2],
                pxPerM: 250,
                readM: 3,
                sides: 'front',
                facing: 'fixed',
                turnDeg: 0,
                tiltDeg: 0,
                liftM: 0,
              },
              place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null } as Element['place'] as never,
            },
            'Notice',
            'own',
            400,
            300,
            'a0',
          ),
        };
      },
    );
    await state('runs');
    await settled(bench);
    expect(await colourAt(60, 60)).toEqual([30, 160, 60]);
    await press(bench, 'Try');
    await bench.evaluate(() => globalThis.foreshore?.bench.setState({ pointWith: 'aim' }));
    await settled(bench);
    await bench.keyboard.down('x');
    await inside()?.waitForSelector('#b[data-pressed]');
    await bench.keyboard.up('x');
    await bench.waitForFunction(() => globalThis.foreshore?.engine.valuesNow().water === 2, { polling: 50 });
  });

  it('has its smallest letters measured; where they cannot be, that is said, and never that they are fine', async () => {
    const { page: bench } = session;
    const readable = () => bench.$eval('[data-step="readable"]', (el) => [el.getAttribute('data-state'), el.getAttribute('title')]);
    // Twice as large as its own pixels: the capitals of 10 px letters are about 14 px of design.
    await bring(page('<p style="font-size:60px">Large</p><p id=small style="font-size:10px">Small</p>'));
    await state('runs');
    await saysAlso('smallest capitals');
    await settled(bench);
    const capPx = await bench.evaluate(() => Object.values(globalThis.foreshore?.engine.pages.known() ?? {})[0]?.capPx);
    const own = await inside()?.evaluate(() => {
      const pen = document.createElement('canvas').getContext('2d') as CanvasRenderingContext2D;
      pen.font = getComputedStyle(document.getElementById('small') as HTMLElement).font;
      return pen.measureText('H').actualBoundingBoxAscent;
    });
    expect(capPx).toBe(own);
    const px = Number(/([\d.]+) px/.exec((await readable())[1] ?? '')?.[1]);
    const unit = await bench.evaluate(() => globalThis.foreshore?.engine.frameOf('desk')?.a.fit ?? 0);
    expect(px / ((own ?? 0) * 2 * unit)).toBeCloseTo(1, 1);
    await bring(page('<canvas width=300 height=200></canvas>'));
    await state('runs');
    await settled(bench);
    expect(await says()).toContain('not measured');
    expect((await readable())[0]).toBe('short');
    expect((await readable())[1]).toContain('not measured');
  });

  it('that never stops moving lets the rest come to rest, and is the same page again after undo', async () => {
    const { page: bench } = session;
    await bring(
      page(
        '<p id=n style="font-size:40px">0</p>',
        'let n = 0; setInterval(() => { document.getElementById("n").textContent = String(++n) }, 40)',
      ),
    );
    await state('runs');
    // The other viewers' verdicts are of the page as it is measured, though it goes on drawing itself.
    await bench.waitForFunction(
      () => globalThis.foreshore?.bench.getState().info?.verdicts.every(({ faults }) => faults.every(({ kind }) => kind !== 'unmeasured')),
      { polling: 50 },
    );
    await settled(bench);
    await press(bench, 'Delete Notice');
    await bench.waitForSelector('iframe', { hidden: true });
    await press(bench, 'Undo: Delete Notice');
    await bench.waitForSelector('iframe');
    await bench.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'page' }));
    await state('runs');
  });

  it('is unloaded while it is shown nowhere, and begins anew', async () => {
    const { page: bench } = session;
    await bring(page('Notice'));
    await state('runs');
    const hide = (hidden: boolean) =>
      bench.evaluate((off) => {
        const { project, live } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        if (project.getState().document) live.setState({ forced: off ? { page: 'hidden' } : {} });
      }, hidden);
    await hide(true);
    await state('rests');
    expect(await bench.$$eval('iframe', (all) => all.length)).toBe(0);
    await hide(false);
    await state('runs');
    expect(await bench.$$eval('iframe', (all) => all.length)).toBe(1);
  });
});

describe('a page that misbehaves', () => {
  it.each<[string, string, PageState]>([
    ['never comes to an end', 'setTimeout(() => { for (;;) {} }, 300)', 'silent'],
    ['goes elsewhere', "setTimeout(() => { location.href = 'http://127.0.0.1:9/' }, 300)", 'left'],
    ['floods', "setInterval(() => { for (let k = 0; k < 2000; k++) parent.postMessage({ action: 'ring' }, '*') }, 20)", 'floods'],
  ])('%s: it is stopped and says so, and the bench goes on', async (_, script, wanted) => {
    const { page: bench } = session;
    await bring(page('Notice', `addEventListener('load', () => { ${script} })`));
    await state(wanted);
    await settled(bench);
    expect(await bench.$$eval('iframe', (all) => all.length)).toBe(0);
    // What stood for it is crossed out, not blank, and another change is taken.
    expect(await colourAt(200, 20)).toEqual([0x3a, 0x43, 0x52]);
    await press(bench, 'Begin again');
    await bench.waitForSelector('iframe');
  });

  it('reaches neither the network nor the bench, opens nothing, and its links lead nowhere', async () => {
    const { page: bench } = session;
    const asked: string[] = [];
    bench.on('request', (request) => asked.push(request.url()));
    await bring(
      page(
        '<a id=out href="http://127.0.0.1:9/away" style="position:absolute;inset:0">Away</a><a id=js href="javascript:document.title=1">js</a><img src="http://127.0.0.1:9/a.png">',
        `const tries = {};
         const note = (what, how) => { try { how(); tries[what] = 'done' } catch (error) { tries[what] = error.name } };
         note('parent', () => parent.document.title);
         note('storage', () => localStorage.length);
         note('cookie', () => document.cookie);
         note('peer', () => new RTCPeerConnection());
         tries.popup = String(open('about:blank'));
         Promise.all(['/api/projects', 'http://127.0.0.1:9/'].map((to) => fetch(to).then(() => 'done', (error) => error.name))).then((all) => { tries.fetch = all.join(); document.title = JSON.stringify(tries) });`,
      ),
    );
    await state('runs');
    await inside()?.waitForFunction(() => document.title.startsWith('{'));
    expect(JSON.parse((await inside()?.title()) ?? '{}')).toEqual({
      parent: 'SecurityError',
      storage: 'SecurityError',
      cookie: 'SecurityError',
      peer: 'TypeError',
      popup: 'null',
      fetch: 'TypeError,TypeError',
    });
    await press(bench, 'Try');
    await bench.mouse.click(...(await at(200, 150)));
    await press(bench, 'Look');
    await saysAlso('http://127.0.0.1:9/away was not followed');
    expect(asked.filter((url) => url.includes(':9/'))).toEqual([]);
    bench.removeAllListeners('request');
  });
});
