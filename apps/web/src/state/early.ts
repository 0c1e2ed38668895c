/**
 * What the bench asks for first, asked for as soon as the page knows its address: the project, and then its level and the fonts, come
 * while the bench's program is still being read.
 */
import { benchOf, LEVEL_HEADER, projectAddress } from '@foreshore/document/addresses';
import { ask } from '../level/asked.ts';
import { SHIPPED } from '../level/font-files.ts';
import { endsWithPage } from './page-worker.ts';

const coming = new Map<string, Promise<ArrayBuffer | null>>();

/** Has a level brought by a worker: the page goes on meanwhile. Null where that fails, for whatever reason. */
export function bringLevel(address: string): Promise<ArrayBuffer | null> {
  const before = coming.get(address);
  coming.delete(address);
  return before ?? brought(address);
}

function brought(address: string): Promise<ArrayBuffer | null> {
  const worker = new Worker(new URL('./level.worker.ts', import.meta.url), { type: 'module' });
  const end = endsWithPage(worker);
  return new Promise<ArrayBuffer | null>((resolve) => {
    worker.onmessage = ({ data }: MessageEvent<ArrayBuffer | null | 'done'>) => {
      if (data === 'done') end();
      else resolve(data);
    };
    worker.onerror = () => {
      end();
      resolve(null);
    };
    worker.postMessage(address);
  });
}

/** @param path of the page. */
export async function askEarly(path: string): Promise<void> {
  const id = benchOf(path);
  if (!id) return;
  for (const url of Object.values(SHIPPED).flat()) void ask(url);
  try {
    // The head of the answer says where its level lies: that comes before the document has been read.
    const address = (await ask(projectAddress(id))).headers.get(LEVEL_HEADER);
    if (address) coming.set(address, brought(address));
  } catch {
    // The bench asks again, and says what is wrong.
  }
}
