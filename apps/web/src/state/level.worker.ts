/** Brings a level from the server and puts the corners of its trees in their places, away from the page. */
import { openPrepared } from '@foreshore/level/prepared';

export interface BroughtLevel {
  bytes: ArrayBuffer;
  corners: Float32Array[];
}

self.onmessage = async ({ data: address }: MessageEvent<string>) => {
  const send = (level: BroughtLevel | null, held: ArrayBuffer[] = []): void => self.postMessage(level, { transfer: held });
  try {
    const answer = await fetch(address);
    if (!answer.ok) return send(null);
    const bytes = await answer.arrayBuffer();
    const { corners } = openPrepared(bytes);
    send({ bytes, corners }, [bytes, ...corners.map(({ buffer }) => buffer as ArrayBuffer)]);
  } catch {
    send(null);
  }
};
