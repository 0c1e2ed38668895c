/** A walk towards a place: over the ground, round nothing, always looking at it. */
import type { Route } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { approachTo, routeShows } from './approach.ts';
import { type Box, levelOf } from './sample-level.ts';
import { projectionOf } from './spaces/lens.ts';
import { lookingPose, type Pose, rotate, type Vec3 } from './spaces/pose.ts';

const BODY = { eyeHeightM: 1.65, radiusM: 0.3, stepM: 0.4, speedMps: 3.2 };
const GROUND: Box = { name: 'Ground', least: [-40, -1, -40], greatest: [40, 0, 40] };
const LENS = projectionOf(
  { kind: 'perspective', fovDeg: 60, fovAxis: 'vertical', hold: 'vertical', designAspect: null, nearM: 0.1 },
  1920,
  1080,
);
const routeOf = (poses: Route['poses']): Route => ({ name: 'Towards', order: 'a0', poses, feeds: [], phases: [] });
const flat = (a: readonly number[], b: readonly number[]) =>
  Math.hypot((a[0] as number) - (b[0] as number), (a[2] as number) - (b[2] as number));

describe('an approach', () => {
  it('walks over the ground from about 12 m to 1.5 m, looking at the place, by way of where one stands (property)', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(number(-15, 15), number(-15, 15), number(2, 11), number(0, 7), number(0.2, 3), (x, z, far, angle, high) => {
        const place: Vec3 = [x + far * Math.sin(angle), high, z + far * Math.cos(angle)];
        const from: Pose = { position: [x, 1.65, z], rotation: [0, 0, 0, 1] };
        const poses = approachTo(place, from, BODY, levelOf([GROUND]));
        const [first, last] = [poses[0], poses.at(-1)] as [Route['poses'][number], Route['poses'][number]];
        // A step is 0.32 m long.
        expect(flat(first.position, place)).toBeGreaterThan(11.9);
        expect(flat(first.position, place)).toBeLessThan(12.4);
        expect(flat(last.position, place)).toBeLessThanOrEqual(1.5);
        expect(flat(last.position, place)).toBeGreaterThan(1.1);
        expect(Math.min(...poses.map((p) => flat(p.position, from.position)))).toBeLessThan(1e-3);
        poses.forEach(({ timeS, position, rotation }, k) => {
          expect(timeS).toBeCloseTo(k * 0.1, 9);
          expect(position[1]).toBeCloseTo(1.65, 3);
          const way = place.map((v, i) => v - (position[i] as number));
          const ahead = rotate(rotation, [0, 0, -1]);
          expect(ahead.reduce((sum, v, i) => sum + v * (way[i] as number), 0) / Math.hypot(...way)).toBeGreaterThan(0.99999);
        });
        expect(routeShows(routeOf(poses), place, LENS, levelOf([GROUND]))).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
  it('ends before a wall, and begins where the ground does', () => {
    const wall: Box = { name: 'Wall', least: [-9, 0, -3.2], greatest: [9, 3, -3] };
    const pier: Box = { name: 'Pier', least: [-2, -1, -30], greatest: [2, 0, 4] };
    const poses = approachTo([0, 1.5, -6], { position: [0, 1.65, 0], rotation: [0, 0, 0, 1] }, BODY, levelOf([pier, wall]));
    // The body's radius before the wall; and not off the end of the pier at 4 m.
    expect(poses.at(-1)?.position[2]).toBeGreaterThan(-3 + 0.3 - 1e-6);
    expect(poses.at(-1)?.position[2]).toBeLessThan(-2.2);
    expect(poses[0]?.position[2]).toBeGreaterThan(3);
    expect(poses[0]?.position[2]).toBeLessThan(4.4);
  });
  it('goes straight through the air where there is nothing to walk on', () => {
    const poses = approachTo([0, 20, -10], { position: [0, 15, 0], rotation: [0, 0, 0, 1] }, BODY, levelOf([]));
    expect(poses.length).toBeGreaterThan(10);
    expect(poses[0]?.position).toEqual([0, 15, 0]);
    expect(Math.hypot(...(poses.at(-1)?.position ?? []).map((v, k) => v - ([0, 20, -10][k] as number)))).toBeCloseTo(1.5, 3);
  });
});

describe('a route passes a place', () => {
  const route = (yawDeg: number, z = 0) => routeOf([0, 1, 2].map((timeS) => ({ timeS, ...lookingPose([timeS - 1, 1.65, z], yawDeg, 0) })));
  const place: Vec3 = [0, 1.65, -6];
  it('when it comes into the frame near enough with nothing before it', () => {
    expect(routeShows(route(0), place, LENS, levelOf([GROUND]))).toBe(true);
    expect(routeShows(route(180), place, LENS, levelOf([GROUND]))).toBe(false);
    // 26 m away is too far.
    expect(routeShows(route(0, 20), place, LENS, levelOf([GROUND]))).toBe(false);
    const wall: Box = { name: 'Wall', least: [-9, 0, -3.2], greatest: [9, 3, -3] };
    expect(routeShows(route(0), place, LENS, levelOf([GROUND, wall]))).toBe(false);
    expect(routeShows(route(0), [0, 1.65, -3], LENS, levelOf([GROUND, wall]))).toBe(true);
  });
});
