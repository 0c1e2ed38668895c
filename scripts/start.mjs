// npm start: installs and builds what is missing, then serves. npm run dev: the same, reloading on every change.
import { spawn } from 'node:child_process';
import { resolve } from 'node:path';
import { build, install, needNode, program, root } from './house.mjs';

needNode();
const args = process.argv.slice(2);
const dev = args.includes('--dev');
const rest = args.filter((a) => a !== '--dev');
const { database } = await install();

// The data folder is meant from where the command was given.
const folder = rest.indexOf('--data');
if (folder >= 0 && rest[folder + 1]) rest[folder + 1] = resolve(process.env.INIT_CWD ?? process.cwd(), rest[folder + 1]);

const children = [];
const start = (command, list, options = {}) => {
  const child = spawn(command, list, { cwd: root, stdio: 'inherit', ...options });
  children.push(child);
  child.on('exit', (code) => {
    for (const other of children) if (other !== child) other.kill('SIGTERM');
    process.exitCode = code ?? 0;
  });
};
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    for (const child of children) child.kill('SIGTERM');
  });

if (dev) {
  await database;
  const server = ['--import', 'tsx', 'apps/server/src/main.ts', ...rest];
  const at = rest.indexOf('--port');
  const port = at >= 0 ? rest[at + 1] : '4180';
  start(process.execPath, ['--watch-path=apps/server', '--watch-path=packages', '--watch-preserve-output', ...server, '--web', 'none']);
  start(process.execPath, ['node_modules/vite/bin/vite.js', 'apps/web', '--config', 'apps/web/vite.config.ts'], {
    env: { ...process.env, FORESHORE_SERVER: `http://127.0.0.1:${port}` },
  });
} else {
  await build();
  const server = program('server');
  await database;
  process.stdout.write('Starting the server.\n');
  start(process.execPath, [server, ...rest]);
}
