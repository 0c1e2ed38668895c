/** Questions that take many frames to answer, away from the page. */
import type { Ask } from './asks-job.ts';
import { receiver, type Sent } from './document-link.ts';

// Imported late, for the reason that the worker of bands gives.
const job = import('./asks-job.ts');

const received = receiver<Ask>();

self.addEventListener('message', async ({ data }: MessageEvent<Sent<Ask>>) => {
  const ask = received(data);
  self.postMessage(await (await job).answer(ask));
});
