/** `foreshore project`: world points to screen points, through the same lens as everything else. */
import { readFileSync } from 'node:fs';
import { projectionOf, projector } from '@foreshore/core';
import { lensSchema } from '@foreshore/document';
import { z } from 'zod';
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

function readPoints(file: string): [number, number, number][] {
  let text: string;
  try {
    text = readFileSync(file === '-' ? 0 : file, 'utf8');
  } catch (error) {
    throw new UsageError(`--points: ${(error as Error).message}`);
  }
  const lines = text.replace(/^\uFEFF/, '').split(/\r?\n/);
  const header = lines[0]?.split(',').map((h) => h.trim().toLowerCase());
  if (header?.join() !== 'x,y,z') throw new UsageError(`line 1: the header is "${lines[0] ?? ''}"; it must be "x,y,z"`);
  const points: [number, number, number][] = [];
  lines.slice(1).forEach((line, i) => {
    if (line.trim() === '') {
      if (lines.slice(i + 2).every((rest) => rest.trim() === '')) return;
      throw new UsageError(`line ${i + 2}: is empty`);
    }
    const cells = line.split(',').map((cell) => cell.trim());
    const numbers = cells.map((cell) => (cell === '' || !/^[-+]?(\d|\.\d)[\d.eE+-]*$/.test(cell) ? Number.NaN : Number(cell)));
    if (numbers.length !== 3 || !numbers.every(Number.isFinite))
      throw new UsageError(`line ${i + 2}: "${line}" is not three finite numbers`);
    points.push(numbers as [number, number, number]);
  });
  return points;
}

export function projectCommand({ lens, pose, points }: { lens: string; pose: string; points: string }): string {
  const project = projector(readLens(lens), parsePose(pose));
  const rows = readPoints(points).map(([x, y, z]) => {
    const p = project(x, y, z);
    return `${p.inFront ? p.x : ''},${p.inFront ? p.y : ''},${p.depthM},${p.inFront},${p.inFrame}`;
  });
  return `${['x,y,depthM,inFront,inFrame', ...rows].join('\n')}\n`;
}
