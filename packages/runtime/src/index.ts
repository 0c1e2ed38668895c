/** The runtime of a bundle. Painters, letters shaped as on the bench, the pointer, and a level that casts rays are add-ons of their own. */
export {
  BUNDLE_FORMAT,
  BUNDLE_VERSION,
  type Bundle,
  type BundleDocument,
  type BundleLevel,
  type MessagePart,
  type PartName,
} from './bundle.ts';
export type { CastRay } from './level.ts';
export type { Part } from './parts.ts';
export { BundleError, type FrameInput, type Message, type Options, Runtime } from './runtime.ts';
export { type Letters, type Measure, measuredBy } from './text.ts';
