/**
 * The state at a time on a route: empty memory at its start, then steps of 1/30 s up to that time, the last one partial.
 * Whole seconds are kept, so that scrubbing back solves at most 31 frames.
 */
import {
  type Arranged,
  clockTimes,
  type Frame,
  type Inputs,
  type Memory,
  makeSolver,
  type Pose,
  routePose,
  type Solver,
  solve,
  TICK_S,
} from '@foreshore/core';
import type { Route } from '@foreshore/document';

export class Replay {
  readonly solver: Solver;
  private readonly route: Route;
  private readonly kept: Memory[] = [];
  private readonly clips: Float64Array;
  /** The tick whose state the memory holds, or −1 after a partial step. */
  private ready = -1;

  constructor(arranged: Arranged, route: Route) {
    this.solver = makeSolver(arranged);
    this.route = route;
    this.clips = new Float64Array(arranged.compiled.level?.clipDurationsS.length ?? 0);
  }

  /** The frame at `timeS`; it is the solver's own and changes at the next call. */
  at(timeS: number, depthOrder = false): Frame {
    let tick = this.resume(timeS);
    // Ticks are counted, so that no rounding of sums moves them.
    for (; tick * TICK_S < timeS; tick++) {
      this.step(tick * TICK_S, false);
      if (tick > 0 && tick % 30 === 0 && tick / 30 === this.kept.length + 1) this.kept.push(this.solver.m.copy());
    }
    this.ready = tick * TICK_S === timeS ? tick : -1;
    return this.step(timeS, depthOrder);
  }

  /** Brings the memory to a tick at or before a time, and says which tick comes next. */
  private resume(timeS: number): number {
    if (this.ready >= 0 && this.ready * TICK_S <= timeS && timeS - this.ready * TICK_S <= 1) return this.ready + 1;
    let second = Math.min(Math.floor(timeS), this.kept.length);
    if (second * 30 * TICK_S > timeS) second--;
    this.solver.m.restore(second === 0 ? null : (this.kept[second - 1] as Memory));
    return second === 0 ? 0 : second * 30 + 1;
  }

  /** The camera at a time on the route. */
  pose(timeS: number): Pose {
    return routePose(this.route, timeS);
  }

  private step(timeS: number, depthOrder: boolean): Frame {
    const { level } = this.solver.c;
    if (level) level.poses(clockTimes(level, timeS, this.clips));
    const inputs: Inputs = { timeS, head: routePose(this.route, timeS), views: [], depthOrder };
    return solve(this.solver, inputs);
  }
}
