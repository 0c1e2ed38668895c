import { headingOf, lookingPose } from '@foreshore/core';
import type { Route } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { moved, retimed, speedAt, turned } from './route-edit.ts';

/** Two metres a second to the south for ten seconds, looking along the way. */
const route: Route = {
  name: 'Straight on',
  order: 'a0',
  poses: Array.from({ length: 21 }, (_, k) => ({ timeS: k / 2, ...lookingPose([0, 1.65, k], 180, 0) })),
  feeds: [{ timeS: 5, feed: 'tide', value: 1 }],
  phases: [{ timeS: 0, phase: 'roaming' }],
};

describe('a route by hand', () => {
  it('is dragged at a pose, those within two seconds going along by half a cosine, over the ground', () => {
    const after = moved(route, 5, 4, 0, (x) => x / 10);
    expect(after.poses[10]?.position).toEqual([4, 2.05, 10]);
    // A second off: half of it. Two seconds off: nothing.
    expect(after.poses[12]?.position).toEqual([2, 1.85, 12]);
    expect(after.poses[14]).toBe(route.poses[14]);
    expect(moved(route, 5, 4, 0, () => Number.NaN).poses[10]?.position).toEqual([4, 1.65, 10]);
  });
  it('is turned likewise', () => {
    const after = turned(route, 5, 40);
    expect(headingOf(after.poses[10]?.rotation as never).yawDeg).toBeCloseTo(-140, 3);
    expect(headingOf(after.poses[12]?.rotation as never).yawDeg).toBeCloseTo(-160, 3);
    expect(after.poses[4]).toBe(route.poses[4]);
  });
  it('is gone through in another time, with all that was recorded', () => {
    expect(speedAt(route, 5)).toBeCloseTo(2, 9);
    const slow = retimed(route, 20);
    expect(slow.poses.at(-1)?.timeS).toBe(20);
    expect(slow.feeds[0]?.timeS).toBe(10);
    expect(speedAt(slow, 5)).toBeCloseTo(1, 9);
  });
});
