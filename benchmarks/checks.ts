/**
 * Checking a project by the command line, as a build does: sixty elements of Low Water on three routes of a minute at five viewers, and
 * how that grows with shards and with elements. A process a shard; what starting one costs is in it.
 */
import { execFile } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { type Document, groupOf, inOrder, type Route } from '@foreshore/document';
import { program } from '../scripts/house.mjs';
import type { Row } from './measure.ts';

const ROUTE_S = 60;
const ROUTES = 3;
const VIEWERS = 5;
const DEMO = 'demo/low-water.json';

/** A route that takes a minute: as often as needed there and back, so that it is walked as fast as ever. */
function aMinute(route: Route): Route {
  const lastS = route.poses.at(-1)?.timeS ?? 0;
  const poses = [];
  for (let lap = 0; lap * lastS < ROUTE_S; lap++)
    for (const pose of lap % 2 ? [...route.poses].reverse() : route.poses) {
      const timeS = lap * lastS + (lap % 2 ? lastS - pose.timeS : pose.timeS);
      if (timeS <= ROUTE_S && timeS > (poses.at(-1)?.timeS ?? -1)) poses.push({ ...pose, timeS });
    }
  return { ...route, poses };
}

/**
 * The demo with its first whole elements until there are `count`; what more is asked for is names at places along the ways.
 * @param many whether elements that stand at many nodes are among them: of the demo's first sixty they make 276.
 */
function elementsOf(low: Document, count: number, many: boolean): Document {
  const elements: Document['elements'] = {};
  const anchors = { ...low.anchors };
  const all = inOrder(low.elements);
  const rootOf = (id: string): string => {
    const element = low.elements[id];
    const group = element ? groupOf(element) : null;
    return group === null ? id : rootOf(group);
  };
  const roots = all.filter(([id]) => rootOf(id) === id);
  let left = count;
  for (const [root] of roots) {
    const family = all.filter(([id]) => rootOf(id) === root);
    const standsAtMany = family.some(([, { mount }]) => 'anchor' in mount && low.anchors[mount.anchor]?.kind === 'nodes');
    if (family.length > left || (standsAtMany && !many)) continue;
    for (const [id, element] of family) elements[id] = element;
    left -= family.length;
  }
  const label = all.find(([, one]) => one.kind === 'label' && one.mount.kind === 'floating')?.[1];
  const poses = Object.values(low.routes).flatMap((route) => route.poses);
  for (let k = 0; k < left; k++) {
    const { position } = poses[Math.floor((k * poses.length) / left)] as Route['poses'][number];
    const id = `more-${k}`;
    const side = ((k * 7) % 11) - 5;
    anchors[id] = {
      ...{ kind: 'surface', name: id, order: 'a0', node: null, normal: [0, 1, 0] },
      position: [position[0] + side, position[1] - 1 + (k % 3), position[2] - side],
    };
    if (label?.kind === 'label')
      elements[id] = { ...label, name: id, text: `Stake ${k}`, translations: {}, mount: { kind: 'floating', anchor: id } };
  }
  return { ...low, elements, anchors };
}

function projectOf(low: Document, count: number, many = false): Document {
  const routes = Object.fromEntries(
    inOrder(low.routes)
      .slice(0, ROUTES)
      .map(([id, route]) => [id, aMinute(route)]),
  );
  const screens = inOrder(low.viewers).filter(([, { kind }]) => kind !== 'headset');
  return {
    ...elementsOf(low, count, many),
    routes,
    viewers: Object.fromEntries(screens.slice(0, VIEWERS)),
    languages: [],
    opening: undefined,
  };
}

const run = promisify(execFile);

export async function checkRows(): Promise<Row[]> {
  await program('cli');
  const low = JSON.parse(readFileSync(DEMO, 'utf8')) as Document;
  const folder = mkdtempSync(join(tmpdir(), 'foreshore-checks-'));
  const file = join(folder, 'project.json');
  const checked = async (document: Document, jobs: number): Promise<{ ms: number; findings: number }> => {
    writeFileSync(file, JSON.stringify(document));
    const out = join(folder, 'run.json');
    const before = performance.now();
    // With findings it ends with 1.
    await run(process.execPath, ['apps/cli/dist/main.mjs', 'check', file, '--jobs', `${jobs}`, '--format', 'json', '--out', out]).catch(
      (error: { code?: number }) => {
        if (error.code !== 1) throw error;
      },
    );
    const ms = performance.now() - before;
    const { results } = JSON.parse(readFileSync(out, 'utf8')) as { results: { found: unknown[] }[] };
    return { ms, findings: results.reduce((sum, { found }) => sum + found.length, 0) };
  };
  try {
    copyFileSync('demo/low-water.glb', join(folder, low.level?.file ?? 'low-water.glb'));
    const sixty = projectOf(low, 60);
    const parts = ROUTES * VIEWERS;
    const cores = availableParallelism();
    const rows: Row[] = [];
    const alone = await checked(sixty, 1);
    for (const jobs of [1, 2, 4]) {
      const { ms, findings } = jobs === 1 ? alone : await checked(sixty, jobs);
      rows.push({ name: 'check against one shard', n: jobs, medianMs: ms, ratio: ms / alone.ms, elements: 60, parts, cores, findings });
    }
    const { ms, findings } = await checked(projectOf(low, 60, true), 1);
    rows.push({
      name: 'check of sixty that stand at many places',
      n: 60,
      medianMs: ms,
      ratio: ms / alone.ms,
      elements: 60,
      parts,
      cores,
      findings,
    });
    // One part of them: what grows is the work within it.
    const one = async (count: number) => {
      const whole = projectOf(low, count);
      const first = <T>(of: Record<string, T>): Record<string, T> => Object.fromEntries(Object.entries(of).slice(0, 1));
      return checked({ ...whole, routes: first(whole.routes), viewers: first(whole.viewers) }, 1);
    };
    const few = await one(30);
    for (const count of [60, 240, 1000, 2000]) {
      const { ms, findings } = await one(count);
      rows.push({ name: 'check of a part against 30 elements', n: count, medianMs: ms, ratio: ms / few.ms, parts: 1, cores, findings });
    }
    return rows;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
