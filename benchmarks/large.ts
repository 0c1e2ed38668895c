/** Work as large as a game's on the bench, in headless Chromium: how soon it is there, how long the page is silent, how quickly it answers. */
import { startTestServer } from '../apps/server/src/test-server.ts';
import { createProject, openBrowser, sendLevel } from '../e2e/browser.ts';
import { largeDocument, largeLevel } from './large-level.ts';
import { median, type Row } from './measure.ts';

const TRIANGLES = 2_000_000;
const NODES = 5000;
const ELEMENTS = 2000;
const DRAG_MS = 5000;
const NUDGES = 5;

export async function largeRows(): Promise<Row[]> {
  const server = await startTestServer();
  const session = await openBrowser();
  const { page } = session;
  page.setDefaultTimeout(180_000);
  // The longest that nothing else could happen on the page, from its first moment.
  await page.evaluateOnNewDocument(() => {
    const inside = globalThis as unknown as { silentMs: number };
    inside.silentMs = 0;
    new PerformanceObserver((list) => {
      for (const { duration } of list.getEntries()) inside.silentMs = Math.max(inside.silentMs, duration);
    }).observe({ entryTypes: ['longtask'] });
  });
  const silent = () =>
    page.evaluate(() => {
      const inside = globalThis as unknown as { silentMs: number };
      const { silentMs } = inside;
      inside.silentMs = 0;
      return silentMs;
    });
  try {
    const bytes = await largeLevel(TRIANGLES, NODES);
    const before = performance.now();
    const { hash } = await sendLevel(server.address, 'terraces.glb', bytes);
    const storedMs = performance.now() - before;
    const id = await createProject(server.address, { from: 'document', document: largeDocument(ELEMENTS, NODES, hash) });
    const bench = new URL(`/p/${id}/bench?t=0`, server.address).href;
    const rows: Row[] = [
      { name: 'storing a level of 2,000,000 triangles', n: NODES, medianMs: storedMs, ratio: null, megabytes: bytes.length / 1e6 },
    ];
    for (const name of ['opening it for the first time', 'opening it again']) {
      await page.goto(bench);
      const handle = await page.waitForFunction(() => globalThis.foreshore?.engine.firstPictureMs ?? null, { polling: 20 });
      const firstMs = (await handle.jsonValue()) as number;
      await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
      const fullMs = await page.evaluate(() => performance.now());
      rows.push(
        { name: `${name}, to its first picture`, n: ELEMENTS, medianMs: firstMs, ratio: null, silentMs: await silent() },
        { name: `${name}, until all pictures are there in full quality`, n: ELEMENTS, medianMs: fullMs, ratio: null },
      );
    }
    const pictures = (name: string, act: string) =>
      page
        .evaluate(
          (ms, how) =>
            new Promise<{ times: number[]; seconds: number }>((resolve) => {
              const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
              const times: number[] = [];
              engine.onPicture = (took) => times.push(took);
              const began = performance.now();
              const step = () => {
                const share = (performance.now() - began) / ms;
                if (share >= 1) {
                  engine.onPicture = null;
                  return resolve({ times, seconds: (performance.now() - began) / 1000 });
                }
                if (how === 'turn') engine.turn(2, 0);
                else bench.setState({ timeS: 20 * share });
                setTimeout(step, 16);
              };
              step();
            }),
          DRAG_MS,
          act,
        )
        .then(async ({ times, seconds }) => {
          rows.push({
            name,
            n: times.length,
            medianMs: median(times),
            ratio: null,
            picturesPerSecond: times.length / seconds,
            silentMs: await silent(),
          });
        });
    await pictures('scrubbing through it', 'scrub');
    await pictures('turning in it', 'turn');
    await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
    const nudged = async (name: string, timeS: number) => {
      await page.evaluate((to) => globalThis.foreshore?.bench.setState({ pose: null, timeS: to, selection: 'mark-100' }), timeS);
      await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
      const nudges: number[] = [];
      for (let k = 0; k < NUDGES; k++) {
        await silent();
        await page.keyboard.down('Alt');
        await page.keyboard.press('ArrowRight');
        await page.keyboard.up('Alt');
        await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
        nudges.push(await silent());
      }
      rows.push({ name, n: NUDGES, medianMs: median(nudges), ratio: null });
    };
    await nudged('a nudge of one element, the longest that the page is silent', 0);
    await nudged('the same at the end of the route', 20);
    const client = await page.createCDPSession();
    await client.send('HeapProfiler.collectGarbage');
    const { usedSize } = await client.send('Runtime.getHeapUsage');
    const heap = (await client.send('Runtime.getHeapUsage')) as { usedSize: number; backingStorageSize?: number };
    rows.push({
      name: 'what the page holds afterwards',
      n: 1,
      medianMs: 0,
      ratio: null,
      heapMb: usedSize / 1e6,
      buffersMb: (heap.backingStorageSize ?? 0) / 1e6,
    });
    return rows;
  } finally {
    await session.close();
    await server.remove();
  }
}
