/** A server of its own for a test: the real program in a process of its own, on a free port and an empty folder. */
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Document, diff } from '@foreshore/document';
import { program, root } from '../../../scripts/house.mjs';

export const MAIN = program('server');

export interface TestServer {
  address: string;
  folder: string;
  process: ChildProcess;
  /** Ends it with a signal and waits until it is gone. */
  stop(signal?: NodeJS.Signals): Promise<number | null>;
  /** Stops it and removes its folder. */
  remove(): Promise<void>;
}

export async function startTestServer(
  folder = mkdtempSync(join(tmpdir(), 'foreshore-')),
  port = 0,
  args: string[] = [],
): Promise<TestServer> {
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
