export * from './font-file.ts';
export { argumentsOf, messageFault, type NumberInText, numbersIn, withDecimals } from './messages.ts';
export { parsedMessage } from './parsed.ts';
export { type MessagePart, namesIn, putTogether } from './put-together.ts';
export * from './shaper.ts';
export * from './weights.ts';
export { unwrapWoff } from './woff.ts';
