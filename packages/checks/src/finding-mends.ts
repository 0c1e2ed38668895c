/**
 * Mends of what a check found: such as clear it where it is worst, for every viewer, were tried along the whole of the routes on which it
 * was found. There it is gone, whatever was shown is shown as long, and nothing that was told became worse or is new.
 */
import {
  type Arranged,
  type Compiled,
  compile,
  DEFAULT_KEYS,
  type Level,
  measureReadable,
  pointerOf,
  routeDurationS,
  type TextShaper,
  Verdict,
} from '@foreshore/core';
import { type Document, type Element, groupOf, type Route } from '@foreshore/document';
import { bandIds, tellingRow } from './bands.ts';
import { arrangedFor, type CheckPart, checkPart, type FindingKind, type Found, type PartResult, replayOf } from './check.ts';
import { type Finding, worsened } from './findings.ts';
import { bandUntil, type Cure, cureOf, flickers } from './flicker.ts';
import { type MendChange, type Obstacle, type ProjectPart, tryMends, withMend } from './mends.ts';
import { MomentsKept, type Replay } from './replay.ts';
import { ReplaysKept } from './replays-kept.ts';
import { ResultsKept } from './results-kept.ts';

/** What a finding of a kind asks for: one change of what is seen; leave values; a back; or what no change of a setting gives. */
export const MENDED_BY: Record<FindingKind, 'mend' | 'cures' | 'sides' | 'quiet' | 'presses' | 'key' | null> = {
  ...{ small: 'mend', contrast: 'mend', cut: 'mend', reach: 'mend', target: 'mend' },
  ...{
    tooNear: 'mend',
    tooFar: 'mend',
    vergence: 'mend',
    covered: 'mend',
    overlaps: 'mend',
    flickers: 'cures',
    oneSide: 'sides',
    unwanted: 'quiet',
    swallowed: 'presses',
    leaked: 'presses',
    oneKey: 'key',
  },
  // These want another place, another text, another route, less on the screen, or somebody who translates.
  ...{ behindLevel: null, speed: null, empty: null, glyphs: null, unmeasured: null },
  ...{ brief: null, neverShown: null, untranslated: null, unfinished: null, costly: null },
};

export interface FindingMend {
  /** What it is, for words: one change, or the cures of one flicker after the other. */
  change: MendChange | null;
  cures: Cure[];
  element: string | null;
  part: Partial<Element>;
  project: ProjectPart;
}

/** A change that was tried, and what stands in its way. */
export interface RefusedMend extends Pick<FindingMend, 'change' | 'cures'> {
  /** Seen where the finding is worst; or along a route: what is found there, or for how many seconds less something is shown. */
  obstacle: Obstacle | { found: Found; part: CheckPart; stays: boolean } | { element: string; lessS: number; part: CheckPart };
}
/** What clears a finding, and what does not. */
export interface MendsOfFinding {
  /** Those that hold, the first the one to take. */
  mends: FindingMend[];
  /** Where none holds: what was tried. */
  refused: RefusedMend[];
  /** Whether it is found in the document at all: another change may have cleared it. */
  isThere: boolean;
}

export interface AskedOfFinding {
  document: Document;
  level: Level | null;
  text: TextShaper;
  finding: Pick<Finding, 'kind' | 'element' | 'atS' | 'phase' | 'by'>;
  /** Where it was found: the first is where it is worst, at `atS`. */
  parts: readonly CheckPart[];
  /** With so many mends that hold it is enough. */
  most?: number;
  /** What was found for questions before it, and is kept for those after it. */
  kept?: KeptOfMends;
}

/** What questions about one document, and about its next states, have in common. */
export class KeptOfMends {
  readonly moments = new MomentsKept();
  readonly results = new ResultsKept();
  readonly replays = new ReplaysKept();
}

/** More are not worth the wait. */
const MOST_TRIED = 6;
const MOST_FOUND = 2;
const MOST_CURES = 4;
/** Somebody else's time on the screen may change by so much, seconds: what makes room takes some time. */
const OTHERS_S = 0.5;

/** Between the steps it may be left. */
export function* findingMends({
  document,
  level,
  text,
  finding,
  parts,
  most = MOST_FOUND,
  kept = new KeptOfMends(),
}: AskedOfFinding): Generator<void, MendsOfFinding> {
  const { moments, results } = kept;
  const [worst] = parts;
  const by = MENDED_BY[finding.kind];
  if (!worst || by === null) return { mends: [], refused: [], isThere: true };
  const arrangedIn = (compiled: Compiled, part: CheckPart): Arranged => arrangedFor(compiled, part, text);
  const check = (compiled: Compiled, part: CheckPart): PartResult =>
    results.result(compiled.document, part, () => checkPart(compiled.document, arrangedIn(compiled, part), part, moments));
  const now = compile(document, level);
  const { tries, refused, isSeen } = {
    mend: () => mendsOf(now, finding, worst, arrangedIn, kept),
    cures: () => curesOf(document, now, level, finding.element, worst, arrangedIn, moments),
    sides: () => alone(sidesOf(document, finding.element)),
    quiet: () => alone(quietOf(document, finding)),
    presses: () => alone(pressesOf(now, finding)),
    key: () => alone(keysFor(document, finding)),
  }[by]();
  let isThere = isSeen;
  for (const part of parts) {
    if (isThere) break;
    yield;
    isThere = check(now, part).found.some((one) => isSame(one, finding));
  }
  if (!isThere) return { mends: [], refused: [], isThere };
  const out: FindingMend[] = [];
  for (const one of tries.slice(0, MOST_TRIED)) {
    const then = compile(withMend(document, one), level);
    let obstacle: RefusedMend['obstacle'] | null = null;
    // The worst first: where it stays there, nobody asks about the others.
    for (const part of parts) {
      yield;
      const was = check(now, part);
      yield;
      obstacle = obstacleOf(document, was, check(then, part), finding);
      if (obstacle) break;
    }
    if (obstacle) refused.push({ change: one.change, cures: one.cures, obstacle });
    else if (out.push(one) >= most) break;
  }
  return { mends: out, refused: out.length > 0 ? [] : refused, isThere };
}

/** Whether a mend stands in the document still: it was not undone, and nobody has chosen otherwise. */
export const standsIn = ({ elements, ...project }: Document, { element, part, project: also }: FindingMend): boolean => {
  const one = element === null ? undefined : elements[element];
  const has = (of: object | undefined, values: object): boolean =>
    Object.entries(values).every(
      ([key, value]) => JSON.stringify((of as Record<string, unknown> | undefined)?.[key]) === JSON.stringify(value),
    );
  return (element === null || has(one, part)) && has(project, also);
};

const isSame = (one: Pick<Found, 'kind' | 'element'>, other: Pick<Found, 'kind' | 'element'>): boolean =>
  one.kind === other.kind && one.element === other.element;

/** What of a part stands in the way: the finding is there still, something is new or worse, or is shown for less; null: nothing. */
function obstacleOf(
  { elements }: Document,
  was: PartResult,
  is: PartResult,
  finding: AskedOfFinding['finding'],
): RefusedMend['obstacle'] | null {
  const { route, viewer, language, variant } = was;
  const part = { route, viewer, language, ...(variant !== undefined && { variant }) };
  for (const found of is.found) {
    const stays = isSame(found, finding);
    const before = was.found.find((one) => isSame(one, found));
    if (stays || !before || worsened(before, found)) return { found, part, stays };
  }
  // What should not be shown is shown for less, with all that is inside of it.
  const isMeant = (id: string | null): boolean => {
    const one = id === null ? undefined : elements[id];
    return id === finding.element || (one !== undefined && isMeant(groupOf(one)));
  };
  for (const [element, { forS }] of Object.entries(was.shown)) {
    const lessS = forS - (is.shown[element]?.forS ?? 0);
    if (forS > 0 && lessS > OTHERS_S && !(finding.kind === 'unwanted' && isMeant(element))) return { element, lessS, part };
  }
  return null;
}

interface Tries {
  tries: FindingMend[];
  /** What was tried where it is worst, and does not do there. */
  refused: RefusedMend[];
  /** It was found on the way: nobody needs to measure whether it is there. */
  isSeen: boolean;
}
const alone = (tries: FindingMend[], isSeen = false): Tries => ({ tries, refused: [], isSeen });

type ArrangedIn = (compiled: Compiled, part: CheckPart) => Arranged;

function mendsOf(
  now: Compiled,
  { kind, element, atS }: AskedOfFinding['finding'],
  worst: CheckPart,
  arrangedIn: ArrangedIn,
  { moments, replays }: KeptOfMends,
): Tries {
  if (!now.document.viewers[worst.viewer]) return alone([]);
  const replay = replays.of(now.document, worst, () => replayOf(arrangedIn(now, worst), worst, moments));
  const { failed } = replay.at(atS);
  // A headset has rows of its own.
  const { sources, ids } = replay.solver.c;
  const row = tellingRow(
    failed,
    sources.flatMap((source, k) => (source === element ? [k] : [])),
  );
  const id = ids[row];
  if (id === undefined) return alone([]);
  const isSeen =
    failed[row] === Verdict.Shown &&
    measureReadable(replay.solver, row, { contrast: kind === 'contrast' }).faults.some((fault) => fault.kind === kind);
  // Not as the replay is arranged: that one takes over the values of its own frames.
  const arranged = Object.fromEntries(Object.keys(now.document.viewers).map((viewer) => [viewer, arrangedIn(now, { ...worst, viewer })]));
  const { mends, refused } = tryMends({ arranged, inputs: replay.inputsAt(atS), row: id, kind });
  return {
    isSeen,
    tries: mends.map(({ change, element: changed, part, project }) => ({ change, cures: [], element: changed, part, project })),
    refused: refused.map(({ change, obstacle }) => ({ change, cures: [], obstacle })),
  };
}

function sidesOf({ elements }: Document, element: string): FindingMend[] {
  const mount = elements[element]?.mount;
  if (mount?.kind !== 'standing' || mount.sides === 'both') return [];
  return [{ change: { kind: 'bothSides' }, cures: [], element, part: { mount: { ...mount, sides: 'both' } }, project: {} }];
}

function quietOf({ elements }: Document, { element, phase }: AskedOfFinding['finding']): FindingMend[] {
  const one = elements[element];
  if (!one || !phase) return [];
  const show = one.show ?? { phases: {}, need: 'all', conditions: [], lingerS: 0 };
  const part = { show: { ...show, phases: { ...show.phases, [phase.id]: 'hidden' as const } } };
  return [{ change: { kind: 'hiddenIn', name: phase.name }, cures: [], element, part, project: {} }];
}

/** Another that takes presses, and acts on none, lets them through; what draws nothing, too. A menu takes those beside its controls. */
function pressesOf(compiled: Compiled, { kind, element, by }: AskedOfFinding['finding']): FindingMend[] {
  const { elements } = compiled.document;
  const id = kind === 'leaked' ? element : (by ?? element);
  const one = elements[id];
  if (!one) return [];
  const takes = kind === 'leaked' ? 'blocks' : 'passes';
  const now = pointerOf({ c: compiled }, compiled.sources.indexOf(id));
  if (now.takes === 'acts') return [];
  const change: MendChange = takes === 'passes' ? { kind: takes, name: one.name } : { kind: takes };
  return [{ change, cures: [], element: id, part: { pointer: { ...now, takes } } as Partial<Element>, project: {} }];
}

/** Keys that lie about those with which one walks, in the order in which they are tried. */
const KEYS_NEAR = ['KeyF', 'KeyR', 'KeyQ', 'KeyG', 'KeyC', 'KeyV', 'KeyX', 'KeyZ', 'KeyT', 'KeyB'];

/** The action of the prompt that is kept away gets a key that no other action has. With one action for both there is none to change. */
function keysFor({ elements, actions = {}, contest }: Document, { element, by }: AskedOfFinding['finding']): FindingMend[] {
  const [own, other] = [element, by ?? ''].map((id) => elements[id]?.press?.action ?? null);
  const action = own === null || own === undefined ? undefined : actions[own];
  if (!action || !own || own === other || contest?.among === 'all') return [];
  const taken = new Set(Object.values(actions).map(({ keys = DEFAULT_KEYS }) => keys.keyboard));
  return KEYS_NEAR.filter((code) => !taken.has(code)).map((code) => ({
    ...{ change: { kind: 'key', code } as const, cures: [], element: null, part: {} },
    project: { actions: { ...actions, [own]: { ...action, keys: { ...(action.keys ?? DEFAULT_KEYS), keyboard: code } } } },
  }));
}

const together = (part: Partial<Element>, more: Partial<Element>): Partial<Element> => ({ ...part, ...more }) as Partial<Element>;

/** One flicker after the other is cured, until there is none. */
function curesOf(
  document: Document,
  compiled: Compiled,
  level: Level | null,
  element: string,
  worst: CheckPart,
  arrangedIn: ArrangedIn,
  moments: MomentsKept,
): Tries {
  const route = document.routes[worst.route] as Route;
  if (!bandIds(compiled).includes(element)) return alone([]);
  const cures: Cure[] = [];
  let part: Partial<Element> = {};
  const having = (more: Partial<Element>): Arranged =>
    arrangedIn(compile(withMend(document, { element, part: together(part, more), project: {} }), level), worst);
  const replayed = (one: Arranged): Replay => replayOf(one, worst, moments);
  let arranged = arrangedIn(compiled, worst);
  for (let n = 0; n <= MOST_CURES; n++) {
    const [flicker] = flickers(bandUntil(replayed(arranged), element, routeDurationS(route)));
    if (!flicker) break;
    const cure = n < MOST_CURES ? cureOf(arranged, route, element, flicker, having, replayed) : null;
    // There is one, and nothing to be done about it.
    if (!cure) return alone([], true);
    cures.push(cure);
    part = together(part, cure.part);
    arranged = having({});
  }
  // What is said of one field is what it comes to.
  const said = cures.filter(({ field }, k) => !cures.slice(k + 1).some((later) => later.field === field));
  return cures.length > 0 ? alone([{ change: null, cures: said, element, part, project: {} }], true) : alone([]);
}
