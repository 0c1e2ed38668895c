/** Bands of all elements over a route, away from the page, so that the picture never waits. */
import type { BandsReply, BandsRequest } from './bands-job.ts';
import { receiver, type Sent } from './document-link.ts';

// Imported late: the text shaper awaits its module at top level, and messages that come before the listener stands are lost.
const job = import('./bands-job.ts');

const received = receiver<BandsRequest>();

self.addEventListener('message', async ({ data }: MessageEvent<Sent<BandsRequest>>) => {
  const request = received(data);
  const { answer } = await job;
  await answer(request, (message: BandsReply) => self.postMessage(message));
});
