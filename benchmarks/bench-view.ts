/** The demo's bench in headless Chromium: how soon its first full picture is there, and how many pictures a second while walking. */
import { startTestServer } from '../apps/server/src/test-server.ts';
import { openBrowser } from '../e2e/browser.ts';
import { median, type Row } from './measure.ts';
import { walkFor } from './walking.ts';

const OPENINGS = 3;
const WALK_MS = 4000;

export async function benchViewRows(): Promise<Row[]> {
  const server = await startTestServer();
  const session = await openBrowser();
  const { page } = session;
  try {
    const opened: number[] = [];
    for (let k = 0; k < OPENINGS; k++) {
      await page.goto(new URL('/p/low-water/bench', server.address).href);
      const handle = await page.waitForFunction(() => globalThis.foreshore?.engine.firstPictureMs ?? null, { polling: 20 });
      opened.push((await handle.jsonValue()) as number);
    }
    await page.waitForSelector('[data-bands="ready"]');
    // What the workers are asked about the selection at first is answered: walking is measured by itself.
    await page.waitForSelector('.offer');
    await page.waitForFunction(
      () => !/Trying leave values/.test(document.body.textContent ?? '') && globalThis.foreshore?.engine.settled === true,
    );
    const pictures = await walkFor(page, WALK_MS);
    return [
      { name: 'opening the demo bench to its first full picture', n: OPENINGS, medianMs: median(opened), ratio: null },
      {
        name: 'a picture with its tile while walking',
        n: pictures.times.length,
        medianMs: median(pictures.times),
        ratio: null,
        picturesPerSecond: pictures.times.length / pictures.seconds,
      },
    ];
  } finally {
    await session.close();
    await server.remove();
  }
}
