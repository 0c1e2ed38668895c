/** Bands of all elements over a route, away from the page, so that the picture never waits. */
import type { BandsReply, BandsRequest } from './bands-job.ts';

// Imported late: the text shaper awaits its module at top level, and messages that come before the listener stands are lost.
const job = import('./bands-job.ts');

self.addEventListener('message', async ({ data }: MessageEvent<BandsRequest>) => {
  const { answer } = await job;
  await answer(data, (message: BandsReply) => self.postMessage(message));
});
