/** A crosshair: what aims, opened by a feed. */
import { z } from 'zod';
import { atLeastZero, colour, fraction, idSchema, positive } from '../primitives.ts';
import { common, extent } from './common.ts';

export const crosshairSchema = z
  .strictObject({
    kind: z.literal('crosshair'),
    ...common,
    form: z.enum(['arms', 'ring', 'brackets']),
    /** Of the form `arms`: evenly about the middle, the first upwards. */
    arms: z.int().min(1).max(12),
    /** From end to end while it is closed. Its box; opened, it is painted beyond. */
    sizePx: extent,
    /** Of arms and brackets. */
    armPx: extent,
    thickPx: positive.max(200),
    /** The diameter of a dot in the middle; 0: none. */
    dotPx: atLeastZero.max(2000),
    /** The feed that opens it; null: it stays closed. */
    source: idSchema.nullable(),
    /** Values at which it is closed, and fully open. */
    empty: z.number(),
    full: z.number(),
    /**
     * How far it opens. By `screen`: its gap grows by so much. By `angle`: its gap is where a cone about the view's axis meets the
     * picture, whatever the lens; the cone has no width while it is closed and `deg` from side to side when it is fully open.
     */
    opening: z.discriminatedUnion('by', [
      z.strictObject({ by: z.literal('screen'), px: atLeastZero.max(20000) }),
      z.strictObject({ by: z.literal('angle'), deg: positive.lt(180) }),
    ]),
    /** It opens at once and closes with this time constant; 0: at once. */
    recoverS: atLeastZero.max(60),
    paint: z.strictObject({
      colour,
      /** A second stroke around every part, of the opposite tone, so that it is seen over light and dark. */
      outline: z.strictObject({ colour, widthPx: positive.max(50) }).nullable(),
      opacity: fraction,
    }),
  })
  .refine((c) => c.empty !== c.full, { path: ['full'], message: 'a crosshair that is open at the value at which it is closed never opens' })
  .refine((c) => c.armPx * 2 <= c.sizePx, { path: ['armPx'], message: 'its arms are longer than half of its size' });
export type Crosshair = z.infer<typeof crosshairSchema>;

/** A crosshair in the middle of the view, closed until it is given a feed. */
export const makeCrosshair = (name: string, source: string | null, order: string): Crosshair => ({
  kind: 'crosshair',
  name,
  order,
  mount: { kind: 'glass', within: 'screen', pin: [0.5, 0.5], stretch: [false, false] },
  place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null },
  view: { outsidePx: 0, leavePx: 0 },
  size: { rule: 'screen', emPx: 1, hideBelowPx: 0, leavePx: 0 },
  pointer: { takes: 'passes', action: null, padPx: 0, pointed: {}, pressed: {} },
  form: 'arms',
  arms: 4,
  sizePx: 44,
  armPx: 14,
  thickPx: 3,
  dotPx: 4,
  source,
  empty: 0,
  full: 100,
  opening: { by: 'screen', px: 40 },
  recoverS: 0.25,
  paint: { colour: '#FBF8F0', outline: { colour: '#15233B', widthPx: 1.5 }, opacity: 1 },
});
