/** A server of its own for a test: the real program in a process of its own, on a free port and an empty folder. */
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const MAIN = fileURLToPath(new URL('./main.ts', import.meta.url));
const ROOT = fileURLToPath(new URL('../../..', import.meta.url));

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
  const child = spawn(process.execPath, ['--import', 'tsx', MAIN, '--port', String(port), '--data', folder, ...args], {
    cwd: ROOT,
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
