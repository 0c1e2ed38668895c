/** What the worker of bands does with a request: a later one puts an end to it. */

import { bandIds, bandsInParts, type Stretch } from '@foreshore/checks';
import { arrange, compile } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { projectShaper } from '../level/fonts.ts';
import { pause } from '../level/pause.ts';
import { levelOf } from './level-of.ts';

export interface BandsRequest {
  job: number;
  document: Document;
  viewer: string;
  route: string;
  /** Heights of letters on pages, by the hash of their bytes. */
  caps: Readonly<Record<string, number>>;
}
export type BandsReply =
  | { job: number; share: number }
  | { job: number; ids: string[]; bands: Stretch[][]; viewer: string; route: string }
  | { job: number; failed: string };

let newest = 0;

export async function answer({ job, document, viewer, route, caps }: BandsRequest, reply: (message: BandsReply) => void): Promise<void> {
  newest = job;
  try {
    const [one, way] = [document.viewers[viewer], document.routes[route]];
    if (!one || !way) throw new Error('The viewer or the route is gone.');
    const [level, text] = await Promise.all([levelOf(document), projectShaper(document, caps)]);
    if (newest !== job) return;
    const arranged = arrange(compile(document, level), one, text);
    const work = bandsInParts(arranged, way);
    let told = 0;
    for (;;) {
      const part = work.next();
      if (part.done) return reply({ job, ids: bandIds(arranged.compiled), bands: part.value, viewer, route });
      if (Math.floor(part.value * 10) > told) {
        told = Math.floor(part.value * 10);
        reply({ job, share: part.value });
      }
      await pause();
      // Others are asked for now; these would be of a document that is gone.
      if (newest !== job) return;
    }
  } catch (error) {
    reply({ job, failed: (error as Error).message });
  }
}
