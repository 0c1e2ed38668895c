/** `foreshore project`: world points to screen points, through the same lens as everything else. */
import { createReadStream, statSync } from 'node:fs';
import { projectionOf, projector } from '@foreshore/core';
import { lensSchema } from '@foreshore/document';
import * as z from 'zod';
import { parsePose } from './pose.ts';
import { UsageError } from './usage.ts';

const size = z.object({ width: z.number().positive(), height: z.number().positive() });

/** A lens with its frame, as written on the command line. `kind`, `fovAxis`, `hold` and `designAspect` have defaults. */
function readLens(text: string) {
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch (error) {
    throw new UsageError(`--lens is not JSON: ${(error as Error).message}`);
  }
  if (typeof given !== 'object' || given === null) throw new UsageError('--lens is not a JSON object.');
  const { width, height, ...lens } = { kind: 'perspective', ...given } as Record<string, unknown>;
  const frame = size.safeParse({ width, height });
  const defaults = lens.kind === 'perspective' ? { fovAxis: 'vertical', hold: 'vertical', designAspect: null } : {};
  const parsed = lensSchema.safeParse({ ...defaults, ...lens });
  const issue = frame.error?.issues[0] ?? parsed.error?.issues[0];
  if (!frame.success || !parsed.success) throw new UsageError(`--lens: ${issue?.path.join('.') || 'kind'}: ${issue?.message}`);
  try {
    return projectionOf(parsed.data, frame.data.width, frame.data.height);
  } catch (error) {
    throw new UsageError(`--lens: ${(error as Error).message}`);
  }
}

/** No line of three numbers is longer. */
const MOST_LINE_CHARS = 4096;
/** Rows are written in pieces of about so many characters. */
const PIECE_CHARS = 64 * 1024;

/** The lines of a stream, each with its number from 1; only the one that is being read is kept. */
async function* linesOf(stream: AsyncIterable<Buffer | string>): AsyncGenerator<[line: string, number: number]> {
  const decoder = new TextDecoder();
  let rest = '';
  let number = 0;
  for await (const piece of stream) {
    rest += typeof piece === 'string' ? piece : decoder.decode(piece, { stream: true });
    const lines = rest.split(/\r?\n/);
    rest = lines.pop() ?? '';
    for (const line of lines) yield [line, ++number];
    if (rest.length > MOST_LINE_CHARS) throw new UsageError(`line ${number + 1}: is longer than ${MOST_LINE_CHARS} characters`);
  }
  if (rest !== '') yield [rest, ++number];
}

const NUMBER = /^[-+]?(\d|\.\d)[\d.eE+-]*$/;

/** The points of a CSV file, one after the other. Empty lines are taken at its end only. */
async function* pointsOf(stream: AsyncIterable<Buffer | string>): AsyncGenerator<[number, number, number]> {
  let isHeader = true;
  let empty = 0;
  for await (const [line, number] of linesOf(stream)) {
    if (isHeader) {
      const header = line.replace(/^\uFEFF/, '');
      if (
        header
          .split(',', 4)
          .map((h) => h.trim().toLowerCase())
          .join() !== 'x,y,z'
      )
        throw new UsageError(`line 1: the header is "${header.slice(0, 80)}"; it must be "x,y,z"`);
      isHeader = false;
      continue;
    }
    if (line.trim() === '') {
      empty ||= number;
      continue;
    }
    if (empty) throw new UsageError(`line ${empty}: is empty`);
    const numbers = line.split(',', 4).map((cell) => (NUMBER.test(cell.trim()) ? Number(cell) : Number.NaN));
    if (numbers.length !== 3 || !numbers.every(Number.isFinite))
      throw new UsageError(`line ${number}: "${line.slice(0, 80)}" is not three finite numbers`);
    yield numbers as [number, number, number];
  }
  if (isHeader) throw new UsageError('line 1: the header is ""; it must be "x,y,z"');
}

/**
 * The rows of the answer, in pieces. A file is gone through twice, so that a fault in it is told before anything is written; what
 * comes by standard input is kept until it has been read.
 */
export async function* projectCommand({ lens, pose, points }: { lens: string; pose: string; points: string }): AsyncGenerator<string> {
  const project = projector(readLens(lens), parsePose(pose));
  const row = ([x, y, z]: [number, number, number]): string => {
    const p = project(x, y, z);
    return `${p.inFront ? p.x : ''},${p.inFront ? p.y : ''},${p.depthM},${p.inFront},${p.inFrame}\n`;
  };
  const HEADER = 'x,y,depthM,inFront,inFrame\n';
  // What can be read once only is kept.
  const once = points === '-' || !statSync(points, { throwIfNoEntry: false })?.isFile();
  if (once) {
    const kept: Float64Array[] = [];
    let filling = new Float64Array(0);
    let at = 0;
    for await (const point of pointsOf(points === '-' ? process.stdin : readable(points))) {
      if (at === filling.length) {
        kept.push((filling = new Float64Array(3 * 32_768)));
        at = 0;
      }
      filling.set(point, at);
      at += 3;
    }
    yield HEADER;
    for (const [k, part] of kept.entries()) {
      const end = k === kept.length - 1 ? at : part.length;
      let piece = '';
      for (let i = 0; i < end; i += 3) piece += row([part[i] as number, part[i + 1] as number, part[i + 2] as number]);
      yield piece;
    }
    return;
  }
  for await (const _ of pointsOf(readable(points)));
  yield HEADER;
  let piece = '';
  for await (const point of pointsOf(readable(points))) {
    piece += row(point);
    if (piece.length < PIECE_CHARS) continue;
    yield piece;
    piece = '';
  }
  if (piece) yield piece;
}

/** A file's bytes; one that cannot be read is a fault of the call. */
async function* readable(file: string): AsyncGenerator<Buffer> {
  const pieces = createReadStream(file)[Symbol.asyncIterator]();
  for (;;) {
    const { value, done } = await pieces.next().catch((error: Error) => {
      throw new UsageError(`--points: ${error.message}`);
    });
    if (done) return;
    yield value as Buffer;
  }
}
