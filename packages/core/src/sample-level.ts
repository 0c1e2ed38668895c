/** A level of boxes for tests, that answers as plainly as can be. */
import type { Level } from './level.ts';
import type { Vec3 } from './spaces/pose.ts';

export type Box = { name: string; least: Vec3; greatest: Vec3 };

/** Whether a line meets a box, by clipping it at the box's six planes. */
export function crosses(box: Box, from: Vec3, to: Vec3): boolean {
  let [near, far] = [0, 1];
  for (const k of [0, 1, 2] as const) {
    const by = to[k] - from[k];
    const [a, b] = [(box.least[k] - from[k]) / by, (box.greatest[k] - from[k]) / by];
    if (by === 0) {
      if (from[k] < box.least[k] || from[k] > box.greatest[k]) return false;
    } else [near, far] = [Math.max(near, Math.min(a, b)), Math.min(far, Math.max(a, b))];
  }
  return near <= far;
}

/** The way out of a box from a place just inside: through its nearest side. */
function faceAt({ least, greatest }: Box, at: Vec3): Vec3 {
  const depths = ([0, 1, 2] as const).flatMap((k) => [at[k] - least[k], greatest[k] - at[k]]);
  const side = depths.indexOf(Math.min(...depths));
  const normal: Vec3 = [0, 0, 0];
  normal[(side >> 1) as 0] = side % 2 ? 1 : -1;
  return normal;
}

/** A level of boxes; counts the lines that were asked for. */
export function levelOf(boxes: readonly Box[]): Level & { asked: number } {
  const level: Level & { asked: number } = {
    asked: 0,
    nodeIds: boxes.map(({ name }) => name),
    nodeMoves: new Uint8Array(boxes.length),
    nodeProperties: boxes.map(() => ({})),
    parentOf: new Int32Array(boxes.length).fill(-1),
    nodeIndex: (id) => boxes.findIndex(({ name }) => name === id),
    clipNames: [],
    clipDurationsS: [],
    poses: () => level.worldMatrices,
    worldMatrices: Float64Array.from(
      boxes.flatMap(({ least, greatest }) => {
        const middle = least.map((v, k) => (v + (greatest[k] as number)) / 2);
        return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...middle, 1];
      }),
    ),
    castRay: (origin, direction, maxM, hit) => {
      // Marched: slow, and as plain as can be.
      for (let t = 0; t <= maxM; t += 0.01) {
        const at = origin.map((v, k) => v + t * (direction[k] as number)) as Vec3;
        const node = boxes.findIndex((box) => at.every((v, k) => v >= (box.least[k] as number) && v <= (box.greatest[k] as number)));
        if (node < 0) continue;
        Object.assign(hit, { distanceM: t, position: at, node, back: false, normal: faceAt(boxes[node] as Box, at) });
        return true;
      }
      return false;
    },
    // By lines to a grid of points: as plainly as can be.
    nearestShare: (ex, ey, ez, corners) => {
      const at = (k: number, u: number, v: number) =>
        (corners[k] as number) +
        u * ((corners[3 + k] as number) - (corners[k] as number)) +
        v * ((corners[6 + k] as number) - (corners[k] as number));
      const eye: Vec3 = [ex, ey, ez];
      for (let s = 0; s <= 1; s += 0.005)
        for (let i = 0; i <= 10; i++)
          for (let j = 0; j <= 10; j++) {
            const p = eye.map((e, k) => e + s * (at(k, i / 10, j / 10) - e)) as Vec3;
            if (boxes.some(({ least, greatest }) => p.every((x, k) => x >= (least[k] as number) && x <= (greatest[k] as number)))) return s;
          }
      return 1;
    },
    surfaceOf: () => null,
    sightline: (fx, fy, fz, tx, ty, tz, through) => {
      level.asked++;
      return boxes.findIndex((box, k) => !through?.[k] && crosses(box, [fx, fy, fz], [tx, ty, tz]));
    },
    colourAt: (_o, _d, out) => out,
  };
  return level;
}
