/** A server of its own for a test: the real program in a process of its own, on a free port and a folder of its own. */
import { type ChildProcess, spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Document, diff } from '@foreshore/document';
import { program, root } from '../../../scripts/house.mjs';

export const MAIN = program('server');
const LAST_RUN = join(root, 'demo', 'last-run.json.gz');

export interface TestServer {
  address: string;
  folder: string;
  process: ChildProcess;
  /** Ends it with a signal and waits until it is gone. */
  stop(signal?: NodeJS.Signals): Promise<number | null>;
  /** Stops it and removes its folder. */
  remove(): Promise<void>;
}

/** A folder with the demo in it, as the first start leaves it: made once for each build of the server and each check that ships, then copied. */
async function seeded(): Promise<string> {
  const cache = join(root, '.cache');
  const name = `seeded-${[MAIN, LAST_RUN].map((file) => statSync(file).mtimeMs).join('-')}`;
  const made = join(cache, name);
  if (!existsSync(made)) {
    mkdirSync(cache, { recursive: true });
    for (const old of readdirSync(cache))
      if (old.startsWith('seeded-') && !old.startsWith(name)) rmSync(join(cache, old), { recursive: true, force: true });
    const first = await startTestServer(mkdtempSync(join(tmpdir(), 'foreshore-')));
    await first.stop();
    const aside = `${made}.${process.pid}`;
    cpSync(first.folder, aside, { recursive: true });
    rmSync(first.folder, { recursive: true, force: true });
    try {
      renameSync(aside, made);
    } catch {
      // Another test was quicker.
      rmSync(aside, { recursive: true, force: true });
    }
  }
  const folder = mkdtempSync(join(tmpdir(), 'foreshore-'));
  cpSync(made, folder, { recursive: true });
  return folder;
}

/** @param given a data folder; without it, one of its own with the demo in it. */
export async function startTestServer(given?: string, port = 0, args: string[] = []): Promise<TestServer> {
  const folder = given ?? (await seeded());
  const child = spawn(process.execPath, [MAIN, '--port', String(port), '--data', folder, ...args], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  const gone = new Promise<number | null>((resolve) => child.once('exit', resolve));
  const address = await new Promise<string>((resolve, reject) => {
    const hear = (data: Buffer) => {
      said += data.toString();
      const found = /ready at (\S+)/.exec(said);
      if (found?.[1]) resolve(found[1]);
    };
    child.stdout?.on('data', hear);
    child.stderr?.on('data', hear);
    void gone.then((code) => reject(new Error(`The server ended with ${code}: ${said}`)));
  });
  const stop = async (signal: NodeJS.Signals = 'SIGTERM') => {
    child.kill(signal);
    return gone;
  };
  return {
    address,
    folder,
    process: child,
    stop,
    remove: async () => {
      await stop('SIGKILL');
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

export interface Answer {
  status: number;
  // biome-ignore lint/suspicious/noExplicitAny: answers of any shape are looked into
  body: any;
  type: string;
}
/** A request to a test server, with its answer read. */
export async function callAt(at: TestServer, method: string, path: string, body?: unknown): Promise<Answer> {
  const binary = body instanceof Uint8Array;
  const response = await fetch(new URL(path, at.address), {
    method,
    headers: { 'content-type': binary ? 'application/octet-stream' : 'application/json' },
    ...(body === undefined ? {} : { body: (binary ? body : JSON.stringify(body)) as BodyInit }),
  });
  const text = await response.text();
  const type = response.headers.get('content-type') ?? '';
  return { status: response.status, body: type.includes('json') && text ? JSON.parse(text) : text, type };
}
export const makeEmptyAt = async (at: TestServer, name: string): Promise<{ id: string; document: Document }> =>
  (await callAt(at, 'POST', '/api/projects', { from: 'empty', name })).body;
export const rename = (document: Document, name: string) => diff(document, { ...document, name });
