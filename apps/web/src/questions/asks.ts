/** One worker for all short questions of the page. It starts with the first and keeps the level it has read. */
import type { Answer, Ask } from './asks-job.ts';
import { type SteadyWorker, steadyWorker } from './steady-worker.ts';

type Question = Ask extends infer A ? (A extends Ask ? Omit<A, 'job'> : never) : never;

let worker: SteadyWorker<Ask> | null = null;
let jobs = 0;
const waiting = new Map<number, { ask: Ask; then: (answer: Answer) => void }>();

function started(): SteadyWorker<Ask> {
  return steadyWorker<Ask, Answer>(
    () => new Worker(new URL('./asks.worker.ts', import.meta.url), { type: 'module' }),
    'offers, mends and cures',
    (answer) => {
      waiting.get(answer.job)?.then(answer);
      waiting.delete(answer.job);
    },
    (again) => {
      // Asked anew of the one that was started; the one that was asked when it died may be what it died of, once.
      for (const [job, { ask, then }] of [...waiting]) {
        if (again) worker?.post(ask);
        else {
          waiting.delete(job);
          then({ job, failed: 'what works this out has stopped' });
        }
      }
    },
  );
}

/** Asks, and gives a way not to be told. */
export function askWorker(question: Question, then: (answer: Answer) => void): () => void {
  worker ??= started();
  const job = ++jobs;
  const ask = { ...question, job } as Ask;
  waiting.set(job, { ask, then });
  worker.post(ask);
  return () => {
    if (waiting.delete(job)) worker?.tell({ letGo: job });
  };
}
