export * from './bvh.ts';
export { hazeShare, hexToRgb, lambert, SUN, skyColour } from './colour.ts';
export * from './container.ts';
export * from './faults.ts';
export * from './ground.ts';
export { invertAffine } from './matrix.ts';
export * from './model.ts';
export * from './parts.ts';
export * from './read.ts';
