/**
 * Parts of the calculation that not every bundle needs. In the built runtime their functions are put in here; run from its sources it
 * has them all, and putting one in changes nothing.
 */
import type { PartName } from './bundle.ts';

export interface Part {
  readonly name: PartName;
  /** What takes the place of a function that does nothing, by its name in the core. */
  readonly functions: Readonly<Record<string, unknown>>;
}

/** Written by the build: each takes the functions that it stands in for. */
export const hooks: ((functions: Part['functions']) => void)[] = [];

export function install({ functions }: Part): void {
  for (const hook of hooks) hook(functions);
}
