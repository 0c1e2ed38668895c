/** Brings a level, away from the page: from what this browser keeps, else from the server. What a hundred megabytes take, nobody waits for. */
import { keepLevel, keptLevel } from './kept-levels.ts';

self.onmessage = async ({ data: address }: MessageEvent<string>) => {
  const send = (bytes: ArrayBuffer | null): void => self.postMessage(bytes, { transfer: bytes ? [bytes] : [] });
  try {
    // What the server does not have any more, or has in another form, is not opened from here.
    const [there, kept] = await Promise.all([fetch(address, { method: 'HEAD' }), keptLevel(address)]);
    if (kept && there.ok && Number(there.headers.get('Content-Length')) === kept.byteLength) send(kept);
    else {
      const answer = there.ok ? await fetch(address) : there;
      const bytes = answer.ok ? await answer.arrayBuffer() : null;
      const copy = bytes?.slice(0);
      send(bytes);
      if (copy) await keepLevel(address, copy);
    }
  } catch {
    send(null);
  }
  // What was brought is kept, too.
  self.postMessage('done');
};
