/** What would clear a finding is asked of a worker: where it was found, the worst place first. */
import type { CheckPart, MendsOfFinding } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { askWorker } from '../questions/asks.ts';
import { knownOf } from '../state/checks.ts';
import type { Gathered } from './told.ts';

/** So many places where it was found are tried on; the worst is the first. */
const MOST_PARTS = 3;

/** The worst place, and others where it was found, one a viewer first. */
export function partsOf({ worst, all }: Gathered): CheckPart[] {
  const seen = new Set<string>();
  const list = [worst, ...all].flatMap(({ finding: { route, viewer, language, variant } }) =>
    route === null || viewer === null || language === null ? [] : [{ route, viewer, language, ...(variant !== undefined && { variant }) }],
  );
  const first = list.filter(({ viewer }) => !seen.has(viewer) && seen.add(viewer));
  return [...first, ...list.filter((one) => !first.includes(one))].slice(0, MOST_PARTS);
}

export type Tried = MendsOfFinding | { failed: string };

/**
 * What is tried, or why it could not be; null where it is let go.
 * @param most mends that hold are enough.
 */
export const askMends = (document: Document, one: Gathered, letGo: AbortSignal, most?: number): Promise<Tried | null> =>
  new Promise((resolve) => {
    const { kind, element, atS, phase, by } = one.worst.finding;
    const finding = { kind, element, atS, ...(phase && { phase }), ...(by !== undefined && { by }) };
    const parts = partsOf(one);
    const asked = { document, finding, parts, known: knownOf(document, parts), ...(most !== undefined && { most }) };
    const forget = askWorker({ kind: 'findingMends', ...asked }, (answer) =>
      resolve('findingMends' in answer ? answer.findingMends : { failed: 'failed' in answer ? answer.failed : '' }),
    );
    letGo.addEventListener('abort', () => {
      forget();
      resolve(null);
    });
  });
