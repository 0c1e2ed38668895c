/** Values of feeds that come from the frame itself, in the bench and in a game: the time, the viewer, anchors, what is aimed at. */
import type { FeedSource, FeedValue } from '@foreshore/document/types';
import { aimedValue } from './aim.ts';
import type { Compiled } from './compiled.ts';
import type { Pose } from './spaces/pose.ts';

/** How the viewer is going. */
export interface Going {
  speedMps: number;
  /** Since it was last going up or level. */
  fallenM: number;
}

const BUILT_IN = ['time', 'height', 'speed', 'fallen', 'aimed', 'place', 'distance', 'between'] as const;
export type BuiltIn = Extract<FeedSource, { kind: (typeof BUILT_IN)[number] }>;
/** Whether a feed needs nobody to supply it. */
export const isBuiltIn = (source: FeedSource | undefined): source is BuiltIn =>
  source !== undefined && (BUILT_IN as readonly string[]).includes(source.kind);

/** Anchors must have been placed for the moment. */
export function builtInValue(
  c: Compiled,
  source: BuiltIn,
  initial: FeedValue,
  timeS: number,
  pose: Pose,
  going: () => Going,
): FeedValue | undefined {
  switch (source.kind) {
    case 'time':
      return timeS;
    case 'height':
      return pose.position[1];
    case 'speed':
      return going().speedMps;
    case 'fallen':
      return going().fallenM;
    case 'aimed':
      return aimedValue(c.level, pose, source, initial);
    case 'between': {
      const [first, second] = [c.anchorIds.indexOf(source.first), c.anchorIds.indexOf(source.second)];
      if (first < 0 || second < 0 || c.anchorFault[first] || c.anchorFault[second]) return undefined;
      const by = (k: number) => (c.anchorWorld[second * 3 + k] as number) - (c.anchorWorld[first * 3 + k] as number);
      return source.along === 'height' ? by(1) : Math.hypot(by(0), source.along === 'space' ? by(1) : 0, by(2));
    }
    case 'place':
    case 'distance': {
      const row = c.anchorIds.indexOf(source.anchor);
      if (row < 0 || c.anchorFault[row]) return undefined;
      if (source.kind === 'place') return c.anchorWorld[row * 3 + 'xyz'.indexOf(source.axis)];
      const at = (k: number) => (c.anchorWorld[row * 3 + k] as number) - (pose.position[k] as number);
      return Math.hypot(at(0), at(1), at(2));
    }
  }
}
