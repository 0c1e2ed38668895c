/** The chain: every element passes these in order; the first that says no hides it. */
export const STEPS = ['attach', 'phase', 'range', 'view', 'size', 'sightline', 'claim', 'place', 'paint', 'readable'] as const;
export type StepName = (typeof STEPS)[number];

/** What `failed` holds: the index into STEPS of the step that said no, or that none did. */
export enum Verdict {
  Attach = 0,
  Phase = 1,
  Range = 2,
  View = 3,
  Size = 4,
  Sightline = 5,
  Claim = 6,
  Place = 7,
  Paint = 8,
  Shown = 255,
}
