/** Outcomes of the chain in words: `short` for a link, at most a dozen characters, and `full` for its title and the opened step. */
import type { AnchorFault, Blocker, Fact, FactKind, FactOf, FailedCondition, Link, LinkState, Shortfall } from '@foreshore/core';
import type { Document, Only } from '@foreshore/document';
import { COMPARISONS, feedTitle, feedValueText, phaseTitle, rowTitle } from './names.ts';
import {
  formatArcmin,
  formatBeside,
  formatDegrees,
  formatMetres,
  formatNumber,
  formatPercent,
  formatPixels,
  formatSeconds,
  formatShare,
} from './quantities.ts';

interface Words<K extends FactKind> {
  short(fact: FactOf<K>, document: Document): string;
  full(fact: FactOf<K>, document: Document): string;
}

const FAULTS: { [K in AnchorFault['kind']]: (fault: Extract<AnchorFault, { kind: K }>) => string } = {
  noLevel: () => 'there is no level',
  noNode: ({ node }) => `the level has no node "${node}"`,
  noMatch: ({ pattern }) => `no node of the level matches "${pattern}"`,
  noEvent: () => 'no event is chosen for its anchor',
};
export const sayAnchorFault = (fault: AnchorFault): string => FAULTS[fault.kind](fault as never);

export function sayCondition(failed: FailedCondition | null, document: Document): string {
  if (failed === null) return 'its conditions do not hold';
  if (failed.kind === 'joined') return 'none of the joined conditions may hold';
  if (failed.kind === 'changed')
    return `${feedTitle(document, failed.feed)} has ${failed.never ? '' : 'not '}changed within ${formatNumber(failed.withinS)} s`;
  const { condition, value, never } = failed;
  const now = value === null ? 'has no value' : feedValueText(document, condition.feed, value);
  const bound = feedValueText(document, condition.feed, condition.value);
  return `${feedTitle(document, condition.feed)} ${now}, ${never ? 'must not be' : 'needs'} ${COMPARISONS[condition.is]} ${bound}`;
}

/** Who blocks, and how much all of them do. */
function sayBlockers(blockers: readonly Blocker[], blocked: number): string {
  const [first, ...others] = blockers;
  if (!first) return 'in full sight';
  const who = others.length === 0 ? first.node : `${first.node} (${formatPercent(first.share)} %) and ${others.length} more`;
  return `${who} ${others.length === 0 ? 'covers' : 'cover'} ${formatPercent(blocked)} %`;
}

const sayWay = (deg: number, more: string, less: string): string => `${Math.abs(Math.round(deg))} deg ${deg < 0 ? less : more}`;
const CUT: Record<'screen' | 'safeArea', string> = { screen: 'cut off by the screen', safeArea: 'outside the safe area' };

const SHORTFALLS: {
  [K in Shortfall['kind']]: {
    short: (s: Extract<Shortfall, { kind: K }>) => string;
    full: (s: Extract<Shortfall, { kind: K }>, d: Document) => string;
  };
} = {
  empty: { short: () => 'no text', full: () => 'it has no text' },
  unmeasured: { short: () => 'not measured', full: () => 'the letters of its page are not measured' },
  small: {
    short: ({ value, unit }) => `${unit === 'px' ? formatPixels(value) : formatArcmin(value)} ${unit}`,
    full: ({ value, bound, unit }) =>
      `${formatBeside(value, bound, unit === 'px' ? formatPixels : formatArcmin)} ${unit}, too small: needs ${formatNumber(bound)}`,
  },
  contrast: {
    short: ({ value }) => `${value.toFixed(1)}:1`,
    full: ({ value, bound }) =>
      `${formatBeside(value, bound, (ratio) => ratio.toFixed(1))}:1 contrast behind it, needs ${formatNumber(bound)}:1`,
  },
  covered: {
    short: ({ value }) => `${formatPercent(value)} % under`,
    full: ({ value, by }, d) => `${rowTitle(d, by)} covers ${formatPercent(value)} %`,
  },
  cut: {
    short: ({ value }) => (value > 0 ? `cut ${formatPixels(value)} px` : 'text cut'),
    full: (s, d) => {
      if (s.at === 'group') return `${formatPixels(s.value)} px cut off by ${rowTitle(d, s.by)}`;
      if (s.at === 'textBox')
        return s.value > 0 ? `its text needs ${formatPixels(s.value)} px more than its box` : 'its text is shortened with an ellipsis';
      return `${formatPixels(s.value)} px ${CUT[s.at]}`;
    },
  },
  overlaps: {
    short: ({ value }) => `${formatPercent(value)} % on letters`,
    full: ({ value, by }, d) => `${formatPercent(value)} % of its letters lie on those of ${rowTitle(d, by)}`,
  },
  behindLevel: {
    short: ({ value }) => `${formatPercent(value)} % behind`,
    full: ({ value, node }) => `${formatPercent(value)} % behind the level${node === '' ? '' : `, most of it behind ${node}`}`,
  },
  reach: {
    short: ({ value, bound }) => `${formatMetres(value - bound)} m short`,
    full: ({ value, bound }) =>
      `the ray reaches ${formatMetres(bound)} m, it is at ${formatMetres(value)} m: ${formatMetres(value - bound)} m short`,
  },
  glyphs: { short: () => 'no glyph', full: ({ missing }) => `no font has ${missing.map((letter) => `"${letter}"`).join(', ')}` },
  target: {
    short: ({ value }) => `${value.toFixed(1)} deg wide`,
    full: ({ value, bound, row }, d) =>
      `${rowTitle(d, row)} is ${formatBeside(value, bound, (deg) => deg.toFixed(2))} deg wide for a hand's ray, needs ${formatNumber(bound)}`,
  },
  tooNear: {
    short: ({ value }) => `${formatMetres(value)} m`,
    full: ({ value, bound }) => `${formatBeside(value, bound, formatMetres)} m before the eyes, nearer than ${formatNumber(bound)} m`,
  },
  tooFar: {
    short: ({ value }) => `${formatMetres(value)} m`,
    full: ({ value, bound }) => `${formatBeside(value, bound, formatMetres)} m before the eyes, farther than ${formatNumber(bound)} m`,
  },
  vergence: {
    short: ({ value }) => `vergence ${value.toFixed(1)} deg`,
    full: ({ value, bound, distanceM, lookedAtM }) =>
      `${formatMetres(distanceM)} m away, eyes on ${formatMetres(lookedAtM)} m: ${formatBeside(value, bound, (deg) => deg.toFixed(1))} deg apart, at most ${formatNumber(bound)}`,
  },
  speed: {
    short: ({ value }) => `${value.toFixed(0)} deg/s`,
    full: ({ value, bound }) => `moves ${formatBeside(value, bound, (speed) => speed.toFixed(0))} deg/s, at most ${formatNumber(bound)}`,
  },
};
export const shortShortfall = (shortfall: Shortfall): string => SHORTFALLS[shortfall.kind].short(shortfall as never);
export const sayShortfall = (shortfall: Shortfall, document: Document): string =>
  SHORTFALLS[shortfall.kind].full(shortfall as never, document);

/** Which eye of a headset is spoken of. */
const EYES = { [-1]: '', 0: 'left eye: ', 1: 'right eye: ' } as const;

const ANSWERS = { hide: '', dim: ', dimmed', through: ', shown through' } as const;
const DOES = { shows: 'shown', dims: 'dimmed', hides: 'hidden' } as const;

const AIMS = {
  nothing: {
    short: 'aims at nothing',
    full: (node: string | null) => (node === null ? 'aimed at nothing' : `aimed at ${node}, which is not meant`),
  },
  reachable: {
    short: 'within reach',
    full: (node: string | null, at: string, reach: string) => `aimed at ${node ?? 'its anchor'}${at}, within its reach of ${reach} m`,
  },
  far: {
    short: 'out of reach',
    full: (node: string | null, at: string, reach: string) => `aimed at ${node ?? 'its anchor'}${at}, out of its reach of ${reach} m`,
  },
  blocked: {
    short: 'blocked',
    full: (node: string | null, at: string, _reach: string) => `what is meant is${at || ' there'}, but ${node ?? 'something'} is before it`,
  },
} as const;

const BLOCKED = { nearer: '', hide: ': hidden', dim: ': dimmed', show: '' } as const;
function sayTrailing(distanceM: number, share: number, answer: keyof typeof BLOCKED): string {
  if (share === 1 || answer === 'show') return `trails ${formatMetres(distanceM)} m before the viewer`;
  if (answer === 'nearer')
    return `brought nearer, to ${formatMetres(distanceM * share)} of ${formatMetres(distanceM)} m: the level is in the way`;
  return `the level is in the way at ${formatMetres(distanceM * share)} of ${formatMetres(distanceM)} m${BLOCKED[answer]}`;
}

/** The details of a group by their numbers, from 1 as they are counted on the screen. */
const details = (of: readonly number[]): string => of.map((k) => k + 1).join(', ');
const OTHER_FORM: Record<'detail' | 'edge' | 'merged', { short: string; full: (only: Only, detail: number) => string }> = {
  detail: {
    short: 'other detail',
    full: (only, detail) => `only in detail ${details(only.detail ?? [])}; its group is in detail ${detail + 1}`,
  },
  edge: {
    short: 'other form',
    full: (only) => (only.edge ? 'only while its group is at the edge of the frame' : 'not while its group is at the edge of the frame'),
  },
  merged: {
    short: 'other form',
    full: (only) => (only.merged ? 'only while its group stands for several' : 'not while its group stands for several'),
  },
};

/** An angle from straight ahead, clockwise. */
const wayRound = (deg: number): string => {
  const off = Math.abs(deg);
  return off < 0.5 ? 'ahead' : off > 179.5 ? 'behind' : `${formatDegrees(off)} deg ${deg > 0 ? 'right' : 'left'}`;
};

const FACTS: { [K in FactKind]: Words<K> } = {
  onHud: { short: () => 'on the HUD', full: ({ pin }) => `on the HUD, pin ${pin.map(formatShare).join(', ')}` },
  inGroup: { short: () => 'in a group', full: ({ group }, d) => `in ${rowTitle(d, group)}` },
  at: { short: () => 'placed', full: ({ place }) => `at ${place.map(formatMetres).join(', ')} m` },
  lost: { short: () => 'nowhere', full: ({ fault }) => sayAnchorFault(fault) },
  notYet: { short: () => 'not yet', full: ({ feed }, d) => `${feedTitle(d, feed)} has not happened yet` },
  always: { short: () => 'always', full: () => 'in every phase' },
  forced: { short: ({ shown }) => (shown ? 'shown' : 'hidden'), full: ({ shown }) => `${shown ? 'shown' : 'hidden'} by a reaction` },
  phase: {
    short: ({ does }) => DOES[does],
    full: ({ phase, does }, d) => `${DOES[does]} in ${phase === null ? 'every phase' : phaseTitle(d, phase)}`,
  },
  conditionsHold: { short: () => 'holds', full: () => 'its conditions hold' },
  conditionFails: { short: () => 'condition', full: ({ condition }, d) => sayCondition(condition, d) },
  lingers: {
    short: ({ leftS }) => `${formatSeconds(leftS)} s more`,
    full: ({ leftS, condition }, d) => `stays ${formatSeconds(leftS)} s more: ${sayCondition(condition, d)}`,
  },
  otherForm: {
    short: ({ because }) => OTHER_FORM[because].short,
    full: ({ because, detail, only }) => OTHER_FORM[because].full(only, detail),
  },
  anyDistance: { short: () => 'any', full: () => 'at any distance' },
  noPlace: { short: () => 'nowhere', full: () => 'has no place to be near to' },
  distance: {
    short: ({ distanceM }) => (distanceM === 0 ? 'in its zone' : `${formatMetres(distanceM)} m`),
    full: ({ distanceM, boundM, stays }) =>
      distanceM === 0 ? 'in its zone' : `${formatMetres(distanceM)} of ${formatMetres(boundM)} m${stays ? ', stays a moment' : ''}`,
  },
  behind: { short: () => 'behind', full: ({ byM }) => `${formatMetres(byM)} m behind` },
  beforeNear: {
    short: () => 'too near',
    full: ({ aheadM, nearM }) => `${formatMetres(aheadM)} m ahead, before the near plane at ${formatMetres(nearM)} m`,
  },
  outside: {
    short: ({ outPx }) => (outPx > 0 ? `${formatPixels(outPx)} px out` : 'at the edge'),
    full: ({ outPx, allowedPx }) =>
      outPx > 0
        ? `${formatPixels(outPx)} px outside the frame${allowedPx > 0 ? `, ${formatPixels(allowedPx)} allowed` : ''}`
        : `${formatPixels(-outPx)} px inside the frame, needs ${formatPixels(-allowedPx)}`,
  },
  atEdge: {
    short: ({ rightDeg }) => `${Math.abs(Math.round(rightDeg))} deg off`,
    full: ({ rightDeg, upDeg, distanceM }) =>
      `at the edge of the frame: ${sayWay(rightDeg, 'to the right', 'to the left')}${Math.abs(upDeg) < 1 ? '' : `, ${sayWay(upDeg, 'up', 'down')}`}, ${formatMetres(distanceM)} m away`,
  },
  ahead: { short: ({ depthM }) => `${formatMetres(depthM)} m`, full: ({ depthM }) => `${formatMetres(depthM)} m ahead` },
  panelInFrame: {
    short: ({ share }) => (share === 1 ? 'whole' : `${formatPercent(share)} %`),
    full: ({ share, distanceM }) =>
      `${share === 1 ? 'all of it' : `${formatPercent(share)} % of it`} in the frame, ${formatMetres(distanceM)} m away`,
  },
  backOfPanel: {
    short: () => 'its back',
    full: ({ behindM }) => `seen from ${formatMetres(behindM)} m behind it, where it has no side`,
  },
  trails: {
    short: ({ distanceM, share, answer }) => `${formatMetres(distanceM * (answer === 'nearer' ? share : 1))} m`,
    full: ({ distanceM, share, answer }) => sayTrailing(distanceM, share, answer),
  },
  cone: {
    short: ({ angleDeg }) => `${formatDegrees(angleDeg)} deg`,
    full: ({ angleDeg, boundDeg }) => `${formatDegrees(angleDeg)} of ${formatDegrees(boundDeg)} deg off`,
  },
  aimed: {
    short: ({ distanceM }) => `${formatMetres(distanceM)} m`,
    full: ({ distanceM, reachM }) => `aimed at, ${formatMetres(distanceM)} of ${formatMetres(reachM)} m`,
  },
  aimBlocked: { short: () => 'blocked', full: ({ node }) => `aimed at, but ${node} is before it` },
  notAimed: {
    short: ({ missDeg }) => `${formatDegrees(missDeg)} deg off`,
    full: ({ missDeg }) => `not aimed at: ${formatDegrees(missDeg)} deg off`,
  },
  designPixel: { short: ({ px }) => `${formatPixels(px)} px`, full: ({ px }) => `${formatPixels(px)} px for a design pixel` },
  capitals: {
    short: ({ arcmin }) => `${formatArcmin(arcmin)} arcmin`,
    full: ({ px, arcmin }) => `capitals ${formatPixels(px)} px, ${formatArcmin(arcmin)} arcmin`,
  },
  panelSize: {
    short: ({ widthM, heightM }) => `${formatMetres(widthM)} x ${formatMetres(heightM)}`,
    full: ({ widthM, heightM, pxPerM }) =>
      `${formatMetres(widthM)} x ${formatMetres(heightM)} m, ${formatNumber(Math.round(pxPerM))} px a metre`,
  },
  noSizeBehind: { short: () => 'none', full: () => 'has no size behind the viewer' },
  belowFloor: {
    short: ({ px }) => `${formatPixels(px)} px`,
    full: ({ px, floorPx }) => `text ${formatPixels(px)} px, hidden below ${formatPixels(floorPx)} px`,
  },
  noPlaceToSee: { short: () => 'nowhere', full: () => 'has no place to see' },
  sight: {
    short: ({ freeShare }) => (freeShare === 1 ? 'free' : `${formatPercent(freeShare)} % free`),
    full: ({ freeShare, neededShare, blockers, answer, stays }) => {
      const said = sayBlockers(blockers, 1 - freeShare);
      const blocked = freeShare < neededShare || freeShare === 0;
      const needs = blocked && answer === 'hide' ? `; ${formatPercent(freeShare)} % is free, needs ${formatPercent(neededShare)} %` : '';
      return `${said}${blocked ? ANSWERS[answer] : ''}${stays ? ', stays a moment' : needs}`;
    },
  },
  unrivalled: { short: () => 'only one', full: () => 'nothing else wants the key' },
  holds: { short: () => 'holds', full: ({ rival, by }, d) => `holds, before ${rowTitle(d, rival)} by ${by.toFixed(2)}` },
  takesOver: { short: () => 'soon', full: ({ rival }, d) => `takes over from ${rowTitle(d, rival)} in a moment` },
  lostTo: { short: () => 'lost', full: ({ rival, by }, d) => `lost to ${rowTitle(d, rival)} by ${by.toFixed(2)}` },
  noPlaceBehind: { short: () => 'none', full: () => 'has no place behind the viewer' },
  box: {
    short: ({ widthPx, heightPx }) => `${widthPx.toFixed(0)} x ${heightPx.toFixed(0)}`,
    full: ({ widthPx, heightPx }) => `${formatPixels(widthPx)} x ${formatPixels(heightPx)} px`,
  },
  offFrame: { short: () => 'off screen', full: ({ byPx }) => `wholly outside the frame, by ${formatPixels(byPx)} px` },
  noRoom: { short: () => 'no room', full: ({ by }, d) => `no free place: ${rowTitle(d, by)} has its own` },
  mergedInto: {
    short: () => 'merged',
    full: ({ into, count }, d) => `merged: ${rowTitle(d, into)} stands for ${count} here`,
  },
  beyondNearest: {
    short: ({ most }) => `not of ${most}`,
    full: ({ most, among, distanceM, nth }) =>
      `${formatMetres(distanceM)} m away, number ${nth} of ${among === 'all' ? 'all of its kind' : 'those in view'}: the nearest ${most} are shown`,
  },
  inDetail: {
    short: ({ detail, of }) => `detail ${detail + 1} of ${of}`,
    full: ({ detail, of, by, value }) =>
      `detail ${detail + 1} of ${of}: ${by === 'distance' ? `${formatMetres(value)} m away` : `a metre is seen ${formatPixels(value)} px large`}`,
  },
  standsFor: { short: ({ count }) => `for ${count}`, full: ({ count }) => `stands for ${count}` },
  madeRoom: { short: ({ px }) => `moved ${formatPixels(px)} px`, full: ({ px }) => `made room, ${formatPixels(px)} px from its own place` },
  clippedAway: { short: () => 'clipped', full: ({ group }, d) => `wholly clipped by ${rowTitle(d, group)}` },
  aims: {
    short: ({ state, distanceM }) =>
      state === 'nothing' || distanceM === null ? AIMS[state].short : `${AIMS[state].short}, ${formatMetres(distanceM)} m`,
    full: ({ state, node, distanceM, reachM, stays }) =>
      `${AIMS[state].full(node, distanceM === null ? '' : ` at ${formatMetres(distanceM)} m`, formatMetres(reachM))}${stays ? ', stays a moment' : ''}`,
  },
  toolStops: {
    short: () => 'tool stopped',
    full: ({ node, distanceM }) => `the tool's own ray is stopped by ${node ?? 'the level'}, ${formatMetres(distanceM)} m from the eye`,
  },
  pointsTo: {
    short: ({ aroundDeg }) => (aroundDeg === null ? 'all around' : wayRound(aroundDeg)),
    full: ({ count, aroundDeg, upDeg }) =>
      `${count} at once, the newest ${aroundDeg === null ? 'all around' : wayRound(aroundDeg)}${Math.abs(upDeg) < 1 ? '' : `, ${formatDegrees(Math.abs(upDeg))} deg ${upDeg > 0 ? 'up' : 'down'}`}`,
  },
  atDepth: {
    short: ({ distanceM }) => `at ${formatMetres(distanceM)} m`,
    full: ({ distanceM }) => `stands at ${formatMetres(distanceM)} m, where it aims`,
  },
  confirmed: {
    short: ({ agoS }) => `${formatSeconds(agoS)} s ago`,
    full: ({ agoS }) => `confirms what happened ${formatSeconds(agoS)} s ago`,
  },
  nothingHappened: { short: () => 'nothing yet', full: ({ withinS }) => `nothing has happened for ${formatSeconds(withinS)} s` },
  opaque: {
    short: ({ share }) => (share > 0.999 ? 'opaque' : `${formatPercent(share)} %`),
    full: ({ share, because }) =>
      share > 0.999
        ? 'opaque'
        : `${formatPercent(share)} % opaque${because === 'dimmed' ? ', dimmed' : because === 'pointer' ? ', by its pointer state' : ''}`,
  },
  transparent: { short: () => '0 % opaque', full: ({ row }, d) => `${rowTitle(d, row)} is 0 % opaque` },
  notShown: { short: () => 'not shown', full: () => 'told once it is shown' },
  nothingToRead: { short: () => 'no text', full: () => 'nothing to read, nothing over it' },
  reads: {
    short: ({ arcmin }) => `${formatArcmin(arcmin)} arcmin`,
    full: ({ arcmin, px, contrast, widthShare, eye }) =>
      `${EYES[eye]}${formatArcmin(arcmin)} arcmin, ${formatPixels(px)} px${Number.isFinite(contrast) ? `, ${contrast.toFixed(1)}:1` : ''}${widthShare < 0.995 ? `, ${formatPercent(widthShare)} % wide` : ''}`,
  },
  strokes: {
    short: ({ contrast }) => `${contrast.toFixed(1)}:1`,
    full: ({ contrast }) => `its strokes stand out ${contrast.toFixed(1)}:1`,
  },
  short: { short: ({ of }) => shortShortfall(of), full: ({ of }, d) => sayShortfall(of, d) },
};

export const sayFact = (fact: Fact, document: Document): string => FACTS[fact.kind].full(fact as never, document);

/** Facts that only say that nothing is wrong give way to those that say what is. */
const SAYS_WHY: ReadonlySet<FactKind> = new Set(['short', 'offFrame', 'clippedAway', 'noRoom', 'mergedInto', 'beyondNearest']);
const isFault = ({ kind }: Fact): boolean => SAYS_WHY.has(kind);

/** A link's outcome in full: its facts, behind the name of the group whose outcome it is. */
export function sayLink({ facts, from, state }: Pick<Link, 'facts' | 'from' | 'state'>, document: Document): string {
  if (state === 'absent') return 'does not apply';
  const said = facts.map((fact) => sayFact(fact, document)).join(', ');
  return from === null ? said : `${rowTitle(document, from)}: ${said}`;
}

/** A link's outcome in at most a dozen characters. */
export function shortLink({ facts }: Pick<Link, 'facts'>, document: Document): string {
  const fact = facts.find(isFault) ?? facts.at(-1);
  return fact ? FACTS[fact.kind].short(fact as never, document) : '';
}

const TILE_WORDS: Record<Shortfall['kind'], string> = {
  empty: '',
  unmeasured: '',
  small: ' small',
  contrast: '',
  covered: '',
  cut: '',
  glyphs: '',
  speed: '',
  overlaps: '',
  behindLevel: '',
  reach: '',
  target: '',
  tooNear: ' near',
  tooFar: ' far',
  vergence: '',
};
/** What falls short, in the room of a tile: the first of it, and how much more there is. */
export const sayShort = ([first, ...others]: readonly Shortfall[]): string =>
  first ? `${shortShortfall(first)}${TILE_WORDS[first.kind]}${others.length ? `, +${others.length}` : ''}` : '';

/** What is said of a link's state to those who do not see its sign. */
export const STATES: Record<LinkState, string> = {
  yes: 'passes',
  no: 'refused',
  short: 'falls short',
  wouldSayYes: 'would pass',
  wouldSayNo: 'would refuse',
  absent: 'does not apply',
};
