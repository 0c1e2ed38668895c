/** Changing a route by hand: a pose is dragged, and those near it in time go along, the less the farther; its length is stretched. */
import { headingOf, lookingPose, type Vec3 } from '@foreshore/core';
import type { Route, RoutePose } from '@foreshore/document';

/** How far in time a drag reaches to both sides. */
const REACH_S = 2;

/** 1 at the pose that is dragged, 0 from two seconds off, smooth between. */
const weight = (pose: RoutePose, timeS: number): number => {
  const off = Math.abs(pose.timeS - timeS) / REACH_S;
  return off >= 1 ? 0 : 0.5 + 0.5 * Math.cos(Math.PI * off);
};
const round = (v: number, places: number): number => Number(v.toFixed(places));

/** The route with the pose at a time moved over the ground, metres. @param heightAt of the ground, or NaN where there is none: there a pose keeps its height. */
export function moved(route: Route, timeS: number, dx: number, dz: number, heightAt: (x: number, z: number, y: number) => number): Route {
  const poses = route.poses.map((pose): RoutePose => {
    const w = weight(pose, timeS);
    if (w === 0) return pose;
    const [x, y, z] = pose.position;
    const [nx, nz] = [x + dx * w, z + dz * w];
    const rise = heightAt(nx, nz, y) - heightAt(x, z, y);
    return { ...pose, position: [round(nx, 4), round(y + (Number.isNaN(rise) ? 0 : rise), 4), round(nz, 4)] };
  });
  return { ...route, poses };
}

/** The route with the pose at a time turned by so many degrees, counter-clockwise seen from above. */
export function turned(route: Route, timeS: number, yawDeg: number): Route {
  const poses = route.poses.map((pose): RoutePose => {
    const w = weight(pose, timeS);
    if (w === 0) return pose;
    const heading = headingOf(pose.rotation);
    const { rotation } = lookingPose(pose.position as Vec3, heading.yawDeg + yawDeg * w, heading.pitchDeg);
    return { ...pose, rotation: rotation.map((v) => round(v, 6)) as RoutePose['rotation'] };
  });
  return { ...route, poses };
}

/** The route gone through in another time; what was recorded with it keeps its place on the way. */
export function retimed(route: Route, durationS: number): Route {
  const by = durationS / (route.poses.at(-1)?.timeS || 1);
  const at = <T extends { timeS: number }>(entry: T): T => ({ ...entry, timeS: round(entry.timeS * by, 4) });
  return { ...route, poses: route.poses.map(at), feeds: route.feeds.map(at), phases: route.phases.map(at) };
}

/** Metres a second about a time on the route. */
export function speedAt(route: Route, timeS: number): number {
  const { poses } = route;
  const k = Math.max(
    1,
    poses.findIndex((pose) => pose.timeS >= timeS),
  );
  const [a, b] = [poses[k - 1], poses[k]];
  if (!a || !b) return 0;
  return Math.hypot(...a.position.map((v, i) => v - (b.position[i] as number))) / (b.timeS - a.timeS);
}
