import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: ['{packages,apps,demo,benchmarks}/**/*.test.ts'],
          testTimeout: 120_000,
          hookTimeout: 60_000,
          setupFiles: ['scripts/seed.mjs'],
          maxWorkers: 1,
        },
      },
      {
        test: {
          name: 'e2e',
          include: ['e2e/**/*.test.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          fileParallelism: false,
          // A second, as it is without this, is too short for a page that is drawn while unit tests run beside it.
          expect: { poll: { timeout: 20_000 } },
          globalSetup: ['e2e/serve.ts'],
          // On a busy machine Chromium now and then leaves a page without an answer (see `answering` in e2e/browser.ts).
          retry: 2,
        },
      },
    ],
  },
});
