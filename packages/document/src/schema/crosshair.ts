/** A crosshair: what aims, opened by a feed. */
import * as z from 'zod';
import { atLeastZero, colour, fraction, idSchema, positive } from '../primitives.ts';
import { common, extent } from './common.ts';

const DRAWN = ['arms', 'ring', 'brackets'] as const;

const beside = z.number().min(-50).max(50);

/** What changes of a crosshair by what it is aimed at; what is not there stays as it is. */
const aimLook = z.strictObject({ form: z.enum(DRAWN).optional(), colour: colour.optional() });

/** What the aim ray rests on decides how a crosshair looks. The ray starts at the viewer's eye and goes through the crosshair's own pixel; in a headset, along the view's axis. */
const crosshairAim = z.strictObject({
  /**
   * What is meant. `nodes`: those whose names match a pattern and that have a property (`key` or `key=value`), and all that is below
   * them. `anchor`: the zone of an anchor.
   */
  of: z.discriminatedUnion('by', [
    z.strictObject({ by: z.literal('nodes'), pattern: z.string().min(1).max(200), property: z.string().min(1).max(200).nullable() }),
    z.strictObject({ by: z.literal('anchor'), anchor: idSchema }),
  ]),
  /** What is meant and nearer than this is within reach. */
  reachM: positive.max(1000),
  /** A look stays for so long after its reason has gone, unless what is meant comes within reach. */
  leaveS: atLeastZero.max(10),
  /** What is meant is within reach; is farther; would be within reach, but something else is before it. */
  looks: z.strictObject({ reachable: aimLook, far: aimLook, blocked: aimLook }),
  /**
   * What is aimed with is not at the eye: its own ray goes from there to what the view's ray meets. Where something stops it before, it has
   * a mark, and what is meant is blocked.
   */
  tool: z
    .strictObject({
      from: z.discriminatedUnion('by', [
        /** From the eye, in the viewer's own axes, metres. */
        z.strictObject({ by: z.literal('offset'), rightM: beside, upM: beside, aheadM: beside }),
        z.strictObject({ by: z.literal('anchor'), anchor: idSchema }),
      ]),
      mark: z.strictObject({ sizePx: positive.max(400), colour }),
    })
    .optional(),
});
export type CrosshairAim = z.infer<typeof crosshairAim>;

export const crosshairSchema = z
  .strictObject({
    kind: z.literal('crosshair'),
    ...common,
    /** Strokes; or `pictures` of the project's own in their place. */
    form: z.enum([...DRAWN, 'pictures']),
    /**
     * Of the form `pictures`: one at each arm, as long as an arm, its foot towards the middle while it stands upright; and one in the middle,
     * as high as a dot. Null: none there. An aim's colour is multiplied with theirs.
     */
    pictures: z.strictObject({ arm: idSchema.nullable(), middle: idSchema.nullable() }).optional(),
    /** Of arms and pictures: evenly about the middle, the first upwards. */
    arms: z.int().min(1).max(12),
    /** From end to end while it is closed. Its box; opened, it is painted beyond. */
    sizePx: extent,
    /** So large, instead, of the shorter side of the picture, or of the panel that it lies on: all its pixels grow or shrink together. */
    screenShare: positive.max(1).optional(),
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
    aim: crosshairAim.optional(),
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

/** Aimed at anything within two metres, until it is told what is meant. */
export const makeCrosshairAim = (): CrosshairAim => ({
  of: { by: 'nodes', pattern: '*', property: null },
  reachM: 2,
  leaveS: 0.2,
  looks: { reachable: { colour: '#F2C14E' }, far: {}, blocked: { colour: '#E4572E', form: 'brackets' } },
});

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

/** A lamp in the right hand. */
export const makeTool = (): NonNullable<CrosshairAim['tool']> => ({
  from: { by: 'offset', rightM: 0.3, upM: -0.35, aheadM: 0.4 },
  mark: { sizePx: 22, colour: '#E4572E' },
});
