/** `foreshore prove`: the frames that a port must give, and what a port made of them. */
import { mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  diagnose,
  FAULT_WORDS,
  makeProof,
  OWN,
  PROOF_FORMAT,
  type Proof,
  proofCsv,
  type Results,
  readConvention,
  readResultsCsv,
  resultsSchema,
} from '@foreshore/handoff';
import { openProject, shaperOf } from './open.ts';
import { UsageError } from './usage.ts';

export interface ProveOptions {
  export?: string;
  against?: string;
  convention?: string;
  json?: boolean;
}

/** Larger files than this are no results of some dozens of frames. */
const MOST_BYTES = 64 * 1024 * 1024;
function readText(path: string): string {
  if (statSync(path).size > MOST_BYTES) throw new UsageError(`${path} is larger than results of proof frames can be.`);
  return readFileSync(path, 'utf8');
}
function readJson(path: string): unknown {
  try {
    return JSON.parse(readText(path));
  } catch (error) {
    if (error instanceof SyntaxError) throw new UsageError(`${path} is no JSON: ${error.message}.`);
    throw error;
  }
}

function resultsAt(path: string): Results {
  if (/\.csv$/i.test(path)) return readResultsCsv(readText(path));
  const read = resultsSchema.safeParse(readJson(path));
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new UsageError(`${path}, at /${issue?.path.join('/')}: ${issue?.message}. Results are written as the proof's own frames are.`);
}

/** Proof frames that were exported, or those of a project. */
async function proofOf(file: string, convention: string | undefined): Promise<Proof> {
  if (/\.json$/i.test(file)) {
    const json = readJson(file) as { format?: unknown };
    if (json?.format === PROOF_FORMAT) {
      if (convention !== undefined) throw new UsageError('The proof frames have their convention already; --convention is for a project.');
      const { frames, convention: own } = json as Partial<Proof>;
      const whole =
        Array.isArray(frames) &&
        frames.every((frame) => typeof frame?.id === 'string' && frame.points && frame.elements && frame.camera && frame.screen);
      if (!whole) throw new UsageError(`${file} is not whole: its frames are not as they were exported. Export them again.`);
      readConvention(JSON.stringify(own ?? null));
      return json as Proof;
    }
  }
  const project = await openProject(file);
  const { document, level } = project;
  const chosen = convention === undefined ? (document.convention ?? OWN) : readConvention(readFileSync(convention, 'utf8'));
  return makeProof(document, level, shaperOf(project), chosen);
}

const MOST_TOLD = 20;

export async function proveCommand(file: string, options: ProveOptions): Promise<{ out: string; status: 0 | 1 }> {
  if ((options.export === undefined) === (options.against === undefined))
    throw new UsageError('Say one of --export FOLDER and --against RESULTS.');
  const proof = await proofOf(file, options.convention);
  if (options.export !== undefined) {
    mkdirSync(options.export, { recursive: true });
    writeFileSync(join(options.export, 'proof.json'), `${JSON.stringify(proof, null, 1)}\n`);
    writeFileSync(join(options.export, 'proof.csv'), proofCsv(proof));
    const points = proof.frames.reduce((sum, frame) => sum + Object.keys(frame.points).length, 0);
    return {
      out: `${options.export} holds ${proof.frames.length} frames with ${points} points, as proof.json and proof.csv.\n`,
      status: 0,
    };
  }
  const verdict = diagnose(proof, resultsAt(options.against as string));
  const { compared, different, missing, fault, alsoPossible, first, frames, elementsCompared, elementsDifferent } = verdict;
  const status = different + missing.length + elementsDifferent.length > 0 || compared === 0 ? 1 : 0;
  if (options.json) return { out: `${JSON.stringify({ ...verdict, because: fault && FAULT_WORDS[fault] }, null, 2)}\n`, status };
  const lines = [`${compared} points compared, ${different} differ, in ${frames.length} frames.`];
  if (elementsCompared) lines.push(`${elementsCompared} elements compared, ${elementsDifferent.length} differ.`);
  if (missing.length)
    lines.push(
      `Missing: ${missing.slice(0, MOST_TOLD).join(', ')}${missing.length > MOST_TOLD ? ` and ${missing.length - MOST_TOLD} more` : ''}.`,
    );
  if (first) {
    const by = first.byPx === null ? 'one of the two has no place' : `${first.byPx.toPrecision(3)} px apart`;
    lines.push(`First: ${first.frame}, ${first.point}: ${by}.`);
    lines.push(fault ? FAULT_WORDS[fault] : 'No known fault explains all of it.');
    if (alsoPossible.length) lines.push(`As well possible: ${alsoPossible.map((one) => FAULT_WORDS[one]).join(' ')}`);
  }
  for (const { frame, element, says } of elementsDifferent.slice(0, MOST_TOLD)) lines.push(`${frame}, ${element} ${says}.`);
  return { out: `${lines.join('\n')}\n`, status };
}
