// npm test: everything, on a fresh clone too. `npm test -- unit` or `-- e2e` runs a part.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, install, needNode, program, root, run, stop } from './house.mjs';

needNode();
const only = process.argv[2];
const wanted = only ? [only] : ['unit', 'e2e'];
const bin = (name) => join(root, 'node_modules', '.bin', name);
const results = join(root, '.cache');
mkdirSync(results, { recursive: true });
const failed = [];

const step = async (name, command, args) => {
  const began = Date.now();
  const { status, said } = await quietly(command, args);
  process.stdout.write(said);
  process.stdout.write(`${name}: ${status === 0 ? 'fine' : 'FAILED'} (${((Date.now() - began) / 1000).toFixed(0)} s)\n`);
  if (status !== 0) failed.push(name);
};

/** What a program says, once it has ended: several run at once. */
const quietly = (command, args) =>
  new Promise((resolve) => {
    const said = [];
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => said.push(data));
    child.on('error', () => resolve({ status: 1, said: Buffer.concat(said) }));
    child.on('close', (code) => resolve({ status: code ?? 1, said: Buffer.concat(said) }));
  });

async function chromium() {
  const there = ['/usr/bin/chromium', '/usr/bin/chromium-browser', process.env.CHROMIUM].some((path) => path && existsSync(path));
  if (there) return;
  process.stdout.write('Installing Chromium for the browser tests.\n');
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (...args) => {
    const [command, ...list] = [...sudo, 'apt-get', ...args];
    return run(command, list, { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  };
  await apt('update', '-qq');
  if ((await apt('install', '-y', '-qq', '--no-install-recommends', 'chromium')) !== 0)
    stop('Chromium could not be installed. Install it, or name one in CHROMIUM.');
}

// Chromium comes from elsewhere than the packages: both at once.
const browser = wanted.includes('e2e') ? chromium() : undefined;
const { database } = await install();
/** What needs nothing but the sources, while the application is built. */
const checks = async () => {
  if (only) return;
  await step('lint', bin('biome'), ['check', '--error-on-warnings', '.']);
  await step('types of core', bin('tsc'), ['-p', 'packages/core']);
  await step('types', bin('tsc'), ['-p', '.']);
  await step('boundaries', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', 'packages', 'apps', 'demo', 'e2e', 'benchmarks']);
};
const checking = checks();
const report = (project) => {
  const file = join(results, `${project}.json`);
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : { numPassedTests: 0, numFailedTests: 1, numPendingTests: 0 };
};
/** A project of tests that has not ended after this long hangs: it fails, and says where. */
const LIMIT_MIN = 60;
/** Runs one of vitest's projects; with `quietly`, what it says is kept until it is done. */
const vitest = (project, quietly) =>
  new Promise((resolve) => {
    const began = Date.now();
    const file = join(results, `${project}.json`);
    const underway = join(results, `${project}-underway`);
    rmSync(file, { force: true });
    const said = [];
    const reporters = ['dot', 'json', join(root, 'scripts', 'underway.mjs')].map((name) => `--reporter=${name}`);
    // In a process group of its own, so that one that hangs ends with all that it started.
    const child = spawn(bin('vitest'), ['run', '--project', project, ...reporters, `--outputFile.json=${file}`], {
      cwd: root,
      stdio: quietly ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, FORESHORE_UNDERWAY: underway },
      detached: true,
    });
    const end = () => {
      try {
        process.kill(-child.pid, 'SIGKILL');
      } catch {
        // It has ended.
      }
    };
    process.once('exit', end);
    const limit = setTimeout(() => {
      const at = existsSync(underway) ? readFileSync(underway, 'utf8') : 'nothing';
      process.stdout.write(`${project} has not ended after ${LIMIT_MIN} minutes. Under way: ${at}\n`);
      end();
    }, LIMIT_MIN * 60_000);
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (data) => said.push(data));
    child.on('exit', (code) => {
      clearTimeout(limit);
      process.off('exit', end);
      process.stdout.write(Buffer.concat(said));
      process.stdout.write(`${project}: ${code === 0 ? 'fine' : 'FAILED'} (${((Date.now() - began) / 1000).toFixed(0)} s)\n`);
      if (code !== 0) failed.push(project);
      resolve();
    });
  });
// Both at once: the unit tests wait for processes much of the time, the browser tests for the picture.
if (wanted.includes('e2e')) {
  await browser;
  await build();
}
for (const name of ['server', 'cli']) program(name);
await checking;
await database;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.once(signal, () => process.exit(1));
await Promise.all(wanted.map((project) => vitest(project, project === 'unit' && wanted.length > 1)));
const reports = wanted.map(report);
const sum = (key) => reports.reduce((total, report) => total + (report[key] ?? 0), 0);
if (failed.length) process.stdout.write(`Failed: ${failed.join(', ')}.\n`);
process.stdout.write(`${sum('numPassedTests')} passed, ${sum('numFailedTests')} failed\n`);
process.exitCode = failed.length ? 1 : 0;
