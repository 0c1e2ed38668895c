/** Panels in the running bench: placed, sized, used, remounted; and as drawn by the graphics as they are solved. */
import {
  type Document,
  type Element,
  insideOf,
  type Mount,
  makeDocument,
  makeGroup,
  makeHeadset,
  makeSlider,
  makeText,
  writeProjectFile,
} from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Pose, poseTowards, type Vec3 } from '../packages/core/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { importProject, inPicture, openBench, openBrowser, press, type Session, saved, settled } from './browser.ts';

const address = inject('address');
let session: Session;
let yard: Uint8Array;
/** Where the corners of the test's panel are, and the top left of three texts on it: 1.2 x 0.8 m at 500 px a metre about (0, 1.6, -3). */
const CORNERS: Vec3[] = [
  [-0.6, 2, -3],
  [0.6, 2, -3],
  [0.6, 1.2, -3],
  [-0.6, 1.2, -3],
];
const TEXTS: [number, number][] = [
  [60, 60],
  [300, 150],
  [120, 300],
];

beforeAll(async () => {
  session = await openBrowser();
  const level = newLevel();
  addBox(level, 'Yard', 15, [0, -15, 0]);
  // A block whose front is a face of 2.4 x 2.4 m, 3.8 m before where one stands.
  addBox(level, 'Block', 1.2, [4, 1.2, -5]);
  yard = await toBinary(level);
});
afterAll(() => session?.close());

const HERE = { position: [0, 1.65, 0] as Vec3, rotation: [0, 0, 0, 1] as Pose['rotation'] };
const standing = (edit: Partial<Extract<Mount, { kind: 'standing' }>> = {}): Mount => ({
  kind: 'standing',
  anchor: 'board',
  sizeM: [1.2, 0.8],
  pxPerM: 500,
  readM: 3,
  sides: 'front',
  facing: 'fixed',
  turnDeg: 0,
  tiltDeg: 0,
  liftM: 0,
  ...edit,
});
function boardOn(document: Document, mount: Mount, fill: (d: Document) => void = () => {}): void {
  document.anchors.board = { kind: 'surface', name: 'Board', order: 'a0', node: null, position: [0, 1.6, -3], normal: [0, 0, 1] };
  const group = makeGroup({ mount, place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null } }, 'Board', 'free', 'a0');
  document.elements.board = {
    ...group,
    layout: { ...group.layout, padPx: [0, 0, 0, 0] },
    paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 },
  };
  fill(document);
}
async function bring(fill: (document: Document) => void, selection: string | null, level: Uint8Array = yard): Promise<string> {
  const document = makeDocument('Panels');
  document.level = { file: 'yard.glb', hash: null, metresPerUnit: 1, upAxis: 'y' };
  document.opening = { timeS: 0, pose: HERE };
  fill(document);
  const id = await importProject(address, document, level);
  await openBench(session.page, address, id, '');
  await session.page.evaluate((one) => globalThis.foreshore?.bench.setState({ selection: one, openStep: null }), selection);
  await settled(session.page);
  return id;
}
const element = (id: string) => session.page.evaluate((one) => globalThis.foreshore?.project.getState().document?.elements[one], id);
const outlineOf = (id: string) => session.page.evaluate((one) => globalThis.foreshore?.engine.places.seen(one)?.outline ?? [], id);
const screenBoxOf = (id: string) => session.page.evaluate((one) => globalThis.foreshore?.engine.places.boxOf(one), id);
/** A field of the opened step, typed into. */
async function type(label: string, value: string): Promise<void> {
  const { page } = session;
  const field = await page.waitForSelector(`aria/${label}`);
  await field?.click({ count: 3 });
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
  await settled(page);
}
/** Where a point of an element's box lies on the page. */
async function onPage(id: string, u: number, v: number): Promise<[number, number]> {
  const { page } = session;
  const at = await page.evaluate(
    (one, x, y) => {
      const { engine, project, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const viewer = project.getState().document?.viewers[bench.getState().viewer];
      const [px = 0, py = 0] = engine.places.seen(one)?.point(x, y) ?? [];
      return [px / (viewer?.widthPx ?? 1), py / (viewer?.heightPx ?? 1)] as [number, number];
    },
    id,
    u,
    v,
  );
  const { x, y } = await inPicture(page, ...at);
  return [x, y];
}
const feed = (id: string) => session.page.evaluate((one) => globalThis.foreshore?.engine.valuesNow()[one], id);

describe('a panel that is placed', () => {
  it('on a face takes its rectangle, and can be read and reached from there', async () => {
    const { page } = session;
    await bring(() => {}, null);
    await page.evaluate(() => globalThis.foreshore?.engine.goTo({ position: [4, 1.6, 0], rotation: [0, 0, 0, 1] }));
    await settled(page);
    await press(page, 'Place');
    const { x, y } = await inPicture(page, 0.5, 0.5);
    await page.mouse.click(x, y);
    await page.waitForSelector('.palette');
    const face = await page.waitForSelector('::-p-text(Panel on this face, 2.4 x 2.4 m)');
    await face?.click();
    await settled(page);
    const mount = (await element('panel'))?.mount;
    expect(mount).toMatchObject({ kind: 'standing', sizeM: [2.4, 2.4], facing: 'fixed', liftM: 0.02 });
    expect(await page.$eval('[data-step="readable"]', (el) => el.getAttribute('data-state'))).toBe('yes');
    // 2.4 m, 3.78 m before the eye: 935.3 px a tangent of 1 on the desk's 1080.
    const outline = await outlineOf('panel');
    expect(Math.abs((outline[2] as number) - (outline[0] as number) - (2.4 * 935.307) / 3.78)).toBeLessThan(1);
  });

  it('keeps letters their height when it is resized by hand, and sets its density by a typed angle', async () => {
    const { page } = session;
    await bring(
      (d) =>
        boardOn(d, standing(), () => {
          d.elements.words = {
            ...makeText(insideOf('board', [0.5, 0.5]), 'Valve open', 'a1'),
            size: { rule: 'screen', emPx: 60, hideBelowPx: 0, leavePx: 0 },
          } as Element;
          // Straight towards it, from 6 m to 3 m.
          d.routes.walk = {
            name: 'Up to the board',
            order: 'a0',
            feeds: [],
            phases: [],
            poses: [
              { timeS: 0, position: [0, 1.6, 3], rotation: [0, 0, 0, 1] },
              { timeS: 6, position: [0, 1.6, 0], rotation: [0, 0, 0, 1] },
            ],
          };
        }),
      'board',
    );
    await page.click('[data-step="size"]');
    const letters = async () => Number(await page.$eval('aria/Smallest capitals', (el) => (el as HTMLInputElement).value));
    const before = await letters();
    // The lower right corner, dragged outwards.
    const [fromX, fromY] = await onPage('board', 1, 1);
    await page.mouse.move(fromX, fromY);
    await page.mouse.down();
    await page.mouse.move(fromX + 20, fromY + 15, { steps: 4 });
    await page.mouse.move(fromX + 40, fromY + 30, { steps: 4 });
    await page.mouse.up();
    await settled(page);
    const resized = (await element('board'))?.mount as Extract<Mount, { kind: 'standing' }>;
    expect(resized.sizeM[0]).toBeGreaterThan(1.3);
    expect(resized.pxPerM).toBe(500);
    expect(await letters()).toBe(before);
    // The opposite corner stayed where it was, and the dragged one went with the pointer.
    const [toX, toY] = await onPage('board', 1, 1);
    expect(Math.hypot(toX - fromX - 40, toY - fromY - 30)).toBeLessThan(3);
    await type('at 3 m, Desk monitor', '30');
    expect(Number(await page.$eval('aria/at 3 m, Desk monitor', (el) => (el as HTMLInputElement).value))).toBeCloseTo(30, 1);
    const after = (await element('board'))?.mount as Extract<Mount, { kind: 'standing' }>;
    expect(after.sizeM).toEqual(resized.sizeM);
    expect(after.pxPerM).not.toBe(500);
    // What is 30 arcmin at 3 m is about half as much at 6 m.
    await page.waitForSelector('[data-bands="ready"]');
    const [, near, nearM, far, farM] =
      /: ([\d.]+) arcmin at ([\d.]+) m, ([\d.]+) arcmin at ([\d.]+) m\./.exec(
        await page.$eval('[data-route-arcmin]', (el) => el.textContent ?? ''),
      ) ?? [];
    expect([Number(far), Number(farM)]).toEqual([15, 6]);
    expect(Math.abs(Number(near) - 30)).toBeLessThan(2);
    expect(Math.abs(Number(nearM) - 3)).toBeLessThan(0.2);
  });
});

describe('a panel of two sides', () => {
  it('reads from behind, too, and follows the pointer and the arrow keys as it is seen there', async () => {
    const { page } = session;
    await bring((d) => boardOn(d, standing({ sides: 'both' })), 'board');
    await page.evaluate(() => globalThis.foreshore?.engine.goTo({ position: [0, 1.65, -6], rotation: [0, 1, 0, 0] }));
    await settled(page);
    const sides = async () => [...(await onPage('board', 0, 0.5)), ...(await onPage('board', 1, 0.5))] as [number, number, number, number];
    const dragged = async (x: number, y: number, by: number) => {
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x + by / 2, y, { steps: 4 });
      await page.mouse.move(x + by, y, { steps: 4 });
      await page.mouse.up();
      await settled(page);
    };
    const [left, , right, y] = await sides();
    expect(right).toBeGreaterThan(left + 50);
    await dragged(right, y, 40);
    const wider = await sides();
    expect(Math.abs(wider[0] - left)).toBeLessThan(3);
    expect(Math.abs(wider[2] - right - 40)).toBeLessThan(3);
    await dragged((wider[0] + wider[2]) / 2 - 60, y + 30, -30);
    const moved = await sides();
    expect(Math.abs(moved[0] - wider[0] + 30)).toBeLessThan(3);
    const before = (await element('board'))?.place.offsetPx[0] ?? 0;
    await page.keyboard.down('Alt');
    await page.keyboard.down('Shift');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.up('Shift');
    await page.keyboard.up('Alt');
    await page.waitForFunction(
      (was) => globalThis.foreshore?.project.getState().document?.elements.board?.place.offsetPx[0] === was - 10,
      { polling: 50 },
      before,
    );
    await settled(page);
    expect((await sides())[0]).toBeGreaterThan(moved[0]);
    // From the front it is the same rectangle, read from its left.
    await page.evaluate(() => globalThis.foreshore?.engine.goTo({ position: [0, 1.65, 0], rotation: [0, 0, 0, 1] }));
    await settled(page);
    const front = await sides();
    expect(front[2]).toBeGreaterThan(front[0] + 50);
  });
});

describe('the four mounts', () => {
  it('go round and back without a jump', async () => {
    const { page } = session;
    await bring(
      (d) =>
        boardOn(d, standing(), () => {
          d.elements.words = makeText(insideOf('board', [0.5, 0.5]), 'Valve open', 'a1');
        }),
      'board',
    );
    await page.click('[data-step="attach"]');
    const start = await screenBoxOf('board');
    const words = await screenBoxOf('words');
    const mountTo = async (name: string, kind: string) => {
      const select = await page.waitForSelector('aria/Mount');
      await select?.click();
      await page.waitForFunction(
        (words) => {
          const option = [...document.querySelectorAll<HTMLElement>('[role="option"]')].find((el) => el.textContent?.startsWith(words));
          option?.click();
          return Boolean(option);
        },
        { polling: 50 },
        name,
      );
      await page.waitForFunction(
        (k) => globalThis.foreshore?.project.getState().document?.elements.board?.mount.kind === k,
        { polling: 50 },
        kind,
      );
      await settled(page);
      return screenBoxOf('board');
    };
    const middle = (b: typeof start) => [((b?.left ?? 0) + (b?.right ?? 0)) / 2, ((b?.top ?? 0) + (b?.bottom ?? 0)) / 2] as const;
    const width = (b: typeof start) => (b?.right ?? 0) - (b?.left ?? 0);
    for (const [name, kind] of [
      ['Trailing the viewer', 'trailing'],
      ['Floating over an anchor', 'floating'],
      ['Standing in the level', 'standing'],
    ] as const) {
      const now = await mountTo(name, kind);
      expect(Math.abs(middle(now)[0] - middle(start)[0]), kind).toBeLessThan(4);
      expect(Math.abs(middle(now)[1] - middle(start)[1]), kind).toBeLessThan(4);
      expect(Math.abs(width(now) / width(start) - 1), kind).toBeLessThan(0.02);
    }
    const onHud = await mountTo('Fixed on the HUD', 'glass');
    expect(Math.abs(middle(onHud)[0] - middle(start)[0])).toBeLessThan(width(start));
    // Laid out anew in the HUD's design pixels, all of it as large as it was seen: the board, and the letters on it.
    expect(Math.abs(width(onHud) / width(start) - 1)).toBeLessThan(0.02);
    expect(Math.abs(width(await screenBoxOf('words')) / width(words) - 1)).toBeLessThan(0.03);
    // What it says and holds went with it all the way; and undo leads back to where it stood.
    expect(await element('words')).toMatchObject({ text: 'Valve open', mount: { group: 'board' } });
    for (const did of ['Move onto the HUD', 'Mount: standing in the level', 'Mount: floating over an anchor', 'Mount: trailing the viewer'])
      await press(page, `Undo: ${did}`);
    await page.waitForFunction(() => globalThis.foreshore?.project.getState().document?.elements.board?.mount.kind === 'standing', {
      polling: 50,
    });
    expect((await element('board'))?.mount).toEqual(standing());
  });
});

describe('a panel in use', () => {
  const withSlider = (d: Document, mount: Mount) =>
    boardOn(d, mount, () => {
      d.feeds.lamp = { name: 'Lamp', order: 'a0', kind: 'number', unit: '', initial: 0 };
      d.elements.slider = {
        ...makeSlider(insideOf('board', [0, 0], [50, 60]), 'Lamp', 'lamp', 'a1'),
        widthPx: 400,
        heightPx: 80,
        empty: 0,
        full: 100,
        step: 1,
      };
      const list = makeGroup(insideOf('board', [0, 0], [50, 180]), 'List', 'column', 'a2');
      d.elements.list = {
        ...list,
        layout: { ...list.layout, widthPx: 400, heightPx: 120, scroll: { thumb: '#E5B45C', thumbPx: 8 } },
        paint: { plate: { colour: '#12445A', radiusPx: 0, border: null }, opacity: 1 },
      };
      for (let k = 0; k < 6; k++) d.elements[`line-${k}`] = makeText(insideOf('list'), `Line ${k}`, `a3${k + 1}`);
    });
  it('slides and scrolls by the mouse, aslant, and a held slider goes on beyond the panel', async () => {
    const { page } = session;
    await bring((d) => withSlider(d, standing({ turnDeg: 35 })), null);
    await press(page, 'Try');
    await settled(page);
    // 400 x 80 px: the knob's middle runs from 40 to 360 px.
    const [x, y] = await onPage('slider', 0.1 + 0.8 * 0.5, 0.5);
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.waitForFunction(() => globalThis.foreshore?.engine.valuesNow().lamp === 50, { polling: 50 });
    const [outX, outY] = await onPage('board', 1.4, 0.15);
    await page.mouse.move(outX, outY, { steps: 4 });
    await page.waitForFunction(() => globalThis.foreshore?.engine.valuesNow().lamp === 100, { polling: 50 });
    await page.mouse.up();
    const [listX, listY] = await onPage('list', 0.5, 0.5);
    await page.mouse.move(listX, listY);
    await page.mouse.wheel({ deltaY: 60 });
    await page.waitForFunction(() => (globalThis.foreshore?.bench.getState().scrolled.list ?? 0) > 0, { polling: 50 });
  });
  it('is out of reach where the ray is too short, and says by how much', async () => {
    const { page } = session;
    await bring((d) => {
      withSlider(d, standing());
      d.ray = { reachM: 2 };
    }, 'board');
    await page.waitForSelector('[data-step="readable"][data-state="short"]');
    expect(await page.$eval('[data-step="readable"]', (el) => el.getAttribute('title'))).toMatch(
      /the ray reaches 2(\.00)? m, it is at 3\.0\d m: 1\.0\d m short/,
    );
    await press(page, 'Try');
    await settled(page);
    const [x, y] = await onPage('slider', 0.5, 0.5);
    await page.mouse.click(x, y);
    await page.waitForSelector('::-p-text(beyond the reach of the ray)');
    expect(await feed('lamp')).toBe(0);
  });
});

describe('drawn and solved', () => {
  /** Small glowing boxes where the corners and the texts of the panel are. */
  const marks = async (): Promise<Uint8Array> => {
    const level = newLevel();
    const red = level.createMaterial('Mark').setBaseColorFactor([0, 0, 0, 1]).setEmissiveFactor([1, 0, 0]).setDoubleSided(true);
    const spots = [...CORNERS, ...TEXTS.map(([x, y]): Vec3 => [-0.6 + x / 500, 2 - y / 500, -3])];
    spots.forEach((at, k) => {
      for (const primitive of addBox(level, `Mark ${k}`, 0.012, at).getMesh()?.listPrimitives() ?? []) primitive.setMaterial(red);
    });
    addBox(level, 'Yard', 1.5, [0, -4, 0]);
    return toBinary(level);
  };
  it('corners and texts of a panel lie within 1 px of what the graphics draw there, at 20 poses and 3 viewers, and in both eyes of a headset', async () => {
    const { page } = session;
    await bring(
      (d) =>
        boardOn(d, standing({ sides: 'both' }), () => {
          d.viewers.headset = makeHeadset('Headset', 'a9');
          TEXTS.forEach(([x, y], k) => {
            d.elements[`text-${k}`] = makeText(insideOf('board', [0, 0], [x, y]), 'Tide', `a${k + 1}`);
          });
        }),
      null,
      await marks(),
    );
    const poses = Array.from({ length: 20 }, (_, k): Pose => {
      const angle = Math.PI / 2 + 1.1 * Math.sin(k * 2.399);
      const reach = 1.3 + (k % 5) * 0.5;
      const from: Vec3 = [Math.cos(angle) * reach, 1.2 + (k % 4) * 0.35, -3 + Math.sin(angle) * reach];
      return poseTowards(from, [0.2 * Math.sin(k), 1.6 + 0.1 * Math.cos(k * 1.7), -3]);
    });
    const off = await page.evaluate((all) => {
      const { engine, project } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const viewers = project.getState().document?.viewers ?? {};
      const seen = [
        ...['handheld', 'desk', 'television'].map((viewer) => [viewer] as const),
        ...([0, 1] as const).map((eye) => ['headset', eye] as const),
      ];
      return seen.flatMap(([viewer, eye]) =>
        all.flatMap((pose) => {
          const { widthPx = 0, heightPx = 0 } = viewers[viewer] ?? {};
          const solved = engine.solveAt(viewer, pose, 0, eye);
          const outline = (id: string) => solved.find((one) => one.id === id)?.outline ?? [];
          const points = [0, 2, 4, 6].map((k) => outline('board').slice(k, k + 2));
          for (const k of [0, 1, 2]) points.push(outline(`text-${k}`).slice(0, 2));
          const context = engine
            .snapshot(viewer, pose, widthPx, heightPx, false, eye)
            ?.getContext('2d') as OffscreenCanvasRenderingContext2D;
          return points.flatMap(([x = Number.NaN, y = Number.NaN]) => {
            const side = 36;
            const [left, top] = [Math.round(x) - side / 2, Math.round(y) - side / 2];
            // What is cut off by the frame has no middle to compare.
            if (!(left > 0 && top > 0 && left + side < widthPx && top + side < heightPx)) return [];
            const { data } = context.getImageData(left, top, side, side);
            let [sum, sumX, sumY] = [0, 0, 0];
            for (let k = 0; k < side * side; k++) {
              const redness = Math.max(0, ((data[k * 4] as number) - (data[k * 4 + 2] as number)) / 255);
              if (redness < 0.15) continue;
              sum += redness;
              sumX += redness * (left + (k % side) + 0.5);
              sumY += redness * (top + Math.floor(k / side) + 0.5);
            }
            return [sum < 2 ? 99 : Math.hypot(sumX / sum - x, sumY / sum - y)];
          });
        }),
      );
    }, poses);
    expect(off.length).toBeGreaterThan(420);
    expect(Math.max(...off)).toBeLessThan(1);
  });
  it('painted letters lie within 1 px of their outlines, and the level covers a panel where it stands in front', async () => {
    const { page } = session;
    await bring(
      (d) =>
        boardOn(d, standing({ turnDeg: 25, anchor: 'board' }), () => {
          d.elements.words = {
            ...makeText(insideOf('board', [0.5, 0.5]), 'HIM', 'a1'),
            size: { rule: 'screen', emPx: 150, hideBelowPx: 0, leavePx: 0 },
          } as Element;
        }),
      null,
      await (async () => {
        const level = newLevel();
        addBox(level, 'Yard', 15, [0, -15, 0]);
        addBox(level, 'Post', 0.1, [0.25, 1.7, -1.5]);
        return toBinary(level);
      })(),
    );
    const found = await page.evaluate(() => {
      const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const pose: Pose = { position: [0, 1.65, 0], rotation: [0, 0, 0, 1] };
      const [w, h] = [1920, 1080];
      const paint = (overlay: boolean) => {
        const context = engine.snapshot('desk', pose, w, h, overlay)?.getContext('2d') as OffscreenCanvasRenderingContext2D;
        return context.getImageData(0, 0, w, h).data;
      };
      const [bare, ours] = [paint(false), paint(true)];
      const shape = engine.drawnOf('words').find((item) => item.kind === 'shape');
      const xs = shape?.kind === 'shape' ? [...shape.coords].filter((_, k) => k % 2 === 0) : [];
      const ys = shape?.kind === 'shape' ? [...shape.coords].filter((_, k) => k % 2 === 1) : [];
      const solved = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] as [number, number, number, number];
      // Letters are light on a dark plate; its own edges, which are light where the sky shows through them, are farther out.
      const box = [w, h, 0, 0];
      for (let y = Math.floor(solved[1]) - 20; y < solved[3] + 20; y++)
        for (let x = Math.floor(solved[0]) - 20; x < solved[2] + 20; x++) {
          const k = (y * w + x) * 4;
          if ((ours[k] as number) < 150 || ours[k] === bare[k]) continue;
          box[0] = Math.min(box[0] as number, x);
          box[1] = Math.min(box[1] as number, y);
          box[2] = Math.max(box[2] as number, x + 1);
          box[3] = Math.max(box[3] as number, y + 1);
        }
      const outline = engine.solveAt('desk', pose, 0).find((one) => one.id === 'board')?.outline ?? [];
      // The post is seen from its near face, 1.4 m away: its middle, and a place well beside it on the panel.
      const at = (x: number, y: number) =>
        [...ours.slice((Math.round(y) * w + Math.round(x)) * 4, (Math.round(y) * w + Math.round(x)) * 4 + 3)].join();
      const atBare = (x: number, y: number) =>
        [...bare.slice((Math.round(y) * w + Math.round(x)) * 4, (Math.round(y) * w + Math.round(x)) * 4 + 3)].join();
      const post = [960 + (0.25 * 935.307) / 1.4, 540 - (0.05 * 935.307) / 1.4] as const;
      return {
        ink: box,
        solved,
        outline,
        postKept: at(...post) === atBare(...post),
        panelPainted: at(960 - 60, 540 - 60) !== atBare(960 - 60, 540 - 60),
      };
    });
    // The right edge of the word may lie behind the post.
    for (const k of [0, 1, 3]) expect(Math.abs((found.ink[k] as number) - (found.solved[k] as number))).toBeLessThan(1.01);
    expect(found.postKept).toBe(true);
    expect(found.panelPainted).toBe(true);
  });
});

describe('what is wrong', () => {
  it('is refused with where and what: a panel of no size, of 10 km, of too many pixels', async () => {
    const take = async (mount: object) => {
      const document = makeDocument('Wrong');
      document.level = null;
      boardOn(document, { ...standing(), ...mount } as Mount);
      const response = await fetch(new URL('/api/projects/import', address), {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream' },
        body: writeProjectFile({ document, level: null, fonts: {}, pictures: {} }) as BodyInit,
      });
      return { status: response.status, text: await response.text() };
    };
    for (const [mount, says] of [
      [{ sizeM: [0, 1] }, /sizeM/],
      [{ sizeM: [10_000, 1] }, /sizeM/],
      [{ sizeM: [900, 1], pxPerM: 500 }, /450000 pixels, more than 20000/],
      [{ pxPerM: -3 }, /pxPerM/],
    ] as const) {
      const { status, text } = await take(mount);
      expect(status).toBe(422);
      expect(text).toMatch(says);
    }
  });
  it('stays visible as a state: edge on, and around the camera', async () => {
    const { page } = session;
    await bring((d) => boardOn(d, standing({ turnDeg: 100 })), 'board');
    expect(await page.$eval('[data-step="view"]', (el) => el.getAttribute('data-state'))).toBe('no');
    expect(await page.$eval('[data-step="view"]', (el) => el.getAttribute('title'))).toMatch(/behind it, where it has no side/);
    // A floor of 40 x 40 m through which the near plane goes.
    await bring((d) => boardOn(d, standing({ sizeM: [40, 40], pxPerM: 50, tiltDeg: 90, sides: 'both' })), 'board');
    const outline = await outlineOf('board');
    expect(outline.length).toBeGreaterThan(6);
    expect(outline.every(Number.isFinite)).toBe(true);
    expect(session.errors).toEqual([]);
    await saved(page);
  });
});
