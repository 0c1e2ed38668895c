/**
 * Coarser forms of meshes, as meshoptimizer makes them: by edge collapse with quadric errors (Garland, Heckbert 1997), and by putting
 * together the corners in each cell of a grid (Rossignac, Borrel 1993).
 */
import { type Flags, MeshoptSimplifier } from 'meshoptimizer/simplifier';
import type { Simplifier } from './drawn.ts';

/** How much a difference of colour counts against one of place. */
const COLOUR_WEIGHT = 0.5;
/** Fewer triangles than this share are not asked for: it is the error that bounds. */
const LEAST_SHARE = 0.01;

const least = (indices: Uint32Array): number => Math.ceil((indices.length * LEAST_SHARE) / 3) * 3;

/** @returns once the simplifier is there. */
export async function simplifier(): Promise<Simplifier> {
  await MeshoptSimplifier.ready;
  return {
    simplify: (indices, positions, colours, errorM, keepEdge) => {
      // Small things by themselves are not pruned: a hedge of leaves would be gone.
      const flags: Flags[] = ['ErrorAbsolute', ...(keepEdge ? (['LockBorder'] as const) : [])];
      const target = least(indices);
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
    },
    roughen: (indices, positions, errorM) => {
      const share = errorM / MeshoptSimplifier.getScale(positions, 3);
      return MeshoptSimplifier.simplifySloppy(indices, positions, 3, null, least(indices), share)[0];
    },
  };
}
