/**
 * The chain: every element passes these steps in order; the first that says no hides it. The order is written here alone.
 * `Frame.failed` holds the step that said no, or `Shown`.
 */
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
  Readable = 9,
  Shown = 255,
}

export type StepName = Uncapitalize<Exclude<keyof typeof Verdict, 'Shown'>>;

/** The steps by their numbers. */
export const STEPS: readonly StepName[] = Object.keys(Verdict).flatMap((name) =>
  Number.isNaN(Number(name)) && name !== 'Shown' ? [(name.charAt(0).toLowerCase() + name.slice(1)) as StepName] : [],
);

/** The step that a row of `Frame.failed` names; null where it is shown. */
export const stepOf = (verdict: Verdict): StepName | null => STEPS[verdict] ?? null;
