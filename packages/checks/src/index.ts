export * from './bands.ts';
export * from './extremes.ts';
export * from './replay.ts';
