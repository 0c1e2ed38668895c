/** What elements of every kind have. */
import * as z from 'zod';
import { gates } from '../gates.ts';
import { PARAMETER_FIELDS, type ParameterField } from '../parameter-fields.ts';
import { atLeastZero, colour, compared, fraction, idSchema, name, order, positive, vec2 } from '../primitives.ts';
import { showSchema } from './conditions.ts';
import { mountSchema, sizeSchema } from './world.ts';

/** How an element looks while the pointer is on it, or presses it. It reaches everything inside. */
const lookSchema = z.strictObject({
  /** In place of the plate's colour, of the element that has the look. */
  plate: colour.optional(),
  /** In place of the colour of texts, of the element and all that is inside. */
  text: colour.optional(),
  /** Of a picture: what is multiplied onto it, and how grey (0) or coloured (1) it is. */
  tint: colour.optional(),
  saturation: z.number().min(0).max(3).optional(),
  opacity: fraction.optional(),
});

/** What an element does with the pointer. Without it, it blocks: nothing that is drawn lets the pointer through to the world. */
export const pointerSchema = z.strictObject({
  takes: z.enum(['acts', 'blocks', 'passes']),
  /** Sent when it is pressed and let go on it. */
  action: idSchema.nullable(),
  /** How far beyond its box it takes the pointer, design pixels. */
  padPx: atLeastZero,
  pointed: lookSchema,
  pressed: lookSchema,
  /** It is off while all of these hold: it acts on nothing and looks as `off` says. */
  offWhen: z.array(compared).max(20).optional(),
  off: lookSchema.optional(),
  /** How long a change of looks takes. */
  changeS: atLeastZero.max(10).optional(),
});

export const movementSchema = z.strictObject({
  kind: z.enum(['fade', 'slide', 'grow', 'unfold']),
  /** Where it slides in from, or about which edge it unfolds. */
  edge: z.enum(['left', 'right', 'top', 'bottom']),
  timeS: positive.max(30),
  easing: z.enum(['smooth', 'springy', 'stepped']),
  delayS: atLeastZero.max(30),
  /** Sent when it begins to move, after its delay: for the game's sounds. */
  sends: idSchema.nullable().optional(),
});
/** How it comes and goes. */
export const motionSchema = z.strictObject({
  enter: movementSchema.nullable(),
  leave: movementSchema.nullable(),
  /** Of a group: each member waits this much longer than the one before it. */
  betweenS: atLeastZero.max(10),
});

/** Of what floats: where its anchor lies outside of this frame, or behind the viewer, it stands at the frame's edge, on the way there. */
export const edgeSchema = z.strictObject({
  form: z.enum(['rectangle', 'rounded', 'ellipse', 'ring']),
  /** Of the corners of a rounded frame; of a ring about the middle of the view, which the insets do not move. Design pixels. */
  radiusPx: positive.max(4000).optional(),
  /** From the sides of the picture: left, top, right, bottom, design pixels. */
  insetPx: z.tuple([atLeastZero.max(4000), atLeastZero.max(4000), atLeastZero.max(4000), atLeastZero.max(4000)]),
  /** Points the way, outward from the edge. */
  arrow: z.strictObject({ sizePx: positive.max(400), colour, outline: colour.nullable() }).nullable(),
  /** What is farther away is not marked, metres; null: however far. */
  withinM: positive.nullable(),
});

/** A line from what floats' own anchor to another, with its box on it: a measure line. */
export const spanSchema = z.strictObject({
  /** The anchor at the other end. */
  to: idSchema,
  /** Where the box is: at the middle of the whole line, or of what of it is seen. */
  textAt: z.enum(['middle', 'seen']),
  widthPx: positive.max(100),
  colour,
  outline: colour.nullable(),
  /** Dashes and gaps of this length on the screen; null: none. */
  dashPx: z.number().min(2).max(400).nullable(),
  /** In place of these: dashes and gaps of this length in the world, metres, from the line's first end. */
  dashM: positive.max(1000).optional(),
  /** How long the strokes across its ends are; 0: none. */
  capPx: atLeastZero.max(400),
});

/** A group that floats has so many forms at most, by how far away it is. */
export const MOST_DETAIL = 6;
/** Of a group that floats: where one detail ends and the next, farther one begins. */
export const detailSchema = z
  .strictObject({
    /** By the distance of the anchor from the viewer's eye, or by how large a metre is seen there, which a narrower lens changes, too. */
    by: z.enum(['distance', 'size']),
    /** Metres, each more than the one before; or design pixels for a metre, each less. */
    at: z
      .array(positive.max(1_000_000))
      .min(1)
      .max(MOST_DETAIL - 1),
    /** To come back to more detail, it must be nearer, or seen larger, than there by this share. */
    leaveShare: z.number().min(0).max(0.5),
  })
  .superRefine(({ by, at }, ctx) => {
    for (let k = 1; k < at.length; k++) {
      const [before, here] = [at[k - 1] as number, at[k] as number];
      if (by === 'distance' ? here <= before : here >= before)
        ctx.addIssue({
          code: 'custom',
          path: ['at', k],
          message:
            by === 'distance' ? `distances must rise: ${here} m follows ${before} m` : `sizes must fall: ${here} px follows ${before} px`,
        });
    }
  });

/**
 * Of what floats, where there are many of one kind: those on the nodes of one anchor, the instances of one template, or whatever has the
 * same `kind` here. Only those with the same settings count together.
 */
export const manySchema = z.strictObject({
  /** They count as one kind by this name, whatever they are. */
  kind: name.optional(),
  /** Those whose anchors are seen nearer to one another than this become one, design pixels. */
  mergePx: positive.max(2000).optional(),
  /** So many at most, the nearest: of all there are, or of those that would be shown. */
  most: z.strictObject({ count: z.int().min(1).max(1000), among: z.enum(['all', 'shown']) }).optional(),
});

/** Inside of a group that floats: it is there only in some of the group's forms, and takes room in these alone. */
export const onlySchema = z.strictObject({
  /** In which detail, the nearest being 0. */
  detail: z
    .array(
      z
        .int()
        .min(0)
        .max(MOST_DETAIL - 1),
    )
    .min(1)
    .max(MOST_DETAIL)
    .optional(),
  /** While the group stands at the edge of the frame, or while it does not. */
  edge: z.boolean().optional(),
  /** While the group stands for several that were merged, or while it does not. */
  merged: z.boolean().optional(),
});

export const placeSchema = z.strictObject({
  /** The point of the element, 0..1 from its top left, that is put on the pin. */
  ownPoint: z.tuple([fraction, fraction]),
  /** From the pin (the projected anchor, or a point of the parent) to the own point, design pixels, y down. */
  offsetPx: vec2,
  /** `inside` moves the element until all of it lies in the viewer's safe area. */
  stay: z.enum(['free', 'inside']),
  /** Of what floats: its box keeps so far off the middle of the view, where a crosshair is, design pixels. */
  clearPx: atLeastZero.max(2000).optional(),
  leader: z.strictObject({ widthPx: positive, colour }).nullable(),
  edge: edgeSchema.optional(),
  span: spanSchema.optional(),
  /** Of what floats, where labels keep apart: it makes room for others or is hidden, stays where it is, or may lie over them. */
  apart: z.enum(['moves', 'stays', 'free']).optional(),
  /** Of what floats: the higher, the earlier it has its place. */
  rank: z.number().min(-1000).max(1000).optional(),
  detail: detailSchema.optional(),
  many: manySchema.optional(),
});

export const parameterName = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_]{0,39}$/, 'a parameter is named by up to 40 letters, digits and underscores, a letter first');

/** What every element has, whatever it is. */
export const common = {
  name,
  order,
  mount: mountSchema,
  show: showSchema.optional(),
  pointer: pointerSchema.optional(),
  motion: motionSchema.optional(),
  only: onlySchema.optional(),
  ...gates,
  /** Inside a template: which of its fields take on the value of which parameter. */
  uses: z.partialRecord(z.enum(Object.keys(PARAMETER_FIELDS) as ParameterField[]), parameterName).optional(),
  /** Turned about its own point, degrees clockwise. */
  turnDeg: z.number().min(-360).max(360).optional(),
  /** Fits otherwise than the project does. */
  fit: z.enum(['height', 'width', 'smaller', 'angle']).optional(),
  /** Of a floating element. */
  view: z.strictObject({
    /** How far outside the frame the anchor may lie, design pixels. */
    outsidePx: z.number(),
    /** How much farther it must go before the element leaves, design pixels. */
    leavePx: atLeastZero,
  }),
  /** Of a label: its em. Of all others: what they count their own lengths in, one design pixel where nothing else is wanted. */
  size: sizeSchema,
  place: placeSchema,
};

export const extent = positive.max(20000);
export const border = z.strictObject({ colour, widthPx: positive }).nullable();
