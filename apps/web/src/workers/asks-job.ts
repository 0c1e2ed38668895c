/** What the worker of questions does with one: what would show an element that is hidden, what cures its flicker. */
import {
  type Area,
  bandIds,
  bands,
  type Cure,
  cureOf,
  type Flicker,
  flickers,
  type Offer,
  readableArea,
  wouldShow,
} from '@foreshore/checks';
import { arrange, compile, type Inputs, type Pose, placeLevel, readValues } from '@foreshore/core';
import type { Device, Document, Element, FeedValue } from '@foreshore/document';
import { projectShaper } from '../level/fonts.ts';
import { levelOf } from './level-of.ts';

export interface AskOffers {
  kind: 'offers';
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
export interface AskCures {
  kind: 'cures';
  job: number;
  document: Document;
  viewer: string;
  route: string;
  /** The element's id. */
  id: string;
}
export interface AskArea extends Omit<AskOffers, 'kind' | 'viewer' | 'forced'> {
  kind: 'area';
  /** With several, the area from which all can read it. */
  viewers: string[];
  /** Cells along each side. */
  count: number;
}
export type Ask = AskOffers | AskCures | AskArea;
export interface Cured {
  flicker: Flicker;
  cure: Cure | null;
}
export type Answer =
  | { job: number; offers: Offer[] }
  | { job: number; cures: Cured[] }
  | { job: number; area: Area | null; count: number }
  | { job: number; failed: string };

/** More are not worth the wait. */
const MOST_CURES = 4;

async function cures({ job, document, viewer, route, id }: AskCures): Promise<Answer> {
  const [one, way] = [document.viewers[viewer], document.routes[route]];
  if (!one || !way) return { job, cures: [] };
  const [level, text] = await Promise.all([levelOf(document), projectShaper(document)]);
  const compiled = compile(document, level);
  const arranged = arrange(compiled, one, text);
  const band = bands(arranged, way)[bandIds(compiled).indexOf(id)] ?? [];
  const row = compiled.ids[compiled.sources.indexOf(id)];
  const again = (part: Partial<Element>) =>
    arrange(
      compile({ ...document, elements: { ...document.elements, [id]: { ...document.elements[id], ...part } as Element } }, level),
      one,
      text,
    );
  const found = flickers(band).slice(0, MOST_CURES);
  return { job, cures: found.map((flicker) => ({ flicker, cure: row ? cureOf(arranged, way, row, flicker, again) : null })) };
}

export const answer = (ask: Ask): Promise<Answer> =>
  (ask.kind === 'offers' ? offers(ask) : ask.kind === 'area' ? area(ask) : cures(ask)).catch((error: Error) => ({
    job: ask.job,
    failed: error.message,
  }));

async function offers(ask: AskOffers): Promise<Answer> {
  const { job, document, viewer, language, device, row, pose, timeS, route, phase, held, forced } = ask;
  const one = document.viewers[viewer];
  if (!one) return { job, offers: [] };
  const [level, text] = await Promise.all([levelOf(document), projectShaper(document)]);
  const compiled = compile(document, level);
  const way = document.routes[route] ?? null;
  placeLevel(compiled, way, timeS, pose, held);
  const values = readValues(compiled, way, timeS, pose, held);
  const inputs: Inputs = { timeS, head: pose, views: [], depthOrder: false, values, phase, forced };
  return { job, offers: wouldShow({ arranged: arrange(compiled, one, text, undefined, language, device), inputs, row, text }) };
}

async function area({ job, document, viewers, language, device, row, pose, timeS, route, phase, held, count }: AskArea): Promise<Answer> {
  const [level, text] = await Promise.all([levelOf(document), projectShaper(document)]);
  const compiled = compile(document, level);
  const way = document.routes[route] ?? null;
  placeLevel(compiled, way, timeS, pose, held);
  const inputs: Inputs = { timeS, head: pose, views: [], depthOrder: false, values: readValues(compiled, way, timeS, pose, held), phase };
  const arranged = viewers.flatMap((id) => {
    const one = document.viewers[id];
    return one ? [arrange(compiled, one, text, undefined, language, device)] : [];
  });
  return { job, count, area: readableArea({ arranged, inputs, row, text, count }) };
}
