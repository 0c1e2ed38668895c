/** Feeds that are lengths on the screen: each viewer's own frame has them. */
import type { Compiled, ScreenLength } from './compiled.ts';
import type { SolveContext } from './solve-context.ts';
import type { Projection } from './spaces/lens.ts';
import type { Pose, Vec3 } from './spaces/pose.ts';
import { projectPoint } from './spaces/project.ts';

/** Pixels of a viewer from anchor to anchor; undefined where one of them has no place or is not in front of the near plane. */
function lengthPx(
  { anchorFault, anchorWorld }: Compiled,
  projection: Projection,
  head: Pose,
  { anchors }: ScreenLength,
): number | undefined {
  if (anchors.some((row) => row < 0 || anchorFault[row])) return undefined;
  const points = anchors.map((row) => projectPoint(projection, head, [...anchorWorld.subarray(row * 3, row * 3 + 3)] as Vec3));
  if (!points.every(({ inFront }) => inFront)) return undefined;
  return points.reduce((sum, { x, y }, k) => {
    const before = points[k - 1];
    return before ? sum + Math.hypot(x - before.x, y - before.y) : sum;
  }, 0);
}

/** Puts them among the values of a frame. Anchors must have been placed for it. */
export function takeScreenLengths({ c, a, f }: SolveContext, head: Pose): void {
  for (const length of c.screenLengths) f.values[length.feed] = lengthPx(c, a.projection, head, length);
}
