/** Why no single change clears a finding: what was tried, and what stands in its way. */
import { type FindingKind, type FindingMend, namesOf, type RefusedMend } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { sayShortfall } from './facts.ts';
import { sayFinding } from './findings.ts';
import { sayCure, sayMend } from './offers.ts';
import { formatSeconds } from './quantities.ts';

/** What a mend does: one change, or cures of one flicker after the other. */
export const sayFindingMend = ({ change, cures }: Pick<FindingMend, 'change' | 'cures'>): string =>
  change ? sayMend({ change }) : cures.map(sayCure).join('; ');

/** A change that was tried, and what it does instead of clearing the finding: where, and when on a route. */
export function sayRefused({ change, cures, obstacle }: RefusedMend, document: Document): string {
  const names = namesOf(document);
  const nameOf = (id: string): string => names[id] ?? id;
  const viewerOf = (id: string): string => document.viewers[id]?.name ?? id;
  const tried = sayFindingMend({ change, cures });
  if ('found' in obstacle) {
    const { found, part, stays } = obstacle;
    const where = `${viewerOf(part.viewer)}, ${document.routes[part.route]?.name ?? part.route}, ${formatSeconds(found.atS)} s`;
    return `${tried}; ${stays ? 'it stays' : `then ${nameOf(found.element)}`}: ${sayFinding(found, names)} (${where})`;
  }
  if ('lessS' in obstacle) {
    const { element, lessS, part } = obstacle;
    const where = `${viewerOf(part.viewer)}, ${document.routes[part.route]?.name ?? part.route}`;
    return `${tried}; then ${nameOf(element)} is shown for ${formatSeconds(lessS)} s less (${where})`;
  }
  const { element, viewer, shortfall, stays } = obstacle;
  if (!shortfall) return `${tried}; then ${nameOf(element)} is not shown any more (${viewerOf(viewer)})`;
  return `${tried}; ${stays ? 'it stays' : `then ${nameOf(element)}`}: ${sayShortfall(shortfall, document)} (${viewerOf(viewer)})`;
}

/** What a finding of a kind wants where no setting that can be tried clears it. */
export const WANTS: Record<FindingKind, string> = {
  small: 'its letters are sized elsewhere, in its template or on its page',
  contrast: 'what it is drawn in leaves nothing to change',
  cut: 'it wants more room, another place or a shorter text',
  covered: 'it wants another place, or another place for what covers it',
  overlaps: 'one of the two wants another place',
  behindLevel: 'the level stands before it; it wants another place, or a way past what stands there',
  speed: 'it moves too fast over the screen; it wants a place farther from the way, or a slower way',
  reach: 'it wants a place nearer to the way',
  target: 'it wants to be larger, or more room about it',
  tooNear: 'it is where its anchor is; it wants another place, or a way that keeps its distance',
  tooFar: 'it is where its anchor is; it wants another place, or a way that comes nearer',
  vergence: 'it is where its anchor is, and so is what is looked at; one of the two wants another place',
  empty: 'it wants a text',
  glyphs: 'it wants a font that has these letters, or other words',
  unmeasured: 'the bench measures its letters when it shows the page',
  brief: 'it wants to be shown longer, or fewer words',
  flickers: 'leaving later does not keep its changes apart; it wants another range, or another way',
  neverShown: 'it wants a route that comes to it, or other conditions; Would show, on the bench, tells which',
  oneSide: 'it turns its back by how it is attached; it wants another direction, or another place',
  oneKey: 'both act by one action, or any prompt has any key; one of the two wants another place, or another priority',
  unwanted: 'it is not known which phase shows it',
  swallowed: 'what takes the press acts itself; one of the two wants another place',
  leaked: 'what lets presses through acts itself',
  untranslated: 'it wants a translation',
  unfinished: 'the bench leads to what is missing',
  costly: 'it wants less on the screen at once, or a larger budget',
};
