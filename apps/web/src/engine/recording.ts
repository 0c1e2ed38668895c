/** What is walked, and what is set by hand or said by a game meanwhile, as a route: sources are functions of its time anyway. */
import { type Pose, sameValue, type Vec3 } from '@foreshore/core';
import { type Document, type FeedValue, partsOfKey } from '@foreshore/document';
import type { Recorded } from '../edits/edits.ts';

const SAMPLE_S = 0.1;

export class Recording {
  private poses: { timeS: number; pose: Pose }[] = [];
  private live: Pick<Recorded, 'feeds' | 'phases'> = { feeds: [], phases: [] };
  private readonly last = new Map<string, FeedValue>();

  start(): void {
    this.poses = [];
    this.live = { feeds: [], phases: [] };
    this.last.clear();
  }

  /** Takes note of a moment; poses ten times a second, values and phases when they change. @param values by feed, those that are no function of the time. */
  sample(timeS: number, pose: Pose, phase: string | null, { feeds: known }: Document, values: Readonly<Record<string, FeedValue>>): void {
    const last = this.poses.at(-1);
    if (!last || timeS - last.timeS >= SAMPLE_S - 1e-6) this.poses.push({ timeS, pose });
    const { feeds, phases } = this.live;
    if (phase !== null && phases.at(-1)?.phase !== phase) phases.push({ timeS, phase });
    for (const [key, value] of Object.entries(values)) {
      const { id: feed, object } = partsOfKey(key);
      if (!known[feed] || sameValue(this.last.get(key), value)) continue;
      this.last.set(key, value);
      feeds.push({ timeS, feed, ...(object !== null && { object }), value });
    }
  }

  /** All of it, with times from 0. */
  stop(): Recorded {
    const round = (v: number, p: number) => Number(v.toFixed(p));
    const first = this.poses[0]?.timeS ?? 0;
    const since = <T extends { timeS: number }>(entry: T): T => ({ ...entry, timeS: round(Math.max(0, entry.timeS - first), 3) });
    return {
      poses: this.poses.map(({ timeS, pose }) => ({
        timeS: round(timeS - first, 3),
        position: pose.position.map((v) => round(v, 4)) as Vec3,
        rotation: pose.rotation.map((v) => round(v, 6)) as [number, number, number, number],
      })),
      feeds: this.live.feeds.map(since),
      phases: this.live.phases.map(since),
    };
  }
}
