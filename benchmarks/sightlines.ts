/** Sight lines on the Low Water level, over the ground a warden walks. */
import { clockTimes } from '@foreshore/core';
import { demo } from '@foreshore/demo';
import { readLevel } from '@foreshore/level';
import { type Row, timeInTurn } from './measure.ts';

const RAYS = 5000;

export async function sightlineRows(): Promise<Row[]> {
  const level = await readLevel(demo.level(), { metresPerUnit: 1, upAxis: 'y' });
  let seed = 11;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  const ends = Float64Array.from({ length: RAYS * 6 }, (_, k) => (k % 3 === 1 ? 0.5 + 2 * random() : (random() - 0.5) * 100));
  level.poses(clockTimes(level, 1));
  let blocked = 0;
  const cast = () => {
    blocked = 0;
    for (let k = 0; k < RAYS; k++) {
      const e = (i: number) => ends[k * 6 + i] as number;
      if (level.sightline(e(0), e(1), e(2), e(3), e(4), e(5)) >= 0) blocked++;
    }
  };
  // Placing the moving nodes is the cost of a frame before its first ray.
  let time = 0;
  const place = () => level.poses(clockTimes(level, (time += 1 / 30)));
  const [castMs = 0, placeMs = 0] = timeInTurn(30, [cast, place]);
  level.poses(clockTimes(level, 1));
  cast();
  return [
    { name: 'sight lines', n: RAYS, medianMs: castMs, ratio: null, linesPerMs: RAYS / castMs, blockedShare: blocked / RAYS },
    { name: 'placing all nodes / 1000 sight lines', n: level.nodeIds.length, medianMs: placeMs, ratio: placeMs / (castMs / (RAYS / 1000)) },
  ];
}
