/** Which weights of the font that ships there are. */
import type { Document } from '@foreshore/document';

/** Besides regular (400) and bold (700). */
export const OTHER_WEIGHTS = [200, 300, 500, 600, 800] as const;

/** Those of them that a document's texts are in. */
export const otherWeights = ({ elements }: Pick<Document, 'elements'>): number[] =>
  OTHER_WEIGHTS.filter((weight) => Object.values(elements).some((e) => e.kind === 'label' && e.paint.weight === weight));
