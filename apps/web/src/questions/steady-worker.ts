/** A worker that is started again, once, when it dies; a second death is told as what it is. */
import { say, sayFailed } from '../state/notices.ts';

export interface SteadyWorker {
  post(message: unknown): void;
  end(): void;
}

/**
 * @param make starts one.
 * @param what it works out, for messages: "bands".
 * @param hear takes its answers.
 * @param died is told each time, with whether it was started again; what was asked of it is to be asked anew then.
 */
export function steadyWorker<T>(make: () => Worker, what: string, hear: (answer: T) => void, died: (again: boolean) => void): SteadyWorker {
  let deaths = 0;
  let worker: Worker | null = null;
  const start = () => {
    const one = make();
    worker = one;
    one.addEventListener('message', ({ data }: MessageEvent<T>) => hear(data));
    const onDeath = () => {
      if (worker !== one) return;
      one.terminate();
      worker = null;
      const again = ++deaths === 1;
      if (again) {
        say(`What works out ${what} stopped and was started again.`);
        start();
      } else sayFailed(`What works out ${what} stopped twice: they are not available until the page is reloaded.`);
      died(again);
    };
    one.addEventListener('error', onDeath);
    one.addEventListener('messageerror', onDeath);
  };
  start();
  return {
    post: (message) => worker?.postMessage(message),
    end: () => {
      worker?.terminate();
      worker = null;
    },
  };
}
