/** Offers, mends and cures in words. */
import type { Cure, CureField, GameState, Mend, MendChange, MendSide, Offer, Setting } from '@foreshore/checks';
import { keyLabel } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { COMPARISONS, feedTitle, feedValueText, phaseTitle, rowTitle } from './names.ts';
import { formatNumber, formatPercent } from './quantities.ts';

const amount = (value: number, unit: string): string => `${value.toFixed(value < 10 ? 1 : 0)} ${unit}`;

/** Eighths of the circle, clockwise from straight ahead. */
const WAYS = ['ahead', 'ahead and right', 'right', 'back and right', 'back', 'back and left', 'left', 'ahead and left'];
const wayOf = (degrees: number): string => WAYS[((Math.round(degrees / 45) % 8) + 8) % 8] as string;

const FORMS = { detail: 'there in every detail', edge: 'there at the edge and elsewhere', merged: 'there merged and by itself' };
type SettingOf<F extends Setting['field']> = Extract<Setting, { field: F }>;
const SETTINGS: { [F in Setting['field']]: (setting: SettingOf<F>, document: Document) => string } = {
  phase: ({ phase }, d) => `shown in ${phaseTitle(d, phase)}`,
  bound: ({ feed, is, value }, d) => `${feedTitle(d, feed)} ${COMPARISONS[is]} ${feedValueText(d, feed, value)}`,
  condition: ({ feed }, d) => `without the condition on ${feedTitle(d, feed)}`,
  enterM: ({ value }) => `within ${formatNumber(value)} m`,
  halfDeg: ({ value }) => `a cone of ${formatNumber(value)} deg`,
  reachM: ({ value }) => `a reach of ${formatNumber(value)} m`,
  outsidePx: ({ value }) => `${formatNumber(value)} px outside the frame`,
  hideBelowPx: ({ value }) => `hidden below ${formatNumber(value)} px`,
  share: ({ value }) => `${formatPercent(value)} % free is enough`,
  rank: ({ value }) => `before the others, rank ${formatNumber(value)}`,
  free: () => 'it may lie over others',
  most: ({ value }) => `the nearest ${formatNumber(value)} are shown`,
  unmerged: () => 'not merged with others',
  form: ({ because }) => FORMS[because],
  priority: ({ value }) => `priority ${formatNumber(value)}`,
  cone: ({ value }) => `looked at within ${formatNumber(value)} deg, not aimed at`,
  through: () => 'shown through what is in the way',
  stay: () => 'kept inside the safe area',
  offset: () => 'put on its pin, without offset',
  clip: () => 'its group does not clip',
  scroll: () => 'its group does not scroll',
  hug: () => 'its group as large as its members',
  bothSides: () => 'seen from both sides',
  upright: () => 'turning towards the viewer',
  nearer: () => 'coming nearer where the level is in the way',
  opacity: () => '100 % opaque',
  node: ({ node }) => `on the node "${node}"`,
  event: ({ feed }, d) => `where ${feedTitle(d, feed)} was`,
};

const sayState = (state: GameState, d: Document): string =>
  'feed' in state
    ? `${feedTitle(d, state.feed)} ${feedValueText(d, state.feed, state.value)}`
    : 'phase' in state
      ? `in ${phaseTitle(d, state.phase)}`
      : `${rowTitle(d, state.released)} let go by its reaction`;

export function sayOffer(offer: Offer, document: Document): string {
  switch (offer.kind) {
    case 'place':
      return `${amount(Math.max(0.1, offer.distanceM), 'm')} ${wayOf(offer.wayDeg)}`;
    case 'turn': {
      const { leftDeg, upDeg } = offer;
      const way = Math.abs(leftDeg) >= Math.abs(upDeg) ? (leftDeg > 0 ? 'to the left' : 'to the right') : upDeg > 0 ? 'up' : 'down';
      return `${amount(Math.hypot(leftDeg, upDeg), 'deg')} ${way}`;
    }
    case 'state':
      return sayState(offer.state, document);
    case 'setting':
      return SETTINGS[offer.setting.field](offer.setting as never, document);
  }
}

type ChangeOf<K extends MendChange['kind']> = Extract<MendChange, { kind: K }>;
const sized = ({ of, value }: { of: 'letters' | 'designPixel'; value: number }): string =>
  of === 'letters' ? `letters of ${formatNumber(value)} px` : `${formatNumber(value)} px for a design pixel`;
const MENDS: { [K in MendChange['kind']]: (change: ChangeOf<K>) => string } = {
  everyScreen: ({ arcmin }) => `${formatNumber(arcmin)} arcmin on every screen`,
  px: sized,
  arcmin: ({ value }) => `${formatNumber(value)} arcmin`,
  neverUnder: (change) => `never under ${sized(change)}`,
  outline: ({ tone }) => `a ${tone} outline`,
  plate: ({ tone }) => `a ${tone} plate`,
  opaque: () => '100 % opaque',
  stayInside: () => 'kept inside the safe area',
  atPin: () => 'put on its pin, without offset',
  textBox: ({ widthPx }) => `a text box of ${formatNumber(widthPx)} px, shrunk to fit`,
  moreLines: () => 'as many lines as it takes',
  hug: () => 'its group as large as its members',
  unclip: () => 'its group does not clip',
  density: ({ pxPerM }) => `a density of ${formatNumber(pxPerM)} px a metre`,
  raySized: () => "a panel sized for a hand's ray",
  rayReach: ({ value }) => `a ray that reaches ${formatNumber(value)} m`,
  trails: ({ value }) => `a panel that trails ${formatNumber(value)} m away`,
  lift: ({ value }) => `${formatNumber(value)} m off its surface`,
  moved: ({ byPx: [right, down] }) =>
    right === 0
      ? `${formatNumber(Math.abs(down))} px ${down < 0 ? 'up' : 'down'}`
      : `${formatNumber(Math.abs(right))} px to the ${right < 0 ? 'left' : 'right'}`,
  allApart: () => 'labels of the project keep apart',
  makesRoom: () => 'it makes room where others are',
  passes: ({ name }) => `presses go through ${name}`,
  blocks: () => 'it takes presses beside its controls',
  key: ({ code }) => `its action on the key ${keyLabel(code)}`,
  bothSides: () => 'seen from both sides',
  hiddenIn: ({ name }) => `hidden in the phase ${name}`,
  hudDistance: ({ value }) => `the HUD ${formatNumber(value)} m before the head`,
  hudWide: ({ value }) => `the HUD ${formatNumber(value)} deg wide in a headset`,
  panelSize: ({ sizeM }) => `a panel of ${sizeM.map(formatNumber).join(' x ')} m`,
  facing: ({ facing }) => (facing === 'full' ? 'turning wholly to the viewer' : 'turning towards the viewer'),
};
const SIDES: Record<MendSide, string> = {
  left: 'to the left of its anchor',
  right: 'to the right of its anchor',
  above: 'above its anchor',
  below: 'below its anchor',
};
export const sayMend = ({ change }: Pick<Mend, 'change'>): string => {
  const words = MENDS[change.kind](change as never);
  return 'side' in change && change.side ? `${words}, ${SIDES[change.side]}` : words;
};

const CURES: Record<CureField, (value: string) => string> = {
  leaveM: (v) => `leaves beyond ${v} m`,
  leaveDeg: (v) => `leaves beyond ${v} deg`,
  leavePx: (v) => `leaves ${v} px farther out`,
  sizeLeavePx: (v) => `leaves ${v} px smaller`,
  leaveShare: (v) => `stays with ${v} % free`,
  sightDwellS: (v) => `stays ${v} s longer`,
  reachDwellS: (v) => `stays ${v} s longer`,
  claimDwellS: (v) => `gives way after ${v} s`,
  lingerS: (v) => `stays ${v} s longer`,
};
export const sayCure = ({ field, value }: Pick<Cure, 'field' | 'value'>): string =>
  CURES[field](field === 'leaveShare' ? formatPercent(value) : formatNumber(value));
