// npm run example: the example game in Low Water, drawn by the runtime from a bundle. Installs and builds what is missing.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { install, needNode, root, run, stop } from './house.mjs';

needNode();
const at = process.argv.indexOf('--port');
const port = at >= 0 ? Number(process.argv[at + 1]) : 4190;
if (!Number.isInteger(port) || port < 0 || port > 65535) stop('--port takes a number from 0 to 65535.');
const { database } = await install();
await database;
const { buildRuntime } = await import('../packages/runtime/build.mjs');
const { serveExample } = await import('../examples/causeway/serve.mjs');
await buildRuntime();
const bundles = join(root, '.cache', 'causeway');
mkdirSync(bundles, { recursive: true });
if ((await run(process.execPath, ['--import', 'tsx', 'examples/causeway/make.ts', bundles])) !== 0) stop('The bundles could not be made.');
const { address } = await serveExample(port, { runtime: join(root, 'packages', 'runtime', 'dist'), bundles }).catch((error) =>
  stop(error.code === 'EADDRINUSE' ? `Port ${port} is taken; name another: npm run example -- --port N.` : error.message),
);
process.stdout.write(`The game is at ${address}\n`);
