export * from './bands.ts';
export * from './replay.ts';
