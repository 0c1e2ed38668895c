/** `foreshore reasons`: the chain of one element in one frame, and what would show it where it is hidden. */
import { wouldShow } from '@foreshore/checks';
import { explain, headingOf, type Link } from '@foreshore/core';
import { sayLink, sayOffer } from '@foreshore/words';
import { type FrameOptions, frameOf } from './frame.ts';
import { UsageError } from './usage.ts';

export interface ReasonsOptions extends FrameOptions {
  wouldShow?: boolean;
  json?: boolean;
}

const WORDS: Record<Link['state'], string> = {
  yes: 'yes',
  no: 'NO',
  short: 'short',
  wouldSayYes: '(yes)',
  wouldSayNo: '(no)',
  absent: '-',
};

/** @param id an element, or one of its places: `prompt-wheel@Sluice 1 wheel`. */
export async function reasonsCommand(file: string, id: string, options: ReasonsOptions): Promise<string> {
  const { document, solver, arranged, holding, replayed } = await frameOf(file, options);
  const { ids, sources } = solver.c;
  const row = ids.includes(id) ? ids.indexOf(id) : sources.indexOf(id);
  if (row < 0) throw new UsageError(`There is no element "${id}"; there are: ${[...new Set(sources)].join(', ')}.`);
  const links = explain(solver, row);
  const name = ids[row] as string;
  const offers = options.wouldShow
    ? wouldShow({ arranged, inputs: { ...holding({}), depthOrder: false }, row: name, holding, ...(replayed && { replayed }) })
    : null;
  if (options.json) {
    const said = links.map((link) => ({ ...link, says: sayLink(link, document) }));
    const wouldShow = offers?.map((offer) => ({ ...offer, says: sayOffer(offer, document) }));
    return `${JSON.stringify({ element: name, links: said, ...(wouldShow && { wouldShow }) }, null, 2)}\n`;
  }
  const lines = [`${name} (${document.elements[sources[row] as string]?.name})`];
  for (const link of links) lines.push(`  ${link.step.padEnd(10)}${WORDS[link.state].padEnd(6)} ${sayLink(link, document)}`.trimEnd());
  if (offers && links.some(({ state }) => state === 'no')) {
    if (offers.length === 0) lines.push('No single change would show it.');
    for (const offer of offers) {
      const where =
        'pose' in offer
          ? `  stand at ${offer.pose.position.map((v) => v.toFixed(3)).join(', ')} m, heading ${headingOf(offer.pose.rotation).yawDeg.toFixed(0)} deg`
          : '';
      lines.push(`Would show: ${sayOffer(offer, document)}${where}`);
    }
  }
  return `${lines.join('\n')}\n`;
}
