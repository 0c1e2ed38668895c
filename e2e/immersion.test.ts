/** Trying in a headset that the browser offers: an emulated one, whose eyes, hands and buttons are moved by the test. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import {
  type Document,
  type Element,
  insideOf,
  type Mount,
  makeDocument,
  makeGroup,
  makeSlider,
  makeText,
  writeProjectFile,
} from '@foreshore/document';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import type { Pose, Vec3 } from '../packages/core/src/index.ts';
import { addBox, newLevel, toBinary } from '../packages/level/src/sample.ts';
import { openBench, openBrowser, press, type Session, settled } from './browser.ts';

const address = inject('address');
let session: Session;

/** What the emulated device is moved with, from the page. */
interface Device {
  position: { set(x: number, y: number, z: number): void };
  quaternion: { set(x: number, y: number, z: number, w: number): void };
  stereoEnabled: boolean;
  controllers: Record<
    'left' | 'right',
    {
      position: { set(x: number, y: number, z: number): void };
      quaternion: { set(x: number, y: number, z: number, w: number): void };
      updateButtonValue(id: string, value: number): void;
    }
  >;
}
declare global {
  var headset: Device | undefined;
}

/** Two eyes 64 mm apart, two controllers with a trigger and a stick that point straight ahead. */
const SETUP = `
  const gamepad = {
    mapping: 'xr-standard',
    buttons: [{ id: 'trigger', type: 'analog', eventTrigger: 'select' }, { id: 'squeeze', type: 'analog', eventTrigger: 'squeeze' }, null, { id: 'stick', type: 'binary' }],
    axes: [null, null, { id: 'stick', type: 'x-axis' }, { id: 'stick', type: 'y-axis' }],
  };
  const hand = { gamepad, numHapticActuators: 1 };
  globalThis.headset = new IWER.XRDevice({
    name: 'Headset',
    controllerConfig: { profileId: 'generic-trigger', fallbackProfileIds: [], layout: { left: hand, right: hand } },
    supportedSessionModes: ['inline', 'immersive-vr'],
    supportedFeatures: ['viewer', 'local', 'local-floor'],
    supportedFrameRates: [60],
    isSystemKeyboardSupported: false,
    internalNominalFrameRate: 60,
    environmentBlendModes: { 'immersive-vr': 'opaque' },
    interactionMode: 'world-space',
    userAgent: navigator.userAgent,
  }, { ipd: 0.064, fovy: Math.PI / 2, stereoEnabled: true });
  globalThis.headset.installRuntime({ polyfillLayers: false, forceInstall: true });
`;

beforeAll(async () => {
  session = await openBrowser();
  const emulator = readFileSync(createRequire(import.meta.url).resolve('iwer/build/iwer.min.js'), 'utf8');
  await session.page.evaluateOnNewDocument(`${emulator}\n${SETUP}`);
});
afterAll(() => session?.close());

const standing: Mount = {
  kind: 'standing',
  anchor: 'board',
  sizeM: [1.6, 0.9],
  pxPerM: 500,
  readM: 2,
  sides: 'front',
  facing: 'fixed',
  turnDeg: 0,
  tiltDeg: 0,
  liftM: 0,
};
const place: Element['place'] = { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null };

it('draws both eyes, follows the head, is used by two hands, and goes back to the page', async () => {
  const { page } = session;
  const document = makeDocument('Immersed');
  document.level = { file: 'yard.glb', hash: null, metresPerUnit: 1, upAxis: 'y' };
  document.opening = { timeS: 0, pose: { position: [0, 1.65, 0] as Vec3, rotation: [0, 0, 0, 1] as Pose['rotation'] } };
  const fill = (d: Document): void => {
    d.anchors.board = { kind: 'surface', name: 'Board', order: 'a0', node: null, position: [0, 1.6, -2], normal: [0, 0, 1] };
    const group = makeGroup({ mount: standing, place }, 'Board', 'free', 'a0');
    d.elements.board = { ...group, paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 } };
    d.feeds.lamp = { name: 'Lamp', order: 'a0', kind: 'number', unit: '', initial: 0 };
    d.elements.slider = {
      ...makeSlider(insideOf('board', [0.5, 0.8]), 'Lamp', 'lamp', 'a1'),
      place,
      widthPx: 500,
      heightPx: 80,
      empty: 0,
      full: 100,
      step: 5,
    } as Element;
    d.actions = { ring: { name: 'Ring the bell', order: 'a0', reactions: [] } };
    const bell = makeGroup(insideOf('board', [0.2, 0.25]), 'Bell', 'row', 'a2');
    d.elements.bell = { ...bell, place, pointer: { takes: 'acts', action: 'ring', padPx: 0, pointed: {}, pressed: {} } } as Element;
    d.elements['bell-name'] = makeText(insideOf('bell'), 'Bell', 'a3');
  };
  fill(document);
  const level = newLevel();
  addBox(level, 'Yard', 15, [0, -15, 0]);
  const answer = await fetch(new URL('/api/projects/import', address), {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: writeProjectFile({ document, level: await toBinary(level), fonts: {}, pictures: {} }) as BodyInit,
  });
  const { id } = (await answer.json()) as { id: string };
  await openBench(page, address, id, '');
  await settled(page);
  await press(page, 'Try');
  await page.evaluate(() => {
    globalThis.headset?.position.set(0, 1.65, 0);
    for (const side of ['left', 'right'] as const)
      globalThis.headset?.controllers[side].position.set(side === 'left' ? -0.2 : 0.2, 1.3, -0.3);
  });
  await press(page, 'Enter the headset');
  const drawn = (more: number) =>
    page.waitForFunction((least) => (globalThis.foreshore?.engine.immersion?.frames ?? 0) >= least, { polling: 50 }, more);
  await drawn(3);

  // Both eyes' pixels: the dark board in each half, where that eye's own frame has it.
  const seen = await page.evaluate(
    () =>
      new Promise<{ solved: number[]; found: number[]; height: number }>((done) => {
        const { engine } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
        const before = engine.immersion?.frames ?? 0;
        const look = (): void => {
          const solver = engine.immersion?.solver;
          if (!solver || (engine.immersion?.frames ?? 0) <= before) {
            requestAnimationFrame(look);
            return;
          }
          const canvas = engine.headsetPicture();
          const copy = new OffscreenCanvas(canvas.width, canvas.height);
          const context = copy.getContext('2d') as OffscreenCanvasRenderingContext2D;
          context.drawImage(canvas, 0, 0);
          const half = canvas.width / 2;
          const found: number[] = [];
          const solved: number[] = [];
          engine.eyes().forEach((eye, k) => {
            const row = eye.c.ids.indexOf('board');
            const { outline, widthPx, heightPx } = engine.outlineIn(eye, row);
            solved.push(((outline[0] as number) / widthPx) * half, ((outline[2] as number) / widthPx) * half);
            // Along a line through the board's upper part.
            const y = Math.round((((outline[1] as number) * 0.9 + (outline[5] as number) * 0.1) / heightPx) * canvas.height);
            const { data } = context.getImageData(k * half, y, half, 1);
            const dark = Array.from({ length: half }, (_, x) => (data[x * 4] as number) < 60 && (data[x * 4 + 2] as number) < 110);
            found.push(dark.indexOf(true), dark.lastIndexOf(true) + 1);
          });
          done({ solved, found, height: canvas.height });
        };
        requestAnimationFrame(look);
      }),
  );
  expect(seen.solved).toHaveLength(4);
  seen.found.forEach(
    (x, k) => void expect(Math.abs(x - (seen.solved[k] as number)), `${seen.found} against ${seen.solved}`).toBeLessThan(2.5),
  );
  // 64 mm at 2 m is a tangent of 0.032; a field of 90 degrees has half its height for a tangent of 1.
  const [leftEye, , rightEye] = seen.solved as [number, number, number];
  expect(leftEye - rightEye).toBeCloseTo((0.032 * seen.height) / 2, 0);

  // The right hand points at the slider's middle: from (0.2, 1.3, −0.3), and it turns up and to the left.
  const aim = (side: 'left' | 'right', to: Vec3) =>
    page.evaluate(
      (which, [x, y, z]) => {
        const [px, py, pz] = [which === 'left' ? -0.2 : 0.2, 1.3, -0.3];
        const [dx, dy, dz] = [x - px, y - py, z - pz];
        const yaw = Math.atan2(-dx, -dz) / 2;
        const pitch = Math.atan2(dy, Math.hypot(dx, dz)) / 2;
        const [sy, cy, sp, cp] = [Math.sin(yaw), Math.cos(yaw), Math.sin(pitch), Math.cos(pitch)];
        globalThis.headset?.controllers[which].quaternion.set(cy * sp, sy * cp, -sy * sp, cy * cp);
      },
      side,
      to,
    );
  const trigger = (side: 'left' | 'right', value: number) =>
    page.evaluate((which, v) => globalThis.headset?.controllers[which].updateButtonValue('trigger', v), side, value);
  // Four fifths down a board of 0.9 m about 1.6 m.
  const slider: Vec3 = [0, 1.33, -2];
  await aim('right', slider);
  await page.waitForFunction(() => globalThis.foreshore?.engine.trying.meets('right').acts === 'slider', { polling: 50 });
  await trigger('right', 1);
  await page.waitForFunction(() => globalThis.foreshore?.live.getState().held.lamp === 50, { polling: 50 });
  await aim('right', [3, 1.2, -2]);
  await page.waitForFunction(() => globalThis.foreshore?.live.getState().held.lamp === 100, { polling: 50 });
  // The other hand is nobody's meanwhile; then it rings.
  await aim('left', [-0.48, 1.825, -2]);
  await page.waitForFunction(() => globalThis.foreshore?.engine.trying.meets('left').acts === 'bell', { polling: 50 });
  await trigger('left', 1);
  await drawn(((await page.evaluate(() => globalThis.foreshore?.engine.immersion?.frames)) ?? 0) + 3);
  await trigger('left', 0);
  await trigger('right', 0);
  await page.waitForFunction(() => globalThis.foreshore?.bench.getState().pressed === null, { polling: 50 });
  expect(await page.evaluate(() => globalThis.foreshore?.live.getState().log.filter(({ what }) => what.kind === 'sent').length)).toBe(0);
  await trigger('left', 1);
  await drawn(((await page.evaluate(() => globalThis.foreshore?.engine.immersion?.frames)) ?? 0) + 2);
  await trigger('left', 0);
  await page.waitForFunction(
    () => globalThis.foreshore?.live.getState().log.some(({ what }) => what.kind === 'sent' && what.action === 'ring'),
    { polling: 50 },
  );

  // The head moves: the frame is solved from there.
  await page.evaluate(() => globalThis.headset?.position.set(0.5, 1.2, 0.4));
  await page.waitForFunction(
    () => {
      const eye = globalThis.foreshore?.engine.immersion?.solver?.f.eye;
      return eye && Math.abs((eye[0] as number) - 0.5) < 0.01 && Math.abs((eye[1] as number) - 1.2) < 0.01;
    },
    { polling: 50 },
  );
  // The emulator lays its picture over the page, so that the mouse does not get there.
  await page.$eval('[data-immersed="true"]', (button) => (button as HTMLElement).click());
  await page.waitForFunction(() => globalThis.foreshore?.engine.immersion === null, { polling: 50 });
  await settled(page);
  expect(session.errors).toEqual([]);
});
