/**
 * What is remembered of a viewer from frame to frame: which thresholds were passed, since when, where smoothed values stood.
 *
 * Empty memory is the state at the start of a route and while time stands: nothing has come in, smoothed values stand at their
 * target, nothing has changed lately.
 */
import { MOST_DIRECTIONS } from '@foreshore/document/bounds';
import type { FeedValue } from '@foreshore/document/types';
import type { Compiled } from './compiled.ts';

/** How many of everything there are, for what is kept a row, a gauge, a condition. */
export interface Counts {
  rows: number;
  gauges: number;
  shows: number;
  conditions: number;
  motions: number;
  gates: number;
  contests: number;
  panels: number;
  edges: number;
  spans: number;
  aims: number;
  forms: number;
  directions: number;
  steadied: number;
}
export const countsOf = (c: Compiled): Counts => ({
  rows: c.count,
  gauges: c.gauges.length,
  shows: c.shows.length,
  conditions: c.conditionFeed.length,
  motions: c.motions.length,
  gates: c.gated.length,
  contests: c.contests.length,
  panels: c.panels.length,
  edges: c.edged.length,
  spans: c.spans.length,
  aims: c.aims.length,
  forms: c.formed.length,
  directions: c.directions.length,
  steadied: c.steadied.length,
});

/** Numbers of one thing that happened: when, where (NaN: without a place), and how often. */
export enum HappenedAt {
  TimeS = 0,
  X = 1,
  Y = 2,
  Z = 3,
  Count = 4,
  Stride = 5,
}

type Column = Uint8Array | Float64Array;
const NEVER = Number.NEGATIVE_INFINITY;
const NONE = Number.NaN;

/** Columns with the number that stands in them while memory is empty. */
class Columns {
  private readonly all: { column: Column; empty: number }[] = [];

  protected flags(length: number): Uint8Array {
    const column = new Uint8Array(length);
    this.all.push({ column, empty: 0 });
    return column;
  }
  protected numbers(length: number, empty = 0): Float64Array {
    const column = new Float64Array(length).fill(empty);
    this.all.push({ column, empty });
    return column;
  }
  clear(): void {
    for (let k = 0; k < this.all.length; k++) {
      const one = this.all[k] as { column: Column; empty: number };
      one.column.fill(one.empty);
    }
  }
  /** Takes over what another of the same counts remembers. */
  restore(from: this): void {
    for (let k = 0; k < this.all.length; k++) (this.all[k] as { column: Column }).column.set((from.all[k] as { column: Column }).column);
  }
}

/** One of each a gate. */
export class GateMemory extends Columns {
  readonly rangeIn: Uint8Array;
  readonly rangeS: Float64Array;
  readonly gazeIn: Uint8Array;
  readonly gazeS: Float64Array;
  readonly sightIn: Uint8Array;
  readonly sightS: Float64Array;
  readonly claimIn: Uint8Array;
  /** One a contest: since when somebody else would win. */
  readonly contestS: Float64Array;

  constructor(gates: number, contests: number) {
    super();
    this.rangeIn = this.flags(gates);
    this.rangeS = this.numbers(gates, NONE);
    this.gazeIn = this.flags(gates);
    this.gazeS = this.numbers(gates, NONE);
    this.sightIn = this.flags(gates);
    this.sightS = this.numbers(gates, NONE);
    this.claimIn = this.flags(gates);
    this.contestS = this.numbers(contests, NONE);
  }
}

/** A class, because engines write a changing number into a field of one without allocating. */
export class Memory extends Columns {
  /** NaN while empty. */
  timeS = NONE;
  readonly counts: Counts;
  /** 1 while the View step holds the element in, and the Size step likewise. */
  readonly viewIn: Uint8Array;
  readonly sizeIn: Uint8Array;
  /** 1 while a condition holds; when its feed last changed, seconds; what the feed's value was then. */
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
  /** One a row: its pointer state before, its pointer state now (`PointerState`), and when that last changed, seconds. */
  readonly stateBefore: Uint8Array;
  readonly stateNow: Uint8Array;
  readonly stateS: Float64Array;
  /**
   * Three numbers a panel that trails, degrees: how the head was turned, to the left, up, and over to the right; and where the
   * panel has come after it. Then the share of its distance that it stands at, and the share that the level leaves it; NaN while
   * it has not been placed.
   */
  readonly trailHead: Float64Array;
  readonly trailDeg: Float64Array;
  readonly trailShare: Float64Array;
  readonly trailFree: Float64Array;
  /**
   * One a row, of what keeps apart from others: 1 while it is shown by that, and while it is hidden by that; at which of its places,
   * and which row it gave way to; where its anchor was seen at the last tick, and when; since when it might come back, or go home; since when
   * it holds the place it has.
   */
  readonly apartIn: Uint8Array;
  readonly apartOut: Uint8Array;
  readonly apartAt: Uint8Array;
  readonly apartBy: Float64Array;
  readonly apartX: Float64Array;
  readonly apartY: Float64Array;
  readonly apartS: Float64Array;
  readonly apartFreeS: Float64Array;
  readonly apartHeldS: Float64Array;
  /** Since when it touches others that go before it; and where it rests, pixels: as it was at the last tick, and on whole ones, NaN while it moves. */
  readonly touchS: Float64Array;
  readonly restX: Float64Array;
  readonly restY: Float64Array;
  readonly snapX: Float64Array;
  readonly snapY: Float64Array;
  /** One a row that stands at an edge: 1 while it does; the way to its anchor, radians clockwise from the right, NaN while unknown. */
  readonly edgeIn: Uint8Array;
  readonly edgeRad: Float64Array;
  /** Three numbers an anchor that is steadied: where it was, as it is and as it is shown, and how fast, metres; and the tick of these, seconds. */
  readonly steadyRaw: Float64Array;
  readonly steadyAt: Float64Array;
  readonly steadySpeed: Float64Array;
  steadyS = NONE;
  /** What directions show: `HappenedAt.Stride` numbers for each of `MOST_DIRECTIONS`; and how many events each of them has seen, NaN while it has seen none. */
  readonly happened: Float64Array;
  readonly happenedNumber: Float64Array;
  /** One a group that has several forms: in which detail it is, the nearest being 0. */
  readonly detail: Uint8Array;
  /**
   * One a row, of what is merged or thinned out: why it is not shown (`Gathered`), and how many it stands for; the row it is merged
   * into, −1 where it stands for itself, and since when it would be merged otherwise.
   */
  readonly gathered: Uint8Array;
  readonly standsFor: Float64Array;
  readonly mergedInto: Float64Array;
  /** 1 where it took part in merging at the last tick. */
  readonly crowdIn: Uint8Array;
  readonly mergeS: Float64Array;
  /** One a crosshair that says what it is aimed at: its `AimState`, and since when it would have another. */
  readonly aimState: Uint8Array;
  readonly aimS: Float64Array;
  readonly gates: GateMemory;
  /** The head in the last frame and in the one before, and the seconds between the two; NaN where there were none. */
  readonly eye = new Float64Array(3);
  readonly rotation = new Float64Array(9);
  readonly wasEye = new Float64Array(3);
  readonly wasRotation = new Float64Array(9);
  wasS = NONE;

  constructor(counts: Counts) {
    super();
    this.counts = counts;
    this.viewIn = this.flags(counts.rows);
    this.sizeIn = this.flags(counts.rows);
    this.conditionIn = this.flags(counts.conditions);
    this.changedS = this.numbers(counts.conditions, NEVER);
    this.lastValues = new Array(counts.conditions).fill(undefined);
    this.heldS = this.numbers(counts.shows, NEVER);
    this.gaugeIn = this.flags(counts.gauges);
    this.gaugeTarget = this.numbers(counts.gauges);
    this.gaugeShown = this.numbers(counts.gauges);
    this.gaugeGhost = this.numbers(counts.gauges);
    this.gaugeDropS = this.numbers(counts.gauges);
    this.motionIn = this.flags(counts.motions);
    this.motionS = this.numbers(counts.motions, NEVER);
    this.motionFrom = this.numbers(counts.motions);
    this.apartIn = this.flags(counts.rows);
    this.apartOut = this.flags(counts.rows);
    this.apartAt = this.flags(counts.rows);
    this.apartBy = this.numbers(counts.rows, -1);
    this.apartX = this.numbers(counts.rows);
    this.apartY = this.numbers(counts.rows);
    this.apartS = this.numbers(counts.rows, NEVER);
    this.apartFreeS = this.numbers(counts.rows, NONE);
    this.apartHeldS = this.numbers(counts.rows, NEVER);
    this.touchS = this.numbers(counts.rows, NONE);
    this.restX = this.numbers(counts.rows, NONE);
    this.restY = this.numbers(counts.rows, NONE);
    this.snapX = this.numbers(counts.rows, NONE);
    this.snapY = this.numbers(counts.rows, NONE);
    this.stateBefore = this.flags(counts.rows);
    this.stateNow = this.flags(counts.rows);
    this.stateS = this.numbers(counts.rows, NEVER);
    this.trailHead = this.numbers(counts.panels * 3);
    this.trailDeg = this.numbers(counts.panels * 3);
    this.trailShare = this.numbers(counts.panels, NONE);
    this.trailFree = this.numbers(counts.panels, NONE);
    this.edgeIn = this.flags(counts.edges);
    this.edgeRad = this.numbers(counts.edges, NONE);
    this.steadyRaw = this.numbers(counts.steadied * 3);
    this.steadyAt = this.numbers(counts.steadied * 3);
    this.steadySpeed = this.numbers(counts.steadied * 3);
    this.happened = this.numbers(counts.directions * MOST_DIRECTIONS * HappenedAt.Stride, NONE);
    this.happenedNumber = this.numbers(counts.directions, NONE);
    this.detail = this.flags(counts.forms);
    this.gathered = this.flags(counts.rows);
    this.standsFor = this.numbers(counts.rows, 1);
    this.mergedInto = this.numbers(counts.rows, -1);
    this.crowdIn = this.flags(counts.rows);
    this.mergeS = this.numbers(counts.rows, NONE);
    this.aimState = this.flags(counts.aims);
    this.aimS = this.numbers(counts.aims, NONE);
    this.gates = new GateMemory(counts.gates, counts.contests);
  }

  /** Forgets everything. */
  override clear(): void {
    super.clear();
    this.gates.clear();
    this.timeS = NONE;
    this.steadyS = NONE;
    this.wasS = NONE;
    for (let k = 0; k < this.lastValues.length; k++) this.lastValues[k] = undefined;
  }

  override restore(from: this): void {
    super.restore(from);
    this.gates.restore(from.gates);
    this.timeS = from.timeS;
    this.steadyS = from.steadyS;
    for (let k = 0; k < from.lastValues.length; k++) this.lastValues[k] = from.lastValues[k];
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
