/** Headless Chromium on the real application, and the few things every browser test does. */
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Document, diff, type OpenProject, writeProjectFile } from '@foreshore/document';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';
import type { Engine } from '../apps/web/src/engine/engine.ts';
import type { useBench } from '../apps/web/src/state/bench.ts';
import type { useLive } from '../apps/web/src/state/live.ts';
import type { useProject } from '../apps/web/src/state/project.ts';

/** What the bench leaves on the window for tests. */
export interface Inside {
  engine: Engine;
  bench: typeof useBench;
  project: typeof useProject;
  live: typeof useLive;
}
declare global {
  var foreshore: Inside | undefined;
}

export const chromium = (): string => {
  const found = [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-browser'].find((path) => path && existsSync(path));
  if (!found) throw new Error('There is no Chromium; npm test installs one.');
  return found;
};

export interface Session {
  browser: Browser;
  page: Page;
  /** What went wrong in the page: what it threw, and changes of its own that the server did not understand. */
  errors: string[];
  close(): Promise<void>;
}

export async function openBrowser(width = 1280, height = 800): Promise<Session> {
  const profile = mkdtempSync(join(tmpdir(), 'foreshore-chromium-'));
  const browser = await puppeteer.launch({
    executablePath: chromium(),
    userDataDir: profile,
    defaultViewport: { width, height },
    protocolTimeout: 240_000,
    args: [
      '--headless',
      '--no-sandbox',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--use-angle=swiftshader',
      '--enable-unsafe-swiftshader',
      // Without a graphics card, canvases that go through its stand-in wait a second for their turn.
      '--disable-accelerated-2d-canvas',
      // The page itself is put together in software; only the level needs what stands in for a graphics card.
      '--disable-gpu-compositing',
    ],
  });
  const page = await browser.newPage();
  page.setDefaultTimeout(60_000);
  answering(page);
  const errors: string[] = [];
  // What esbuild wraps named functions in; tests send functions into the page.
  await page.evaluateOnNewDocument('globalThis.__name ??= (f) => f');
  page.on('pageerror', (error) => errors.push(String(error)));
  // A change that the server does not even understand is none that anybody can make.
  page.on('response', (response) => {
    const asked = response.request();
    if (response.status() === 400 && asked.method() === 'POST' && asked.url().endsWith('/changes'))
      errors.push(`The server did not understand a change: ${asked.postData()?.slice(0, 500)}`);
  });
  return {
    browser,
    page,
    errors,
    close: async () => {
      await browser.close();
      rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}

/** A page draws its first frame within this, however busy the machine. */
const FIRST_FRAME_MS = 12_000;
const MOST_TRIES = 3;

/**
 * Once in some hundred navigations on a busy machine, Chromium loads a page and then neither runs its scripts nor draws it: nothing
 * in it answers, a picture of it is refused with "Internal error", and the next navigation is well again. Such a one is asked for anew.
 */
function answering(page: Page): void {
  const frame = () =>
    Promise.race([
      page.evaluate(() => new Promise<boolean>((resolve) => requestAnimationFrame(() => resolve(true)))),
      new Promise<boolean>((resolve) => setTimeout(() => resolve(false), FIRST_FRAME_MS)),
    ]).catch(() => true);
  const goTo = page.goto.bind(page);
  const reload = page.reload.bind(page);
  const until = async <T>(first: () => Promise<T>, again: () => Promise<T>): Promise<T> => {
    let answer = await first();
    for (let tries = 1; tries < MOST_TRIES && !(await frame()); tries++) {
      process.stderr.write(`${page.url()} does not answer; it is asked for again.\n`);
      answer = await again();
    }
    return answer;
  };
  page.goto = (...args) =>
    until(
      () => goTo(...args),
      () => goTo(...args),
    );
  page.reload = (...args) =>
    until(
      () => reload(...args),
      () => goTo(page.url()),
    );
}

/** Waits until the bench shows its first picture, and what stands beside it, which comes after. */
export const benchReady = (page: Page) =>
  page.waitForFunction(() => Boolean(globalThis.foreshore?.bench.getState().info && document.querySelector('.strip > *')), { polling: 50 });

/** The picture shows everything done so far. */
export const settled = (page: Page) =>
  page.waitForFunction(
    () => {
      const { engine, project } = globalThis.foreshore ?? {};
      const { draft, document } = project?.getState() ?? {};
      // What was just changed may not have come to the engine yet.
      // And what stands beside the picture comes after the first one.
      const beside = globalThis.document.querySelector('.strip > *') !== null;
      return beside && engine?.settled === true && engine.document === (draft ?? document);
    },
    { polling: 50 },
  );

/** @param query what the bench shows; without one, the start of the first route rather than what the project opens with. */
export async function openBench(page: Page, address: string, id: string, query = '?t=0'): Promise<void> {
  await page.goto(new URL(`/p/${id}/bench${query}`, address).href);
  await benchReady(page);
}

/** Waits until nothing is left to send, and says which revision the server has. */
export async function saved(page: Page, atLeast = 0): Promise<number> {
  const handle = await page.waitForFunction(
    (least) => {
      const s = globalThis.foreshore?.project.getState();
      return s && s.save === 'saved' && s.waiting === 0 && s.revision >= least ? { revision: s.revision } : null;
    },
    { polling: 50 },
    atLeast,
  );
  return ((await handle.jsonValue()) as { revision: number }).revision;
}

/** A button or link by its accessible name; where it is drawn anew between being found and being pressed, the one that is there then. */
export const press = async (page: Page, name: string): Promise<void> => {
  for (;;) {
    const found = await page.waitForSelector(`aria/${name}`, { visible: true });
    try {
      await found?.click();
      return;
    } catch (error) {
      if (!/detached/.test(String(error))) throw error;
    }
  }
};

/** Where a share of the picture lies on the page. */
export async function inPicture(page: Page, u: number, v: number): Promise<{ x: number; y: number }> {
  const box = await page.$eval('.picture', (el) => {
    const { left, top, width, height } = el.getBoundingClientRect();
    return { left, top, width, height };
  });
  return { x: box.left + u * box.width, y: box.top + v * box.height };
}

/** Places a label through the interface: mode, click, choose, type. Gives its id. */
export async function placeLabel(page: Page, u: number, v: number, text: string): Promise<string> {
  await press(page, 'Place');
  const spot = await inPicture(page, u, v);
  await page.mouse.move(spot.x, spot.y);
  await page.waitForFunction(() => globalThis.foreshore?.bench.getState().hover, { polling: 50 });
  await page.mouse.click(spot.x, spot.y);
  await page.waitForSelector('.palette');
  await press(page, 'Label');
  await page.waitForSelector('.typing textarea');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
  const handle = await page.waitForFunction(
    (wanted) => {
      const s = globalThis.foreshore;
      const id = s?.bench.getState().selection;
      const element = id ? s.project.getState().document?.elements[id] : undefined;
      return element?.kind === 'label' && element.text === wanted ? id : null;
    },
    { polling: 50 },
    text,
  );
  return (await handle.jsonValue()) as string;
}

export const createProject = async (address: string, body: object): Promise<string> => {
  const response = await fetch(new URL('/api/projects', address), {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  return ((await response.json()) as { id: string }).id;
};

/** Edits what the server keeps of a project, as another tab would. */
export async function editAt(address: string, id: string, edit: (document: Document) => void): Promise<void> {
  const { document, revision } = (await (await fetch(new URL(`/api/projects/${id}`, address))).json()) as OpenProject;
  const copy = structuredClone(document);
  edit(copy);
  const patch = diff(document, copy);
  // Another attempt at a test finds it done.
  if (patch.length === 0) return;
  const response = await fetch(new URL(`/api/projects/${id}/changes`, address), {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ base: revision, patch, changeId: crypto.randomUUID(), clientId: 'test' }),
  });
  if (!response.ok) throw new Error(await response.text());
}

/** Low Water with a whole check of one of its routes; its id. */
export async function checkedProject(address: string): Promise<string> {
  const id = await createProject(address, { from: 'demo', measured: false });
  await editAt(address, id, (d) => {
    d.checks = { routes: ['into-the-pump-house'], viewers: ['desk', 'phone'], languages: ['en'] };
  });
  const url = new URL(`/api/projects/${id}/checks`, address);
  await fetch(url, { method: 'POST' });
  for (;;) {
    const { checks } = (await (await fetch(url)).json()) as { checks: { state: string }[] };
    if (checks[0]?.state === 'done') return id;
    if (checks[0]?.state !== 'running') throw new Error(`The check is ${checks[0]?.state}.`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/** Brings a project as a file; its id. @throws what the server says of it where it does not take it. */
export async function importProject(
  address: string,
  document: Document,
  level: Uint8Array | null = null,
  pictures: Record<string, Uint8Array> = {},
): Promise<string> {
  const answer = await fetch(new URL('/api/projects/import', address), {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: writeProjectFile({ document, level, fonts: {}, pictures }) as BodyInit,
  });
  const made = (await answer.json()) as { id?: string; detail?: string };
  if (made.id === undefined) throw new Error(made.detail);
  return made.id;
}

/** Stores a level on the server; gives what a project refers to it by. */
export async function sendLevel(address: string, file: string, bytes: Uint8Array): Promise<{ hash: string; file: string }> {
  const response = await fetch(new URL(`/api/levels?name=${file}`, address), {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: bytes as BodyInit,
  });
  return { hash: ((await response.json()) as { hash: string }).hash, file };
}

/** Chooses out of a menu of the bars: `value` is the id of what is chosen. */
export async function choose(page: Page, label: string, value: string): Promise<void> {
  await page.click(`.choice-menu[data-choice="${label}"]`);
  const item = await page.waitForSelector(`[role="menuitem"][data-choose="${value}"]`, { visible: true });
  await item?.evaluate((el) => (el as HTMLElement).click());
  await page.waitForFunction(
    (name, to) => document.querySelector<HTMLElement>(`.choice-menu[data-choice="${name}"]`)?.dataset.value === to,
    { polling: 50 },
    label,
    value,
  );
}
