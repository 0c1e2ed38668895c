/** One real server for all browser tests, on a free port and an empty folder. */
import { existsSync } from 'node:fs';
import type { TestProject } from 'vitest/node';
import { startTestServer } from '../apps/server/src/test-server.ts';

declare module 'vitest' {
  interface ProvidedContext {
    address: string;
  }
}

export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  if (!existsSync('apps/web/dist/index.html')) throw new Error('The application is not built; run npm test, or npm start once.');
  const server = await startTestServer();
  project.provide('address', server.address);
  return () => server.remove();
}
