/** What things of a document are called. Facts carry ids; words need names. */
import { type StepName, sourceOf } from '@foreshore/core';
import { type Document, type FeedValue, partsOfKey } from '@foreshore/document';
import { formatValue } from './quantities.ts';

/** The steps of the chain as users read them. */
export const STEP_TITLES: Record<StepName, string> = {
  attach: 'Attach',
  phase: 'Phase',
  range: 'Range',
  view: 'View',
  size: 'Size',
  sightline: 'Sightline',
  claim: 'Claim',
  place: 'Place',
  paint: 'Paint',
  readable: 'Readable',
};

type Named = Pick<Document, 'elements' | 'feeds' | 'phases'>;

/** An element by its row's id: its name, and the node where it stands at many. */
export function rowTitle({ elements }: Named, row: string): string {
  const { id: inner, object: node } = partsOfKey(row);
  const name = elements[inner.split('.').at(-1) as string]?.name ?? elements[sourceOf(row)]?.name ?? row;
  return node === null ? name : `${name} at ${node}`;
}

/** The node that a row stands at, where its element stands at many; else null. */
export const nodeOfRow = (row: string): string | null => partsOfKey(row).object;

export const phaseTitle = ({ phases }: Named, phase: string | null): string =>
  phase === null ? 'no phase' : (phases[phase]?.name ?? phase);
/** A feed, or the value that an object has of it (`keyAt`). */
export const feedTitle = ({ feeds }: Named, key: string): string => {
  const { id: feed, object } = partsOfKey(key);
  const name = feeds[feed]?.name ?? feed;
  return object === null ? name : `${name} of ${object}`;
};

/** A feed's value with its unit. */
export const feedValueText = ({ feeds }: Named, feed: string, value: FeedValue): string => {
  const unit = feeds[partsOfKey(feed).id]?.unit;
  return `${formatValue(value)}${unit ? ` ${unit}` : ''}`;
};

/** How comparisons are read. */
export const COMPARISONS = {
  below: 'below',
  atMost: 'at most',
  above: 'above',
  atLeast: 'at least',
  equals: 'equal to',
  differs: 'other than',
} as const;

/** Words as a sentence begins. */
export const sentence = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);
