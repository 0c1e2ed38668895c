/**
 * What happened, and from which way it is seen now. What happens is noticed at ticks, kept for as long as it is shown, and turns with
 * the viewer: an arc stands where its place is about the vertical, as on a compass card that the viewer looks along.
 */
import { MOST_DIRECTIONS } from '@foreshore/document/bounds';
import type { Direction } from '@foreshore/document/types';
import { isEvent } from './feed-value.ts';
import { HappenedAt } from './memory.ts';
import type { SolveContext } from './solve-context.ts';
import { Verdict } from './steps/names.ts';

/** What happened many times from one side grows to so many times its thickness at most. */
export const MOST_GROWTH = 3;
/** Nearer than this it is all around, metres; and so is what is so nearly overhead or underfoot, degrees. */
const ALL_AROUND_M = 0.25;
const ALL_AROUND_DEG = 80;
const DEG = 180 / Math.PI;
/** From which way something is seen. */
export interface Bearing {
  /** Clockwise from straight ahead, degrees, −180..180; NaN: all around. */
  aroundDeg: number;
  /** Above the eye's horizon, degrees. */
  upDeg: number;
}
const bearing: Bearing = { aroundDeg: 0, upDeg: 0 };

/** The bearing of a place as the head looks; the result is overwritten by the next call. */
export function bearingOf({ f }: Pick<SolveContext, 'f'>, x: number, y: number, z: number): Bearing {
  const { eye, forward, rotation } = f;
  const dx = x - (eye[0] as number);
  const dy = y - (eye[1] as number);
  const dz = z - (eye[2] as number);
  const flat = Math.hypot(dx, dz);
  bearing.upDeg = Math.atan2(dy, flat) * DEG;
  // Looking straight up or down, ahead is where the top of the head, or its foot, points.
  let aheadX = forward[0] as number;
  let aheadZ = forward[2] as number;
  if (Math.hypot(aheadX, aheadZ) < 1e-3) {
    const sign = (forward[1] as number) > 0 ? -1 : 1;
    aheadX = sign * (rotation[3] as number);
    aheadZ = sign * (rotation[5] as number);
  }
  const isAround = !(Math.hypot(dx, dy, dz) > ALL_AROUND_M) || Math.abs(bearing.upDeg) > ALL_AROUND_DEG;
  // The horizontal way to the right of ahead is (−aheadZ, aheadX).
  bearing.aroundDeg = isAround ? Number.NaN : Math.atan2(dx * -aheadZ + dz * aheadX, dx * aheadX + dz * aheadZ) * DEG;
  return bearing;
}

/** Where one that is kept is now: the followed anchor's place, or its own. Written into `at`; false where it has none. */
const at = new Float64Array(3);
function placeOfOne({ c, m }: Pick<SolveContext, 'c' | 'm'>, k: number, from: number): boolean {
  const anchor = c.directionFollows[k] as number;
  for (let i = 0; i < 3; i++) at[i] = (anchor >= 0 ? c.anchorWorld[anchor * 3 + i] : m.happened[from + HappenedAt.X + i]) as number;
  return !Number.isNaN(at[0] as number);
}

/** How opaque one is that happened so long ago: 1 while it is held, then falling to 0. */
export function freshness({ holdS, fadeS }: Pick<Direction, 'holdS' | 'fadeS'>, ageS: number): number {
  if (!(ageS >= -1e-9)) return 0;
  if (ageS <= holdS + 1e-9) return 1;
  return fadeS > 0 ? Math.max(0, 1 - (ageS - holdS) / fadeS) : 0;
}

/** Where the first of a direction's own is in `Memory.happened`. */
const firstOf = (k: number): number => k * MOST_DIRECTIONS * HappenedAt.Stride;

/** Takes in what has happened since the last tick, and refuses directions of which nothing is to be seen. After the HUD has been placed. */
export function moveDirections(ctx: SolveContext): void {
  const { c, f, m } = ctx;
  for (let k = 0; k < c.directions.length; k++) {
    const row = c.directions[k] as number;
    const value = f.values[c.directionFeed[k] as number];
    if (f.isTick && isEvent(value)) {
      const was = m.happenedNumber[k] as number;
      // What had happened before anything is remembered has not happened lately.
      const more = Number.isNaN(was) ? 0 : value.number - was;
      if (more > 0) takeIn(ctx, k, value.place, more);
      m.happenedNumber[k] = value.number;
    }
    if (f.failed[row] === Verdict.Shown && shownCount(ctx, k) === 0) f.failed[row] = Verdict.Paint;
  }
}

function takeIn(ctx: SolveContext, k: number, place: readonly number[] | null, count: number): void {
  const { c, f, m } = ctx;
  const element = c.elements[c.directions[k] as number] as Direction;
  const first = firstOf(k);
  const x = place ? (place[0] as number) : Number.NaN;
  const y = place ? (place[1] as number) : Number.NaN;
  const z = place ? (place[2] as number) : Number.NaN;
  const around = place ? bearingOf(ctx, x, y, z).aroundDeg : Number.NaN;
  let into = -1;
  let oldest = -1;
  let free = -1;
  for (let n = 0; n < element.most; n++) {
    const from = first + n * HappenedAt.Stride;
    const isThere = freshness(element, f.timeS - (m.happened[from] as number)) > 0;
    if (!isThere) {
      if (free < 0) free = from;
      continue;
    }
    if (oldest < 0 || (m.happened[from] as number) < (m.happened[oldest] as number)) oldest = from;
    if (into >= 0) continue;
    const other = placeOfOne(ctx, k, from) ? bearingOf(ctx, at[0] as number, at[1] as number, at[2] as number).aroundDeg : Number.NaN;
    const joins =
      Number.isNaN(around) || Number.isNaN(other) ? Number.isNaN(around) && Number.isNaN(other) : gapDeg(around, other) <= element.joinDeg;
    if (joins) into = from;
  }
  const to = into >= 0 ? into : free >= 0 ? free : oldest;
  m.happened[to + HappenedAt.Count] = into >= 0 ? (m.happened[to + HappenedAt.Count] as number) + count : count;
  m.happened[to + HappenedAt.TimeS] = f.timeS;
  m.happened[to + HappenedAt.X] = x;
  m.happened[to + HappenedAt.Y] = y;
  m.happened[to + HappenedAt.Z] = z;
}

/** The angle between two bearings, degrees. */
const gapDeg = (a: number, b: number): number => Math.abs(((((a - b) % 360) + 540) % 360) - 180);

/** One of what a direction shows now. */
export interface Shown extends Bearing {
  /** How opaque, 0..1; and how many times as thick as one that happened once. */
  share: number;
  growth: number;
  /** How long ago it happened last. */
  agoS: number;
}

/** How many of a direction's own are to be seen. */
export function shownCount({ c, f, m }: Pick<SolveContext, 'c' | 'f' | 'm'>, k: number): number {
  const element = c.elements[c.directions[k] as number] as Direction;
  let count = 0;
  for (let n = 0; n < element.most; n++)
    if (freshness(element, f.timeS - (m.happened[firstOf(k) + n * HappenedAt.Stride] as number)) > 0) count++;
  return count;
}

/** What a direction shows now, the oldest first. Allocates: for painting and for whoever asks why. */
export function shownDirections(ctx: Pick<SolveContext, 'c' | 'f' | 'm'>, row: number): Shown[] {
  const { c, f, m } = ctx;
  const k = c.directions.indexOf(row);
  const element = c.elements[row] as Direction;
  const all: (Shown & { timeS: number })[] = [];
  for (let n = 0; n < element.most; n++) {
    const from = firstOf(k) + n * HappenedAt.Stride;
    const timeS = m.happened[from] as number;
    const share = freshness(element, f.timeS - timeS);
    if (share === 0) continue;
    const seen = placeOfOne(ctx, k, from)
      ? { ...bearingOf(ctx, at[0] as number, at[1] as number, at[2] as number) }
      : { aroundDeg: Number.NaN, upDeg: 0 };
    const growth = Math.min(MOST_GROWTH, 1 + element.growShare * ((m.happened[from + HappenedAt.Count] as number) - 1));
    all.push({ ...seen, share, growth, timeS, agoS: f.timeS - timeS });
  }
  return all.sort((a, b) => a.timeS - b.timeS);
}
