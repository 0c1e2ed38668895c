/** The bench under a variant that a check measured: feeds held at an end, a phase, a device; a camera that shakes is not shown. */
import { phaseOf, variantsFor } from '@foreshore/checks';
import { type CheckVariant, DEVICES, type Document } from '@foreshore/document';
import { useBench } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import { putBackEnds, showEnd } from './extremes.ts';

/** What the bench was opened under last. */
let last: CheckVariant | null = null;

/** Before the bench is opened anew: what it was opened under holds no more, unless somebody has chosen otherwise since. */
export function lookAsRecorded(): void {
  putBackEnds();
  const phase = last && phaseOf(last);
  if (phase !== null && useLive.getState().phase === phase) useLive.setState({ phase: null });
  last = null;
}

/** @param wanted as an address says it; what is no variant of the document changes nothing. */
export function lookUnder(document: Document, wanted: string | null): void {
  const variant = variantsFor(document).find((one) => one === wanted);
  if (variant === undefined) return;
  last = variant;
  if (variant === 'least' || variant === 'greatest') showEnd(variant);
  const phase = phaseOf(variant);
  if (phase !== null) useLive.setState({ phase });
  const device = DEVICES.find((one) => one === variant);
  if (device) useBench.setState({ device });
}
