/**
 * npm run build:runtime: the runtime and its add-ons as ES modules without dependencies, from the sources of the bench. Prints the size
 * of each, packed as servers send it. Functions of parts that not every bundle needs are left out of the runtime itself, and put in by
 * the modules of these parts.
 */
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { gzipSync } from 'node:zlib';
import { root, upToDate } from '../../scripts/house.mjs';

const here = dirname(fileURLToPath(import.meta.url));
const require = createRequire(import.meta.url);
const { build } = require('esbuild');
const { minify } = require('terser');

/** What stands in for a source file of the core where its part is not given: each function, and what it does then. */
const ABSENT = {
  'core/src/steps/apart.ts': { keepApart: '() => {}' },
  'core/src/steps/trail.ts': { trail: '() => {}', isOnItsWay: '() => false' },
  'core/src/steps/span.ts': { runSpans: '() => {}' },
  'core/src/screen-length.ts': { takeScreenLengths: '() => {}' },
  'core/src/steps/form.ts': { decideDetail: '() => {}', runForms: '() => 0' },
  'core/src/steps/gather.ts': { gather: '() => {}' },
  'core/src/directions.ts': { moveDirections: '() => {}' },
  'core/src/steady.ts': { steadyAnchors: '() => {}' },
  'core/src/steps/snap.ts': { snapAtRest: '() => {}' },
  'core/src/crosshair-tool.ts': { findTool: '() => {}' },
  'core/src/crosshair-share.ts': { sizeByShare: '() => {}' },
  'core/src/motions.ts': { moveMotions: '() => {}', placeLeaving: '() => {}' },
  // A bundle has its rows for headsets made already.
  'core/src/headset.ts': { withHudOnPanel: '(rows) => rows' },
};
const standIn = (source, functions) =>
  [
    // What else the file has is used by add-ons, which bring it themselves.
    ...[...source.matchAll(/^export (?:function|const) (\w+)/gm)]
      .filter(([, name]) => !(name in functions))
      .map(([, name]) => `export const ${name} = null;`),
    `import { hooks } from ${JSON.stringify(join(here, 'src', 'parts.ts'))};`,
    ...Object.entries(functions).map(([name, does]) => `export let ${name} = ${does};`),
    `hooks.push((given) => { ${Object.keys(functions)
      .map((name) => `if (given.${name}) ${name} = given.${name};`)
      .join(' ')} });`,
  ].join('\n');
export const withoutParts = {
  name: 'without-parts',
  setup({ onLoad }) {
    for (const [file, functions] of Object.entries(ABSENT))
      onLoad({ filter: new RegExp(`${file.replaceAll('.', '\\.')}$`) }, ({ path }) => ({
        contents: standIn(readFileSync(path, 'utf8'), functions),
        loader: 'js',
      }));
  },
};

const MODULES = [
  ['foreshore-runtime', 'index', [withoutParts]],
  ['foreshore-whole', 'whole', []],
  ['foreshore-apart', 'part-apart', []],
  ['foreshore-trailing', 'part-trailing', []],
  ['foreshore-motions', 'part-motions', []],
  ['foreshore-measure', 'part-measure', []],
  ['foreshore-many', 'part-many', []],
  ['foreshore-directions', 'part-directions', []],
  ['foreshore-calm', 'part-calm', []],
  ['foreshore-tool', 'part-tool', []],
  ['foreshore-canvas', 'canvas', []],
  ['foreshore-boxes', 'boxes', []],
  ['foreshore-use', 'use', []],
  ['foreshore-connect', 'connect', []],
  ['foreshore-letters', 'letters', []],
  ['foreshore-level', 'read-level', []],
];

/** Builds all modules into a folder; gives the bytes of each, plain and packed. */
export async function buildRuntime(out = join(here, 'dist')) {
  mkdirSync(out, { recursive: true });
  const sizes = {};
  for (const [name, entry, plugins] of MODULES) {
    const { outputFiles } = await build({
      entryPoints: [join(here, 'src', `${entry}.ts`)],
      bundle: true,
      format: 'esm',
      target: 'es2022',
      platform: 'browser',
      write: false,
      logLevel: 'error',
      // Shorter to write, and the same numbers.
      define: { 'Number.POSITIVE_INFINITY': 'Infinity', 'Number.NaN': 'NaN' },
      external: ['node:*', 'module', 'fs', 'path', 'url'],
      plugins,
    });
    const { code } = await minify(outputFiles[0].text, {
      module: true,
      ecma: 2020,
      // Functions that are put into one another keep more numbers on the heap: measured, 1.1 kB a frame instead of nothing.
      compress: { passes: 3, inline: 1, reduce_funcs: false, pure_getters: true },
    });
    writeWhole(join(out, `${name}.js`), code);
    sizes[name] = { bytes: Buffer.byteLength(code), gzipped: gzipSync(code, { level: 9 }).length };
  }
  // The shaper finds its machine beside itself.
  writeWhole(join(out, 'harfbuzz.wasm'), readFileSync(join(dirname(require.resolve('harfbuzzjs')), 'harfbuzz.wasm')));
  return sizes;
}

/** Another process, or another thread of this one, may be reading what stands there, or writing it, too. */
function writeWhole(file, content) {
  const draft = `${file}.${randomUUID()}`;
  writeFileSync(draft, content);
  renameSync(draft, file);
}

/** The built modules by their file names; built first where they are older than their sources. */
export async function runtimeModules() {
  const out = join(here, 'dist');
  // It is written last.
  if (!upToDate(join(out, 'harfbuzz.wasm'), [join(root, 'packages')])) await buildRuntime(out);
  const names = [...MODULES.map(([name]) => `${name}.js`), 'harfbuzz.wasm'];
  return Object.fromEntries(names.map((name) => [name, new Uint8Array(readFileSync(join(out, name)))]));
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) {
  const sizes = await buildRuntime();
  for (const [name, { bytes, gzipped }] of Object.entries(sizes))
    process.stdout.write(`${name}.js: ${(bytes / 1000).toFixed(1)} kB, ${(gzipped / 1000).toFixed(1)} kB gzipped\n`);
}
