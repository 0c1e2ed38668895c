export * from './canvas.ts';
export { changedBox, type PixelBox, within } from './changed.ts';
export { momentSvg, rowsShown } from './moment.ts';
export * from './svg.ts';
