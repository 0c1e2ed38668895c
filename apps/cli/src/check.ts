/** `foreshore check`: measures a project over routes, viewers and languages, by itself or in shards, and tells what it found in the forms that builds read. */
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { closeSync, mkdtempSync, openSync, readFileSync, readSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import {
  acceptanceOf,
  arrangedFor,
  beginRun,
  type CheckPart,
  type CheckRun,
  checkPart,
  checkParts,
  chosenOf,
  compareRuns,
  type Finding,
  findingsOf,
  type GatheredEffect,
  gatherEffects,
  MomentsKept,
  mergeRuns,
  partsMissing,
  partsToCompare,
  routeEffects,
  type State,
} from '@foreshore/checks';
import { compile, routeDurationS } from '@foreshore/core';
import type { Document, Route } from '@foreshore/document';
import * as z from 'zod';
import { comparison, FORMATS, type Format, type Report, sideEffects } from './check-formats.ts';
import { picturesOf } from './check-pictures.ts';
import { isProjectFile, type Opened, openProject, shaperOf } from './open.ts';
import { UsageError } from './usage.ts';

export interface CheckOptions {
  routes?: string;
  viewers?: string;
  languages?: string;
  variants?: string;
  baseline?: string;
  failOn?: string;
  format: string;
  out?: string;
  shard?: string;
  jobs?: string;
  merge?: boolean;
  project?: string;
}

const list = (text: string | undefined): string[] | undefined => text?.split(',').map((one) => one.trim());
const FAIL_ON = ['new', 'worse', 'any'] as const;
type FailOn = (typeof FAIL_ON)[number];

/** Shards are written by hand by nobody, but they come from elsewhere. */
const runSchema = z.object({
  format: z.literal('foreshore-check'),
  version: z.literal(1),
  project: z.string(),
  document: z.string(),
  names: z.record(z.string(), z.string()),
  groups: z.record(z.string(), z.string().nullable()),
  parts: z.array(z.object({ route: z.string(), viewer: z.string(), language: z.string(), variant: z.string().optional() })),
  results: z.array(
    z.object({
      ...{ route: z.string(), viewer: z.string(), language: z.string(), variant: z.string().optional(), durationS: z.number() },
      shown: z.record(z.string(), z.object({ forS: z.number(), hiddenBy: z.string().nullable() })),
      found: z.array(
        z.looseObject({
          kind: z.string(),
          element: z.string(),
          atS: z.number(),
          forS: z.number(),
          value: z.number(),
          bound: z.number(),
          unit: z.string(),
        }),
      ),
    }),
  ),
  untranslated: z.array(z.object({ element: z.string(), language: z.string() })),
  offered: z
    .object({
      phases: z.array(z.object({ id: z.string(), name: z.string() })),
      actions: z.array(z.object({ id: z.string(), name: z.string(), senders: z.array(z.string()) })),
    })
    .optional(),
});
const MOST_BYTES = 256 * 1024 * 1024;

function readRun(path: string): CheckRun {
  if (statSync(path).size > MOST_BYTES) throw new UsageError(`${path} is larger than the results of a check can be.`);
  let json: unknown;
  try {
    json = JSON.parse(readFileSync(path, 'utf8'));
  } catch (error) {
    if (error instanceof SyntaxError) throw new UsageError(`${path} is no JSON: ${error.message}.`);
    throw error;
  }
  const read = runSchema.safeParse(json);
  if (read.success) return json as CheckRun;
  const [issue] = read.error.issues;
  throw new UsageError(`${path}, at /${issue?.path.join('/')}: ${issue?.message}. The results of \`check --format json\` are meant.`);
}

/** Added to each part's length, so that many short routes are not taken for nothing. Any number gives the same joined result. */
const BEGIN_S = 5;
/** Which parts a shard measures: a stretch of them, as long as those of the others in time, so that what parts of one route share is found once. */
function shardOf({ routes }: Document, parts: readonly CheckPart[], shard: string | undefined): CheckPart[] {
  if (shard === undefined) return [...parts];
  const [, index = '', of = ''] = /^(\d+)\/(\d+)$/.exec(shard) ?? [];
  const [i, n] = [Number(index), Number(of)];
  if (!(i >= 1 && i <= n)) throw new UsageError(`--shard takes I/N with I from 1 to N, not "${shard}".`);
  const lengths = parts.map(({ route }) => BEGIN_S + routeDurationS(routes[route] as Route));
  const whole = lengths.reduce((sum, s) => sum + s, 0);
  let before = 0;
  return parts.filter((_, k) => {
    const middle = before + (lengths[k] as number) / 2;
    before += lengths[k] as number;
    return Math.min(n - 1, Math.floor((middle / whole) * n)) === i - 1;
  });
}

function chosenParts(document: Document, options: CheckOptions): CheckPart[] {
  if (Object.keys(document.routes).length === 0) throw new UsageError('The project has no route: there is nothing to check along.');
  const [routes, viewers, languages, variants] = [options.routes, options.viewers, options.languages, options.variants].map(list);
  try {
    // What is named goes before what the project chooses.
    return checkParts(document, {
      ...chosenOf(document),
      ...(routes && { routes }),
      ...(viewers && { viewers }),
      ...(languages && { languages }),
      ...(variants && { variants }),
    });
  } catch (error) {
    if (error instanceof RangeError) throw new UsageError(error.message);
    throw error;
  }
}

const digestOf = ({ document }: Opened): string => createHash('sha256').update(JSON.stringify(document)).digest('hex');
const runOf = (project: Opened, parts: CheckPart[]): CheckRun => beginRun(project.document, digestOf(project), parts);

function measure(project: Opened, run: CheckRun, parts: readonly CheckPart[]): CheckRun {
  const { document, level } = project;
  const text = shaperOf(project);
  const compiled = compile(document, level);
  const moments = new MomentsKept();
  const results = parts.map((part) => {
    return checkPart(document, arrangedFor(compiled, part, text), part, moments);
  });
  return { ...run, results };
}

/** Other processes that measure shards. */
interface Shards {
  /** @throws UsageError where one of them does. */
  results(): Promise<CheckRun[]>;
  /** Ends those that still run, and removes what they wrote. */
  end(): void;
}
/** Begins all shards but the first, a process each. */
function beginShards(file: string, jobs: number, options: CheckOptions): Shards {
  const folder = mkdtempSync(join(tmpdir(), 'foreshore-check-'));
  const pass = (['routes', 'viewers', 'languages', 'variants'] as const).flatMap((name) =>
    options[name] === undefined ? [] : [`--${name}`, options[name] as string],
  );
  const children = Array.from({ length: jobs - 1 }, (_, k) => {
    const out = join(folder, `${k}.json`);
    const shard = `${k + 2}/${jobs}`;
    const child = spawn(
      process.execPath,
      [process.argv[1] as string, 'check', file, ...pass, '--shard', shard, '--format', 'json', '--out', out],
      { stdio: ['ignore', 'ignore', 'pipe'] },
    );
    let said = '';
    child.stderr.on('data', (data: Buffer) => {
      said += data.toString();
    });
    const result = new Promise<CheckRun>((resolve, reject) => {
      child.on('error', reject);
      child.on('exit', (code) =>
        code === 0 || code === 1 ? resolve(readRun(out)) : reject(new UsageError(said.trim() || `A job ended with ${code}.`)),
      );
    });
    // Whoever asks for the results hears of it.
    result.catch(() => {});
    return { child, result };
  });
  return {
    results: () => Promise.all(children.map(({ result }) => result)),
    end: () => {
      for (const { child } of children) if (child.exitCode === null) child.kill();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** Measures a project, in several processes where that is asked: this one has the first share. */
async function measured(file: string, jobs: number, options: CheckOptions): Promise<{ project: Opened; run: CheckRun }> {
  let shards: Shards | null = null;
  let count = 1;
  try {
    // The others need not wait for this one to read the level.
    const project = await openProject(file, (document) => {
      count = Math.min(jobs, Math.max(1, chosenParts(document, options).length));
      if (count > 1) shards = beginShards(file, count, options);
    });
    const all = runOf(project, chosenParts(project.document, options));
    const own = measure(project, all, shardOf(project.document, all.parts, count > 1 ? `1/${count}` : options.shard));
    const others = await (shards as Shards | null)?.results();
    return { project, run: others ? mergeRuns([own, ...others]) : own };
  } finally {
    (shards as Shards | null)?.end();
  }
}

function failing(findings: readonly Finding[], before: readonly Finding[] | null, failOn: FailOn): Finding[] {
  if (!before || failOn === 'any') return [...findings];
  const { fresh, worse } = compareRuns(before, findings);
  return failOn === 'new' ? fresh : [...fresh, ...worse];
}

/** @param files the project; with --merge, the results of shards. */
export async function checkCommand(files: readonly string[], options: CheckOptions): Promise<{ out: string; status: 0 | 1 }> {
  if (!(options.format in FORMATS)) throw new UsageError(`--format takes ${Object.keys(FORMATS).join(', ')}, not "${options.format}".`);
  const failOn = (options.failOn ?? (options.baseline ? 'new' : 'any')) as FailOn;
  if (!FAIL_ON.includes(failOn)) throw new UsageError(`--fail-on takes ${FAIL_ON.join(', ')}, not "${options.failOn}".`);
  if (failOn !== 'any' && !options.baseline) throw new UsageError(`--fail-on ${failOn} needs a --baseline to compare with.`);
  const jobs = Number(options.jobs ?? 1);
  if (!Number.isInteger(jobs) || jobs < 1 || jobs > 64) throw new UsageError('--jobs takes a number from 1 to 64.');
  const baseline = options.baseline === undefined ? null : readRun(options.baseline);
  let run: CheckRun;
  let project: Opened | null = null;
  const [file] = files;
  if (options.merge) {
    try {
      run = mergeRuns(files.map(readRun));
    } catch (error) {
      if (error instanceof RangeError) throw new UsageError(error.message);
      throw error;
    }
    if (options.project !== undefined) {
      project = await openProject(options.project);
      if (digestOf(project) !== run.document) throw new UsageError(`${options.project} is not, or no longer, what was measured.`);
    }
    const missing = partsMissing(run);
    if (missing.length)
      throw new UsageError(`${missing.length} parts were measured by no shard, ${missing[0]?.route} at ${missing[0]?.viewer} for one.`);
  } else {
    if (options.project !== undefined) throw new UsageError('--project is for --merge: a check has its project.');
    if (files.length !== 1 || file === undefined) throw new UsageError('check takes one project; several files are for --merge.');
    ({ project, run } = await measured(file, options.shard === undefined ? jobs : 1, options));
  }
  if (baseline && baseline.project !== run.project)
    throw new UsageError(`The baseline is of "${baseline.project}", this project is "${run.project}".`);
  // A shard does not know the whole: what is never shown is told by whoever puts all together.
  const findings = options.shard === undefined ? findingsOf(run) : [];
  const before = baseline && findingsOf(baseline);
  const failed = failing(findings, before, failOn).filter((finding) => acceptanceOf(run, finding) === null);
  const report: Report = {
    run,
    findings,
    failed,
    compared: before && compareRuns(before, findings),
    file: options.merge ? run.project : basename(file as string),
  };
  const text =
    options.format === 'html' && project
      ? FORMATS.html({ ...report, pictures: picturesOf(project, run, findings) })
      : FORMATS[options.format as Format](report);
  const status = failed.length > 0 ? 1 : 0;
  if (options.out === undefined) return { out: text, status };
  writeFileSync(options.out, text);
  return { out: '', status };
}

/** How the results of a check begin. */
const RESULTS = /^\s*\{\s*"format"\s*:\s*"foreshore-check"/;
/** Enough of a file to see that. */
const HEAD_BYTES = 256;
function isResults(path: string): boolean {
  if (isProjectFile(path)) return false;
  const head = Buffer.alloc(HEAD_BYTES);
  const file = openSync(path, 'r');
  try {
    return RESULTS.test(head.toString('utf8', 0, readSync(file, head, 0, HEAD_BYTES, 0)));
  } finally {
    closeSync(file);
  }
}

/** The results of a check, or a project, which is measured. */
async function runAt(path: string): Promise<{ run: CheckRun; project: Opened | null }> {
  if (isResults(path)) return { run: readRun(path), project: null };
  const project = await openProject(path);
  const all = runOf(project, chosenParts(project.document, { format: 'json' }));
  return { run: measure(project, all, all.parts), project };
}

/** What is another along the routes at elements that nobody edited. */
function effectsBetween(was: Opened, now: Opened): GatheredEffect[] {
  const moments = new MomentsKept();
  const [before, after] = [was, now].map((project) => ({
    document: project.document,
    compiled: compile(project.document, project.level),
    text: shaperOf(project),
  }));
  const stateAt = ({ document, compiled, text }: NonNullable<typeof before>, part: CheckPart): State => ({
    ...{ document, moments },
    arranged: arrangedFor(compiled, part, text),
  });
  const results = partsToCompare(was.document, now.document).parts.map((part) => {
    const route = now.document.routes[part.route] as Document['routes'][string];
    return { ...part, effects: before && after ? routeEffects(stateAt(before, part), stateAt(after, part), route) : [] };
  });
  return gatherEffects(now.document, results);
}

/**
 * Two checks, or two projects: what came, went, got worse or better; of projects also what is another at elements that nobody edited. The
 * status is 1 where something is new or worse that nobody has accepted.
 */
export async function compareCommand(before: string, after: string, json: boolean): Promise<{ out: string; status: 0 | 1 }> {
  const [was, is] = [await runAt(before), await runAt(after)];
  for (const [path, { run }] of [
    [before, was],
    [after, is],
  ] as const)
    if (partsMissing(run).length > 0) throw new UsageError(`${path} is of one shard; put all of them together with check --merge first.`);
  const compared = compareRuns(findingsOf(was.run), findingsOf(is.run));
  const effects = was.project && is.project && effectsBetween(was.project, is.project);
  const fails = [...compared.fresh, ...compared.worse].some((finding) => acceptanceOf(is.run, finding) === null);
  const out = json
    ? `${JSON.stringify({ ...compared, ...(effects && { effects }) }, null, 1)}\n`
    : comparison(compared, was.run, is.run) + (effects ? sideEffects(effects, is.run) : '');
  return { out, status: fails ? 1 : 0 };
}
