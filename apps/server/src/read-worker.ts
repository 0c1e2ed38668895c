/**
 * Reads what users bring, away from the thread that answers requests: checks it, keeps its files, and says what they are. A file
 * that takes too long or too much ends this worker and nothing else.
 */
import { parentPort, workerData } from 'node:worker_threads';
import {
  arrangedFor,
  type CheckPart,
  checkPart,
  haveHappened,
  MomentsKept,
  type PartResult,
  routeEffects,
  type State,
} from '@foreshore/checks';
import { type Arranged, type Compiled, compile, type TextShaper } from '@foreshore/core';
import { type Document, DocumentError, PictureError, type Route } from '@foreshore/document';
import { ExportError, exportFiles, gltfWith, makeProof, OWN, runtimeModules, sheetOf } from '@foreshore/handoff';
import { checkFont, checkPicture, checkProject, packPage, sha256 } from '@foreshore/intake';
import { LevelError, type LevelModel, PREPARED_VERSION, readLevel } from '@foreshore/level';
import { type CheckedLevel, checkLevel, type LevelStage } from '@foreshore/level/check';
import { preparedBytes } from '@foreshore/level/prepare';
import { keepFile, keepPrepared, readKept } from '@foreshore/storage';
import { FontError } from '@foreshore/text';
import { projectShaper } from '@foreshore/text/node';
import { zipSync } from 'fflate';
import type { Job, KeptFile, Refused, WorkerAnswer } from './readers.ts';

const { folder } = workerData as { folder: string };

async function keep(kind: KeptFile['kind'], hash: string, bytes: Uint8Array, fileName: string, facts: object): Promise<KeptFile> {
  await keepFile(folder, hash, bytes);
  return { kind, hash, fileName, size: bytes.byteLength, facts };
}

const keepLevel = (checked: Awaited<ReturnType<typeof checkLevel>>, hash: string, fileName: string) => {
  const { bytes, warnings, size, nodes, triangles, asksUnit } = checked;
  return keep('level', hash, bytes, fileName, { warnings, size, nodes, triangles, asksUnit });
};

async function prepare(model: LevelModel, level: { hash: string; metresPerUnit: number; upAxis: 'y' | 'z' }): Promise<void> {
  await keepPrepared(folder, { ...level, version: PREPARED_VERSION }, await preparedBytes(model));
}

/** While it is read anyway; where that fails it is kept all the same, and prepared when it is opened. */
async function prepareNow({ model }: CheckedLevel, hash: string): Promise<void> {
  tell('prepare');
  await prepare(model, { hash, metresPerUnit: 1, upAxis: 'y' }).catch(() => {});
}

const JOBS: { [K in Job['kind']]: (job: Extract<Job, { kind: K }>) => Promise<WorkerAnswer> } = {
  level: async ({ bytes, fileName }) => {
    const checked = await checkLevel(bytes, {}, tell);
    const hash = sha256(checked.bytes);
    const files = [await keepLevel(checked, hash, fileName)];
    await prepareNow(checked, hash);
    return { files };
  },
  prepare: async ({ hash, metresPerUnit, upAxis }) => {
    const bytes = await readKept(folder, hash);
    if (!bytes) throw Object.assign(new Error('The level is not on the disk.'), { code: 'ENOENT' });
    await prepare(await readLevel(bytes, { metresPerUnit, upAxis }), { hash, metresPerUnit, upAxis });
    return { files: [] };
  },
  check: async (job) => ({ files: [], results: await check(job) }),
  compare: async (job) => ({ files: [], ...(await compare(job)) }),
  leaving: async (job) => ({ files: [], bytes: await leave(job) }),
  picture: async ({ bytes, fileName }) => {
    const { type, widthPx, heightPx, hash } = checkPicture(bytes, fileName);
    return { files: [await keep('picture', hash, bytes, fileName, { type, widthPx, heightPx })] };
  },
  page: async ({ bytes: brought, fileName }) => {
    const { bytes, ...facts } = packPage(brought);
    return { files: [await keep('picture', sha256(bytes), bytes, fileName, facts)] };
  },
  font: async ({ bytes, fileName }) => {
    const { family, weight, hash, bytes: plain } = await checkFont(bytes, fileName);
    return { files: [await keep('font', hash, plain, fileName, { family, weight })] };
  },
  project: async ({ bytes }) => {
    const { document, level, pictures, fonts } = await checkProject(bytes);
    const files: KeptFile[] = [];
    for (const { bytes, hash, fileName, type, widthPx, heightPx } of pictures)
      files.push(await keep('picture', hash, bytes, fileName, { type, widthPx, heightPx }));
    for (const { bytes, hash, fileName, family, weight } of fonts)
      files.push(await keep('font', hash, bytes, fileName, { family, weight }));
    if (level) files.push(await keepLevel(level, level.hash, level.fileName));
    return { files, document };
  },
};

/** A fixed date, so that the same project gives the same bytes. */
const STAMP = { mtime: new Date(2026, 0, 1) };

/** Shapes the texts of projects with the fonts it was made for; it keeps what it has shaped. */
let shaper: { of: string; text: TextShaper } | null = null;
/** @throws FontError where a font of the project is not kept. */
async function shaperOf({ fonts }: Document): Promise<TextShaper> {
  const of = JSON.stringify(fonts ?? {});
  if (shaper?.of === of) return shaper.text;
  const files = await keptFiles(Object.values(fonts ?? {}));
  shaper = { of, text: projectShaper(fonts, (hash) => files.get(hash)) };
  return shaper.text;
}
async function keptFiles(of: readonly { hash: string }[]): Promise<Map<string, Uint8Array>> {
  const kept = new Map<string, Uint8Array>();
  for (const { hash } of of) {
    const file = await readKept(folder, hash);
    if (file) kept.set(hash, file);
  }
  return kept;
}

/** The documents measured last, compiled, with their levels: one that is checked, or two side by side. */
let measured: { digest: string; compiled: Compiled; text: TextShaper }[] = [];
/** Of all of them: most differ in elements alone. */
const moments = new MomentsKept();
const MOST_MEASURED = 2;

async function compiledOf(document: Document, digest: string): Promise<(typeof measured)[number]> {
  const known = measured.find((one) => one.digest === digest);
  if (known) return known;
  const made = { digest, compiled: compile(document, await levelOf(document)), text: await shaperOf(document) };
  measured = [...measured.slice(1 - MOST_MEASURED), made];
  return made;
}
const arrangedOf = ({ compiled, text }: (typeof measured)[number], part: CheckPart): Arranged => arrangedFor(compiled, part, text);

async function check({ document, digest, parts }: Extract<Job, { kind: 'check' }>): Promise<PartResult[]> {
  const one = await compiledOf(document, digest);
  return parts.map((part) => checkPart(document, arrangedOf(one, part), part, moments));
}

async function compare({ was, now, digests, part, moments: asked }: Extract<Job, { kind: 'compare' }>): Promise<Partial<WorkerAnswer>> {
  const stateOf = async (document: Document, digest: string): Promise<State> => {
    const one = await compiledOf(document, digest);
    return { document, arranged: arrangedOf(one, part), moments };
  };
  // The first stays the same from question to question: asked for again, it is the last to go.
  measured.sort((a, b) => Number(a.digest === digests[0]) - Number(b.digest === digests[0]));
  const states = [await stateOf(was, digests[0]), await stateOf(now, digests[1])] as const;
  const route = now.routes[part.route] as Route;
  return asked ? { happened: haveHappened(...states, route, asked) } : { effects: routeEffects(...states, route) };
}

async function levelBytesOf({ level: of }: Document): Promise<Uint8Array | null> {
  if (!of?.hash) return null;
  const bytes = await readKept(folder, of.hash);
  if (!bytes) throw new ExportError([`The level "${of.file}" is not there.`]);
  return bytes;
}
/** The level read last: two states of a project mostly stand in one. Whoever measures places it as it is then. */
let levelRead: { of: string; model: LevelModel } | null = null;
async function levelOf(document: Document): Promise<LevelModel | null> {
  const { level } = document;
  const of = JSON.stringify([level?.hash, level?.metresPerUnit, level?.upAxis]);
  if (levelRead?.of === of) return levelRead.model;
  const bytes = await levelBytesOf(document);
  if (!bytes || !level) return null;
  levelRead = { of, model: await readLevel(bytes, level) };
  return levelRead.model;
}

async function leave({ document, what, choice }: Extract<Job, { kind: 'leaving' }>): Promise<Uint8Array> {
  const { pictures = {}, fonts = {} } = document;
  const level = await levelOf(document);
  const convention = document.convention ?? OWN;
  const json = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));
  if (what === 'proof') return json(makeProof(document, level, await shaperOf(document), convention));
  if (what === 'sheet') return json(sheetOf(document, level, await shaperOf(document), convention));
  if (what === 'gltf') return gltfWith(document, level, await levelBytesOf(document), await shaperOf(document));
  const kept = await keptFiles([...Object.values(pictures), ...Object.values(fonts)]);
  const project = { document, level, picture: (hash: string) => kept.get(hash), font: (hash: string) => kept.get(hash) };
  const files = exportFiles(project, { ...choice, ...(choice?.withRuntime && { runtime: await runtimeModules() }) });
  if (what === 'bundle') return files['bundle.json'] as Uint8Array;
  return zipSync(Object.fromEntries(Object.entries(files).map(([name, file]) => [name, [file, { level: 6, ...STAMP }]])));
}

/** Which file is being read. */
let now = 0;
const tell = (stage: LevelStage): void => parentPort?.postMessage({ id: now, stage });

/** What was wrong, as plain data; the other side makes an error of it again. */
function refusedOf(error: unknown): Refused {
  if (error instanceof DocumentError) return { of: 'document', message: error.message, faults: [...error.faults] };
  if (error instanceof LevelError) return { of: 'level', message: error.message, faults: [...error.faults] };
  if (error instanceof PictureError) return { of: 'picture', message: error.message };
  if (error instanceof ExportError) return { of: 'leaving', message: error.message };
  if (error instanceof FontError) return { of: 'font', message: error.message };
  const { message, code, stack } = error as NodeJS.ErrnoException;
  return { of: 'other', message: stack ?? message, ...(code && { code }) };
}

parentPort?.on('message', ({ id, job }: { id: number; job: Job }) => {
  now = id;
  JOBS[job.kind](job as never).then(
    (answer) => parentPort?.postMessage({ id, answer }),
    (error: unknown) => parentPort?.postMessage({ id, refused: refusedOf(error) }),
  );
});
