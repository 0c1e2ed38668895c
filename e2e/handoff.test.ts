/** Handoff: the convention, what leaves in it, and what a port made of the proof frames. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { Proof } from '../packages/handoff/src/proof.ts';
import { type Mark, marksOf, withMarks } from '../packages/level/src/marks.ts';
import { createProject, openBrowser, press, type Session } from './browser.ts';

const address = inject('address');
const folder = mkdtempSync(join(tmpdir(), 'foreshore-handoff-'));
let session: Session;
let id: string;
beforeAll(async () => {
  session = await openBrowser();
  id = await createProject(address, { from: 'demo' });
  await session.page.goto(new URL(`/p/${id}/handoff`, address).href);
});
afterAll(async () => {
  await session.close();
  rmSync(folder, { recursive: true, force: true });
});
const rowOf = (name: string) =>
  session.page.waitForFunction(
    (wanted) => {
      const row = [...document.querySelectorAll('section[aria-label="Spec sheet"] tbody tr')].find(
        (one) => one.querySelector('a')?.textContent === wanted,
      );
      return row ? [...row.querySelectorAll('td')].map((cell) => cell.textContent ?? '') : null;
    },
    {},
    name,
  );
const cells = async (name: string): Promise<string[]> => (await (await rowOf(name)).jsonValue()) as string[];
/** By what the header says: no picture of the level is here. */
const saved = (revision: number) =>
  session.page.waitForFunction(
    (least) => {
      const save = document.querySelector<HTMLElement>('[data-save="saved"]');
      return Number(save?.dataset.revision ?? -1) >= least;
    },
    {},
    revision,
  );
/** Picks out of a field's list. */
async function pick(label: string, option: string): Promise<void> {
  await press(session.page, label);
  const one = await session.page.waitForSelector(`aria/${option}[role="option"]`, { visible: true });
  await one?.click();
}
const proof = async (): Promise<Proof> => (await fetch(new URL(`/api/projects/${id}/proof`, address))).json() as Promise<Proof>;
async function judge(name: string, text: string): Promise<void> {
  const file = join(folder, name);
  writeFileSync(file, text);
  const input = await session.page.waitForSelector('section[aria-label="Proof frames"] input[type="file"]');
  await (input as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(file);
}
const judgement = (fault: string) => session.page.waitForSelector(`.judgement[data-fault="${fault}"]`);

describe('the handoff', () => {
  it('tells the contract and the spec sheet; the convention turns its numbers, and is undone', async () => {
    const { page } = session;
    const before = await cells('Lamp mast');
    expect(before.slice(1, 4)).toEqual(['label', 'floating', 'Lamp mast']);
    const [x, y, z] = (before[4] as string).split(', ').map(Number) as [number, number, number];
    expect(await page.$eval('section[aria-label="Contract"]', (part) => part.textContent)).toContain('warmth');
    await pick('The other world', 'Left-handed, Z up, X ahead, centimetres');
    await saved(1);
    await page.waitForFunction(() =>
      [...document.querySelectorAll('section[aria-label="Spec sheet"] th')].some((head) => head.textContent === 'Anchor, cm'),
    );
    const after = ((await cells('Lamp mast'))[4] as string).split(', ').map(Number);
    // Ahead is our −z, to the right our x, up our y; centimetres.
    for (const [k, v] of [-z * 100, x * 100, y * 100].entries()) expect(after[k]).toBeCloseTo(v, 1);
    expect(await page.$eval('.axes', (picture) => picture.getAttribute('aria-label'))).toContain('+z is up');
    // Moving one axis onto another's makes the two change places.
    await pick('Up', 'Y');
    await saved(2);
    await page.waitForFunction(() => document.querySelector('.axes')?.getAttribute('aria-label')?.includes('+z is to the right'));
    await press(page, 'Undo: Change the convention');
    await saved(3);
    await press(page, 'Undo: Change the convention');
    await saved(4);
    await page.waitForFunction(() =>
      [...document.querySelectorAll('section[aria-label="Spec sheet"] th')].some((head) => head.textContent === 'Anchor, m'),
    );
    expect(await cells('Lamp mast')).toEqual(before);
  });

  it('exports an archive whose bundle is of this project, with the level where it is asked for', async () => {
    const { page } = session;
    const address = () => page.$eval('section[aria-label="Export"] a', (link) => (link as unknown as HTMLAnchorElement).href);
    const archive = async () => unzipSync(new Uint8Array(await (await fetch(await address())).arrayBuffer()));
    const without = await archive();
    expect(JSON.parse(new TextDecoder().decode(without['bundle.json']))).toMatchObject({
      format: 'foreshore-bundle',
      needs: ['apart', 'trailing', 'motions', 'measure', 'many', 'directions', 'calm', 'tool'],
    });
    expect(Object.keys(without)).not.toContain('level.bin');
    await press(page, 'Also the level, in which the runtime casts its rays');
    const whole = await archive();
    expect(Object.keys(whole)).toContain('level.bin');
    // The same fonts by name, with fewer letters.
    await press(page, 'Fonts with only the letters that are used');
    await page.waitForFunction(() => document.querySelector('section[aria-label="Export"] code')?.textContent?.includes('--used-letters'));
    const used = await archive();
    const fonts = (files: Record<string, Uint8Array>) => Object.entries(files).filter(([name]) => name.startsWith('fonts/'));
    expect(fonts(used).map(([name]) => name)).toEqual(fonts(whole).map(([name]) => name));
    const bytes = (files: Record<string, Uint8Array>) => fonts(files).reduce((sum, [, file]) => sum + file.byteLength, 0);
    expect(bytes(used)).toBeLessThan(bytes(whole) / 2);
    // And what plays it: the basic module, the parts that it needs, what is added to it.
    await press(page, 'Also the runtime, as modules that a web game imports');
    await page.waitForFunction(() => document.querySelector('section[aria-label="Export"] code')?.textContent?.includes('--with-runtime'));
    const modules = Object.keys(await archive()).filter((name) => name.startsWith('runtime/'));
    expect(modules).toEqual(
      expect.arrayContaining(['runtime/foreshore-runtime.js', 'runtime/foreshore-apart.js', 'runtime/harfbuzz.wasm']),
    );
  });

  it('exports only the elements and viewers that were chosen, with what they use; the line of the command says the same', async () => {
    const { page } = session;
    const choose = async (field: string, what: string) => {
      await (await page.waitForSelector(`aria/${field}`))?.click();
      await page.keyboard.type(what);
      const option = await page.waitForSelector(`aria/${what}[role="option"]`, { visible: true });
      await option?.click();
      await page.keyboard.press('Escape');
    };
    await choose('Elements that leave', 'Vitals');
    await choose('Viewers that leave', 'Desk monitor');
    const href = await page.$eval('section[aria-label="Export"] a', (link) => (link as unknown as HTMLAnchorElement).href);
    const files = unzipSync(new Uint8Array(await (await fetch(href)).arrayBuffer()));
    const bundle = JSON.parse(new TextDecoder().decode(files['bundle.json']));
    expect(Object.keys(bundle.document.viewers)).toEqual(['desk']);
    const ids = bundle.rows.ids as string[];
    expect(ids).toContain('vitals');
    expect(ids).not.toContain('lamp-mast');
    const line = await page.$eval('section[aria-label="Export"] code', (code) => code.textContent);
    expect(line).toContain('--elements vitals --viewers desk');
    expect((await fetch(new URL('/api/projects/low-water/handoff?elements=lantern', address))).status).toBe(422);
    // All of it again, for what follows.
    for (const field of ['Elements that leave', 'Viewers that leave']) {
      await (await page.waitForSelector(`aria/${field}`))?.click();
      await page.keyboard.press('Backspace');
      await page.keyboard.press('Escape');
    }
    await page.waitForFunction(() => !document.querySelector('section[aria-label="Export"] code')?.textContent?.includes('--elements'));
  });

  it('judges what a port made of the proof frames: right, with a known fault, and unreadable', async () => {
    const { page } = session;
    const frames = await proof();
    const results = (bend: (x: number, y: number, wide: number, high: number) => [number, number]) => ({
      frames: frames.frames.map(({ id: frame, points, screen }) => ({
        id: frame,
        points: Object.fromEntries(
          Object.entries(points).map(([name, { x, y, depth }]) => {
            const [u, v] = x === null || y === null ? [null, null] : bend(x, y, screen.widthPx, screen.heightPx);
            return [name, { x: u, y: v, depth }];
          }),
        ),
      })),
    });
    await judge('right.json', JSON.stringify(results((x, y) => [x, y])));
    await judgement('none');
    await judge('middle.json', JSON.stringify(results((x, y, w, h) => [x - w / 2, y - h / 2])));
    await judgement('originCentre');
    expect(await page.$('.proof-frame circle')).not.toBeNull();
    await judge('what.json', '{"frames": 3}');
    await page.waitForFunction(() => document.body.textContent?.includes('"what.json", at /frames'));
    await page.waitForSelector('.judgement[data-fault="originCentre"]');
    expect(session.errors).toEqual([]);
  });

  it('gives the level with its anchors, and takes them back from where another program put them, as one change', async () => {
    const { page } = session;
    const part = 'section[aria-label="Anchors in the level"]';
    const link = await page.$eval(`${part} a`, (a) => (a as unknown as HTMLAnchorElement).href);
    const bytes = new Uint8Array(await (await fetch(link)).arrayBuffer());
    const give = async (name: string, file: Uint8Array | string) => {
      writeFileSync(join(folder, name), file);
      const input = await page.waitForSelector(`${part} input[type="file"]`);
      await (input as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(join(folder, name));
    };
    const told = (words: string) =>
      page.waitForFunction((at, wanted) => document.querySelector(`${at} [role="status"]`)?.textContent?.includes(wanted), {}, part, words);
    await give('as-it-was.glb', bytes);
    await told('all as they are in the project');
    const marks = marksOf(bytes).filter(({ name }) => name.startsWith('anchor '));
    const mast = marks.find(({ name }) => name === 'anchor Lamp mast') as Mark;
    const [x, y, z] = mast.translation;
    const moved = [
      ...marks.map((mark) => (mark === mast ? { ...mark, translation: [x, y + 0.5, z] as const } : mark)),
      { ...mast, node: null, name: 'anchor Rope end', translation: [1, 2, 3] as const, carries: null },
    ];
    await give('moved.glb', withMarks(bytes, moved));
    await told('Lamp mast: moved by 0.5 m');
    await told('Rope end: new');
    await press(page, 'Take over 2 changes');
    const anchors = async () => (await (await fetch(new URL(`/api/projects/${id}`, address))).json()).document.anchors;
    await expect.poll(async () => Object.values(await anchors()).some((one) => (one as { name: string }).name === 'Rope end')).toBe(true);
    expect(await page.$(`${part} [role="status"]`)).toBeNull();
    await press(page, 'Undo: Take anchors from a level');
    await expect.poll(async () => Object.values(await anchors()).some((one) => (one as { name: string }).name === 'Rope end')).toBe(false);
    await give('nothing.glb', 'no level');
    await page.waitForFunction(() => document.body.textContent?.includes('"nothing.glb" cannot be read'));
    expect(session.errors).toEqual([]);
  });

  it('a project of one label, without a level: it leaves, too', async () => {
    const { page } = session;
    const empty = await createProject(address, { from: 'empty', name: 'Bare' });
    await page.goto(new URL(`/p/${empty}/handoff`, address).href);
    await page.waitForFunction(() =>
      document.querySelector('section[aria-label="Spec sheet"]')?.textContent?.includes('There is no element yet.'),
    );
    const answer = await fetch(new URL(`/api/projects/${empty}/handoff`, address));
    expect(answer.status).toBe(200);
    expect(Object.keys(unzipSync(new Uint8Array(await answer.arrayBuffer())))).toContain('bundle.json');
    expect((await (await fetch(new URL(`/api/projects/${empty}/proof`, address))).json()).frames).toEqual([]);
    // Its level is what it lacks.
    expect(await page.$('section[aria-label="Anchors in the level"] a')).toBeNull();
    const level = await fetch(new URL(`/api/projects/${empty}/anchored-level`, address));
    expect(level.status).toBe(422);
    expect((await level.json()).detail).toContain('has no level');
  });
});
