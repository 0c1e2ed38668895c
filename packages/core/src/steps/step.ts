import type { Arranged } from '../arrange.ts';
import type { Compiled } from '../compile.ts';
import type { Frame, Memory } from '../frame.ts';
import type { StepName } from './names.ts';

/** What a frame's steps work on. `head` is the first row of what decisions are taken from. */
export interface Work {
  readonly c: Compiled;
  readonly a: Arranged;
  readonly f: Frame;
  readonly m: Memory;
  readonly head: number;
}

/** What a step came to for one element, evaluated as if all steps before it had passed. */
export interface Outcome {
  passes: boolean;
  /** In numbers with their units, for people. */
  says: string;
}

/**
 * One link of the chain. `run` decides for the elements `from <= i < to` that no earlier step refused, and forgets
 * what it remembered of the others; `explain` tells of one element and changes no memory.
 */
export interface Step {
  readonly name: StepName;
  /** Whether the element can be refused by this step at all; the others get a stub. */
  applies(work: Work, element: number): boolean;
  run(work: Work, from: number, to: number): void;
  explain(work: Work, element: number): Outcome;
}
