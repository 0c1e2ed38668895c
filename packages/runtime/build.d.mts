/** The types of what TypeScript uses of build.mjs. */
export function buildRuntime(out?: string): Promise<Record<string, { bytes: number; gzipped: number }>>;
export function runtimeModules(): Promise<Record<string, Uint8Array>>;
