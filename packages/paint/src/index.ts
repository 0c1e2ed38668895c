export * from './canvas.ts';
export * from './svg.ts';
