// What start and test share; plain Node, because it runs before anything is installed.
import { spawn } from 'node:child_process';
import { existsSync, readdirSync, renameSync, statSync } from 'node:fs';
import { createRequire } from 'node:module';
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

/** Runs a program without blocking, so that others may run meanwhile. Gives its exit code; 1 if it could not be started. */
export const run = (command, args, options = {}) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
    child.on('error', () => resolve(1));
    child.on('exit', (code) => resolve(code ?? 1));
  });

const time = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0);

const NOT_INSTALLED = 'The packages could not be installed. Is the network there? The lines above say more.';
const DATABASE = join(root, 'node_modules', 'better-sqlite3', 'build', 'Release', 'better_sqlite3.node');

/**
 * Installs the packages where they are missing or older than the lockfile. The database is compiled on its own, which
 * takes minutes: resolves once the packages are there, with a promise of the compiled database to await before it is used.
 */
export async function install() {
  const installed = join(root, 'node_modules', '.package-lock.json');
  if (!existsSync(installed) || time(installed) < time(join(root, 'package-lock.json'))) {
    process.stdout.write('Installing packages; the first time this takes a few minutes.\n');
    if ((await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error', '--ignore-scripts'])) !== 0) stop(NOT_INSTALLED);
  }
  return { database: existsSync(DATABASE) ? Promise.resolve() : compileDatabase() };
}

async function compileDatabase() {
  process.stdout.write('Compiling the database.\n');
  const said = [];
  const child = spawn('npm', ['rebuild', 'better-sqlite3', '--loglevel=error', '--foreground-scripts'], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, JOBS: 'max' },
  });
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => said.push(data));
  const status = await new Promise((resolve) => child.on('exit', resolve));
  if (status === 0 && existsSync(DATABASE)) return;
  process.stderr.write(Buffer.concat(said));
  stop(NOT_INSTALLED);
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

/** Whether a file that was built is newer than all it was built from. */
export const upToDate = (file, sources) => time(file) > Math.max(...sources.map(newest), time(join(root, 'package-lock.json')));

/** Builds the application where its sources are newer than what was built. */
export async function build() {
  if (upToDate(join(root, 'apps', 'web', 'dist', 'index.html'), [join(root, 'apps', 'web'), join(root, 'packages')])) return;
  process.stdout.write('Building the application.\n');
  const vite = join(root, 'node_modules', 'vite', 'bin', 'vite.js');
  if ((await run(process.execPath, [vite, 'build', '--logLevel', 'warn'], { cwd: join(root, 'apps', 'web') })) !== 0)
    stop('The application could not be built; the lines above say why.');
}

/** These stay as they are: compiled for the machine, or with files of their own beside them. */
const OUTSIDE = ['better-sqlite3', 'harfbuzzjs', 'gltf-validator', 'draco3dgltf', 'meshoptimizer', 'wawoff2'];
const BANNER = "import { createRequire as requireHere } from 'node:module'; globalThis.require ??= requireHere(import.meta.url);";

/**
 * Bundles a program that runs in Node, the server or the command line, where its sources are newer than the bundle: it
 * starts in a third of the time that reading the sources takes. Returns the bundle's path.
 */
export function program(name) {
  const folder = join(root, 'apps', name);
  const bundle = join(folder, 'dist', 'main.mjs');
  if (upToDate(bundle, [folder, join(root, 'packages'), join(root, 'demo', 'src')])) return bundle;
  const { buildSync } = createRequire(import.meta.url)('esbuild');
  // What a program reads in workers lies beside it. The program itself comes last: it is by its age that it is rebuilt.
  for (const entry of [...readdirSync(join(folder, 'src')).filter((file) => file.endsWith('-worker.ts')), 'main.ts'])
    bundleInto(buildSync, join(folder, 'src', entry), join(folder, 'dist', entry.replace(/\.ts$/, '.mjs')));
  return bundle;
}

function bundleInto(buildSync, entry, outfile) {
  // Written aside first: another process may be starting from the old one.
  const aside = `${outfile}.${process.pid}`;
  buildSync({
    entryPoints: [entry],
    outfile: aside,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    minify: true,
    logLevel: 'error',
    external: OUTSIDE,
    banner: { js: BANNER },
  });
  renameSync(aside, outfile);
}
