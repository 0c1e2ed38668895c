import type { Pose } from '@foreshore/core';
import { UsageError } from './usage.ts';

/** "px,py,pz,qx,qy,qz,qw": metres and a quaternion; one that is a little off length 1 is brought to it. */
export function parsePose(text: string): Pose {
  const numbers = text.split(',').map((part) => (part.trim() === '' ? Number.NaN : Number(part)));
  if (numbers.length !== 7 || !numbers.every(Number.isFinite))
    throw new UsageError(`--pose takes seven finite numbers "px,py,pz,qx,qy,qz,qw", not "${text}".`);
  const [px, py, pz, ...q] = numbers as [number, number, number, number, number, number, number];
  const length = Math.hypot(...q);
  if (Math.abs(length - 1) > 0.01)
    throw new UsageError(`--pose: the quaternion has length ${length.toPrecision(4)}; a rotation has length 1.`);
  return { position: [px, py, pz], rotation: q.map((v) => v / length) as Pose['rotation'] };
}
