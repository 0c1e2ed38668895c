/** Menus in use: settings dragged, ticked, scrolled and come to by keys; pictures brought, templates used, languages switched, things that come and go. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { choose, createProject, inPicture, openBench, openBrowser, press, type Session, saved, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let folder: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'foreshore-parts-'));
  session = await openBrowser();
});
afterAll(async () => {
  await session.close();
  rmSync(folder, { recursive: true, force: true });
});

/** An element's box in the desk monitor's pixels, and whether it is shown. */
const boxOf = (id: string) =>
  session.page.evaluate((wanted) => {
    const solver = globalThis.foreshore?.engine.frameOf('desk');
    const row = solver?.c.ids.indexOf(wanted) ?? -1;
    if (!solver || row < 0) return null;
    const at = row * 8;
    const [x = 0, y = 0, w = 0, h = 0] = solver.f.places.slice(at + 4, at + 8);
    return { x, y, w, h, shown: solver.f.failed[row] === 255 };
  }, id);
const onPage = async (id: string, u = 0.5, v = 0.5) => {
  const box = await boxOf(id);
  if (!box) throw new Error(`There is no ${id}.`);
  return inPicture(session.page, (box.x + u * box.w) / 1920, (box.y + v * box.h) / 1080);
};
const worth = (feed: string) => session.page.evaluate((id) => globalThis.foreshore?.engine.valuesNow()[id], feed);
const until = (feed: string, value: unknown) =>
  session.page.waitForFunction(
    (id, wanted) => globalThis.foreshore?.engine.valuesNow()[id] === wanted,
    { polling: 50 },
    feed,
    value as string,
  );
const elements = () => session.page.evaluate(() => globalThis.foreshore?.project.getState().document?.elements ?? {});

describe("Low Water's settings", () => {
  it('open from the pause, are dragged, ticked and scrolled, and close again', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=2');
    await press(page, 'Try');
    const click = async (element: string) => {
      const spot = await onPage(element);
      await page.mouse.click(spot.x, spot.y);
    };
    await click('pause-button');
    await page.waitForFunction(() => globalThis.foreshore?.engine.phase() === 'paused', { polling: 50 });
    await settled(page);
    await click('settings-button');
    await until('settingsOpen', true);
    // It unfolds; then it stands.
    await settled(page);
    expect(await boxOf('settings-card')).toMatchObject({ shown: true });
    expect(await boxOf('pause-card')).toMatchObject({ shown: false });

    // 260 px wide: the knob goes from 18 px to 242 px, so 130 px is the middle.
    const from = await onPage('set-wind-control', 0.7);
    const to = await onPage('set-wind-control', 0.5);
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(to.x, to.y);
    await page.mouse.up();
    expect(await worth('wind')).toBe(50);

    await click('set-hints-control');
    await until('hints', false);

    // What lies beyond the box is scrolled to.
    expect(await boxOf('set-log')).toMatchObject({ shown: true });
    const before = await boxOf('set-log');
    const list = await onPage('settings-list');
    await page.mouse.move(list.x, list.y);
    await page.mouse.wheel({ deltaY: 400 });
    await page.waitForFunction(() => (globalThis.foreshore?.bench.getState().scrolled['settings-list'] ?? 0) > 0, { polling: 50 });
    expect((await boxOf('set-log'))?.y).toBeLessThan((before?.y ?? 0) - 5);
    await click('set-log-control');
    await until('logOpen', true);

    await click('settings-done');
    await until('settingsOpen', false);
    await settled(page);
    expect(await boxOf('settings-card')).toMatchObject({ shown: false });
  });

  it('are come to by keys alone: Tab goes through them and brings them into sight, arrows move a slider, Space turns a switch', async () => {
    const { page } = session;
    await page.evaluate(() => globalThis.foreshore?.live.setState({ held: { settingsOpen: true }, phase: 'paused' }));
    await settled(page);
    await page.focus('.picture');
    const pointed = () => page.evaluate(() => globalThis.foreshore?.bench.getState().pointed);
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ pointed: null, scrolled: {} }));
    const seen: string[] = [];
    for (let k = 0; k < 7; k++) {
      await page.keyboard.press('Tab');
      seen.push(String(await pointed()));
      if (seen.at(-1) === 'set-wind-control') {
        const was = (await worth('wind')) as number;
        await page.keyboard.press('ArrowRight');
        await until('wind', was + 5);
        await page.keyboard.press('ArrowLeft');
        await until('wind', was);
      }
      if (seen.at(-1) === 'set-cold-control') {
        await page.keyboard.press('Space');
        await until('coldWarning', false);
      }
    }
    expect(seen).toEqual([
      'set-wind-control',
      'set-gulls-control',
      'set-hints-control',
      'set-cold-control',
      'set-head-control',
      'set-log-control',
      'settings-done',
    ]);
    // The last of the list was scrolled into its box on the way.
    const [list, last] = [await boxOf('settings-list'), await boxOf('set-log-control')];
    expect((last?.y ?? 0) + (last?.h ?? 0)).toBeLessThanOrEqual((list?.y ?? 0) + (list?.h ?? 0) + 0.5);
  });

  it('a key that feeds a flag opens the log, which slides in and stands', async () => {
    const { page } = session;
    await page.evaluate(() => globalThis.foreshore?.live.setState({ held: {}, phase: 'roaming' }));
    await settled(page);
    await page.focus('.picture');
    await page.keyboard.press('KeyL');
    await until('logOpen', true);
    const presence = () =>
      page.evaluate(() => {
        const solver = globalThis.foreshore?.engine.frameOf('desk');
        const k = solver ? solver.c.motions.indexOf(solver.c.ids.indexOf('log-board')) : -1;
        return solver?.f.presence[k];
      });
    await settled(page);
    expect(await presence()).toBe(1);
    expect(await boxOf('log-board')).toMatchObject({ shown: true });
    await page.keyboard.press('KeyL');
    await until('logOpen', false);
    await settled(page);
    expect(await presence()).toBe(0);
  });
});

describe('a project', () => {
  it('takes pictures from files, makes drawings harmless, says why it refuses one, and shows them', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Pictures' });
    await openBench(page, address, id);
    const png = new PNG({ width: 4, height: 4 });
    for (let k = 0; k < 16; k++) png.data.set([0xbf, 0x3f, 0x2b, 0xff], k * 4);
    const [red, drawing, words] = ['red.png', 'post.svg', 'words.png'].map((name) => join(folder, name)) as [string, string, string];
    writeFileSync(red, PNG.sync.write(png));
    writeFileSync(
      drawing,
      '<svg xmlns="http://www.w3.org/2000/svg" width="20" height="10" onload="x()"><script>x()</script><rect width="20" height="10" fill="#2C7A57"/></svg>',
    );
    writeFileSync(words, 'Low Water');
    // By the palette onto the glass, then a file from the picture's own field.
    await press(page, 'Place');
    const spot = await inPicture(page, 0.5, 0.2);
    await page.mouse.click(spot.x, spot.y);
    await page.waitForSelector('.palette');
    await press(page, 'Picture[role="button"]');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection === 'picture', { polling: 50 });
    await page.waitForSelector('.unfinished');
    const [chooser] = await Promise.all([page.waitForFileChooser(), press(page, 'Bring a file for Picture')]);
    await chooser.accept([red]);
    await page.waitForFunction(
      () =>
        Object.values(globalThis.foreshore?.project.getState().document?.elements ?? {}).some(
          (e) => e.kind === 'picture' && e.picture === 'red',
        ),
      { polling: 50 },
    );
    await settled(page);
    const box = await boxOf('picture');
    const colour = await page.evaluate(
      (u, v) => {
        const canvas = document.querySelector('.picture canvas') as HTMLCanvasElement;
        return [...(canvas.getContext('2d')?.getImageData(Math.round(u * canvas.width), Math.round(v * canvas.height), 1, 1).data ?? [])];
      },
      ((box?.x ?? 0) + (box?.w ?? 0) / 2) / 1920,
      ((box?.y ?? 0) + (box?.h ?? 0) / 2) / 1080,
    );
    expect(colour.slice(0, 3)).toEqual([0xbf, 0x3f, 0x2b]);

    await press(page, 'Viewer[role="button"]');
    const bring = async (file: string) => {
      const [many] = await Promise.all([page.waitForFileChooser(), press(page, 'Bring pictures')]);
      await many.accept([file]);
    };
    await bring(drawing);
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().document?.pictures?.post, { polling: 50 });
    const hash = await page.evaluate(() => globalThis.foreshore?.project.getState().document?.pictures?.post?.hash);
    const kept = await (await fetch(new URL(`/api/pictures/${hash}`, address))).text();
    expect(kept).toContain('<rect');
    expect(kept).not.toMatch(/script|onload/);
    await bring(words);
    await page.waitForFunction(() => document.body.textContent?.includes('is not a PNG, JPEG, WebP or SVG picture'), { polling: 50 });
    await saved(page);
    // Taken out again, what showed it says so.
    await press(page, 'Remove red');
    expect((await elements()).picture).toMatchObject({ picture: null });
    await press(page, 'Undo: Remove red');
    expect((await elements()).picture).toMatchObject({ picture: 'red' });
    await saved(page);
  });

  it('takes a font from a file, offers it for texts, and gives it up again', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Fonts' });
    await openBench(page, address, id);
    await press(page, 'Place');
    const spot = await inPicture(page, 0.5, 0.3);
    await page.mouse.click(spot.x, spot.y);
    await page.waitForSelector('.palette');
    await press(page, 'Text[role="button"]');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection === 'text', { polling: 50 });
    const width = () =>
      page.evaluate(() => {
        const solver = globalThis.foreshore?.engine.frameOf('desk');
        return solver?.a.blocks[0]?.widthEm ?? 0;
      });
    const plain = await width();
    await press(page, 'Viewer[role="button"]');
    const [chooser] = await Promise.all([page.waitForFileChooser(), press(page, 'Bring fonts')]);
    await chooser.accept([
      createRequire(import.meta.url).resolve(
        '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal.woff2',
      ),
    ]);
    await page.waitForFunction(() => Object.keys(globalThis.foreshore?.project.getState().document?.fonts ?? {}).length === 1, {
      polling: 50,
    });
    await press(page, 'Content[role="button"]');
    await (await page.waitForSelector('aria/Font', { visible: true }))?.click();
    await (await page.waitForSelector('aria/Atkinson Hyperlegible Mono ExtraLight[role="option"]', { visible: true }))?.click();
    await page.waitForFunction(
      (was) => Math.abs((globalThis.foreshore?.engine.frameOf('desk')?.a.blocks[0]?.widthEm ?? was) - was) > 0.01,
      { polling: 50 },
      plain,
    );
    await saved(page);
    // The same after a reload: the font comes with the project.
    await page.reload();
    await page.waitForFunction(() => globalThis.foreshore?.engine.settled, { polling: 50 });
    expect(Math.abs((await width()) - plain)).toBeGreaterThan(0.01);
    await press(page, 'Viewer[role="button"]');
    await (await page.waitForSelector('[aria-label^="Remove Atkinson"]'))?.click();
    await page.waitForFunction(
      (was) => Math.abs((globalThis.foreshore?.engine.frameOf('desk')?.a.blocks[0]?.widthEm ?? 0) - was) < 1e-6,
      { polling: 50 },
      plain,
    );
    await saved(page);
  });

  it('several elements are selected with Shift, put in line and spread, in one step each', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Several' });
    await openBench(page, address, id);
    for (const [u, v] of [
      [0.2, 0.2],
      [0.45, 0.3],
      [0.8, 0.45],
    ] as const) {
      await press(page, 'Place');
      const spot = await inPicture(page, u, v);
      await page.mouse.click(spot.x, spot.y);
      await page.waitForSelector('.palette');
      await press(page, 'Toggle');
      await page.waitForFunction(() => !document.querySelector('.palette'), { polling: 50 });
      await settled(page);
    }
    const ids = ['toggle', 'toggle-2', 'toggle-3'];
    for (const [k, one] of ids.entries()) {
      const spot = await onPage(one);
      if (k) await page.keyboard.down('Shift');
      await page.mouse.click(spot.x, spot.y);
      if (k) await page.keyboard.up('Shift');
    }
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().also.length === 2, { polling: 50 });
    expect(await page.$$eval('[data-also]', (all) => all.length)).toBe(2);
    await press(page, 'Top edges');
    await settled(page);
    const tops = await Promise.all(ids.map(async (one) => (await boxOf(one))?.y ?? 0));
    expect(Math.max(...tops) - Math.min(...tops)).toBeLessThan(1e-6);
    await press(page, 'Distribute horizontally');
    await settled(page);
    const [a, b, c] = await Promise.all(ids.map(async (one) => (await boxOf(one))?.x ?? 0));
    expect((b ?? 0) - (a ?? 0)).toBeCloseTo((c ?? 0) - (b ?? 0), 6);
    await press(page, 'Undo: Spread');
    await press(page, 'Undo: Align');
    await page.waitForFunction(
      () => {
        const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        return Math.abs((engine.places.boxOf('toggle-2')?.top ?? 0) - (engine.places.boxOf('toggle')?.top ?? 0)) > 1;
      },
      { polling: 50 },
    );
    expect((await boxOf('toggle-2'))?.y).not.toBeCloseTo((await boxOf('toggle'))?.y ?? 0, 1);
    await saved(page);
  });

  it('makes a template of a group, uses it, sets a parameter, follows a change, and detaches', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Boards' });
    await openBench(page, address, id);
    const place = async (kind: string, u: number, v: number) => {
      await press(page, 'Place');
      const spot = await inPicture(page, u, v);
      await page.mouse.click(spot.x, spot.y);
      await page.waitForSelector('.palette');
      await press(page, kind);
      await page.waitForFunction(() => !document.querySelector('.palette'), { polling: 50 });
      await settled(page);
    };
    await place('Column', 0.5, 0.2);
    const inside = await onPage('column', 0.5, 0.5);
    await press(page, 'Place');
    await page.mouse.click(inside.x, inside.y);
    await page.waitForSelector('.palette');
    await press(page, 'Text inside');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection === 'text', { polling: 50 });

    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'column' }));
    await press(page, 'Make it a template');
    await press(page, 'Parameter');
    await page.waitForSelector('aria/value1, here');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'text' }));
    const field = await page.waitForSelector('aria/Text from the parameter');
    await field?.click();
    await (await page.waitForSelector('aria/value1[role="option"]'))?.click();
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().document?.elements.text?.uses?.text === 'value1', {
      polling: 50,
    });

    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'column' }));
    await press(page, 'Use it once more');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection === 'column-copy', { polling: 50 });
    const words = () =>
      page.evaluate(() => {
        const solver = globalThis.foreshore?.engine.frameOf('desk');
        return solver?.c.ids.flatMap((row, i) => (solver.a.blocks[i] ? [`${row}: ${solver.a.blocks[i]?.lines[0]?.text}`] : []));
      });
    expect(await words()).toEqual(['text: Text', 'column-copy.text: Text']);
    const value = await page.waitForSelector('aria/value1, as in the template');
    await value?.click({ count: 3 });
    await page.keyboard.type('Oil store');
    await page.keyboard.press('Tab');
    await page.waitForFunction(
      () => {
        const copy = globalThis.foreshore?.project.getState().document?.elements['column-copy'];
        return copy?.kind === 'instance' && copy.values.value1 === 'Oil store';
      },
      { polling: 50 },
    );
    await settled(page);
    expect(await words()).toEqual(['text: Text', 'column-copy.text: Oil store']);

    await press(page, 'Detach from the template');
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().document?.elements['column-copy']?.kind === 'group', {
      polling: 50,
    });
    await settled(page);
    expect((await words())?.map((w) => w.split(': ')[1])).toEqual(['Text', 'Oil store']);
    await press(page, 'Undo: Detach Column copy');
    expect((await elements())['column-copy']).toMatchObject({ kind: 'instance' });
    await saved(page);
  });

  it('puts a template at the anchor of each element that is selected', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=8');
    await page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'mooring-2', also: ['mooring-3', 'mooring-4'] }));
    await (await page.waitForSelector('aria/Use a template at the anchor of each', { visible: true }))?.click();
    await (await page.waitForSelector('aria/Instrument board[role="option"]', { visible: true }))?.click();
    await page.waitForFunction(
      () =>
        Object.keys(globalThis.foreshore?.project.getState().document?.elements ?? {}).filter((key) => key.startsWith('instrument-board-'))
          .length === 3,
      { polling: 50 },
    );
    const all = await elements();
    expect(all['instrument-board-mooring-3']).toMatchObject({
      kind: 'instance',
      of: 'instrument',
      mount: { kind: 'floating', anchor: 'mooring-3' },
    });
    await press(page, 'Undo: Use Instrument board at each');
    await saved(page);
  });

  /** What a row of text says at the desk. */
  const said = (row: string) =>
    session.page.evaluate((wanted) => {
      const solver = globalThis.foreshore?.engine.frameOf('desk');
      return solver?.a.blocks[solver.c.ids.indexOf(wanted)]?.lines[0]?.text;
    }, row);
  it('is shown in each of its languages, written from either side, and the link says which', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=2&lang=de');
    expect(await said('warmth-name')).toBe('W\u00e4rme');
    await choose(page, 'Language', 'ar');
    await settled(page);
    expect(await said('warmth-name')).toBe('\u0627\u0644\u062f\u0641\u0621');
    await page.waitForFunction(() => window.location.search.includes('lang=ar'), { polling: 50 });
    await choose(page, 'Language', 'en');
    await settled(page);
    expect(await said('warmth-name')).toBe('Warmth');
  });
  it('translates what a template is given where it is set, and a prompt says it', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=2&lang=de&sel=prompt-tide');
    expect(await said('prompt-tide.prompt-words.prompt-verb')).toBe('Tide ablesen');
    // The level's own name for the wheel is in no other language; what is done with it is.
    expect(await said('prompt-wheel.prompt-words.prompt-verb@Sluice 2 wheel')).toBe('Schütz heben');
    expect(await said('prompt-wheel.prompt-words.prompt-thing@Sluice 2 wheel')).toBe('Sluice 2 wheel');
    const field = await page.waitForSelector('aria/verb, in German[role="textbox"]');
    await field?.click({ clickCount: 3 });
    await page.keyboard.type('Pegel lesen');
    await page.keyboard.press('Tab');
    await saved(page, 1);
    await settled(page);
    expect(await said('prompt-tide.prompt-words.prompt-verb')).toBe('Pegel lesen');
    const kept = await page.evaluate(() => globalThis.foreshore?.project.getState().document?.elements['prompt-tide']);
    expect(kept).toMatchObject({ translations: { verb: { de: 'Pegel lesen', ar: 'اقرأ المد' } } });
    // A message that cannot be read is told where it is written.
    const broken = await page.waitForSelector('aria/verb, in Arabic[role="textbox"]');
    await broken?.click({ clickCount: 3 });
    await page.keyboard.type('{{');
    await page.keyboard.press('Tab');
    await page.waitForSelector('.mantine-TextInput-error');
    await press(page, 'Undo: Translate a parameter');
    await press(page, 'Undo: Translate a parameter');
    await saved(page, 4);
    await settled(page);
    expect(await said('prompt-tide.prompt-words.prompt-verb')).toBe('Tide ablesen');
  });
});
