/** `foreshore backup` and `foreshore restore`: what they say of what they did. */
import { type BackupFacts, backup, restore } from '@foreshore/storage';

const counted = ({ projects, files, broken }: BackupFacts): string =>
  `${projects} ${projects === 1 ? 'project' : 'projects'} and ${files} ${files === 1 ? 'file' : 'files'}` +
  (broken.length
    ? `; ${broken.length} files are gone or damaged there and are not in it: ${broken.map((hash) => hash.slice(0, 12)).join(', ')}`
    : '');

export async function backupCommand(data: string, folder: string): Promise<string> {
  return `${folder} holds ${counted(await backup(data, folder))}.\n`;
}

export async function restoreCommand(folder: string, data: string, replace: boolean): Promise<string> {
  const { before, ...facts } = await restore(folder, data, replace);
  return `${data} holds ${counted(facts)}.${before ? ` What was there is in ${before}.` : ''}\n`;
}
