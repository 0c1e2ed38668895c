/** One worker for all short questions of the page. It starts with the first and keeps the level it has read. */
import type { Answer, Ask } from './asks-job.ts';

type Question = Ask extends infer A ? (A extends Ask ? Omit<A, 'job'> : never) : never;

let worker: Worker | null = null;
let jobs = 0;
const waiting = new Map<number, (answer: Answer) => void>();

/** Asks, and gives a way not to be told. */
export function askWorker(question: Question, then: (answer: Answer) => void): () => void {
  if (!worker) {
    worker = new Worker(new URL('./asks.worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<Answer>) => {
      waiting.get(data.job)?.(data);
      waiting.delete(data.job);
    });
    worker.addEventListener('error', ({ message }) => {
      // The next question starts another.
      worker = null;
      for (const [job, tell] of waiting) tell({ job, failed: message || 'the worker stopped' });
      waiting.clear();
    });
  }
  const job = ++jobs;
  waiting.set(job, then);
  worker.postMessage({ ...question, job } as Ask);
  return () => waiting.delete(job);
}
