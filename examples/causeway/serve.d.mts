/** The types of what TypeScript uses of serve.mjs. */
export function serveExample(port: number, folders: { runtime: string; bundles: string }): Promise<{ address: string; close(): void }>;
