/** Lets what has come meanwhile be heard. */
export const pause = (): Promise<void> =>
  new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });

/** Work in parts lets others in after so long. */
const BUSY_MS = 60;

/** Does work that is made in parts, so that the page is never silent for long. @param busyMs after so long others are let in. */
export async function slowly<T>(work: Generator<unknown, T, void>, busyMs = BUSY_MS): Promise<T> {
  let began = performance.now();
  for (;;) {
    const part = work.next();
    if (part.done) return part.value;
    if (performance.now() - began < busyMs) continue;
    await pause();
    began = performance.now();
  }
}

/** Does something when there is nothing else to do, or after so long. Not every browser tells when that is. @returns what calls it off. */
export function whenIdle(work: () => void, mostMs: number): () => void {
  if ('requestIdleCallback' in globalThis) {
    const turn = requestIdleCallback(work, { timeout: mostMs });
    return () => cancelIdleCallback(turn);
  }
  const turn = setTimeout(work, mostMs);
  return () => clearTimeout(turn);
}
