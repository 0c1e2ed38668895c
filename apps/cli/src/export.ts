/** `foreshore export` and `foreshore contract`: what leaves the bench, written whole or not at all. */
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { type Contract, contractChanges, exportFiles, gltfWith, readConvention, runtimeModules } from '@foreshore/handoff';
import { unzipSync, zipSync } from 'fflate';
import { openProject, shaperOf } from './open.ts';
import { UsageError } from './usage.ts';

export interface ExportOptions {
  to: string;
  convention?: string;
  elements?: string;
  viewers?: string;
  withLevel?: boolean;
  usedLetters?: boolean;
  withRuntime?: boolean;
}

// A fixed date, so that the same project gives the same bytes.
const STAMP = { mtime: new Date(2026, 0, 1) };
const ids = (list: string | undefined): { list: string[] } | null =>
  list === undefined ? null : { list: list.split(',').map((id) => id.trim()) };

/** A folder that may be written over: one that is not there, an empty one, or an export. */
function mayReplace(folder: string): boolean {
  if (!existsSync(folder)) return true;
  if (!statSync(folder).isDirectory()) return false;
  const names = readdirSync(folder);
  return names.length === 0 || (names.includes('manifest.json') && names.includes('bundle.json'));
}

function writeFolder(folder: string, files: Readonly<Record<string, Uint8Array>>): void {
  const above = dirname(resolve(folder));
  mkdirSync(above, { recursive: true });
  const draft = mkdtempSync(join(above, `.${basename(folder)}-`));
  try {
    for (const [name, bytes] of Object.entries(files)) {
      mkdirSync(dirname(join(draft, name)), { recursive: true });
      writeFileSync(join(draft, name), bytes);
    }
    // What was there is gone only once all that comes is whole.
    const before = `${draft}-before`;
    if (existsSync(folder)) renameSync(folder, before);
    renameSync(draft, folder);
    rmSync(before, { recursive: true, force: true });
  } catch (error) {
    rmSync(draft, { recursive: true, force: true });
    throw error;
  }
}

const archived = (files: Readonly<Record<string, Uint8Array>>): Uint8Array =>
  zipSync(Object.fromEntries(Object.entries(files).map(([name, bytes]) => [name, [bytes, { level: 6, ...STAMP }]])));

/** A file that is there whole, or as it was. */
export function writeWhole(file: string, bytes: Uint8Array): void {
  const draft = `${file}.${process.pid}`;
  try {
    writeFileSync(draft, bytes);
    renameSync(draft, file);
  } catch (error) {
    rmSync(draft, { force: true });
    throw error;
  }
}

/** The level with the anchors and panels of the project as nodes. */
async function exportLevel(file: string, { to, ...others }: ExportOptions): Promise<string> {
  const [other] = Object.keys(others);
  if (other !== undefined)
    throw new UsageError(`${to} is the level with its anchors: --${other.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)} is for bundles.`);
  const project = await openProject(file);
  const { document, level, levelBytes } = project;
  const bytes = gltfWith(document, level, levelBytes, shaperOf(project));
  writeWhole(to, bytes);
  return `${to} holds the level with its anchors and standing panels, ${(bytes.byteLength / 1e6).toFixed(2)} MB.\n`;
}

export async function exportCommand(file: string, options: ExportOptions): Promise<string> {
  const { to } = options;
  if (/\.glb$/i.test(to)) return exportLevel(file, options);
  const isArchive = /\.zip$/i.test(to);
  if (!isArchive && !mayReplace(to)) throw new UsageError(`${to} is not empty, and no export: name another folder.`);
  const convention = options.convention === undefined ? undefined : readConvention(readFileSync(options.convention, 'utf8'));
  const project = await openProject(file);
  const elements = ids(options.elements)?.list;
  const viewers = ids(options.viewers)?.list;
  const files = exportFiles(project, {
    ...(convention && { convention }),
    ...(elements && { elements }),
    ...(viewers && { viewers }),
    ...(options.withLevel && { withLevel: true }),
    ...(options.usedLetters && { usedLetters: true }),
    ...(options.withRuntime && { runtime: await runtimeModules() }),
  });
  if (isArchive) writeWhole(to, archived(files));
  else writeFolder(to, files);
  const bytes = Object.values(files).reduce((sum, one) => sum + one.byteLength, 0);
  return `${to} holds ${Object.keys(files).length} files, ${(bytes / 1e6).toFixed(2)} MB.\n`;
}

/** The contract of an export: of its folder, its archive, or the file itself. */
function contractAt(path: string): Contract {
  let text: string;
  if (statSync(path).isDirectory()) text = readFileSync(join(path, 'contract.json'), 'utf8');
  else if (/\.zip$/i.test(path)) {
    let file: Uint8Array | undefined;
    try {
      file = unzipSync(new Uint8Array(readFileSync(path)), {
        filter: ({ name, originalSize }) => name === 'contract.json' && originalSize < 64 * 1024 * 1024,
      })['contract.json'];
    } catch {
      throw new UsageError(`${path} is no readable zip archive.`);
    }
    if (!file) throw new UsageError(`${path} holds no contract.json: it is no export.`);
    text = new TextDecoder().decode(file);
  } else text = readFileSync(path, 'utf8');
  let contract: Contract;
  try {
    contract = JSON.parse(text) as Contract;
  } catch {
    throw new UsageError(`${path}: the contract is no JSON.`);
  }
  const lists = [contract?.feeds, contract?.actions, contract?.phases, contract?.nodes];
  if (!lists.every(Array.isArray)) throw new UsageError(`${path} holds no contract.`);
  return contract;
}

const WEIGHTS = { breaks: 'must change', new: 'may use', gone: 'not needed' } as const;

/** What a game that was written for the one must change for the other; 1 where it must. */
export function contractCommand(before: string, after: string, json: boolean): { out: string; status: 0 | 1 } {
  const changes = contractChanges(contractAt(before), contractAt(after));
  const status = changes.some(({ weight }) => weight === 'breaks') ? 1 : 0;
  if (json) return { out: `${JSON.stringify(changes, null, 2)}\n`, status };
  const lines = changes.map(({ weight, what, id, says }) => `${WEIGHTS[weight]}: ${what} ${id} ${says}.\n`);
  return { out: lines.join('') || 'A game that was written for the one works with the other.\n', status };
}
