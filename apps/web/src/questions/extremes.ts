/** Holding every feed at one of its ends, and putting back what was held before. */
import { type End, valuesAtEnd } from '@foreshore/checks';
import type { FeedValue } from '@foreshore/document';
import { useBench } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import { useProject } from '../state/project.ts';

type Held = Readonly<Record<string, FeedValue>>;
/** Whose ends are held, how, and what was held by hand before they were looked at. */
let looked: { project: string | null; ends: Held; before: Held } | null = null;
const lookedHere = (): typeof looked => (looked?.project === useProject.getState().id ? looked : null);

/** Shows an end in the picture by holding every feed at it; null: as it was before. */
export function showEnd(end: End | null): void {
  const { document, id } = useProject.getState();
  if (!document) return;
  const before = lookedHere()?.before ?? useLive.getState().held;
  looked = end && { project: id, ends: valuesAtEnd(document, end), before };
  useBench.setState({ extreme: end });
  useLive.setState({ held: looked?.ends ?? before });
}

/** The bench is opened anew: what was held before is held again, unless something was set by hand since. */
export function putBackEnds(): void {
  const here = lookedHere();
  if (here && useLive.getState().held === here.ends) useLive.setState({ held: here.before });
  looked = null;
}
