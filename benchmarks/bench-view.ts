/** The demo's bench in headless Chromium: how soon its first full picture is there, and how many pictures a second while walking. */
import { startTestServer } from '../apps/server/src/test-server.ts';
import { openBrowser } from '../e2e/browser.ts';
import { median, type Row } from './measure.ts';

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
    await page.waitForFunction(() => !document.querySelector('.flickers .hint') && globalThis.foreshore?.engine.settled === true);
    await page.focus('.picture');
    await page.keyboard.down('KeyW');
    const pictures = await page.evaluate(
      (ms) =>
        new Promise<{ times: number[]; seconds: number }>((resolve) => {
          const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
          const times: number[] = [];
          engine.onPicture = (took) => times.push(took);
          const began = performance.now();
          setTimeout(() => {
            engine.onPicture = null;
            resolve({ times, seconds: (performance.now() - began) / 1000 });
          }, ms);
        }),
      WALK_MS,
    );
    await page.keyboard.up('KeyW');
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
