/** Directions: from where something happened, about the middle of the picture or at its sides; or a mark in the middle that confirms that it happened. */
import * as z from 'zod';
import { MOST_DIRECTIONS } from '../bounds.ts';
import { atLeastZero, colour, fraction, idSchema, positive } from '../primitives.ts';
import { common, extent } from './common.ts';

export const directionSchema = z.strictObject({
  kind: z.literal('direction'),
  ...common,
  /** A feed of events; null: not wired yet. */
  source: idSchema.nullable(),
  /** Points at this anchor, as it moves; null: at the place where the event was. */
  follows: idSchema.nullable(),
  /**
   * Arcs of a ring about the middle of its box, or soft fringes at the sides of its box. Or a mark in the middle, whichever way it was: a
   * cross of four slanted strokes, or a ring; of marks only the newest is there, and nothing is told by how wide, how many or how high.
   */
  form: z.enum(['arcs', 'fringes', 'cross', 'ring']),
  /** The diameter of the ring or the mark, its box. */
  sizePx: extent,
  /** How thick an arc is; how far a fringe reaches inwards. */
  thickPx: positive.max(2000),
  /** How much of the circle one of them takes. */
  spanDeg: z.number().min(2).max(180),
  /** Each is there for so long, and then fades. */
  holdS: atLeastZero.max(60),
  fadeS: atLeastZero.max(60),
  /** At most so many at once; another takes the place of the oldest. */
  most: z.int().min(1).max(MOST_DIRECTIONS),
  /** One that happens within this angle of another adds to it: it grows by this share of its thickness, to `MOST_GROWTH` times that. */
  joinDeg: atLeastZero.max(180),
  growShare: z.number().min(0).max(2),
  /** Higher or lower than this, as it is seen, it has a mark that points up or down. */
  aboveDeg: z.number().min(1).max(89),
  paint: z.strictObject({
    colour,
    /** Of arcs and marks: a wider stroke behind, of the opposite tone. */
    outline: z.strictObject({ colour, widthPx: positive.max(50) }).nullable(),
    opacity: fraction,
  }),
});
export type Direction = z.infer<typeof directionSchema>;

/** Arcs about the middle of the view. */
export const makeDirection = (name: string, source: string | null, order: string): Direction => ({
  kind: 'direction',
  name,
  order,
  mount: { kind: 'glass', within: 'screen', pin: [0.5, 0.5], stretch: [false, false] },
  place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null },
  view: { outsidePx: 0, leavePx: 0 },
  size: { rule: 'screen', emPx: 1, hideBelowPx: 0, leavePx: 0 },
  pointer: { takes: 'passes', action: null, padPx: 0, pointed: {}, pressed: {} },
  source,
  follows: null,
  form: 'arcs',
  sizePx: 420,
  thickPx: 14,
  spanDeg: 36,
  holdS: 1.2,
  fadeS: 0.8,
  most: 6,
  joinDeg: 20,
  growShare: 0.5,
  aboveDeg: 30,
  paint: { colour: '#E4572E', outline: { colour: '#15233B', widthPx: 2 }, opacity: 1 },
});

/** A mark in the middle of the view, about a crosshair's gap: there at once, and gone in a moment. */
export const makeConfirmation = (name: string, source: string | null, order: string): Direction => ({
  ...makeDirection(name, source, order),
  form: 'cross',
  sizePx: 72,
  thickPx: 4,
  holdS: 0.15,
  fadeS: 0.25,
  most: 1,
  paint: { colour: '#FBF8F0', outline: { colour: '#15233B', widthPx: 1.5 }, opacity: 1 },
});
