/** `foreshore validate`: every fault of a document, a project file or a level, a line each. */
import { readdirSync, readFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { DocumentError, readDocument } from '@foreshore/document';
import { checkProject } from '@foreshore/intake';
import { LevelError, type LevelFault, packLevel } from '@foreshore/level';
import { checkLevel } from '@foreshore/level/check';
import { isProjectFile } from './open.ts';

interface Report {
  faults: { pointer: string; message: string }[];
  warnings: LevelFault[];
}

async function judge(path: string): Promise<Report> {
  const bytes = new Uint8Array(readFileSync(path));
  if (isProjectFile(path)) {
    const { level } = await checkProject(bytes, true);
    return { faults: [], warnings: level?.warnings ?? [] };
  }
  if (/\.(glb|gltf)$/i.test(path)) {
    // What a .gltf names may lie beside it or in folders below.
    const folder = dirname(path);
    const beside = /\.gltf$/i.test(path)
      ? readdirSync(folder, { recursive: true, withFileTypes: true })
          .filter((entry) => entry.isFile() && !/\.(glb|gltf)$/i.test(entry.name))
          .map((entry) => join(entry.parentPath, entry.name))
          .filter((name) => /\.(bin|png|jpe?g|webp|ktx2)$/i.test(name))
      : [];
    const files = [
      { name: basename(path), bytes },
      ...beside.map((name) => ({ name: name.slice(folder.length + 1), bytes: new Uint8Array(readFileSync(name)) })),
    ];
    return { faults: [], warnings: (await checkLevel(packLevel(files).bytes, { aside: true })).warnings };
  }
  readDocument(new TextDecoder().decode(bytes));
  return { faults: [], warnings: [] };
}

/** Lines for standard output and standard error, and the exit status. */
export async function validateCommand(path: string): Promise<{ out: string; err: string; status: 0 | 1 }> {
  let report: Report;
  try {
    report = await judge(path);
  } catch (error) {
    if (error instanceof DocumentError || error instanceof LevelError) report = { faults: [...error.faults], warnings: [] };
    else throw error;
  }
  const line = (fault: { pointer: string; message: string }) =>
    `${fault.pointer || '(whole file)'}: ${fault.message.replaceAll('\n', ' ')}\n`;
  const err = report.warnings.map((warning) => `warning: ${line(warning)}`).join('');
  return { out: report.faults.map(line).join(''), err, status: report.faults.length ? 1 : 0 };
}
