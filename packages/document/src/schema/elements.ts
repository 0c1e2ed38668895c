/** The kinds of elements. */
import * as z from 'zod';
import { atLeastZero, colour, fraction, idSchema, name, positive, weight } from '../primitives.ts';
import { border, common, extent, parameterName } from './common.ts';
import { crosshairSchema } from './crosshair.ts';
import { directionSchema } from './direction.ts';
import { translationsSchema } from './language.ts';
import { pageSchema } from './page.ts';

export * from './crosshair.ts';
export * from './direction.ts';
export * from './page.ts';

export const labelSchema = z.strictObject({
  kind: z.literal('label'),
  ...common,
  /** A message in ICU syntax; feeds stand in it by their ids. */
  text: z.string().max(4000),
  /** The message in the project's other languages, by their tags. */
  translations: translationsSchema.optional(),
  /** The room it is kept in. Without it, as large as the text needs. */
  room: z
    .strictObject({
      widthPx: positive,
      /** Null: as many as it takes. */
      lines: z.int().min(1).max(100).nullable(),
      /** What is done with a text that needs more. What still does not fit is flagged. */
      over: z.enum(['shrink', 'cut', 'show']),
      /** Shrinks to this share of its size at least. */
      leastShare: z.number().min(0.1).max(1),
    })
    .optional(),
  paint: z.strictObject({
    colour,
    weight,
    /** A family among the project's fonts; without it, the one that ships. */
    font: name.optional(),
    align: z.enum(['start', 'centre', 'end']),
    /** Distance of baselines, in em. */
    lineHeight: z.number().min(0.5).max(4),
    /** Lines longer than this are broken, in em; null: only where the text says so. */
    wrapEm: positive.nullable(),
    plate: z.strictObject({ colour, padEm: z.tuple([atLeastZero, atLeastZero]), radiusEm: atLeastZero }).nullable(),
    outline: z.strictObject({ colour, widthEm: positive.max(1) }).nullable(),
    opacity: fraction,
  }),
});

export const groupSchema = z.strictObject({
  kind: z.literal('group'),
  ...common,
  layout: z.strictObject({
    direction: z.enum(['row', 'column', 'free']),
    gapPx: atLeastZero,
    /** Left, top, right, bottom. */
    padPx: z.tuple([atLeastZero, atLeastZero, atLeastZero, atLeastZero]),
    /** Across the direction. */
    align: z.enum(['start', 'centre', 'end', 'stretch']),
    /** Along the direction, where there is room left. */
    spread: z.enum(['start', 'centre', 'end', 'between']),
    /** All members as long, along the direction, as the longest. */
    equal: z.boolean(),
    /** Begins another line where the next member does not fit the width (a row) or height (a column). */
    wrap: z.boolean(),
    /** Null: as large as its members need. */
    widthPx: extent.nullable(),
    heightPx: extent.nullable(),
    leastPx: z.tuple([atLeastZero, atLeastZero]),
    greatestPx: z.tuple([extent, extent]).nullable(),
    clip: z.boolean(),
    /** Along the direction: what does not fit the box is clipped and scrolled to. */
    scroll: z.strictObject({ thumb: colour, thumbPx: positive.max(200) }).optional(),
  }),
  /** What the group gives others to use again, by name. */
  template: z
    .strictObject({
      parameters: z.record(
        parameterName,
        z.strictObject({
          kind: z.enum(['text', 'picture', 'feed', 'number']),
          initial: z.union([z.string().max(4000), z.number(), z.null()]),
          /** Of a text: what it is in the project's other languages. */
          translations: translationsSchema.optional(),
        }),
      ),
      /** It is not shown itself. */
      only: z.boolean(),
    })
    .optional(),
  paint: z.strictObject({
    plate: z.strictObject({ colour, radiusPx: atLeastZero, border: z.strictObject({ colour, widthPx: positive }).nullable() }).nullable(),
    opacity: fraction,
  }),
});

export const gaugeFormSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('bar'),
    widthPx: extent,
    heightPx: extent,
    /** Where it grows to. */
    towards: z.enum(['right', 'left', 'up', 'down']),
    radiusPx: atLeastZero,
  }),
  z.strictObject({
    kind: z.literal('ring'),
    diameterPx: extent,
    widthPx: extent,
    /** Where it is empty: degrees clockwise from the top. */
    startDeg: z.number().min(-360).max(360),
    /** How far it reaches when full; negative turns the other way. */
    sweepDeg: z.number().min(-360).max(360),
  }),
  z.strictObject({
    kind: z.literal('pips'),
    count: z.int().min(1).max(100),
    sizePx: extent,
    gapPx: atLeastZero,
    shape: z.enum(['round', 'soft', 'square']),
    /** A pip that is begun: filled by its share, or only once it is whole. */
    part: z.enum(['share', 'whole']),
    vertical: z.boolean(),
    /** In place of the shape: what a pip is filled with, and what lies behind. */
    picture: idSchema.optional(),
    behind: idSchema.optional(),
  }),
  /** A picture filled over another. */
  z.strictObject({
    kind: z.literal('picture'),
    picture: idSchema.nullable(),
    behind: idSchema.nullable(),
    widthPx: extent,
    heightPx: extent,
    towards: z.enum(['right', 'left', 'up', 'down']),
  }),
  /** One of n pictures: the k-th of them from the share k/n on, and the last when full. */
  z.strictObject({ kind: z.literal('stages'), pictures: z.array(idSchema).min(1).max(50), widthPx: extent, heightPx: extent }),
]);

export const gaugeSchema = z
  .strictObject({
    kind: z.literal('gauge'),
    ...common,
    /** The feed it shows; null: not wired yet. */
    source: idSchema.nullable(),
    /** Values at which it is empty and full. */
    empty: z.number(),
    full: z.number(),
    form: gaugeFormSchema,
    /** The first whose value is not below `below` gives way to the next; none: the paint's fill. In the feed's own unit. */
    thresholds: z.array(z.strictObject({ below: z.number(), colour })).max(20),
    /** The drawn value follows with this time constant; 0: at once. */
    smoothS: atLeastZero,
    /** Recent loss: stays so long after the last drop, then runs off at this share of the whole a second. */
    ghost: z.strictObject({ colour, holdS: atLeastZero, perS: positive }).nullable(),
    paint: z.strictObject({
      fill: colour,
      track: colour,
      border: z.strictObject({ colour, widthPx: positive }).nullable(),
      opacity: fraction,
    }),
  })
  .refine((g) => g.empty !== g.full, { path: ['full'], message: 'a gauge that is full at the value at which it is empty shows nothing' });

export const pictureSchema = z.strictObject({
  kind: z.literal('picture'),
  ...common,
  /** Null: none chosen yet. */
  picture: idSchema.nullable(),
  widthPx: extent,
  heightPx: extent,
  /** `nine`: corners keep their size, edges run along, the middle fills. */
  fill: z.enum(['contain', 'cover', 'stretch', 'nine']),
  /** Left, top, right, bottom: the corners of `nine`, in the picture's own pixels; how many design pixels one of these takes. */
  cornersPx: z.tuple([atLeastZero, atLeastZero, atLeastZero, atLeastZero]),
  cornerScale: positive,
  /** How far it is painted beyond its box: left, top, right, bottom. */
  beyondPx: z.tuple([atLeastZero, atLeastZero, atLeastZero, atLeastZero]),
  paint: z.strictObject({
    /** Multiplied onto the picture. */
    tint: colour.nullable(),
    /** 0: grey, 1: as it is. */
    saturation: z.number().min(0).max(3),
    blurPx: atLeastZero.max(100),
    radiusPx: atLeastZero,
    opacity: fraction,
  }),
});

/** Sets a flag. */
export const toggleSchema = z.strictObject({
  kind: z.literal('toggle'),
  ...common,
  source: idSchema.nullable(),
  form: z.enum(['switch', 'tick']),
  widthPx: extent,
  heightPx: extent,
  paint: z.strictObject({ on: colour, off: colour, knob: colour, border, opacity: fraction }),
});

/** Sets a number. */
export const sliderSchema = z
  .strictObject({
    kind: z.literal('slider'),
    ...common,
    source: idSchema.nullable(),
    /** Values at its left end and its right end; or at its foot and its head. */
    empty: z.number(),
    full: z.number(),
    /** Values lie this far apart, in the feed's unit. */
    step: positive,
    vertical: z.boolean(),
    widthPx: extent,
    heightPx: extent,
    paint: z.strictObject({ fill: colour, track: colour, knob: colour, border, opacity: fraction }),
  })
  .refine((s) => s.empty !== s.full, { path: ['full'], message: 'a slider whose ends are one value sets nothing' });

/** Paint over the level's picture, under all elements, as strong as a feed says. */
export const screenPaintSchema = z
  .strictObject({
    kind: z.literal('screenPaint'),
    ...common,
    effect: z.enum(['desaturate', 'tint', 'vignette', 'fringe']),
    colour,
    /** Null: always at its full strength. */
    source: idSchema.nullable(),
    /** Values at which there is nothing of it, and all. */
    empty: z.number(),
    full: z.number(),
    /** It rises at once and falls by this share of the whole a second; null: it follows at once. */
    fallPerS: positive.nullable(),
    paint: z.strictObject({ opacity: fraction }),
  })
  .refine((s) => s.empty !== s.full, {
    path: ['full'],
    message: 'screen paint that is full at the value at which it is empty shows nothing',
  });

/** The key of the player's device that sends the action of the prompt it is in, with a ring while it is held. */
export const keySchema = z.strictObject({
  kind: z.literal('key'),
  ...common,
  /** Null: the action of the element around it that has a press. */
  action: idSchema.nullable(),
  heightPx: extent,
  paint: z.strictObject({
    plate: colour,
    ink: colour,
    /** Of the button meant, and of the ring that fills. */
    lit: colour,
    border,
    opacity: fraction,
  }),
});

/** A use of a template: the group that it is of stands here, with values of its own for parameters. */
export const instanceSchema = z.strictObject({
  kind: z.literal('instance'),
  ...common,
  of: idSchema,
  values: z.record(parameterName, z.union([z.string().max(4000), z.number()])),
  /** Of values that are texts: what they are in the project's other languages. */
  translations: z.record(parameterName, translationsSchema).optional(),
  paint: z.strictObject({ opacity: fraction }),
});

export const elementSchema = z.discriminatedUnion('kind', [
  labelSchema,
  groupSchema,
  gaugeSchema,
  pictureSchema,
  pageSchema,
  toggleSchema,
  sliderSchema,
  screenPaintSchema,
  keySchema,
  instanceSchema,
  crosshairSchema,
  directionSchema,
]);
