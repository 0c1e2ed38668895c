export * from './bands.ts';
export * from './extremes.ts';
export * from './flicker.ts';
export * from './replay.ts';
export * from './would-show.ts';
