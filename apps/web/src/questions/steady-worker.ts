/** A worker that starts with the first question, and again, once, when it dies; a second death is told as what it is. */
import type { Document } from '@foreshore/document';
import { say, sayFailed } from '../state/notices.ts';
import { endsWithPage } from '../state/page-worker.ts';
import { sender } from './document-link.ts';

export interface SteadyWorker<Q> {
  post(question: Q): void;
  /** What is no question. */
  tell(message: object): void;
  end(): void;
}

/**
 * @param make starts one.
 * @param what it works out, for messages: "bands".
 * @param hear takes its answers.
 * @param died is told each time, with whether it was started again; what was asked of it is to be asked anew then.
 */
export function steadyWorker<Q extends { document: Document }, A>(
  make: () => Worker,
  what: string,
  hear: (answer: A) => void,
  died: (again: boolean) => void,
): SteadyWorker<Q> {
  let deaths = 0;
  let worker: Worker | null = null;
  let end = (): void => {};
  let send: (question: Q) => void = () => {};
  const start = () => {
    const one = make();
    worker = one;
    end = endsWithPage(one);
    // A new one knows nothing of the document.
    send = sender<Q>((question) => one.postMessage(question));
    one.addEventListener('message', ({ data }: MessageEvent<A>) => hear(data));
    const onDeath = () => {
      if (worker !== one) return;
      end();
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
  return {
    post: (question) => {
      if (!worker && deaths === 0) start();
      if (worker) send(question);
    },
    tell: (message) => worker?.postMessage(message),
    end: () => {
      end();
      worker = null;
    },
  };
}
