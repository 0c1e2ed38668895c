// What start and test share; plain Node, because it runs before anything is installed.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));

export function stop(sentence) {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

export function needNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) stop(`Foreshore needs Node 20.19 or newer; this is Node ${process.versions.node}.`);
}

export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  return done.status ?? 1;
}

const time = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0);

/** Installs the packages where they are missing or older than the lockfile. */
export function install() {
  const installed = join(root, 'node_modules', '.package-lock.json');
  if (time(installed) >= time(join(root, 'package-lock.json')) && existsSync(installed)) return;
  process.stdout.write('Installing packages; the first time this takes a few minutes.\n');
  if (run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']) !== 0)
    stop('The packages could not be installed. Is the network there? The lines above say more.');
}

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name === 'node_modules' || entry.name === 'dist' || entry.name.endsWith('.test.ts')) continue;
    const path = join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

/** Builds the application where its sources are newer than what was built. */
export function build() {
  const sources = [join(root, 'apps', 'web'), join(root, 'packages')].map(newest);
  const built = time(join(root, 'apps', 'web', 'dist', 'index.html'));
  if (built > Math.max(...sources, time(join(root, 'package-lock.json')))) return;
  process.stdout.write('Building the application.\n');
  if (
    run(process.execPath, [join(root, 'node_modules', 'vite', 'bin', 'vite.js'), 'build', '--logLevel', 'warn'], {
      cwd: join(root, 'apps', 'web'),
    }) !== 0
  )
    stop('The application could not be built; the lines above say why.');
}
