/**
 * One frame's result and what is remembered until the next, on flat arrays.
 *
 * `places` holds `At.Stride` numbers a row: one cache line for everything a painter or a test asks about one element
 * in one view. Row `v·count + i` is element i in view v. With more than one view a last block of rows holds what the
 * head's centre sees, from which all decisions are taken; with one view that is the view itself.
 */
import type { FeedValue } from '@foreshore/document';
import type { Compiled } from './compile.ts';
import { GateMemory } from './steps/gate.ts';
import { Verdict } from './steps/names.ts';
import type { Values } from './values.ts';

/** Columns of `places`. */
export enum At {
  /** The projected anchor, pixels; NaN where it is not in front of the near plane. */
  PointX = 0,
  PointY = 1,
  /** Metres along the forward axis. */
  DepthM = 2,
  /** The em of the text, pixels. Between projection and the Size step: the pixels a metre takes at the anchor. */
  EmPx = 3,
  /** The whole element, pixels. Of an element that is not shown it holds nothing of meaning until `explain` was called for it. */
  RectX = 4,
  RectY = 5,
  RectW = 6,
  RectH = 7,
  Stride = 8,
}

/** How many of everything there are, for what is kept a row, a gauge, a condition. */
export interface Counts {
  rows: number;
  gauges: number;
  shows: number;
  conditions: number;
  motions: number;
  gates: number;
  contests: number;
}
export const countsOf = (c: Compiled): Counts => ({
  rows: c.count,
  gauges: c.gauges.length,
  shows: c.shows.length,
  conditions: c.conditionFeed.length,
  motions: c.motions.length,
  gates: c.gated.length,
  contests: c.contests.length,
});

/** What is remembered of a viewer from frame to frame. A class, because engines write a changing number into a field of one without allocating. */
export class Memory {
  /** NaN while empty. */
  timeS = Number.NaN;
  readonly counts: Counts;
  /** 1 while the View step holds the element in, and the Size step likewise. */
  readonly viewIn: Uint8Array;
  readonly sizeIn: Uint8Array;
  /** 1 while a condition holds; when its feed last changed, seconds; what the feed was worth then. */
  readonly conditionIn: Uint8Array;
  readonly changedS: Float64Array;
  readonly lastValues: (FeedValue | undefined)[];
  /** When an element's conditions last held, seconds. */
  readonly heldS: Float64Array;
  /** 1 while a gauge has a number; shares of the whole: where it should stand, where it stands, and the loss behind it; when it last dropped, seconds. */
  readonly gaugeIn: Uint8Array;
  readonly gaugeTarget: Float64Array;
  readonly gaugeShown: Float64Array;
  readonly gaugeGhost: Float64Array;
  readonly gaugeDropS: Float64Array;
  /** Of what moves as it comes and goes: 1 while it is there; when that last changed, seconds; how far it had come then, 0..1. */
  readonly motionIn: Uint8Array;
  readonly motionS: Float64Array;
  readonly motionFrom: Float64Array;
  /** One a row: how it looked before, how it looks (`Look`), and when that last changed, seconds. */
  readonly lookBefore: Uint8Array;
  readonly lookNow: Uint8Array;
  readonly lookS: Float64Array;
  readonly gates: GateMemory;
  /** The head in the last frame and in the one before, and the seconds between the two; NaN where there were none. */
  readonly eye = new Float64Array(3);
  readonly rotation = new Float64Array(9);
  readonly wasEye = new Float64Array(3);
  readonly wasRotation = new Float64Array(9);
  wasS = Number.NaN;

  constructor(counts: Counts) {
    this.counts = counts;
    this.viewIn = new Uint8Array(counts.rows);
    this.sizeIn = new Uint8Array(counts.rows);
    this.conditionIn = new Uint8Array(counts.conditions);
    this.changedS = new Float64Array(counts.conditions).fill(Number.NEGATIVE_INFINITY);
    this.lastValues = new Array(counts.conditions).fill(undefined);
    this.heldS = new Float64Array(counts.shows).fill(Number.NEGATIVE_INFINITY);
    this.gaugeIn = new Uint8Array(counts.gauges);
    this.gaugeTarget = new Float64Array(counts.gauges);
    this.gaugeShown = new Float64Array(counts.gauges);
    this.gaugeGhost = new Float64Array(counts.gauges);
    this.gaugeDropS = new Float64Array(counts.gauges);
    this.motionIn = new Uint8Array(counts.motions);
    this.motionS = new Float64Array(counts.motions).fill(Number.NEGATIVE_INFINITY);
    this.motionFrom = new Float64Array(counts.motions);
    this.lookBefore = new Uint8Array(counts.rows);
    this.lookNow = new Uint8Array(counts.rows);
    this.lookS = new Float64Array(counts.rows).fill(Number.NEGATIVE_INFINITY);
    this.gates = new GateMemory(counts.gates, counts.contests);
  }

  /** Takes over what another of the same counts remembers. */
  restore(from: Memory): void {
    this.timeS = from.timeS;
    this.viewIn.set(from.viewIn);
    this.sizeIn.set(from.sizeIn);
    this.conditionIn.set(from.conditionIn);
    this.changedS.set(from.changedS);
    for (let k = 0; k < from.lastValues.length; k++) this.lastValues[k] = from.lastValues[k];
    this.heldS.set(from.heldS);
    this.gaugeIn.set(from.gaugeIn);
    this.gaugeTarget.set(from.gaugeTarget);
    this.gaugeShown.set(from.gaugeShown);
    this.gaugeGhost.set(from.gaugeGhost);
    this.gaugeDropS.set(from.gaugeDropS);
    this.motionIn.set(from.motionIn);
    this.motionS.set(from.motionS);
    this.motionFrom.set(from.motionFrom);
    this.lookBefore.set(from.lookBefore);
    this.lookNow.set(from.lookNow);
    this.lookS.set(from.lookS);
    this.gates.restore(from.gates);
    this.eye.set(from.eye);
    this.rotation.set(from.rotation);
    this.wasEye.set(from.wasEye);
    this.wasRotation.set(from.wasRotation);
    this.wasS = from.wasS;
  }

  copy(): Memory {
    const copy = new Memory(this.counts);
    copy.restore(this);
    return copy;
  }
}

export interface Frame {
  timeS: number;
  readonly count: number;
  readonly viewCount: number;
  /** The step that said no, or Verdict.Shown. */
  readonly failed: Uint8Array;
  readonly places: Float64Array;
  /** Floating elements from the farthest to the nearest, `orderCount` of them; only where asked for. */
  readonly order: Uint32Array;
  orderCount: number;
  /** 1 where the Phase step hides or dims an element. */
  readonly hidden: Uint8Array;
  readonly dimmed: Uint8Array;
  /** One a gauge: the share it is filled to, the share its recent loss reaches to, and how its value stands. */
  readonly gaugeShare: Float64Array;
  readonly gaugeGhost: Float64Array;
  readonly gaugeState: Uint8Array;
  /** One a row with conditions: 1 where they hold now. */
  readonly joined: Uint8Array;
  /** One a motion: how far it has come, 0 (not there) to 1 (as it stays); a springy one passes 1. */
  readonly presence: Float64Array;
  /** 1 where an element is refused but still to be seen, because it, or a group around it, is leaving. */
  readonly leaving: Uint8Array;
  /** How far what is inside of a group is scrolled, design pixels; and by how much it is longer than its box. */
  readonly scrolled: Float64Array;
  /** By how much a row is moved by what scrolls around it, right and down, design pixels; two numbers a row. */
  readonly shift: Float64Array;
  /** What reactions have shown or hidden, by element; the rows that this decided. */
  forced: Readonly<Record<string, 'shown' | 'hidden'>>;
  readonly forcedRows: number[];
  /** A tick fell into the frame: what is remembered from tick to tick is decided anew. */
  isTick: boolean;
  /** The head: where its eye is, along which axis it looks, and the rows of its rotation from the world. */
  readonly eye: Float64Array;
  readonly forward: Float64Array;
  readonly rotation: Float64Array;
  /** One a gate: 1 where range, look, sightline and claim let it pass; its score in its contest, NaN where it takes no part. */
  readonly gatePassed: Uint8Array;
  readonly claimScore: Float64Array;
  /** Rays cast for sight lines in this frame. */
  rays: number;
  /** What the frame was solved with. */
  values: Values;
  phase: string | null;
  /** The acting element that the pointer is on, and the one that is pressed; −1 where there is none. */
  pointedRow: number;
  pressedRow: number;
  /** The prompt whose key is held or pressed again and again, −1 where there is none; how much of that is done, 0..1. */
  pressRow: number;
  pressShare: number;
}

export const makeFrame = (counts: Counts, viewCount = 1): Frame => ({
  timeS: 0,
  count: counts.rows,
  viewCount,
  failed: new Uint8Array(counts.rows).fill(Verdict.Shown),
  places: new Float64Array(counts.rows * (viewCount > 1 ? viewCount + 1 : 1) * At.Stride),
  order: new Uint32Array(counts.rows),
  orderCount: 0,
  hidden: new Uint8Array(counts.rows),
  dimmed: new Uint8Array(counts.rows),
  gaugeShare: new Float64Array(counts.gauges),
  gaugeGhost: new Float64Array(counts.gauges),
  gaugeState: new Uint8Array(counts.gauges),
  joined: new Uint8Array(counts.shows),
  presence: new Float64Array(counts.motions).fill(1),
  leaving: new Uint8Array(counts.rows),
  scrolled: new Float64Array(counts.rows),
  shift: new Float64Array(counts.rows * 2),
  isTick: true,
  eye: new Float64Array(3),
  forward: new Float64Array(3),
  rotation: new Float64Array(9),
  gatePassed: new Uint8Array(counts.gates),
  claimScore: new Float64Array(counts.gates).fill(Number.NaN),
  rays: 0,
  forced: {},
  forcedRows: [],
  values: [],
  phase: null,
  pointedRow: -1,
  pressedRow: -1,
  pressRow: -1,
  pressShare: 0,
});

/** First row of what decisions are taken from. */
export const headRow = (frame: Frame): number => (frame.viewCount > 1 ? frame.viewCount * frame.count : 0);

export interface ElementPlace {
  point: [number, number];
  depthM: number;
  emPx: number;
  rect: [number, number, number, number];
}

/** One row of the frame, for whoever looks at a single element. */
export function placeOf(frame: Frame, element: number, view = 0): ElementPlace {
  const at = ((frame.viewCount > 1 ? view * frame.count : 0) + element) * At.Stride;
  const p = (column: number) => frame.places[at + column] as number;
  return {
    point: [p(At.PointX), p(At.PointY)],
    depthM: p(At.DepthM),
    emPx: p(At.EmPx),
    rect: [p(At.RectX), p(At.RectY), p(At.RectW), p(At.RectH)],
  };
}
