import type { Route, RoutePose } from '@foreshore/document/types';
import { between, type Pose } from './spaces/pose.ts';

/** The rate at which a route's state is defined and at which ticked steps decide. */
export const TICK_S = 1 / 30;

export const routeDurationS = (route: Route): number => route.poses.at(-1)?.timeS ?? 0;

/** The camera at a time on a route: places on straight lines, turns along the shortest arc; held at both ends. */
export function routePose(route: Route, timeS: number): Pose {
  const { poses } = route;
  let [low, high] = [0, poses.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((poses[middle] as RoutePose).timeS <= timeS) low = middle;
    else high = middle - 1;
  }
  const a = poses[low] as RoutePose;
  const b = poses[low + 1];
  if (!b || timeS <= a.timeS) return { position: [...a.position], rotation: [...a.rotation] };
  const t = (timeS - a.timeS) / (b.timeS - a.timeS);
  return between(a, b, t);
}
