/** What is calculated and what is painted agree: drawn meshes, painted text, and frames solved in Node and in Chromium. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import {
  arrange,
  compile,
  makeSolver,
  type Pose,
  phaseAt,
  placeLevel,
  placeOf,
  poseTowards,
  readValues,
  solve,
  type Vec3,
} from '../packages/core/src/index.ts';
import { type Document, makeLabel } from '../packages/document/src/index.ts';
import { readLevel } from '../packages/level/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { shippedShaper } from '../packages/text/src/node.ts';
import { createProject, editAt, openBench, openBrowser, type Session, sendLevel } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session.close());

const documentOf = async (id: string): Promise<Document> =>
  ((await (await fetch(new URL(`/api/projects/${id}`, address))).json()) as { document: Document }).document;

/** Poses about a place, from all sides, heights and distances; the target is off the middle of the frame. */
const posesAbout = (n: number): Pose[] =>
  Array.from({ length: n }, (_, k) => {
    const angle = k * 2.399;
    const reach = 3 + (k % 5) * 1.7;
    const from: Vec3 = [Math.cos(angle) * reach, 1 + (k % 4) * 1.3, Math.sin(angle) * reach];
    return poseTowards(from, [0.9 * Math.sin(k), 2 + 0.6 * Math.cos(k * 1.7), 0.9 * Math.cos(k * 0.7)]);
  });

describe('a mesh drawn at an anchor', () => {
  it('lies within 1 px of the overlay at 20 poses and 3 viewers', async () => {
    const { page } = session;
    const level = newLevel();
    const red = level.createMaterial('Buoy').setBaseColorFactor([0, 0, 0, 1]).setEmissiveFactor([1, 0, 0]).setDoubleSided(true);
    const buoy = addBox(level, 'Buoy', 0.06, [0, 2, 0]);
    for (const primitive of buoy.getMesh()?.listPrimitives() ?? []) primitive.setMaterial(red);
    addBox(level, 'Quay', 1.5, [0, -4, 0]);
    const id = await createProject(address, {
      from: 'level',
      name: 'Buoy',
      level: { ...(await sendLevel(address, 'buoy.glb', await toBinary(level))), metresPerUnit: 1, upAxis: 'y' },
    });
    await editAt(address, id, (d) => {
      d.anchors.buoy = { kind: 'node', name: 'Buoy', order: 'a0', node: 'Buoy', offset: [0, 0, 0] };
      d.elements.buoy = makeLabel('buoy', 'Buoy', 'a0');
    });
    await openBench(page, address, id);
    const off = await page.evaluate((poses) => {
      const { engine, project } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const viewers = project.getState().document?.viewers ?? {};
      return ['handheld', 'desk', 'phone'].flatMap((viewer) =>
        poses.map((pose) => {
          const { widthPx = 0, heightPx = 0 } = viewers[viewer] ?? {};
          const [x = 0, y = 0] = engine.solveAt(viewer, pose, 0)[0]?.point ?? [];
          const context = engine.snapshot(viewer, pose, widthPx, heightPx, false)?.getContext('2d') as OffscreenCanvasRenderingContext2D;
          const [left, top, side] = [Math.round(x) - 40, Math.round(y) - 40, 80];
          const { data } = context.getImageData(left, top, side, side);
          let [sum, sumX, sumY] = [0, 0, 0];
          for (let k = 0; k < side * side; k++) {
            // How red, as a share: sky and stone are as blue as they are red, or bluer.
            const redness = Math.max(0, ((data[k * 4] as number) - (data[k * 4 + 2] as number)) / 255);
            if (redness < 0.15) continue;
            sum += redness;
            sumX += redness * (left + (k % side) + 0.5);
            sumY += redness * (top + Math.floor(k / side) + 0.5);
          }
          return sum < 4 ? 99 : Math.hypot(sumX / sum - x, sumY / sum - y);
        }),
      );
    }, posesAbout(20));
    expect(off).toHaveLength(60);
    expect(Math.max(...off)).toBeLessThan(1);
  });
});

describe('text', () => {
  it('is as wide painted as it was measured, and as the browser itself measures the font, within 0.5 px', async () => {
    const { page } = session;
    const texts = ['HMLH', 'Turn the wheel HI', 'AVATAR WAVE Tide', 'Schleusentor H'];
    const id = await createProject(address, { from: 'empty', name: 'Ink' });
    await editAt(address, id, (d) => {
      texts.forEach((text, i) => {
        d.anchors[`a${i}`] = { kind: 'surface', name: text, order: `a${i}`, node: null, position: [0, 2 - i, -12], normal: [0, 1, 0] };
        const label = makeLabel(`a${i}`, text, `a${i}`);
        d.elements[`e${i}`] = {
          ...label,
          size: { rule: 'screen', emPx: 64, hideBelowPx: 0, leavePx: 0 },
          place: { ...label.place, leader: null },
          paint: { ...label.paint, colour: '#000000', plate: null },
        };
      });
    });
    await openBench(page, address, id);
    const rows = await page.evaluate(() => {
      const { engine, project } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const pose: Pose = { position: [0, 0.6, 0], rotation: [0, 0, 0, 1] };
      const paint = (overlay: boolean) => {
        const drawn = engine.snapshot('desk', pose, 1920, 1080, overlay)?.getContext('2d') as OffscreenCanvasRenderingContext2D;
        return drawn.getImageData(0, 0, 1920, 1080).data;
      };
      const [bare, ours] = [paint(false), paint(true)];
      const canvas = new OffscreenCanvas(1920, 200);
      const context = canvas.getContext('2d') as OffscreenCanvasRenderingContext2D;
      /** The ink's width: how much of its first and last column is covered is told by their darkest pixels, which are stems. */
      const inkWidth = (from: number, to: number, share: (x: number) => number): number => {
        let [first, last] = [from, to];
        while (share(first) < 0.03 && first < to) first++;
        while (share(last) < 0.03 && last > from) last--;
        return last + 1 - first - (1 - share(first)) - (1 - share(last));
      };
      const elements = project.getState().document?.elements ?? {};
      return engine.solveAt('desk', pose, 0).map(({ id, rect }) => {
        const [left = 0, top = 0, width = 0, height = 0] = rect;
        const [from, to] = [Math.floor(left) - 4, Math.ceil(left + width) + 4];
        const element = elements[id];
        const text = element?.kind === 'label' ? element.text : '';
        context.fillStyle = '#fff';
        context.fillRect(0, 0, 1920, 200);
        context.fillStyle = '#000';
        context.font = "64px 'Atkinson Hyperlegible Next'";
        context.textRendering = 'geometricPrecision';
        context.fillText(text, left, 120);
        const browsers = context.getImageData(0, 0, 1920, 200).data;
        return {
          inkPx: inkWidth(from, to, (x) => {
            let most = 0;
            for (let y = Math.floor(top); y < top + height; y++) {
              const k = (y * 1920 + x) * 4;
              most = Math.max(most, 1 - (ours[k] as number) / (bare[k] as number));
            }
            return most;
          }),
          browserInkPx: inkWidth(from, to, (x) => {
            let most = 0;
            for (let y = 40; y < 150; y++) most = Math.max(most, 1 - (browsers[(y * 1920 + x) * 4] as number) / 255);
            return most;
          }),
          widthPx: width,
          browserWidthPx: context.measureText(text).width,
        };
      });
    });
    expect(rows).toHaveLength(texts.length);
    for (const row of rows) {
      expect(Math.abs(row.widthPx - row.browserWidthPx)).toBeLessThan(0.5);
      expect(Math.abs(row.inkPx - row.browserInkPx)).toBeLessThan(0.5);
    }
  });
});

describe('frames', () => {
  it('solved in Node and in Chromium are the same within 1e-6 px', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water');
    const document = await documentOf('low-water');
    const bytes = new Uint8Array(await (await fetch(new URL(`/api/levels/${document.level?.hash}`, address))).arrayBuffer());
    const level = await readLevel(bytes, { metresPerUnit: 1, upAxis: 'y' });
    const compiled = compile(document, level);
    const text = shippedShaper();
    // The route that the bench has chosen: its feeds and phases are in force.
    const route = document.routes['out-to-the-lamp'] ?? null;
    const poses = posesAbout(8).map((pose, k): Pose => ({ ...pose, position: [pose.position[0] - 20 + 5 * k, 3, pose.position[2] - 8] }));
    let compared = 0;
    for (const viewer of Object.keys(document.viewers)) {
      const arranged = arrange(compiled, document.viewers[viewer] as never, text);
      for (const [k, pose] of poses.entries()) {
        const timeS = k * 1.37;
        const there = await page.evaluate((v, p, t) => globalThis.foreshore?.engine.solveAt(v, p, t) ?? [], viewer, pose, timeS);
        placeLevel(compiled, route, timeS, pose, {});
        const solver = makeSolver(arranged);
        const values = readValues(compiled, route, timeS, pose, {});
        solve(solver, { timeS, head: pose, depthOrder: false, values, phase: phaseAt(document, route, timeS) });
        expect(there.map((e) => e.id)).toEqual(arranged.compiled.ids);
        there.forEach((element, i) => {
          expect(element.failed).toBe(solver.f.failed[i]);
          if (element.failed !== 255) return;
          const { point, rect } = placeOf(solver.f, i);
          const both = [...point, ...rect].map((v, at) => Math.abs(v - ([...element.point, ...element.rect][at] as number)));
          expect(Math.max(...both)).toBeLessThan(1e-6);
          compared++;
        });
      }
    }
    expect(compared).toBeGreaterThan(100);
  });
});
