/** npm run screenshots: one current picture of each main view, from the demo data, in docs/screenshots. */
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import type { Page } from 'puppeteer-core';
import { startTestServer } from '../apps/server/src/test-server.ts';
import { openBench, openBrowser, press, settled } from '../e2e/browser.ts';
import { make } from '../examples/causeway/make.ts';
import { serveExample } from '../examples/causeway/serve.mjs';
import { buildRuntime } from '../packages/runtime/build.mjs';
import { build } from './house.mjs';

const FOLDER = 'docs/screenshots';

interface Shot {
  name: string;
  night?: boolean;
  /** Something moves in it, and goes on to. */
  moves?: boolean;
  take: (page: Page, address: string) => Promise<void>;
}

const bandsReady = (page: Page) => page.waitForSelector('[data-bands="ready"]');
/** Waits until the picture has been drawn with everything that was asked for. */
const drawn = async (page: Page, moves: boolean): Promise<void> => {
  // The bench's picture is drawn in full a moment after it was changed, where nothing in it moves.
  if (!moves)
    await page.waitForFunction(() => !document.querySelector('.picture canvas') || globalThis.foreshore?.engine.settled === true, {
      polling: 50,
    });
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done(null)))));
};

/** The example game, with the bundles of the demo as it is. */
async function startGame(): Promise<{ address: string; close(): void }> {
  const folder = '.cache/causeway';
  await Promise.all([buildRuntime(`${folder}/runtime`), make(`${folder}/bundles`)]);
  return serveExample(0, { runtime: `${folder}/runtime`, bundles: `${folder}/bundles` });
}

const SHOTS: Shot[] = [
  {
    name: 'reasons',
    take: async (page, address) => {
      await page.goto(new URL('/p/low-water/bench', address).href);
      await page.waitForSelector('[data-offer]');
      await page.evaluate(() => globalThis.foreshore?.bench.setState({ area: 'viewer', areaOf: 'tide-board', strip: 'all' }));
      await page.waitForSelector('[data-area="fine"]');
      await bandsReady(page);
      await page.waitForSelector('[data-offer]');
      await settled(page);
    },
  },
  {
    name: 'plan',
    take: async (page, address) => {
      await page.goto(new URL('/p/low-water/plan?t=9&sel=tide-board', address).href);
      await page.waitForSelector('[data-plan="ready"]');
      await page.evaluate(() => globalThis.foreshore?.bench.setState({ area: 'viewer' }));
      await page.waitForFunction(() => document.querySelectorAll('[data-contour] path').length > 0);
      await page.waitForFunction(() =>
        [...document.querySelectorAll('.plan-side .hint')].some((el) => el.textContent?.startsWith('Read from')),
      );
    },
  },
  {
    name: 'prompt',
    moves: true,
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?t=8&sel=prompt-wheel');
      await bandsReady(page);
      await page.evaluate(() => globalThis.foreshore?.engine.goTo({ position: [2.1, 2.57, 3.4], rotation: [0, 0.984, 0.179, 0] }));
      await settled(page);
      // It has to be held for so long here that there is time for a picture of it.
      await page.evaluate(() => {
        const { project } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        const { document } = project.getState();
        const wheel = document?.elements['prompt-wheel'];
        if (!document || !wheel?.press) return;
        const held = { ...wheel, press: { ...wheel.press, holdS: 8 } };
        project.setState({ document: { ...document, elements: { ...document.elements, 'prompt-wheel': held } } });
      });
      await press(page, 'Try');
      await page.focus('.picture');
      await page.keyboard.down('KeyE');
      await page.waitForFunction(() => (globalThis.foreshore?.engine.trying.share()?.share ?? 0) > 0.5, { polling: 20 });
    },
  },
  {
    name: 'panel',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?t=13.6&sel=pump-screen');
      await page.evaluate(() => globalThis.foreshore?.bench.setState({ route: 'into-the-pump-house', pose: null }));
      await page.click('[data-step="size"]');
      await bandsReady(page);
      await settled(page);
    },
  },
  {
    name: 'hand',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?t=13.6');
      await page.evaluate(() => globalThis.foreshore?.bench.setState({ route: 'into-the-pump-house', pose: null }));
      await settled(page);
      await bandsReady(page);
      await press(page, 'Try');
      await page.evaluate(() => {
        const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        bench.setState({ pointWith: 'right' });
        const solver = engine.frameOf('desk');
        const [x, y] = engine.places.seen('pump-lamp')?.point(0.5, 0.5) ?? [0, 0];
        if (solver) bench.setState({ cursor: [x / solver.a.projection.widthPx, y / solver.a.projection.heightPx] });
      });
      await page.waitForFunction(() => globalThis.foreshore?.bench.getState().pointed === 'pump-lamp', { polling: 50 });
      await settled(page);
    },
  },
  {
    name: 'headset',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?viewer=headset&see=all&sel=tide-value&t=8');
      await bandsReady(page);
      await settled(page);
    },
  },
  {
    name: 'bench',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?sel=sluice-1-wheel&t=8');
      await bandsReady(page);
    },
  },
  {
    name: 'glass',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?sel=cold&t=26');
      await page.click('[data-step="phase"]');
      await bandsReady(page);
    },
  },
  {
    name: 'edge',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?sel=dinghy&t=24');
      await page.click('[data-step="place"]');
      await page.waitForSelector('aria/Inset, right');
      await page.$eval('[aria-label="Edge frame"], #edge-frame', (el) => el.scrollIntoView({ block: 'start' })).catch(() => {});
      await bandsReady(page);
      await settled(page);
    },
  },
  {
    name: 'trying',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?t=8');
      await bandsReady(page);
      await press(page, 'Try');
      await page.evaluate(() => {
        globalThis.foreshore?.engine.trying.use('pause-button');
        globalThis.foreshore?.bench.setState({ pointed: 'carry-on' });
      });
      await settled(page);
    },
  },
  {
    name: 'settings',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?t=8&lang=ar');
      await bandsReady(page);
      await press(page, 'Try');
      await page.evaluate(() => {
        globalThis.foreshore?.live.setState({ phase: 'paused', held: { settingsOpen: true } });
        globalThis.foreshore?.bench.setState({ cursor: [0.58, 0.43], pointed: 'set-wind-control' });
      });
      await settled(page);
    },
  },
  {
    name: 'scope',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?route=with-the-scope&t=14&sel=scope-aim');
      await bandsReady(page);
      await page.evaluate(() => {
        const label = [...document.querySelectorAll('label')].find((el) => el.textContent?.includes('Looks otherwise'));
        label?.scrollIntoView({ block: 'start' });
      });
      await settled(page);
    },
  },
  {
    name: 'feeds',
    take: async (page, address) => {
      await page.goto(new URL('/p/low-water/feeds?t=15', address).href);
      await page.waitForSelector('[data-feed="warmth"] .recharts-line');
    },
  },
  {
    name: 'handoff',
    take: async (page, address) => {
      await page.goto(new URL('/p/low-water/handoff', address).href);
      await page.waitForSelector('section[aria-label="Spec sheet"] tbody tr');
    },
  },
  {
    name: 'game',
    take: async (page) => {
      const game = await startGame();
      await page.goto(game.address);
      await page.waitForFunction(() => (globalThis.causeway?.game.frames ?? 0) > 1);
      const frames = await page.evaluate(() => {
        const { game } = globalThis.causeway;
        game.eye.set(3.2, 2.4, 6.9);
        game.yaw = Math.atan2(3.2 - 0.2, 6.9 - 5.35);
        game.pitch = -0.12;
        return game.frames;
      });
      await page.waitForFunction((before) => globalThis.causeway.game.frames > before + 20, {}, frames);
      game.close();
    },
  },
  {
    name: 'from-outside',
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?sel=tide-board&t=12');
      await bandsReady(page);
      await press(page, 'From outside');
    },
  },
  {
    name: 'bench-night',
    night: true,
    take: async (page, address) => {
      await openBench(page, address, 'low-water', '?sel=lamp-mast&t=24');
      await bandsReady(page);
    },
  },
  {
    name: 'projects',
    take: async (page, address) => {
      await page.goto(address);
      await page.waitForSelector('.card img');
    },
  },
  {
    name: 'checks',
    take: async (page, address) => {
      // The check that it comes with.
      await page.goto(new URL('/p/low-water/checks', address).href);
      await page.waitForSelector('[data-picture]');
      // Pictures of moments come one after another.
      await page.waitForFunction(
        () =>
          [...document.querySelectorAll<HTMLElement>('[data-picture]')].every(
            (el) => el.dataset.picture === 'there' || el.getBoundingClientRect().top > window.innerHeight,
          ),
        { polling: 100, timeout: 60_000 },
      );
    },
  },
];

await build();
mkdirSync(FOLDER, { recursive: true });
const server = await startTestServer();
const session = await openBrowser();
const { page } = session;
try {
  // The shelf shows the pictures that the bench took; they are those that new demos come with.
  for (const [id, file] of [
    ['low-water-before', 'demo/shelf-before.jpg'],
    ['low-water', 'demo/shelf.jpg'],
  ] as const) {
    const taken = page.waitForResponse((r) => r.url().endsWith(`/${id}/picture`) && r.request().method() === 'PUT');
    await openBench(page, server.address, id, '?t=8');
    await taken;
    const shelf = await fetch(new URL(`/api/projects/${id}/picture`, server.address));
    writeFileSync(file, new Uint8Array(await shelf.arrayBuffer()));
  }
  for (const old of readdirSync(FOLDER)) if (!SHOTS.some(({ name }) => old === `${name}.png`)) rmSync(`${FOLDER}/${old}`);
  for (const { name, night = false, moves = false, take } of SHOTS) {
    await page.evaluate((dark) => localStorage.setItem('mantine-color-scheme-value', dark ? 'dark' : 'light'), night);
    await take(page, server.address);
    await drawn(page, moves);
    await page.screenshot({ path: `${FOLDER}/${name}.png` });
    process.stdout.write(`${FOLDER}/${name}.png\n`);
  }
} finally {
  await session.close();
  await server.remove();
}
