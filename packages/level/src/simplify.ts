/** Coarser forms of meshes, by edge collapse with quadric errors (Garland, Heckbert 1997) as meshoptimizer has it. */
import { type Flags, MeshoptSimplifier } from 'meshoptimizer';
import type { Simplify } from './drawn.ts';

/** How much a difference of colour counts against one of place. */
const COLOUR_WEIGHT = 0.5;
/** Fewer triangles than this share are not asked for: it is the error that bounds. */
const LEAST_SHARE = 0.01;

/** @returns once the simplifier is there. */
export async function simplifier(): Promise<Simplify> {
  await MeshoptSimplifier.ready;
  return (indices, positions, colours, errorM, keepEdge) => {
    const flags: Flags[] = ['ErrorAbsolute', 'Prune', ...(keepEdge ? (['LockBorder'] as const) : [])];
    const target = Math.ceil((indices.length * LEAST_SHARE) / 3) * 3;
    const [coarse, off] = colours
      ? MeshoptSimplifier.simplifyWithAttributes(
          indices,
          positions,
          3,
          colours,
          4,
          [COLOUR_WEIGHT, COLOUR_WEIGHT, COLOUR_WEIGHT, 0],
          null,
          target,
          errorM,
          flags,
        )
      : MeshoptSimplifier.simplify(indices, positions, 3, target, errorM, flags);
    return { indices: coarse, errorM: off };
  };
}
