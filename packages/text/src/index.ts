export * from './shaper.ts';
export { unwrapWoff } from './woff.ts';
