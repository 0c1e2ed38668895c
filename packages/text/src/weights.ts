/** Which weights of the font that ships there are. */
import type { Document } from '@foreshore/document';

/** Besides regular (400) and bold (700). */
export const OTHER_WEIGHTS = [200, 300, 500, 600, 800] as const;

/** Those of them that a document's texts are in. */
export function otherWeights({ elements }: Pick<Document, 'elements'>): number[] {
  const used = new Set<number>();
  for (const id in elements) {
    const element = elements[id];
    if (element?.kind === 'label') used.add(element.paint.weight);
  }
  return OTHER_WEIGHTS.filter((weight) => used.has(weight));
}
