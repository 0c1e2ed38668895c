/** What the worker of bands does with a request. */

import { bandIds, bands, type Stretch } from '@foreshore/checks';
import { arrange, compile } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { projectShaper } from '../level/fonts.ts';
import { levelOf } from './level-of.ts';

export interface BandsRequest {
  job: number;
  document: Document;
  viewer: string;
  route: string;
}
export type BandsReply =
  | { job: number; share: number }
  | { job: number; ids: string[]; bands: Stretch[][]; viewer: string; route: string }
  | { job: number; failed: string };

export async function answer({ job, document, viewer, route }: BandsRequest, reply: (message: BandsReply) => void): Promise<void> {
  try {
    const [one, way] = [document.viewers[viewer], document.routes[route]];
    if (!one || !way) throw new Error('The viewer or the route is gone.');
    const [level, text] = await Promise.all([levelOf(document), projectShaper(document)]);
    const compiled = compile(document, level);
    const result = bands(arrange(compiled, one, text), way, (share) => reply({ job, share }));
    reply({ job, ids: bandIds(compiled), bands: result, viewer, route });
  } catch (error) {
    reply({ job, failed: (error as Error).message });
  }
}
