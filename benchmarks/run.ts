/** npm run benchmark: what the calculation costs, as ratios within one run. `--json` prints the rows; a name picks one part. */
import { benchViewRows } from './bench-view.ts';
import { checkRows } from './checks.ts';
import { glassRows } from './glass.ts';
import { boundRows, labelRows, studyRows } from './labels.ts';
import { largeRows } from './large.ts';
import type { Row } from './measure.ts';
import { panelRows } from './panels.ts';
import { promptRows } from './prompts.ts';
import { runtimeRows } from './runtime.ts';
import { sightlineRows } from './sightlines.ts';
import { solveRows } from './solve.ts';
import { walkingRows } from './walking.ts';

const PARTS: Record<string, () => Row[] | Promise<Row[]>> = {
  solve: () => solveRows(),
  glass: () => glassRows(),
  sightlines: sightlineRows,
  panels: () => panelRows(),
  labels: () => [...studyRows(), ...labelRows()],
  bounds: boundRows,
  prompts: promptRows,
  runtime: () => runtimeRows(),
  checks: checkRows,
  bench: benchViewRows,
  walking: walkingRows,
  large: largeRows,
};

const args = process.argv.slice(2);
// A part is asked for by its name, with or without dashes.
const asked = args.filter((arg) => arg !== '--json').map((arg) => arg.replace(/^--/, ''));
const unknown = asked.find((name) => !(name in PARTS));
if (unknown) {
  process.stderr.write(`There is no benchmark "${unknown}"; there are ${Object.keys(PARTS).join(', ')}.\n`);
  process.exit(2);
}
const rows: Row[] = [];
for (const name of asked.length ? asked : Object.keys(PARTS)) rows.push(...((await PARTS[name]?.()) ?? []));
if (args.includes('--json')) process.stdout.write(`${JSON.stringify(rows, null, 1)}\n`);
else
  for (const { name, n, medianMs, ratio, ...more } of rows) {
    const figures = Object.entries(more).map(
      ([key, value]) => `${key} ${typeof value === 'number' ? Number(value.toPrecision(4)) : value}`,
    );
    process.stdout.write(
      [`${name}, n = ${n}: ${medianMs.toPrecision(4)} ms`, ...(ratio === null ? [] : [`${ratio.toFixed(2)} times`]), ...figures].join(', '),
    );
    process.stdout.write('\n');
  }
