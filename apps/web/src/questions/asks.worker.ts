/** Questions that take many frames to answer, away from the page. */
import type { Ask } from './asks-job.ts';
import { receiver, type Sent } from './document-link.ts';

// Imported late, for the reason that the worker of bands gives.
const job = import('./asks-job.ts');

const received = receiver<Ask>();

/** Questions that are being answered, and for which nobody waits any more. */
const letGo = new Set<number>();
const under = new Set<number>();

self.addEventListener('message', async ({ data }: MessageEvent<Sent<Ask> | { letGo: number }>) => {
  if ('letGo' in data) {
    if (under.has(data.letGo)) letGo.add(data.letGo);
    return;
  }
  const ask = received(data);
  under.add(ask.job);
  const told = await (await job).answer(ask, () => letGo.has(ask.job));
  under.delete(ask.job);
  letGo.delete(ask.job);
  self.postMessage(told);
});
