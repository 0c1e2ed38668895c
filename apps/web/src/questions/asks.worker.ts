/** Questions that take many frames to answer, away from the page. */
import type { Ask } from './asks-job.ts';

// Imported late, for the reason that the worker of bands gives.
const job = import('./asks-job.ts');

self.addEventListener('message', async ({ data }: MessageEvent<Ask>) => self.postMessage(await (await job).answer(data)));
