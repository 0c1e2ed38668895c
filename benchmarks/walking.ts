/** Walking in the bench: how far apart pictures are with twenty panels in view, against the same walk with none. */
import { Verdict } from '@foreshore/core';
import { type Document, insideOf, makeDocument, makeGroup, makeText } from '@foreshore/document';
import type { Page } from 'puppeteer-core';
import { startTestServer } from '../apps/server/src/test-server.ts';
import { demo } from '../demo/src/project.ts';
import { importProject, openBench, openBrowser, settled } from '../e2e/browser.ts';
import { median, type Row } from './measure.ts';

const PANELS = 20;
const WALK_MS = 3000;
/** In turn, so that what else the machine does falls on both. */
const ROUNDS = 4;

/** Walks ahead for a time; how long each picture took until it was there, milliseconds. The next may have been begun before. */
export async function walkFor(page: Page, ms: number): Promise<{ times: number[]; seconds: number }> {
  await page.focus('.picture');
  await page.keyboard.down('KeyW');
  const pictures = await page.evaluate(
    (forMs) =>
      new Promise<{ times: number[]; seconds: number }>((resolve) => {
        const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        const times: number[] = [];
        engine.onPicture = (took) => times.push(took);
        const began = performance.now();
        setTimeout(() => {
          engine.onPicture = null;
          resolve({ times, seconds: (performance.now() - began) / 1000 });
        }, forMs);
      }),
    ms,
  );
  await page.keyboard.up('KeyW');
  return pictures;
}

/** The level of the demo with so many panels along the causeway ahead, each a title and four lines. */
function panelled(count: number): Document {
  const shown = demo.document() as Document;
  const document = makeDocument(`${count} panels`);
  // Its animations run by the clock: what moves them in the demo is not here.
  document.level = shown.level && { ...shown.level, clips: {} };
  const start = shown.routes['out-to-the-lamp']?.poses[0];
  if (!start) throw new Error('The demo has no way out to the lamp.');
  document.opening = { timeS: 0, pose: { position: start.position, rotation: start.rotation } };
  const [qx, qy, qz, qw] = start.rotation;
  const [aheadX, aheadZ] = [-2 * (qx * qz + qw * qy), -(1 - 2 * (qx * qx + qy * qy))];
  const level = Math.hypot(aheadX, aheadZ);
  const ahead = [aheadX / level, 0, aheadZ / level] as const;
  for (let k = 0; k < count; k++) {
    const [far, aside] = [14 + 2 * Math.floor(k / 5), ((k % 5) - 2) * 2.2];
    const id = `board-${k}`;
    document.anchors[id] = {
      kind: 'surface',
      name: id,
      order: 'a0',
      node: null,
      position: [
        start.position[0] + far * ahead[0] - aside * ahead[2],
        start.position[1] + 0.6 + 0.5 * Math.floor(k / 5),
        start.position[2] + far * ahead[2] + aside * ahead[0],
      ],
      normal: [-ahead[0], 0, -ahead[2]],
    };
    const group = makeGroup(
      {
        mount: {
          kind: 'standing',
          anchor: id,
          sizeM: [1.6, 0.9],
          pxPerM: 300,
          readM: 6,
          sides: 'both',
          facing: 'fixed',
          turnDeg: (k * 11) % 40,
          tiltDeg: 0,
          liftM: 0,
        },
        place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null },
      },
      id,
      'column',
      'a0',
    );
    document.elements[id] = { ...group, paint: { plate: { colour: '#15233B', radiusPx: 8, border: null }, opacity: 1 } };
    for (let line = 0; line < 5; line++)
      document.elements[`${id}-${line}`] = makeText(insideOf(id), line === 0 ? `Board ${k}` : `Line ${line}: the tide turns`, `a${line}`);
  }
  return document;
}

export async function walkingRows(): Promise<Row[]> {
  const server = await startTestServer();
  const session = await openBrowser();
  const { page } = session;
  try {
    await page.setViewport({ width: 1280, height: 800 });
    const ids: string[] = [];
    for (const count of [0, PANELS]) ids.push(await importProject(server.address, panelled(count), new Uint8Array(demo.level())));
    const apart: [number[], number[]] = [[], []];
    const counts: [number, number] = [0, 0];
    let seen = 0;
    for (let round = 0; round < ROUNDS; round++)
      for (const [k, id] of ids.entries()) {
        await openBench(page, server.address, id, '');
        await settled(page);
        if (k === 1)
          seen = await page.evaluate((shown) => {
            const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
            const solver = engine.frameOf(bench.getState().viewer);
            return solver ? [...solver.c.panels].filter((row) => solver.f.failed[row] === shown).length : 0;
          }, Verdict.Shown);
        const { times, seconds } = await walkFor(page, WALK_MS);
        apart[k as 0 | 1].push((seconds * 1000) / Math.max(1, times.length));
        counts[k as 0 | 1] += times.length;
      }
    const [noneMs, withMs] = apart.map(median) as [number, number];
    return [
      { name: 'a picture while walking, no panel', n: counts[0], medianMs: noneMs, ratio: 1 },
      { name: 'a picture while walking, 20 panels in view', n: counts[1], medianMs: withMs, ratio: withMs / noneMs, shown: seen },
    ];
  } finally {
    await session.close();
    await server.remove();
  }
}
