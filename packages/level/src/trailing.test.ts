/** A panel that trails the viewer through the pump house: never in a wall, always as large to the eye. Checked by rays, which placing it does not use. */
import { readFileSync } from 'node:fs';
import { arrange, compile, lookingPose, makeHit, makeSolver, PanelAt, solve, type Vec3, worldPoint } from '@foreshore/core';
import { makeDocument, makeGroup } from '@foreshore/document';
import { expect, it } from 'vitest';
import { fixedText } from '../../core/src/sample.ts';
import { readLevel } from './read.ts';

const STEPS = 10_000;

it('comes nearer before every wall, over ten thousand random steps', async () => {
  const bytes = new Uint8Array(readFileSync(new URL('../../../demo/low-water.glb', import.meta.url)));
  const level = await readLevel(bytes, { metresPerUnit: 1, upAxis: 'y' });
  const document = makeDocument('Low Water');
  const mount = {
    kind: 'trailing' as const,
    sizeM: [0.5, 0.36] as [number, number],
    pxPerM: 1000,
    readM: 1,
    sides: 'front' as const,
    distanceM: 1.1,
    rightDeg: 18,
    upDeg: -8,
    followS: 0.2,
    deadDeg: 4,
    keeps: 'upright' as const,
    blocked: 'nearer' as const,
    leastM: 0.05,
  };
  const place = { ownPoint: [0.5, 0.5] as [number, number], offsetPx: [0, 0] as [number, number], stay: 'free' as const, leader: null };
  document.elements.slate = makeGroup({ mount, place }, 'Slate', 'free', 'a0');
  const solver = makeSolver(arrange(compile(document, level), document.viewers.desk as never, fixedText));
  const house = level.nodeIndex('Pump house') * 16;
  const at = (x: number, y: number, z: number): Vec3 =>
    [0, 1, 2].map(
      (k) =>
        (level.worldMatrices[house + k] as number) * x +
        (level.worldMatrices[house + 4 + k] as number) * y +
        (level.worldMatrices[house + 8 + k] as number) * z +
        (level.worldMatrices[house + 12 + k] as number),
    ) as Vec3;
  let seed = 11;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  const hit = makeHit();
  const isClear = (from: Vec3, to: Vec3): boolean => {
    const way = to.map((v, k) => v - (from[k] as number)) as Vec3;
    const length = Math.hypot(...way);
    return !level.castRay(from, way.map((v) => v / length) as Vec3, length, hit);
  };
  const angle = (eye: Vec3, p: Vec3, q: Vec3): number => {
    const [a, b] = [p, q].map((v) => v.map((c, k) => c - (eye[k] as number))) as [Vec3, Vec3];
    const dot = a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    return Math.acos(Math.min(1, dot / (Math.hypot(...a) * Math.hypot(...b))));
  };
  // 0.5 x 0.36 m square on at 1.1 m: the diagonal is 2·atan(0.3081/1.1).
  const whole = 2 * Math.atan(Math.hypot(0.25, 0.18) / 1.1);
  let [x, z, yaw, pitch, blocked, worst, inWalls] = [1.5, 1.2, 0, 0, 0, 0, 0];
  for (let step = 0; step < STEPS; step++) {
    // Free of the walls by half a metre, and of the pumps and the board.
    x = Math.max(0.2, Math.min(2.9, x + (random() - 0.5) * 0.12));
    z = Math.max(-1.4, Math.min(1.9, z + (random() - 0.5) * 0.12));
    yaw += (random() - 0.5) * 24;
    pitch = Math.max(-50, Math.min(50, pitch + (random() - 0.5) * 10));
    const eye = at(x, 1.8, z);
    solve(solver, { timeS: step / 30, head: lookingPose(eye, yaw, pitch), depthOrder: false });
    const [w, h] = [solver.f.panels[PanelAt.WidthPx] as number, solver.f.panels[PanelAt.HeightPx] as number];
    const corner = (u: number, v: number): Vec3 => worldPoint(solver.f.panels, 0, u * w, v * h);
    const [a, b, c, d] = [corner(0, 0), corner(1, 0), corner(1, 1), corner(0, 1)];
    worst = Math.max(worst, Math.abs(angle(eye, a, c) / whole - 1));
    if ((solver.m.trailShare[0] as number) < 0.999) blocked++;
    const clear =
      [a, b, c, d, corner(0.5, 0.5), corner(0.5, 0), corner(0.5, 1), corner(0, 0.5), corner(1, 0.5)].every((p) => isClear(eye, p)) &&
      isClear(a, b) &&
      isClear(b, c) &&
      isClear(c, d) &&
      isClear(d, a) &&
      isClear(a, c) &&
      isClear(b, d);
    if (!clear) inWalls++;
  }
  expect(inWalls).toBe(0);
  expect(worst).toBeLessThan(0.01);
  // It was tried: a good part of the steps had a wall in the way.
  expect(blocked).toBeGreaterThan(STEPS / 5);
});
