export * from './canvas.ts';
export { changedBox, type PixelBox, within } from './changed.ts';
export * from './svg.ts';
