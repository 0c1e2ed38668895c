/** Words for what the calculation finds: the one place where numbers and ids become English. */

export * from './done.ts';
export * from './effects.ts';
export * from './facts.ts';
export * from './findings.ts';
export * from './keys.ts';
export * from './names.ts';
export * from './offers.ts';
export * from './panel-places.ts';
export * from './quantities.ts';
export * from './refused.ts';
export * from './unfinished.ts';
export * from './unrest.ts';
export * from './variants.ts';
