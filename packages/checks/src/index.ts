export * from './bands.ts';
export * from './extremes.ts';
export * from './flicker.ts';
export * from './mends.ts';
export * from './readable-area.ts';
export * from './replay.ts';
export * from './would-show.ts';
