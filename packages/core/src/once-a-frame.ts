/** What is worked out of a frame when it is first asked for, and kept until the frame is solved anew. */
import type { Frame } from './frame.ts';
import type { SolveContext } from './solve-context.ts';

export function onceAFrame<T>(work: (ctx: SolveContext) => T): (ctx: SolveContext) => T {
  const known = new WeakMap<Frame, { solved: number; found: T }>();
  return (ctx) => {
    const { f } = ctx;
    let kept = known.get(f);
    if (kept?.solved !== f.solved) known.set(f, (kept = { solved: f.solved, found: work(ctx) }));
    return kept.found;
  };
}
