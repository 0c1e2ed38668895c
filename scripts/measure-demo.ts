/** npm run demo:measure: checks Low Water as the server does, and keeps what was measured: a new project of it has it as its last run. */
import { existsSync, writeFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { digestsOf } from '../apps/server/src/checks.ts';
import { startTestServer } from '../apps/server/src/test-server.ts';
import type { CheckRun } from '../packages/checks/src/index.ts';
import type { Document } from '../packages/document/src/index.ts';

const FILE = 'demo/last-run.json.gz';
// The server that measures seeds its own demo, too.
const keep = (measured: object): Buffer => {
  const bytes = gzipSync(JSON.stringify(measured), { level: 9 });
  writeFileSync(FILE, bytes);
  return bytes;
};
if (!existsSync(FILE)) keep({ results: [], digests: {} });
const server = await startTestServer();
const ask = async (path: string, body?: object): Promise<unknown> => {
  const post = body && { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
  const response = await fetch(new URL(path, server.address), post);
  if (!response.ok) throw new Error(await response.text());
  return response.json();
};
try {
  const { id, document } = (await ask('/api/projects', { from: 'demo', measured: false })) as { id: string; document: Document };
  const { id: check } = (await ask(`/api/projects/${id}/checks`, {})) as { id: number };
  for (let state = 'running'; state !== 'done'; ) {
    await new Promise((resolve) => setTimeout(resolve, 500));
    const { checks } = (await ask(`/api/projects/${id}/checks`)) as { checks: { state: string; why: string | null }[] };
    state = checks[0]?.state ?? '';
    if (state !== 'running' && state !== 'done') throw new Error(`The check is ${state}: ${checks[0]?.why}`);
  }
  const { results, parts } = (await ask(`/api/projects/${id}/checks/${check}`)) as CheckRun;
  const bytes = keep({ results, digests: digestsOf(document, parts) });
  process.stdout.write(`${results.length} parts, ${(bytes.length / 1000).toFixed(0)} kB\n`);
} finally {
  await server.remove();
}
