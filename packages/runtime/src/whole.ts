/**
 * The runtime with all its parts in one module: it plays every bundle, also one that is made after the game has shipped and needs a part
 * that the first did not.
 */
import { type Bundle, PARTS } from './bundle.ts';
import { Runtime as Basic, type Options } from './runtime.ts';

export * from './index.ts';

/** As the basic one, and lacks nothing. */
export class Runtime extends Basic {
  /** @throws BundleError where the bundle is no bundle, or of another version. */
  constructor(bundle: Bundle, options: Omit<Options, 'parts'>) {
    super(bundle, { ...options, parts: PARTS.map((name) => ({ name, functions: {} })) });
  }
}
