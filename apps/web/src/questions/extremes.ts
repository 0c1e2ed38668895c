/** Holding every feed at one of its ends, and putting back what was held before. */
import { type End, valuesAtEnd } from '@foreshore/checks';
import type { FeedValue } from '@foreshore/document';
import { useBench } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import { useProject } from '../state/project.ts';

/** What was held by hand before the ends were looked at. */
let heldBefore: Readonly<Record<string, FeedValue>> = {};

/** Shows an end in the picture by holding every feed at it; null: as it was before. */
export function showEnd(end: End | null): void {
  const { document } = useProject.getState();
  if (!document) return;
  if (useBench.getState().extreme === null) heldBefore = useLive.getState().held;
  useBench.setState({ extreme: end });
  useLive.setState({ held: end ? valuesAtEnd(document, end) : heldBefore });
}
