/** Reasons: the chain of one element in the frame just solved. Solving needs nothing of this folder. */
import { KINDS } from '@foreshore/document/kinds';
import type { Element } from '@foreshore/document/types';
import type { Link, Outcome } from '../outcome.ts';
import type { SolveContext } from '../solve-context.ts';
import { STEPS, type StepName } from '../steps/names.ts';
import { explainAttach } from './attach.ts';
import { explainClaim } from './claim.ts';
import { explainPaint } from './paint.ts';
import { explainPhase } from './phase.ts';
import { explainPlace } from './place.ts';
import { explainRange } from './range.ts';
import { explainReadable } from './readable.ts';
import { explainSightline } from './sightline.ts';
import { explainSize } from './size.ts';
import { explainView } from './view.ts';

interface Explainer {
  /** Whether the element can be refused by this step at all; the others get a stub. */
  applies(ctx: SolveContext, row: number): boolean;
  /** What the step comes to for the element itself, as if all steps before had passed. Changes no memory. */
  explain(ctx: SolveContext, row: number): Outcome;
}
const always = (): boolean => true;
const hasGate =
  (gate: 'range' | 'sightline' | 'claim') =>
  ({ c }: SolveContext, row: number): boolean =>
    c.elements[row]?.[gate] !== undefined;
const kindOf = ({ c }: SolveContext, row: number) => KINDS[(c.elements[row] as Element).kind];
const hasBox = (ctx: SolveContext, row: number): boolean => kindOf(ctx, row).hasBox;
const isPanel = ({ c }: SolveContext, row: number): boolean => (c.parent[row] as number) < 0 && (c.panelOf[row] as number) >= 0;
/** On the HUD and in groups, a group is as large as its layout says. */
const hasSize = (ctx: SolveContext, row: number): boolean =>
  row < ctx.c.anchoredCount || isPanel(ctx, row) || (hasBox(ctx, row) && kindOf(ctx, row).resizes !== 'layout');

/** A panel that trails, and is hidden or dimmed where the level is in the way. */
const isBlockable = ({ c }: SolveContext, row: number): boolean => {
  const mount = c.elements[row]?.mount;
  return mount?.kind === 'trailing' && (mount.blocked === 'hide' || mount.blocked === 'dim');
};

const EXPLAINERS: Record<StepName, Explainer> = {
  attach: { applies: always, explain: explainAttach },
  phase: { applies: always, explain: explainPhase },
  range: { applies: hasGate('range'), explain: explainRange },
  view: {
    applies: (ctx, row) => row < ctx.c.anchoredCount || isPanel(ctx, row) || ctx.c.elements[row]?.look !== undefined,
    explain: explainView,
  },
  size: { applies: hasSize, explain: explainSize },
  sightline: { applies: (ctx, row) => hasGate('sightline')(ctx, row) || isBlockable(ctx, row), explain: explainSightline },
  claim: { applies: hasGate('claim'), explain: explainClaim },
  place: { applies: hasBox, explain: explainPlace },
  paint: { applies: hasBox, explain: explainPaint },
  readable: { applies: hasBox, explain: explainReadable },
};

type Found = Outcome & { row: number };

/** What a step comes to for an element: its own no, or that of a group around it. Null where it applies to neither. */
function outcomeOf(step: Explainer, name: StepName, ctx: SolveContext, row: number): Found | null {
  // What falls short of a group is told of the group; cover and letters of a member are its own.
  const up = name === 'readable' ? -1 : (ctx.c.parent[row] as number);
  const around = up >= 0 ? outcomeOf(step, name, ctx, up) : null;
  const own = step.applies(ctx, row) ? { ...step.explain(ctx, row), row } : null;
  // Its own place lies in that of the group: where both refuse, the outer one is what must change first.
  if (around && !around.passes) return around;
  return own;
}

/**
 * The chain of one row. Call after `solve`, before the level or the solver moves on. It writes the row's place into the frame
 * even where the frame hides it.
 */
export function explain(ctx: SolveContext, row: number): Link[] {
  let refused = false;
  return STEPS.map((step): Link => {
    const found = outcomeOf(EXPLAINERS[step], step, ctx, row);
    if (!found) return { step, state: 'absent', facts: [], from: null };
    const { passes, facts, short = false } = found;
    const from = found.row === row ? null : (ctx.c.ids[found.row] as string);
    if (step === 'readable') return { step, state: refused ? 'wouldSayYes' : short ? 'short' : 'yes', facts, from };
    const state = refused ? (passes ? 'wouldSayYes' : 'wouldSayNo') : passes ? (short ? 'short' : 'yes') : 'no';
    if (!passes) refused = true;
    return { step, state, facts, from };
  });
}
