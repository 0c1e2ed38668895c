/** Measuring takes turns, of all projects: one core is left to requests, and one of the readers to files. */
import { availableParallelism } from 'node:os';

export class Turns {
  /** So many at once. */
  readonly most = Math.max(1, Math.min(3, availableParallelism() - 1));
  private busy = 0;
  private readonly waiting: (() => void)[] = [];

  /** Whoever comes when enough is measured waits until something of it is done. */
  async take<T>(work: () => Promise<T>): Promise<T> {
    if (this.busy >= this.most) await new Promise<void>((resolve) => this.waiting.push(resolve));
    else this.busy++;
    try {
      return await work();
    } finally {
      const next = this.waiting.shift();
      if (next) next();
      else this.busy--;
    }
  }
}
