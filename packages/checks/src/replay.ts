/**
 * The state at a time on a route: empty memory at its start, then steps of 1/30 s up to that time, the last one partial.
 * Whole seconds are kept, so that scrubbing back solves at most 31 frames.
 */
import {
  type Arranged,
  type Compiled,
  type Frame,
  type Inputs,
  type Memory,
  makeSolver,
  type Pose,
  phaseAt,
  placeLevel,
  readValues,
  routePose,
  type Solver,
  solve,
  TICK_S,
  type Values,
} from '@foreshore/core';
import { type FeedValue, type Route, type Shake, sameJson } from '@foreshore/document';
import { shaken } from './variants.ts';

/** Of a time in ticks. */
const ROUNDING = 1e-6;

/** What is the same for every viewer and in every language at a time on a route: the head, feeds, and where what moves in the level stands. */
interface Moment {
  head: Pose;
  values: Values;
  placed: Float64Array | null;
}
/** More than this many values of a route are not remembered: some 16 MB. */
const MOST_VALUES = 2e6;

/** The moments of one route of a compiled document, for several that replay it one after another. */
export class RouteMoments {
  readonly compiled: Compiled;
  private readonly route: Route;
  private readonly byTick: (Moment | undefined)[] = [];
  /** How many values are remembered. */
  kept = 0;

  constructor(compiled: Compiled, route: Route) {
    this.compiled = compiled;
    this.route = route;
  }

  /**
   * Whether the moments of a route of another state of the document are these: the same route through the same level, the same feeds
   * and anchors, and the same values to read. Other elements alone make no other moments.
   */
  areOf(compiled: Compiled, route: Route): boolean {
    const [{ feeds, anchors, level }, other] = [this.compiled.document, compiled.document];
    return (
      this.compiled.level === compiled.level &&
      sameJson(this.route, route) &&
      sameJson(this.compiled.feedIds, compiled.feedIds) &&
      sameJson(feeds, other.feeds) &&
      sameJson(anchors, other.anchors) &&
      sameJson(level, other.level)
    );
  }

  /** The level is placed as it is then. */
  at(tick: number): Moment {
    const { compiled, route } = this;
    const known = this.byTick[tick];
    if (known) {
      if (known.placed) compiled.level?.putBack?.(known.placed);
      return known;
    }
    const timeS = tick * TICK_S;
    const head = routePose(route, timeS);
    placeLevel(compiled, route, timeS, head, {});
    const placed = compiled.level?.placed?.() ?? null;
    const moment = { head, placed, values: readValues(compiled, route, timeS, head, {}) };
    this.kept += moment.values.length + 8 + (placed?.length ?? 0);
    if (this.kept <= MOST_VALUES && (placed || !compiled.level)) this.byTick[tick] = moment;
    return moment;
  }
}

/** So many routes, and so many values of all of them (32 MB), are remembered for those who ask about one after another. */
const MOST_ROUTES = 6;
const MOST_OF_ALL = 4e6;
/** Moments hold on to their level, which may be large: to those of two states that are compared. */
const MOST_LEVELS = 2;

/** What replays of the same routes have in common is found once: of the routes replayed last, whatever elements a document has. */
export class MomentsKept {
  /** The last one asked for is the last. */
  private routes: RouteMoments[] = [];

  on(compiled: Compiled, route: Route): RouteMoments {
    const { routes } = this;
    const at = routes.findIndex((one) => one.areOf(compiled, route));
    const [moments = new RouteMoments(compiled, route)] = at < 0 ? [] : routes.splice(at, 1);
    routes.push(moments);
    const isTooMuch = (): boolean => routes.length > MOST_ROUTES || routes.reduce((sum, { kept }) => sum + kept, 0) > MOST_OF_ALL;
    while (routes.length > 1 && isTooMuch()) routes.shift();
    const levels = [...new Set(routes.map((one) => one.compiled.level).reverse())].slice(0, MOST_LEVELS);
    this.routes = routes.filter((one) => levels.includes(one.compiled.level));
    return moments;
  }
}

/** For the whole of a route. */
export interface ReplayOptions {
  /** Feed values that somebody sets by hand. */
  held?: Readonly<Record<string, FeedValue>>;
  /** A phase that somebody chooses, instead of the route's own. */
  phase?: string | null;
  /** The camera shakes. */
  shake?: Shake | null;
  /** Of the route, where others replay it too. */
  moments?: RouteMoments | null;
}

export class Replay {
  readonly solver: Solver;
  /** Who has the pointer in the frames to come, by id: nothing but looks depends on it. */
  pointed: string | null = null;
  pressed: string | null = null;
  /** What is shown or hidden, and scrolled, by hand, for the whole route. */
  forced: NonNullable<Inputs['forced']> = {};
  scrolled: NonNullable<Inputs['scrolled']> = {};
  private readonly route: Route;
  private readonly kept: Memory[] = [];
  /** The tick whose state the memory holds, or −1 after a partial step. */
  private ready = -1;

  private readonly values: Values;
  private readonly held: Readonly<Record<string, FeedValue>>;
  private readonly phase: string | null;
  private readonly shake: Shake | null;
  private readonly moments: RouteMoments | null;

  constructor(arranged: Arranged, route: Route, { held = {}, phase = null, shake = null, moments = null }: ReplayOptions = {}) {
    // With held values moments are others than they are known.
    this.moments = Object.keys(held).length > 0 ? null : moments;
    this.held = held;
    this.phase = phase;
    this.shake = shake;
    this.values = new Array(arranged.compiled.feedIds.length);
    this.solver = makeSolver(arranged);
    this.route = route;
  }

  /** The frame at `timeS`, in the order in which it is painted; it is the solver's own and changes at the next call. */
  at(timeS: number): Frame {
    let tick = this.resume(timeS);
    // Ticks are counted, so that no rounding of sums moves them.
    for (; tick * TICK_S < timeS; tick++) this.tick(tick);
    this.ready = tick * TICK_S === timeS ? tick : -1;
    return this.ready < 0 ? solve(this.solver, this.inputsAt(timeS, true, this.values)) : this.solveTick(tick, true);
  }

  /** How many ticks lie between what is remembered and a time. */
  ticksTo(timeS: number): number {
    const second = Math.min(Math.floor(timeS), this.kept.length);
    const from = this.isOnTheWay(timeS) ? this.ready : second === 0 ? -1 : second * 30;
    return Math.max(0, Math.ceil(timeS / TICK_S - ROUNDING) - 1 - from);
  }

  /** Goes towards a time, as far as it may: `at` is quick then. @param may whether it may go on, asked after every tick. @returns whether it is there. */
  towards(timeS: number, may: () => boolean): boolean {
    let tick = this.resume(timeS);
    for (; tick * TICK_S < timeS; tick++) {
      this.tick(tick);
      this.ready = tick;
      if (!may()) break;
    }
    return this.ticksTo(timeS) === 0;
  }

  /** One tick, and what is remembered of it where it ends a second. */
  private tick(tick: number): void {
    this.solveTick(tick, false);
    if (tick > 0 && tick % 30 === 0 && tick / 30 === this.kept.length + 1) this.kept.push(this.solver.m.copy());
  }

  /** The memory holds a tick before a time, and nothing nearer to it is kept. */
  private isOnTheWay(timeS: number): boolean {
    const { ready, kept } = this;
    return ready >= 0 && ready * TICK_S <= timeS && (timeS - ready * TICK_S <= 1 || ready >= kept.length * 30);
  }

  /** Brings the memory to a tick at or before a time, and says which tick comes next. */
  private resume(timeS: number): number {
    if (this.isOnTheWay(timeS)) return this.ready + 1;
    let second = Math.min(Math.floor(timeS), this.kept.length);
    if (second * 30 * TICK_S > timeS) second--;
    if (second === 0) this.solver.m.clear();
    else this.solver.m.restore(this.kept[second - 1] as Memory);
    return second === 0 ? 0 : second * 30 + 1;
  }

  /** The phase that the game is in. */
  phaseAt(timeS: number): string | null {
    return this.phase ?? phaseAt(this.solver.c.document, this.route, timeS);
  }

  /** The camera at a time on the route. */
  pose(timeS: number): Pose {
    return this.camera(timeS, routePose(this.route, timeS));
  }

  /** Feeds are read where the head is; what is seen, is seen from the camera. */
  private camera(timeS: number, head: Pose): Pose {
    return this.shake ? shaken(head, timeS, this.shake) : head;
  }

  /** What a frame at a time is solved with. The level is placed as it is then. */
  inputsAt(timeS: number, depthOrder = false, values?: Values): Inputs {
    const head = routePose(this.route, timeS);
    const { c } = this.solver;
    placeLevel(c, this.route, timeS, head, this.held);
    return this.with(timeS, head, readValues(c, this.route, timeS, head, this.held, values), depthOrder);
  }

  private with(timeS: number, head: Pose, values: Values, depthOrder: boolean): Inputs {
    return {
      timeS,
      head: this.camera(timeS, head),
      depthOrder,
      values,
      phase: this.phaseAt(timeS),
      pointed: this.pointed,
      pressed: this.pressed,
      forced: this.forced,
      scrolled: this.scrolled,
    };
  }

  private solveTick(tick: number, depthOrder: boolean): Frame {
    const timeS = tick * TICK_S;
    if (!this.moments) return solve(this.solver, this.inputsAt(timeS, depthOrder, this.values));
    const { head, values } = this.moments.at(tick);
    return solve(this.solver, this.with(timeS, head, values, depthOrder));
  }
}
