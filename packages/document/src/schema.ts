/**
 * The document: everything a project says about its interface, as plain JSON.
 *
 * Conventions. World positions are metres, right-handed, +Y up. Rotations are unit quaternions
 * `[x, y, z, w]`. A camera looks along its own −Z. Field names carry their unit. Collections are
 * objects keyed by id; `order` sorts them (fractional keys, compared by code unit).
 */
import { z } from 'zod';
import { contestSchema, gates, keysSchema, zoneSchema } from './gates.ts';
import {
  atLeastZero,
  colour,
  compared,
  feedValue,
  fraction,
  idSchema,
  name,
  need,
  order,
  positive,
  unitQuat,
  vec2,
  vec3,
  weight,
} from './primitives.ts';

export { DEVICES, GATES } from './gates.ts';
export { idSchema };

export const DOCUMENT_FORMAT = 'foreshore';
export const DOCUMENT_VERSION = 1;

const fov = z.number().gt(0).lt(180);
const halfAngle = z.number().gt(-90).lt(90);
export const lensSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('perspective'),
    /** Field of view along `fovAxis`, degrees, as seen at `designAspect`. */
    fovDeg: fov,
    fovAxis: z.enum(['vertical', 'horizontal', 'diagonal']),
    /** What stays when the frame's aspect differs from `designAspect`: `whole` keeps all of the design frame in view. */
    hold: z.enum(['vertical', 'horizontal', 'whole']),
    /** Width over height for which `fovDeg` is meant; null: that of the frame itself. */
    designAspect: positive.nullable(),
    nearM: positive,
  }),
  z.strictObject({
    kind: z.literal('offAxis'),
    /** Half-angles in degrees from the forward axis; left and down are negative. */
    leftDeg: halfAngle,
    rightDeg: halfAngle,
    upDeg: halfAngle,
    downDeg: halfAngle,
    nearM: positive,
  }),
  z.strictObject({ kind: z.literal('orthographic'), halfHeightM: positive, nearM: positive }),
]);

const placed = { name, order, zone: zoneSchema.optional() };
export const anchorSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('surface'),
    ...placed,
    /** The node the surface belongs to if it can move; null: position and normal are in the world. */
    node: z.string().min(1).nullable(),
    position: vec3,
    normal: vec3.refine((n) => Math.abs(Math.hypot(...n) - 1) < 1e-3, 'a normal has length 1'),
  }),
  z.strictObject({ kind: z.literal('node'), ...placed, node: z.string().min(1), /** In the node's own space. */ offset: vec3 }),
  z.strictObject({ kind: z.literal('midpoint'), ...placed, first: idSchema, second: idSchema }),
  /** Every node that matches: what is mounted on it stands at each of them. */
  z.strictObject({
    kind: z.literal('nodes'),
    ...placed,
    /** Of the node's name; * stands for any characters, ? for one. */
    pattern: z.string().min(1).max(200),
    /** A property in the node's extras, as `key` or `key=value`; null: any node of that name. */
    property: z.string().min(1).max(200).nullable(),
    /** In each node's own space. */
    offset: vec3,
  }),
  /** Where an event happened last; before the first one there is no such place. */
  z.strictObject({ kind: z.literal('event'), ...placed, feed: idSchema.nullable(), /** In the world. */ offset: vec3 }),
]);

/** Below this the Size step says no; it takes `leavePx` less than that to hide again. Design pixels of the em. */
const sizeFloor = { hideBelowPx: atLeastZero, leavePx: atLeastZero };
export const sizeSchema = z.discriminatedUnion('rule', [
  z.strictObject({ rule: z.literal('screen'), emPx: positive, ...sizeFloor }),
  z.strictObject({ rule: z.literal('angle'), emArcmin: positive, ...sizeFloor }),
  z
    .strictObject({ rule: z.literal('world'), emM: positive, leastPx: atLeastZero, greatestPx: positive, ...sizeFloor })
    .refine((s) => s.leastPx <= s.greatestPx, { path: ['leastPx'], message: 'the least size is larger than the greatest' }),
]);

/** How an element is carried. Where its own point comes to lie is said by its pin and its offset, whatever the mount. */
export const mountSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('floating'), anchor: idSchema }),
  z.strictObject({
    kind: z.literal('glass'),
    /** The box that pins are fractions of: the whole screen, or what of it is surely seen. */
    within: z.enum(['screen', 'safe']),
    pin: z.tuple([fraction, fraction]),
    /** Takes the parent's whole width, its whole height, less the offset at both sides. */
    stretch: z.tuple([z.boolean(), z.boolean()]),
  }),
  z.strictObject({
    kind: z.literal('inside'),
    group: idSchema,
    /** Where the group lays its members out freely; a row or a column places them itself. */
    pin: z.tuple([fraction, fraction]),
    stretch: z.tuple([z.boolean(), z.boolean()]),
  }),
]);

const languageTag = z.string().min(2).max(35).refine(isLanguage, 'a language is written as a tag such as "en" or "de-AT"');

const translationsSchema = z.record(languageTag, z.string().max(4000));

function isLanguage(tag: string): boolean {
  try {
    return Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
}
/** Holds for so long after the feed's value has changed. */
const changedLately = z.strictObject({ kind: z.literal('changed'), feed: idSchema, withinS: positive });
export interface ConditionGroup {
  kind: 'group';
  need: 'all' | 'any' | 'none';
  conditions: Condition[];
}
export type Condition = z.infer<typeof compared> | z.infer<typeof changedLately> | ConditionGroup;
/** Conditions joined once more, to any depth. */
const joined: z.ZodType<ConditionGroup> = z.lazy(() =>
  z.strictObject({ kind: z.literal('group'), need, conditions: z.array(condition).max(40) }),
);
const condition: z.ZodType<Condition> = z.union([compared, changedLately, joined]);

/** When an element applies. Without it, always. */
export const showSchema = z.strictObject({
  /** What a phase does to it; phases that are not named show it. */
  phases: z.record(idSchema, z.enum(['hidden', 'dimmed'])),
  /** Which of the conditions must hold. */
  need,
  conditions: z.array(condition).max(40),
  /** It stays this long after the conditions stopped holding. */
  lingerS: atLeastZero,
});

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

const movementSchema = z.strictObject({
  kind: z.enum(['fade', 'slide', 'grow', 'unfold']),
  /** Where it slides in from, or about which edge it unfolds. */
  edge: z.enum(['left', 'right', 'top', 'bottom']),
  timeS: positive.max(30),
  easing: z.enum(['smooth', 'springy', 'stepped']),
  delayS: atLeastZero.max(30),
});
/** How it comes and goes. */
export const motionSchema = z.strictObject({
  enter: movementSchema.nullable(),
  leave: movementSchema.nullable(),
  /** Of a group: each member waits this much longer than the one before it. */
  betweenS: atLeastZero.max(10),
});

const placeSchema = z.strictObject({
  /** The point of the element, 0..1 from its top left, that is put on the pin. */
  ownPoint: z.tuple([fraction, fraction]),
  /** From the pin (the projected anchor, or a point of the parent) to the own point, design pixels, y down. */
  offsetPx: vec2,
  /** `inside` moves the element until all of it lies in the viewer's safe area. */
  stay: z.enum(['free', 'inside']),
  /** Of what floats: its box keeps so far off the middle of the view, where a crosshair is, design pixels. */
  clearPx: atLeastZero.max(2000).optional(),
  leader: z.strictObject({ widthPx: positive, colour }).nullable(),
});

const parameterName = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_]{0,39}$/, 'a parameter is named by up to 40 letters, digits and underscores, a letter first');

/** What every element has, whatever it is. */
const common = {
  name,
  order,
  mount: mountSchema,
  show: showSchema.optional(),
  pointer: pointerSchema.optional(),
  motion: motionSchema.optional(),
  ...gates,
  /** Inside a template: which of its fields take on the value of which parameter. */
  uses: z.partialRecord(z.enum(['text', 'source', 'picture', 'empty', 'full']), parameterName).optional(),
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

const extent = positive.max(20000);
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

const border = z.strictObject({ colour, widthPx: positive }).nullable();
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
  toggleSchema,
  sliderSchema,
  screenPaintSchema,
  keySchema,
  instanceSchema,
]);

/** A font of the project; its name is its family's. Its bytes are kept as those of pictures are. */
export const fontFileSchema = z.strictObject({
  name,
  order,
  weight,
  hash: z.string().regex(/^[0-9a-f]{64}$/),
});

/** A picture of the project. Its bytes are kept beside the document, under their hash. */
export const pictureFileSchema = z.strictObject({
  name,
  order,
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  type: z.enum(['image/png', 'image/jpeg', 'image/webp', 'image/svg+xml']),
  widthPx: positive.max(16384),
  heightPx: positive.max(16384),
});

export const viewerSchema = z.strictObject({
  kind: z.literal('screen'),
  name,
  order,
  widthPx: z.int().min(16).max(16384),
  heightPx: z.int().min(16).max(16384),
  diagonalIn: positive,
  distanceM: positive,
  lens: lensSchema,
  /** Shares of the width and height at each side that may not be seen. */
  safeArea: z.strictObject({ left: fraction, top: fraction, right: fraction, bottom: fraction }),
});

const poseSchema = z.strictObject({ timeS: atLeastZero, position: vec3, rotation: unitQuat });
export const routeSchema = z.strictObject({
  name,
  order,
  poses: z
    .array(poseSchema)
    .min(1)
    .max(20000)
    .superRefine((poses, ctx) => {
      for (let i = 1; i < poses.length; i++) {
        const [before, here] = [poses[i - 1], poses[i]];
        if (before && here && here.timeS <= before.timeS)
          ctx.addIssue({ code: 'custom', path: [i, 'timeS'], message: `times must rise: ${here.timeS} s follows ${before.timeS} s` });
      }
    }),
  /** Values that feeds take on from a time on, in order of time. */
  feeds: z.array(z.strictObject({ timeS: atLeastZero, feed: idSchema, value: feedValue })).max(20000),
  phases: z.array(z.strictObject({ timeS: atLeastZero, phase: idSchema })).max(2000),
});

const seed = z.int().min(0).max(2147483647);
/** Where a feed's values come from while no game is connected. Times are those of the route, so that a route replays the same. */
export const sourceSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('fixed') }),
  z.strictObject({ kind: z.literal('ramp'), from: z.number(), to: z.number(), periodS: positive }),
  z.strictObject({ kind: z.literal('sine'), middle: z.number(), reach: z.number(), periodS: positive, startDeg: z.number() }),
  /** A seeded random walk between two bounds, with a step every 0.1 s. */
  z.strictObject({ kind: z.literal('wander'), from: z.number(), to: z.number(), perS: positive, seed }),
  /** Events at these places in turn, the first after `everyS`. */
  z.strictObject({ kind: z.literal('events'), places: z.array(vec3).min(1).max(1000), everyS: positive }),
  z.strictObject({ kind: z.literal('steps'), values: z.array(feedValue).min(1).max(1000), everyS: positive }),
  /** Seconds since the start. */
  z.strictObject({ kind: z.literal('time') }),
  /** Metres from the viewer's eye to an anchor. */
  z.strictObject({ kind: z.literal('distance'), anchor: idSchema }),
  /** Metres above the level's zero of the viewer's eye. */
  z.strictObject({ kind: z.literal('height') }),
  /** Metres a second that the viewer moves; metres that it has come down since it was last going up or level. */
  z.strictObject({ kind: z.literal('speed') }),
  z.strictObject({ kind: z.literal('fallen') }),
  /** Where an anchor is, metres along one axis of the world. */
  z.strictObject({ kind: z.literal('place'), anchor: idSchema, axis: z.enum(['x', 'y', 'z']) }),
  /** A key of the keyboard while trying, by its place (`KeyG`): on while it is held, or turned over at every press. */
  z.strictObject({ kind: z.literal('key'), code: z.string().min(1).max(40), how: z.enum(['held', 'turns']) }),
]);

export const kindOfValue = (value: FeedValue): 'number' | 'text' | 'flag' | 'list' | 'event' =>
  Array.isArray(value)
    ? 'list'
    : ({ number: 'number', string: 'text', boolean: 'flag', object: 'event' } as const)[
        typeof value as 'number' | 'string' | 'boolean' | 'object'
      ];

export const feedSchema = z
  .strictObject({
    name,
    order,
    kind: z.enum(['number', 'text', 'flag', 'list', 'event']),
    unit: z.string().max(40),
    initial: feedValue,
    /** The values a number is meant to take; others are shown, and marked. */
    range: z.tuple([z.number(), z.number()]).optional(),
    source: sourceSchema.optional(),
  })
  .refine((f) => kindOfValue(f.initial) === f.kind, {
    path: ['initial'],
    message: 'the initial value is not of the kind of the feed',
  });
export const phaseSchema = z.strictObject({
  name,
  order,
  /** The glass has the input: the walk stands still. */
  takesInput: z.boolean().optional(),
});

/** When a reaction is done: all of these hold, and the action was sent at this target. */
const guards = {
  when: z.array(compared).max(20),
  /** The node, or else the anchor's id, that the prompt which sent it is about; without it, any. */
  target: z.string().min(1).max(200).optional(),
};

/** What is done when an action is sent: each whose conditions hold, in order. */
export const reactionSchema = z.discriminatedUnion('kind', [
  /** `overS`: a number runs there in that time. */
  z.strictObject({ kind: z.literal('set'), ...guards, feed: idSchema, value: feedValue, overS: positive.max(600).optional() }),
  z.strictObject({ kind: z.literal('add'), ...guards, feed: idSchema, by: z.number() }),
  /** To the one of two numbers that it is farther from. */
  z.strictObject({
    kind: z.literal('other'),
    ...guards,
    feed: idSchema,
    values: z.tuple([z.number(), z.number()]),
    overS: positive.max(600).optional(),
  }),
  z.strictObject({ kind: z.literal('phase'), ...guards, phase: idSchema }),
  z.strictObject({ kind: z.literal('send'), ...guards, action: idSchema }),
  /** Shows or hides an element, until the next start; `other`: the one that it is not. */
  z.strictObject({
    kind: z.literal('show'),
    ...guards,
    element: idSchema,
    shown: z.enum(['shown', 'hidden', 'other']),
  }),
  /** Plays the motion of entering once more. */
  z.strictObject({ kind: z.literal('motion'), ...guards, element: idSchema }),
]);
/** An action: what an element sends by name when it is used, and what the bench does on it. A game does what it wants. */
export const actionSchema = z.strictObject({ name, order, reactions: z.array(reactionSchema).max(50), keys: keysSchema.optional() });

export const levelSchema = z.strictObject({
  /** File name beside the document or inside the project file. */
  file: z
    .string()
    .min(1)
    .max(255)
    .regex(/^[^/\\]+$/, 'a file name without folders'),
  /** SHA-256 of the stored level, hexadecimal; null until it is stored. */
  hash: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .nullable(),
  metresPerUnit: positive,
  upAxis: z.enum(['y', 'z']),
  /** Animations that a feed moves: from its first moment at `from` to its last at `to`; yes counts as 1. All others run by the clock. */
  clips: z.record(z.string().min(1).max(200), z.strictObject({ feed: idSchema, from: z.number(), to: z.number() })).optional(),
});

export const readabilitySchema = z.strictObject({
  /** Character height at the player's eye. */
  leastArcmin: positive.max(1000).optional(),
  leastPx: positive.max(1000).optional(),
  /** Contrast ratio, of small and of large letters. */
  contrast: z.number().min(1).max(21).optional(),
  contrastLarge: z.number().min(1).max(21).optional(),
  /** The share of it that others may cover. */
  mostCovered: fraction.optional(),
  mostDegPerS: positive.max(1000).optional(),
});

/** The shape alone; that references hold is `documentSchema`'s to say. */
export const documentShape = z.strictObject({
  format: z.literal(DOCUMENT_FORMAT),
  version: z.literal(DOCUMENT_VERSION),
  name,
  /** The language texts are written in; the others there are. */
  language: languageTag,
  languages: z.array(languageTag).max(40).optional(),
  level: levelSchema.nullable(),
  /** The screen the glass is designed for, and how it scales to another. */
  glass: z.strictObject({
    widthPx: positive,
    heightPx: positive,
    /** `angle`: as large at the player's eye as on the design's own screen, of this many pixels a degree. */ fit: z.enum([
      'height',
      'width',
      'smaller',
      'angle',
    ]),
    designPixelsPerDegree: positive.optional(),
  }),
  /** The body that walks. */
  body: z.strictObject({ eyeHeightM: positive, radiusM: positive, stepM: atLeastZero, speedMps: positive }),
  anchors: z.record(idSchema, anchorSchema),
  elements: z.record(idSchema, elementSchema),
  viewers: z.record(idSchema, viewerSchema),
  routes: z.record(idSchema, routeSchema),
  feeds: z.record(idSchema, feedSchema),
  phases: z.record(idSchema, phaseSchema),
  actions: z.record(idSchema, actionSchema).optional(),
  /** What the bench shows when the project is opened without saying what. */
  opening: z
    .strictObject({
      route: idSchema.optional(),
      timeS: atLeastZero,
      selection: idSchema.optional(),
      /** Off the route. */
      pose: z.strictObject({ position: vec3, rotation: unitQuat }).optional(),
    })
    .optional(),
  /** What counts as readable; what is not given is as usual. */
  readability: readabilitySchema.optional(),
  /** How prompts contend for keys; without it, one for each key. */
  contest: contestSchema.optional(),
  pictures: z.record(idSchema, pictureFileSchema).optional(),
  fonts: z.record(idSchema, fontFileSchema).optional(),
  /** A picture that stands for the pointer, in front of everything. */
  cursor: z
    .strictObject({
      picture: idSchema,
      /** While it is on something that acts. */
      overActing: idSchema.nullable(),
      /** The point of the picture that points, 0..1 from its top left. */
      hotSpot: z.tuple([fraction, fraction]),
      sizePx: positive.max(2000),
    })
    .optional(),
});

export type Document = z.infer<typeof documentShape>;
export type Lens = z.infer<typeof lensSchema>;
export type Anchor = z.infer<typeof anchorSchema>;
export type Label = z.infer<typeof labelSchema>;
export type Group = z.infer<typeof groupSchema>;
export type Gauge = z.infer<typeof gaugeSchema>;
export type Picture = z.infer<typeof pictureSchema>;
export type Toggle = z.infer<typeof toggleSchema>;
export type Slider = z.infer<typeof sliderSchema>;
export type ScreenPaint = z.infer<typeof screenPaintSchema>;
export type Instance = z.infer<typeof instanceSchema>;
export type Key = z.infer<typeof keySchema>;
export type { Claim, Device, Keys, Look, Press, Range, Sightline, Zone } from './gates.ts';
export type FontFile = z.infer<typeof fontFileSchema>;
export type PictureFile = z.infer<typeof pictureFileSchema>;
export type Motion = z.infer<typeof motionSchema>;
export type Movement = z.infer<typeof movementSchema>;
export type GaugeForm = z.infer<typeof gaugeFormSchema>;
export type Element = z.infer<typeof elementSchema>;
export type Mount = z.infer<typeof mountSchema>;
export type Show = z.infer<typeof showSchema>;
export type Pointer = z.infer<typeof pointerSchema>;
export type Action = z.infer<typeof actionSchema>;
export type Reaction = z.infer<typeof reactionSchema>;
export type Comparison = z.infer<typeof compared>;
export type FeedValue = z.infer<typeof feedValue>;
export type FeedSource = z.infer<typeof sourceSchema>;
export type SizeRule = z.infer<typeof sizeSchema>;
export type Viewer = z.infer<typeof viewerSchema>;
export type Route = z.infer<typeof routeSchema>;
export type RoutePose = z.infer<typeof poseSchema>;
export type Feed = z.infer<typeof feedSchema>;
export type Phase = z.infer<typeof phaseSchema>;
export type LevelRef = z.infer<typeof levelSchema>;
/** The collections that are keyed by id. */
export const COLLECTIONS = ['anchors', 'elements', 'viewers', 'routes', 'feeds', 'phases', 'actions', 'pictures', 'fonts'] as const;
export type CollectionName = (typeof COLLECTIONS)[number];
