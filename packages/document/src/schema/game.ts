/** What the game is to the interface: viewers, routes, feeds, phases and actions. */
import * as z from 'zod';
import { keysSchema } from '../gates.ts';
import { atLeastZero, colour, compared, feedValue, fraction, idSchema, name, order, positive, unitQuat, vec3 } from '../primitives.ts';
import { lensSchema } from './world.ts';

export const RAY_SOURCES = ['aim', 'left', 'right', 'head'] as const;

const sees = {
  name,
  order,
  /** Of the whole screen; of a headset, of one eye. */
  widthPx: z.int().min(16).max(16384),
  heightPx: z.int().min(16).max(16384),
  /** Of each part of a split screen; of a headset, of the left eye: the right eye's is its mirror image. */
  lens: lensSchema,
  /** Shares of the width and height at each side that may not be seen. */
  safeArea: z.strictObject({ left: fraction, top: fraction, right: fraction, bottom: fraction }),
};
/** A flat screen, before whose middle the player's eye is. */
const display = { ...sees, diagonalIn: positive, distanceM: positive };
export const viewerSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('screen'), ...display }),
  /** One screen for two to four players. */
  z.strictObject({
    kind: z.literal('split'),
    ...display,
    arrangement: z.enum(['columns', 'rows', 'grid']),
    /** Where each player's camera goes; null: where the bench's is. */
    players: z
      .array(z.strictObject({ route: idSchema.nullable() }))
      .min(2)
      .max(4),
  }),
  z.strictObject({
    kind: z.literal('headset'),
    ...sees,
    /** Between the eyes, metres. */
    eyeDistanceM: positive.max(1),
  }),
]);

export const poseSchema = z.strictObject({ timeS: atLeastZero, position: vec3, rotation: unitQuat });
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
  feeds: z
    .array(
      z.strictObject({
        timeS: atLeastZero,
        feed: idSchema,
        /** The node whose value it is, of a feed that has one for each object. */
        object: name.optional(),
        value: feedValue,
      }),
    )
    .max(20000),
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
  /**
   * Metres between two anchors: straight, over the ground, or how much higher the second is; of a path by way of others, all of its legs.
   * Or the angle at the one between them, degrees. Or how far apart they are on the screen, pixels: at each viewer by itself, and no value
   * while one of them is not before the camera.
   */
  z
    .strictObject({
      kind: z.literal('between'),
      first: idSchema,
      second: idSchema,
      along: z.enum(['space', 'ground', 'height', 'angle', 'screen']),
      via: z.array(idSchema).max(30).optional(),
    })
    .refine((s) => s.along !== 'angle' || s.via?.length === 1, { path: ['via'], message: 'an angle is at one anchor between the two' }),
  /** Metres above the level's zero of the viewer's eye. */
  z.strictObject({ kind: z.literal('height') }),
  /** Metres a second that the viewer moves; metres that it has come down since it was last going up or level. */
  z.strictObject({ kind: z.literal('speed') }),
  z.strictObject({ kind: z.literal('fallen') }),
  /** Where an anchor is, metres along one axis of the world. */
  z.strictObject({ kind: z.literal('place'), anchor: idSchema, axis: z.enum(['x', 'y', 'z']) }),
  /**
   * What lies in the middle of the view, within `mostM` metres. Meant are nodes by a pattern of their names and a property of their
   * extras, as an anchor for many nodes has them, and all that is below them. A flag says whether it is one that is meant; a text, which;
   * a number, how far it is or where along an axis of the world.
   */
  z.strictObject({
    kind: z.literal('aimed'),
    mostM: positive.max(1000),
    pattern: z.string().min(1).max(200),
    property: z.string().min(1).max(200).nullable(),
    gives: z.enum(['distance', 'x', 'y', 'z']),
  }),
  /** A key of the keyboard while trying, by its place (`KeyG`): on while it is held, or turned over at every press. */
  z.strictObject({ kind: z.literal('key'), code: z.string().min(1).max(40), how: z.enum(['held', 'turns']) }),
]);

/** Sources that have one value, whoever asks. */
const OF_THE_VIEWER = new Set(['time', 'height', 'speed', 'fallen', 'aimed', 'distance', 'between', 'place']);
const isOfTheViewer = (source: z.infer<typeof sourceSchema> | undefined): boolean => source !== undefined && OF_THE_VIEWER.has(source.kind);

export const kindOfValue = (value: z.infer<typeof feedValue>): 'number' | 'text' | 'flag' | 'list' | 'event' =>
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
    /**
     * It has a value for each object: an element that stands at a node of the level, or is about one, reads that node's. Until somebody says
     * it, the value is what the node carries under the feed's name, or else the feed's own.
     */
    each: z.literal(true).optional(),
  })
  .refine((f) => kindOfValue(f.initial) === f.kind, {
    path: ['initial'],
    message: 'the initial value is not of the kind of the feed',
  })
  .refine((f) => !f.each || (f.kind !== 'event' && f.source?.kind !== 'key' && !isOfTheViewer(f.source)), {
    path: ['each'],
    message: 'neither an event nor what a key or the viewer tells has a value for each object',
  });
export const phaseSchema = z.strictObject({
  name,
  order,
  /** The glass has the input: the walk stands still. */
  takesInput: z.boolean().optional(),
});

/** Where a hand is and points, each by a number feed; null: as it rests, or where the bench points it. From the eye, along the way one faces. */
const handSchema = z.strictObject({
  rightM: idSchema.nullable(),
  upM: idSchema.nullable(),
  aheadM: idSchema.nullable(),
  /** From the way one faces, and from the horizon. */
  leftDeg: idSchema.nullable(),
  upDeg: idSchema.nullable(),
});

/** The ray with which panels are used, whatever points it. */
export const raySchema = z.strictObject({
  /** How far it reaches, metres. */
  reachM: positive.max(1000),
  /** What points besides the mouse and a finger: the middle of the view, hands, the head, which presses by staying. */
  sources: z.array(z.enum(RAY_SOURCES)).max(RAY_SOURCES.length).optional(),
  buttons: z.partialRecord(z.enum(['aim', 'left', 'right']), keysSchema).optional(),
  /** How long the head stays on something to press it. */
  dwellS: positive.max(10).optional(),
  /** From a hand to what it points at. A colour of null is one that is missing. */
  beam: z.strictObject({ when: z.enum(['always', 'onTarget', 'never']), widthMm: positive.max(100), colour: colour.nullable() }).optional(),
  /** On what is pointed at, of the same size at the eye. */
  tip: z.strictObject({ arcmin: positive.max(600), colour: colour.nullable() }).optional(),
  hands: z.strictObject({ left: handSchema.optional(), right: handSchema.optional() }).optional(),
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
