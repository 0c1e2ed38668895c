/** Where anchors are in the world, for the level's present poses and the feeds' present values. */
import type { FeedValue } from '@foreshore/document/types';
import { type Compiled, EVENT, MIDPOINT } from './compiled.ts';
import { isEvent } from './feed-value.ts';
import type { Vec3 } from './spaces/pose.ts';

/** A point given in a node's own space, in the world. */
export function transformPoint(m: ArrayLike<number>, at: number, x: number, y: number, z: number): Vec3 {
  const e = (i: number) => m[at + i] ?? 0;
  return [e(0) * x + e(4) * y + e(8) * z + e(12), e(1) * x + e(5) * y + e(9) * z + e(13), e(2) * x + e(6) * y + e(10) * z + e(14)];
}

/** Writes the places of moving anchors for the level's present poses. */
export function placeAnchors(c: Compiled): void {
  const { moving, anchorKind, anchorFirst, anchorSecond, anchorLocal, anchorWorld } = c;
  const m = c.level?.worldMatrices;
  for (let k = 0; k < moving.length; k++) {
    const a = moving[k] as number;
    const to = a * 3;
    if (anchorKind[a] === MIDPOINT) {
      const first = (anchorFirst[a] as number) * 3;
      const second = (anchorSecond[a] as number) * 3;
      for (let i = 0; i < 3; i++) anchorWorld[to + i] = ((anchorWorld[first + i] as number) + (anchorWorld[second + i] as number)) / 2;
    } else if (m) {
      const at = (anchorFirst[a] as number) * 16;
      const x = anchorLocal[to] as number;
      const y = anchorLocal[to + 1] as number;
      const z = anchorLocal[to + 2] as number;
      for (let i = 0; i < 3; i++)
        anchorWorld[to + i] =
          (m[at + i] as number) * x + (m[at + 4 + i] as number) * y + (m[at + 8 + i] as number) * z + (m[at + 12 + i] as number);
    }
  }
}

/** Brings the anchors of events to where these were last; an element whose event has not happened, or happened at no place, has none. */
export function placeEvents(c: Compiled, values: readonly (FeedValue | undefined)[]): void {
  const { eventAnchors, anchorFirst, anchorLocal, anchorWorld, elementAnchor, lost, anchoredCount } = c;
  if (eventAnchors.length === 0) return;
  for (let k = 0; k < eventAnchors.length; k++) {
    const row = eventAnchors[k] as number;
    const value = values[anchorFirst[row] as number];
    if (!isEvent(value) || value.number === 0 || !value.place) continue;
    for (let i = 0; i < 3; i++) anchorWorld[row * 3 + i] = (value.place[i] as number) + (anchorLocal[row * 3 + i] as number);
  }
  for (let i = 0; i < anchoredCount; i++) {
    const row = elementAnchor[i] as number;
    if (c.anchorKind[row] !== EVENT) continue;
    const value = values[anchorFirst[row] as number];
    lost[i] = isEvent(value) && value.number > 0 && value.place ? 0 : 1;
  }
}
