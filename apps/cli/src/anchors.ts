/** `foreshore anchors`: anchors read back from a level's file, wherever another program put them. */
import { readFileSync } from 'node:fs';
import { parseDocument, readProjectFile, writeProjectFile } from '@foreshore/document';
import { readAnchors, sayAnchorChange, sayAnchorsRead } from '@foreshore/handoff';
import { writeWhole } from './export.ts';
import { isProjectFile, openProject } from './open.ts';
import { UsageError } from './usage.ts';

/** @param level a level's file, as `foreshore export --to FILE.glb` wrote it, or another program did since. */
export async function anchorsCommand(file: string, level: string, { to, json }: { to?: string; json: boolean }): Promise<string> {
  if (to !== undefined && isProjectFile(to) !== isProjectFile(file))
    throw new UsageError(`${file} and ${to} are not of one form: both are documents, or both project files.`);
  const { document } = await openProject(file);
  const read = readAnchors(new Uint8Array(readFileSync(level)), document);
  if (to !== undefined) {
    const changed = parseDocument({ ...document, anchors: read.anchors });
    if (isProjectFile(file))
      writeWhole(to, writeProjectFile({ ...readProjectFile(new Uint8Array(readFileSync(file))), document: changed }));
    else writeWhole(to, new TextEncoder().encode(`${JSON.stringify(changed, null, 2)}\n`));
  }
  const { anchors: _, ...told } = read;
  if (json) return `${JSON.stringify(told, null, 2)}\n`;
  const lines = [sayAnchorsRead(read), ...read.changes.map(sayAnchorChange), ...read.faults];
  if (to !== undefined) lines.push(`${to} has them.`);
  return `${lines.join('\n')}\n`;
}
