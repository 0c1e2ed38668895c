/**
 * The state at a time on a route: empty memory at its start, then steps of 1/30 s up to that time, the last one partial.
 * Whole seconds are kept, so that scrubbing back solves at most 31 frames.
 */
import { type Arranged, clockTimes, copyMemory, emptyMemory, type Frame, type Inputs, type Memory, makeSolver, routePose, type Solver, solve, TICK_S } from '@foreshore/core';
import type { Route } from '@foreshore/document';

export class Replay {
  readonly solver: Solver;
  private readonly route: Route;
  private readonly kept: Memory[] = [];
  private readonly clips: Float64Array;

  constructor(arranged: Arranged, route: Route) {
    this.solver = makeSolver(arranged);
    this.route = route;
    this.clips = new Float64Array(arranged.compiled.level?.clipDurationsS.length ?? 0);
  }

  /** The frame at `timeS`; it is the solver's own and changes at the next call. */
  at(timeS: number, depthOrder = false): Frame {
    const second = Math.min(Math.floor(timeS), this.kept.length);
    this.restore(second === 0 ? emptyMemory(this.solver.f.count) : (this.kept[second - 1] as Memory));
    // Ticks are counted, so that no rounding of sums moves them.
    for (let tick = second * 30 + (second === 0 ? 0 : 1); tick * TICK_S < timeS; tick++) {
      this.step(tick * TICK_S, false);
      if (tick > 0 && tick % 30 === 0 && tick / 30 === this.kept.length + 1) this.kept.push(copyMemory(this.solver.m));
    }
    return this.step(timeS, depthOrder);
  }

  private step(timeS: number, depthOrder: boolean): Frame {
    const { level } = this.solver.c;
    if (level) level.poses(clockTimes(level, timeS, this.clips));
    const inputs: Inputs = { timeS, head: routePose(this.route, timeS), views: [], depthOrder };
    return solve(this.solver, inputs);
  }

  private restore(memory: Memory): void {
    this.solver.m.timeS = memory.timeS;
    this.solver.m.viewIn.set(memory.viewIn);
    this.solver.m.sizeIn.set(memory.sizeIn);
  }
}
