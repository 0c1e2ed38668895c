/** Values of feeds that come from the frame itself, in the bench and in a game: the time, the viewer, anchors, what is aimed at. */
import { anchorsBetween } from '@foreshore/document/kinds';
import type { FeedSource, FeedValue } from '@foreshore/document/types';
import { aimedValue } from './aim.ts';
import type { Compiled } from './compiled.ts';
import type { Pose, Vec3 } from './spaces/pose.ts';

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

const at = ({ anchorWorld }: Compiled, row: number | undefined, axis: number): number => anchorWorld[(row ?? 0) * 3 + axis] as number;
const dotted = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

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
      const rows = anchorsBetween(source).map(({ anchor }) => c.anchorIds.indexOf(anchor));
      if (rows.some((row) => row < 0 || c.anchorFault[row])) return undefined;
      const leg = (k: number): Vec3 => [0, 1, 2].map((i) => at(c, rows[k + 1], i) - at(c, rows[k], i)) as Vec3;
      // That depends on the viewer: its own frame has it.
      if (source.along === 'screen') return undefined;
      if (source.along === 'angle') {
        const [to, on] = [leg(0).map((v) => -v) as Vec3, leg(1)];
        const long = Math.hypot(...to) * Math.hypot(...on);
        // Where one of the two lies on the anchor between them there is no angle.
        return long > 1e-9 ? (Math.acos(Math.max(-1, Math.min(1, dotted(to, on) / long))) * 180) / Math.PI : undefined;
      }
      let sum = 0;
      for (let k = 0; k + 1 < rows.length; k++) {
        const [x, y, z] = leg(k);
        sum += source.along === 'height' ? y : Math.hypot(x, source.along === 'space' ? y : 0, z);
      }
      return sum;
    }
    case 'place':
    case 'distance': {
      const row = c.anchorIds.indexOf(source.anchor);
      if (row < 0 || c.anchorFault[row]) return undefined;
      if (source.kind === 'place') return c.anchorWorld[row * 3 + 'xyz'.indexOf(source.axis)];
      const by = (k: number) => at(c, row, k) - (pose.position[k] as number);
      return Math.hypot(by(0), by(1), by(2));
    }
  }
}
