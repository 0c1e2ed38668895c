/** Workers that read what users bring, each file bounded in time and memory; requests that bring none wait for none of them. */
import { existsSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { CheckPart, Moment, PartResult, RouteEffect } from '@foreshore/checks';
import { type Document, DocumentError, type Fault } from '@foreshore/document';
import type { ExportChoice } from '@foreshore/handoff';
import { LevelError, type LevelFault, PREPARED_VERSION } from '@foreshore/level';
import type { LevelStage } from '@foreshore/level/check';
import { isPrepared, preparedPath } from '@foreshore/storage';
import { Problem } from './problem.ts';

/** A file that was brought; a project that leaves; or a kept level to prepare for drawing and rays, of which only its hash, its unit and its axis are given. */
export type Job =
  | { kind: 'level' | 'picture' | 'page' | 'font' | 'project'; bytes: Uint8Array; fileName: string }
  | { kind: 'prepare'; hash: string; metresPerUnit: number; upAxis: 'y' | 'z'; fileName: string }
  /** Parts of a check; `digest` tells one document from another. */
  | { kind: 'check'; document: Document; digest: string; parts: CheckPart[]; fileName: string }
  /** A part of two states of a project, side by side: all that happened, or only which of some things have happened, each at its moment. */
  | {
      kind: 'compare';
      was: Document;
      now: Document;
      digests: readonly [string, string];
      part: CheckPart;
      moments?: readonly Moment[];
      fileName: string;
    }
  /** What leaves of a project: all of it or what was chosen, as an archive; its proof frames; or its level with the anchors. */
  | { kind: 'leaving'; document: Document; what: 'export' | 'bundle' | 'sheet' | 'proof' | 'gltf'; choice?: Leaving; fileName: string };
/** What of a project leaves. */
export type Leaving = Pick<ExportChoice, 'elements' | 'viewers' | 'withLevel' | 'usedLetters'> & { withRuntime?: boolean };
export interface KeptFile {
  kind: 'level' | 'picture' | 'font';
  hash: string;
  fileName: string;
  size: number;
  facts: object;
}
export interface WorkerAnswer {
  files: KeptFile[];
  document?: Document;
  /** What leaves. */
  bytes?: Uint8Array;
  results?: PartResult[];
  effects?: RouteEffect[];
  happened?: boolean[];
}
export interface Refused {
  of: 'document' | 'level' | 'picture' | 'font' | 'leaving' | 'other';
  message: string;
  faults?: (Fault | LevelFault)[];
  code?: string;
}

/** A file takes no longer than this, seconds. */
const MOST_S: Record<Job['kind'], number> = {
  level: 120,
  picture: 4,
  page: 10,
  font: 4,
  project: 180,
  prepare: 120,
  leaving: 120,
  check: 300,
  compare: 300,
};
/** A worker may take so much for its objects; large files lie outside of that. */
const MOST_HEAP_MB = 3072;
const WORDS: Record<Job['kind'], string> = {
  level: 'The level',
  picture: 'The picture',
  page: 'The page',
  font: 'The font',
  project: 'The project file',
  prepare: 'The level',
  leaving: 'The export of',
  check: 'The check of',
  compare: 'The comparison of',
};

export interface Watching {
  /** Once it is aborted, the file is let go. */
  signal?: AbortSignal;
  onStage?: (stage: LevelStage) => void;
}
interface Asked extends Watching {
  job: Job;
  done: (answer: WorkerAnswer) => void;
  failed: (error: unknown) => void;
}

/** Beside the bundle there is one of the worker's; from sources it is read as they are. */
function startWorker(folder: string): Worker {
  const bundle = fileURLToPath(new URL('./read-worker.mjs', import.meta.url));
  const options = { workerData: { folder }, resourceLimits: { maxOldGenerationSizeMb: MOST_HEAP_MB } };
  return existsSync(bundle)
    ? new Worker(bundle, options)
    : new Worker(new URL('./read-worker.ts', import.meta.url), { ...options, execArgv: ['--import', 'tsx'] });
}

class Reader {
  private worker: Worker | null = null;
  private asked: (Asked & { id: number; timer: NodeJS.Timeout }) | null = null;
  private next = 1;
  private readonly folder: string;
  private readonly onFree: () => void;
  constructor(folder: string, onFree: () => void) {
    this.folder = folder;
    this.onFree = onFree;
  }
  get busy(): boolean {
    return this.asked !== null;
  }
  has(job: Job): boolean {
    return this.asked?.job === job;
  }
  ask(asked: Asked): void {
    const id = this.next++;
    const seconds = MOST_S[asked.job.kind];
    const timer = setTimeout(() => this.end(tooLong(asked.job, seconds)), seconds * 1000);
    this.asked = { ...asked, id, timer };
    this.worker ??= this.start();
    this.worker.postMessage({ id, job: asked.job });
  }
  private start(): Worker {
    const worker = startWorker(this.folder);
    worker.on('message', ({ id, stage, answer, refused }: { id: number; stage?: LevelStage; answer?: WorkerAnswer; refused?: Refused }) => {
      if (this.asked?.id !== id) return;
      if (stage) return this.asked.onStage?.(stage);
      const { job, done, failed } = this.asked;
      this.free();
      if (answer) done(answer);
      else failed(errorOf(job, refused as Refused));
    });
    worker.on('error', (error: NodeJS.ErrnoException) => {
      if (this.worker !== worker) return;
      const { asked } = this;
      this.worker = null;
      if (!asked) return;
      this.free();
      asked.failed(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooMuch(asked.job) : error);
    });
    worker.unref();
    return worker;
  }
  private free(): void {
    clearTimeout(this.asked?.timer);
    this.asked = null;
    // Whoever waits is let in once the answer is on its way.
    setImmediate(this.onFree);
  }
  /** Ends the worker, and whatever it was reading; the next file gets a new one. */
  end(why: unknown): void {
    const { worker, asked } = this;
    this.worker = null;
    if (asked) {
      this.free();
      asked.failed(why);
    }
    void worker?.terminate();
  }
}

const CANCELLED = new Problem(499, 'cancelled', 'The file was let go before it was read.');

export class Readers {
  private readonly readers: Reader[];
  private readonly waiting: Asked[] = [];
  private readonly folder: string;
  private readonly preparing = new Map<string, Promise<WorkerAnswer>>();

  /** @param folder where files are kept. */
  constructor(folder: string, count = Math.max(2, Math.min(4, availableParallelism()))) {
    this.folder = folder;
    this.readers = Array.from({ length: count }, () => new Reader(folder, () => this.go()));
  }

  /** @throws Problem, DocumentError, LevelError, or the file system's own error. */
  read(job: Job, watching: Watching = {}): Promise<WorkerAnswer> {
    return new Promise((done, failed) => {
      const asked: Asked = { job, done, failed, ...watching };
      watching.signal?.addEventListener('abort', () => this.letGo(asked), { once: true });
      this.waiting.push(asked);
      this.go();
    });
  }

  /**
   * A kept level as it is used: read, with its trees and the pieces it is drawn in. Made where it is not there, once for all who ask.
   * @returns where it lies. @throws as `read` does.
   */
  async prepared(level: { hash: string; metresPerUnit: number; upAxis: 'y' | 'z' }): Promise<string> {
    const what = { ...level, version: PREPARED_VERSION };
    const path = preparedPath(this.folder, what);
    if (await isPrepared(this.folder, what)) return path;
    let making = this.preparing.get(path);
    if (!making) {
      making = this.read({ kind: 'prepare', ...level, fileName: level.hash.slice(0, 12) }).finally(() => this.preparing.delete(path));
      this.preparing.set(path, making);
    }
    await making;
    return path;
  }

  /** Nobody waits for it any more. */
  private letGo(asked: Asked): void {
    const at = this.waiting.indexOf(asked);
    if (at >= 0) this.waiting.splice(at, 1);
    else this.readers.find((reader) => reader.has(asked.job))?.end(CANCELLED);
    asked.failed(CANCELLED);
  }

  private go(): void {
    for (let free = this.readers.find(({ busy }) => !busy); free && this.waiting.length > 0; free = this.readers.find(({ busy }) => !busy))
      free.ask(this.waiting.shift() as Asked);
  }

  close(): void {
    for (const reader of this.readers) reader.end(new Problem(503, 'stopping', 'The server is being stopped.'));
  }
}

const tooLong = (job: Job, seconds: number): Problem =>
  new Problem(422, job.kind, `${WORDS[job.kind]} "${job.fileName}" could not be read within ${seconds} s. It is refused; make it simpler.`);
const tooMuch = (job: Job): Problem =>
  new Problem(
    422,
    job.kind,
    `${WORDS[job.kind]} "${job.fileName}" needs more memory than there is for one file. It is refused; make it smaller.`,
  );

function errorOf(job: Job, { of, message, faults = [], code }: Refused): unknown {
  if (of === 'document') return new DocumentError(faults as Fault[]);
  if (of === 'level') return new LevelError(faults as LevelFault[]);
  if (of === 'leaving') return new Problem(422, 'export', message);
  if (of === 'picture' || of === 'font') return new Problem(422, job.kind === 'page' ? 'page' : of, `"${job.fileName}" ${message}.`);
  return Object.assign(new Error(message), code ? { code } : {});
}
