/** The types of what TypeScript uses of house.mjs. */
export const root: string;
/** Bundles a program that runs in Node where needed; its path. */
export function program(name: 'server' | 'cli'): string;
/** Builds the application where its sources are newer. */
export function build(): Promise<void>;
