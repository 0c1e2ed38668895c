/** Animation samplers of glTF 2.0 (section 3.11 and appendix C). */
import type { LevelChannel } from './parts.ts';

const WIDTH = { translation: 3, rotation: 4, scale: 3 } as const;
const OFFSET = { translation: 0, rotation: 3, scale: 7 } as const;

/** Writes the channel's value at a clip time into the ten numbers of its node. Times outside are held. */
export function sampleChannel(channel: LevelChannel, timeS: number, trs: Float64Array): void {
  const { times, values, interpolation, path } = channel;
  const width = WIDTH[path];
  const to = channel.node * 10 + OFFSET[path];
  const last = times.length - 1;
  if (last < 0) return;
  const cubic = interpolation === 'CUBICSPLINE';
  const at = (key: number, k: number) => values[(cubic ? key * 3 + 1 : key) * width + k] as number;
  let key = 0;
  if (timeS >= (times[last] as number)) key = last;
  else {
    let low = 0;
    let high = last;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((times[middle] as number) <= timeS) low = middle;
      else high = middle - 1;
    }
    key = low;
  }
  const start = times[key] as number;
  const span = key < last ? (times[key + 1] as number) - start : 0;
  const u = span > 0 && timeS > start ? (timeS - start) / span : 0;
  if (u === 0 || interpolation === 'STEP') {
    for (let k = 0; k < width; k++) trs[to + k] = at(key, k);
    return;
  }
  if (cubic) {
    const [u2, u3] = [u * u, u * u * u];
    for (let k = 0; k < width; k++) {
      const leaving = values[(key * 3 + 2) * width + k] as number;
      const entering = values[(key + 1) * 3 * width + k] as number;
      trs[to + k] =
        (2 * u3 - 3 * u2 + 1) * at(key, k) +
        span * (u3 - 2 * u2 + u) * leaving +
        (-2 * u3 + 3 * u2) * at(key + 1, k) +
        span * (u3 - u2) * entering;
    }
    if (path === 'rotation') normalise(trs, to);
    return;
  }
  if (path !== 'rotation') {
    for (let k = 0; k < width; k++) trs[to + k] = at(key, k) + (at(key + 1, k) - at(key, k)) * u;
    return;
  }
  let dot = 0;
  for (let k = 0; k < 4; k++) dot += at(key, k) * at(key + 1, k);
  const sign = dot < 0 ? -1 : 1;
  dot *= sign;
  let wa = 1 - u;
  let wb = u;
  if (dot < 0.9995) {
    const angle = Math.acos(dot);
    const whole = Math.sin(angle);
    wa = Math.sin((1 - u) * angle) / whole;
    wb = Math.sin(u * angle) / whole;
  }
  for (let k = 0; k < 4; k++) trs[to + k] = wa * at(key, k) + wb * sign * at(key + 1, k);
  normalise(trs, to);
}

function normalise(trs: Float64Array, at: number): void {
  let squares = 0;
  for (let k = 0; k < 4; k++) squares += (trs[at + k] as number) ** 2;
  const length = Math.sqrt(squares) || 1;
  for (let k = 0; k < 4; k++) trs[at + k] = (trs[at + k] as number) / length;
}
