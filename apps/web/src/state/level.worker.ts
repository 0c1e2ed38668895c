/** Brings a level from the server, away from the page: what a hundred megabytes take to arrive, nobody waits for. */
self.onmessage = async ({ data: address }: MessageEvent<string>) => {
  const send = (bytes: ArrayBuffer | null): void => self.postMessage(bytes, { transfer: bytes ? [bytes] : [] });
  try {
    const answer = await fetch(address);
    send(answer.ok ? await answer.arrayBuffer() : null);
  } catch {
    send(null);
  }
};
