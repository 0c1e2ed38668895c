/** Files from a drop or a file picker, folders included. */
import type { NamedFile } from '@foreshore/level';

async function walk(entry: FileSystemEntry, path: string, out: File[], names: Map<File, string>): Promise<void> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    names.set(file, path + file.name);
    out.push(file);
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  // A reader gives a folder in pieces, until an empty one.
  for (;;) {
    const entries = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (entries.length === 0) return;
    for (const child of entries) await walk(child, `${path}${entry.name}/`, out, names);
  }
}

export async function droppedFiles(transfer: DataTransfer): Promise<{ file: File; path: string }[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((e): e is FileSystemEntry => e !== null);
  if (entries.length === 0) return [...transfer.files].map((file) => ({ file, path: file.name }));
  const out: File[] = [];
  const names = new Map<File, string>();
  for (const entry of entries) await walk(entry, '', out, names);
  return out.map((file) => ({ file, path: names.get(file) ?? file.name }));
}

export const readAll = (files: { file: File; path: string }[]): Promise<NamedFile[]> =>
  Promise.all(files.map(async ({ file, path }) => ({ name: path, bytes: new Uint8Array(await file.arrayBuffer()) })));
