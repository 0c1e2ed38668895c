/** What the worker of questions does with one: what would show an element that is hidden. */
import { type Offer, wouldShow } from '@foreshore/checks';
import { arrange, compile, type Inputs, type Pose, placeLevel, readValues } from '@foreshore/core';
import type { Device, Document, FeedValue } from '@foreshore/document';
import { projectShaper } from '../level/fonts.ts';
import { levelOf } from './level-of.ts';

export interface Ask {
  job: number;
  document: Document;
  viewer: string;
  language: string;
  device: Device;
  /** The row's id. */
  row: string;
  pose: Pose;
  timeS: number;
  route: string;
  phase: string | null;
  held: Readonly<Record<string, FeedValue>>;
  forced: NonNullable<Inputs['forced']>;
}
export type Answer = { job: number; offers: Offer[] } | { job: number; failed: string };

export async function answer(ask: Ask): Promise<Answer> {
  const { job, document, viewer, language, device, row, pose, timeS, route, phase, held, forced } = ask;
  try {
    const one = document.viewers[viewer];
    if (!one) return { job, offers: [] };
    const [level, text] = await Promise.all([levelOf(document), projectShaper(document)]);
    const compiled = compile(document, level);
    const way = document.routes[route] ?? null;
    placeLevel(compiled, way, timeS, pose, held);
    const values = readValues(compiled, way, timeS, pose, held);
    const inputs: Inputs = { timeS, head: pose, views: [], depthOrder: false, values, phase, forced };
    return { job, offers: wouldShow({ arranged: arrange(compiled, one, text, undefined, language, device), inputs, row, text }) };
  } catch (error) {
    return { job, failed: (error as Error).message };
  }
}
