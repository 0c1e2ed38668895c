/** What is recorded while somebody walks: poses ten times a second, values and phases when they change. */
import { lookingPose } from '@foreshore/core';
import { makeDocument } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { hold, resetLive, useLive } from '../state/live.ts';
import { Recording } from './recording.ts';

describe('a recording', () => {
  it('begins at 0, takes ten poses a second at any rate, and what is held when it changes', () => {
    const document = {
      ...makeDocument('Low Water'),
      feeds: { tide: { name: 'Tide', order: 'a0', kind: 'number' as const, unit: 'm', initial: 0 } },
    };
    const recording = new Recording();
    for (const rate of [30, 60, 144]) {
      resetLive();
      recording.start();
      // Somebody has been on the page for a while; the tide is set after a second and again after two.
      for (let k = 0; k <= 3 * rate; k++) {
        if (k === rate) hold('tide', 0.4);
        if (k === 2 * rate) hold('tide', 0.9);
        hold('gone', 1);
        const phase = k < 1.5 * rate ? 'roaming' : 'paused';
        recording.sample(7 + k / rate, lookingPose([k / rate, 1.65, 0], 0, 0), phase, document, useLive.getState().held);
      }
      const { poses, feeds, phases } = recording.stop();
      expect(poses[0]?.timeS).toBe(0);
      expect(poses.length).toBeGreaterThanOrEqual(26);
      expect(poses.length).toBeLessThanOrEqual(31);
      for (const { timeS, position } of poses) expect(position[0]).toBeCloseTo(timeS, 2);
      expect(feeds).toEqual([
        { timeS: 1, feed: 'tide', value: 0.4 },
        { timeS: 2, feed: 'tide', value: 0.9 },
      ]);
      expect(phases).toEqual([
        { timeS: 0, phase: 'roaming' },
        { timeS: 1.5, phase: 'paused' },
      ]);
    }
    resetLive();
  });
});
