/** What the worker of questions does with one: what would show an element that is hidden, what cures its flicker. */
import {
  type Area,
  type AskedForRoute,
  type AskedOfFinding,
  arrangedFor as arrangedForPart,
  atTheBeginning,
  bandUntil,
  type Cure,
  coverageRoute,
  cureOf,
  type Flicker,
  findingMends,
  flickers,
  type Ground,
  groundOf,
  KeptOfMends,
  type Mend,
  type MendsOfFinding,
  type NoRoute,
  type Offer,
  type PartResult,
  type Refused,
  Replay,
  ReplaysKept,
  type RouteFound,
  readableArea,
  replayOf,
  tryMends,
  wouldShow,
} from '@foreshore/checks';
import { type Arranged, arrange, compile, finished, type Inputs, type Pose, placeLevel, readValues, routeDurationS } from '@foreshore/core';
import type { CheckVariant, Device, Document, Element, FeedValue } from '@foreshore/document';
import { momentSvg, rowsShown } from '@foreshore/paint';
import { projectShaper } from '../level/fonts.ts';
import { levelOf } from './level-of.ts';

export interface AskOffers {
  kind: 'offers';
  job: number;
  document: Document;
  viewer: string;
  language: string;
  device: Device;
  /** Heights of letters on pages, by the hash of their bytes. */
  caps: Readonly<Record<string, number>>;
  /** The row's id. */
  row: string;
  pose: Pose;
  timeS: number;
  route: string;
  /** The camera rides on the route: the frame is one of a replay, with the phase that was chosen by hand. */
  riding: boolean;
  chosenPhase: string | null;
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
/** What would make it readable, for all viewers at once. */
export interface AskMends extends Omit<AskOffers, 'kind' | 'viewer'> {
  kind: 'mends';
}
/** What would clear what a check found, along the routes on which it was found. */
export interface AskFindingMends extends Pick<AskedOfFinding, 'document' | 'finding' | 'parts' | 'most'> {
  kind: 'findingMends';
  job: number;
  /** What a check measured of these parts in this document. */
  known: readonly PartResult[];
}
/** A route that reaches what none does. */
export interface AskRoute extends Pick<AskedForRoute, 'document' | 'wanted'> {
  kind: 'route';
  job: number;
}
/** The ground about what is placed, and how much of it routes come near. */
export interface AskGround {
  kind: 'ground';
  job: number;
  document: Document;
}
/** A picture of a moment on a route, with a frame about an element. */
export interface AskMoment {
  kind: 'moment';
  job: number;
  document: Document;
  viewer: string;
  language: string;
  route: string;
  variant?: CheckVariant;
  atS: number;
  element: string;
}
export type Ask = AskOffers | AskCures | AskArea | AskMends | AskFindingMends | AskRoute | AskGround | AskMoment;
export interface Cured {
  flicker: Flicker;
  cure: Cure | null;
}
export type Answer =
  | { job: number; offers: Offer[] }
  | { job: number; mends: Mend[]; refused: Refused[] }
  | { job: number; findingMends: MendsOfFinding }
  | { job: number; cures: Cured[] }
  | { job: number; found: RouteFound | NoRoute }
  | { job: number; ground: Ground | null }
  | { job: number; svg: string | null }
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
  const again = (part: Partial<Element>) =>
    arrange(
      compile({ ...document, elements: { ...document.elements, [id]: { ...document.elements[id], ...part } as Element } }, level),
      one,
      text,
    );
  const found = flickers(bandUntil(new Replay(arranged, way), id, routeDurationS(way))).slice(0, MOST_CURES);
  return { job, cures: found.map((flicker) => ({ flicker, cure: cureOf(arranged, way, id, flicker, again) })) };
}

/** @param isLetGo whether nobody waits for the answer any more. */
export const answer = (ask: Ask, isLetGo: () => boolean): Promise<Answer> =>
  ANSWERS[ask.kind](ask as never, isLetGo).catch((error: Error) => ({ job: ask.job, failed: error.message }));
const ANSWERS = { offers, area, cures, mends: mendsAsked, findingMends: ofFinding, route: routeAsked, ground: groundAsked, moment };

/** The frame that is asked about: how viewers see it, and what it is solved with where some more feeds are held. */
async function frameAsked(ask: Omit<AskOffers, 'kind' | 'viewer' | 'forced'> & Partial<Pick<AskOffers, 'forced'>>) {
  const { document, caps, language, device, pose, timeS, route, phase, held, forced } = ask;
  const [level, text] = await Promise.all([levelOf(document), projectShaper(document, caps)]);
  const compiled = compile(document, level);
  const way = document.routes[route] ?? null;
  const holding = (more: Readonly<Record<string, FeedValue>>): Inputs => {
    const all = { ...held, ...more };
    placeLevel(compiled, way, timeS, pose, all);
    const values = readValues(compiled, way, timeS, pose, all);
    return { timeS, head: pose, depthOrder: false, values, phase, ...(forced && { forced }) };
  };
  const arrangedFor = (ids: readonly string[]): Record<string, Arranged> =>
    Object.fromEntries(
      ids.flatMap((id) => {
        const one = document.viewers[id];
        return one ? [[id, arrange(compiled, one, text, undefined, language, device)]] : [];
      }),
    );
  const replayed = ask.riding && way ? { route: way, held, phase: ask.chosenPhase } : null;
  return { arrangedFor, holding, inputs: holding({}), row: ask.row, ...(replayed && { replayed }) };
}

async function offers(ask: AskOffers): Promise<Answer> {
  const { arrangedFor, ...asked } = await frameAsked(ask);
  const arranged = arrangedFor([ask.viewer])[ask.viewer];
  return { job: ask.job, offers: arranged ? wouldShow({ arranged, ...asked }) : [] };
}

async function mendsAsked(ask: AskMends): Promise<Answer> {
  const { arrangedFor, ...asked } = await frameAsked(ask);
  return { job: ask.job, ...tryMends({ arranged: arrangedFor(Object.keys(ask.document.viewers)), ...asked }) };
}

/** Most questions about findings are asked of one document, or of that with a mend. */
const kept = new KeptOfMends();
async function ofFinding({ job, document, known, ...asked }: AskFindingMends, isLetGo: () => boolean): Promise<Answer> {
  const [level, text] = await Promise.all([levelOf(document), projectShaper(document)]);
  kept.results.take(document, known);
  const work = findingMends({ document, level, text, kept, ...asked });
  for (;;) {
    const part = work.next();
    if (part.done) return { job, findingMends: part.value };
    // Other questions come in between.
    await new Promise((resolve) => setTimeout(resolve));
    if (isLetGo()) return { job, failed: 'nobody waits for it' };
  }
}

async function routeAsked({ job, document, wanted }: AskRoute): Promise<Answer> {
  const [level, text] = await Promise.all([levelOf(document), projectShaper(document)]);
  return { job, found: finished(coverageRoute({ document, level, text, wanted })) };
}

async function groundAsked({ job, document }: AskGround): Promise<Answer> {
  const level = await levelOf(document);
  return { job, ground: groundOf(atTheBeginning(document, level), Object.values(document.routes)) };
}

/** Of the document that was drawn last: the next picture is often of the same route and viewer. */
const drawn = new ReplaysKept();

async function moment({ job, document, viewer, language, route, variant, atS, element }: AskMoment): Promise<Answer> {
  if (!document.viewers[viewer] || !document.routes[route] || !document.elements[element]) return { job, svg: null };
  const [level, text] = await Promise.all([levelOf(document), projectShaper(document)]);
  const part = { viewer, language, route, ...(variant !== undefined && { variant }) };
  const replay = drawn.of(document, part, () => replayOf(arrangedForPart(compile(document, level), part, text), part));
  const { solver } = replay;
  replay.at(atS);
  return { job, svg: momentSvg(solver, replay.pose(atS), rowsShown(solver, element)) };
}

async function area(ask: AskArea): Promise<Answer> {
  const { arrangedFor, inputs, row } = await frameAsked(ask);
  const { job, count, viewers } = ask;
  return { job, count, area: readableArea({ arranged: Object.values(arrangedFor(viewers)), inputs, row, count }) };
}
