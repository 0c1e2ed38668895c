import type { Arranged } from './arrange.ts';
import type { Compiled } from './compiled.ts';
import type { Frame } from './frame.ts';
import type { Memory } from './memory.ts';

/**
 * What one viewer's frame is solved with and into: the compiled document `c`, the arrangement `a` for the viewer, the frame `f`,
 * the memory `m` that lasts from frame to frame.
 */
export interface SolveContext {
  readonly c: Compiled;
  readonly a: Arranged;
  readonly f: Frame;
  readonly m: Memory;
}
