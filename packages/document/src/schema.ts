/**
 * The document: everything a project says about its interface, as plain JSON.
 *
 * Conventions. World positions are metres, right-handed, +Y up. Rotations are unit quaternions
 * `[x, y, z, w]`. A camera looks along its own −Z. Field names carry their unit. Collections are
 * objects keyed by id; `order` sorts them (fractional keys, compared by code unit).
 */
import * as z from 'zod';
import { contestSchema } from './gates.ts';
import {
  atLeastZero,
  type compared,
  type feedValue,
  fraction,
  idSchema,
  name,
  order,
  positive,
  unitQuat,
  vec3,
  weight,
} from './primitives.ts';
import { checksSchema } from './schema/checks.ts';
import type { detailSchema, manySchema, motionSchema, movementSchema, onlySchema, pointerSchema } from './schema/common.ts';
import type { showSchema } from './schema/conditions.ts';
import { conventionSchema } from './schema/convention.ts';
import {
  elementSchema,
  type gaugeFormSchema,
  type gaugeSchema,
  type groupSchema,
  type instanceSchema,
  type keySchema,
  type labelSchema,
  type pageSchema,
  type pictureSchema,
  type screenPaintSchema,
  type sliderSchema,
  type toggleSchema,
} from './schema/elements.ts';
import {
  actionSchema,
  feedSchema,
  phaseSchema,
  type poseSchema,
  raySchema,
  type reactionSchema,
  routeSchema,
  type sourceSchema,
  viewerSchema,
} from './schema/game.ts';
import { languageTag } from './schema/language.ts';
import { anchorSchema, type lensSchema, type mountSchema, type sizeSchema } from './schema/world.ts';

export { DEVICES, GATES } from './gates.ts';
export * from './schema/checks.ts';
export * from './schema/common.ts';
export * from './schema/conditions.ts';
export * from './schema/convention.ts';
export * from './schema/elements.ts';
export * from './schema/game.ts';
export * from './schema/world.ts';
export { idSchema };

export const DOCUMENT_FORMAT = 'foreshore';
export const DOCUMENT_VERSION = 1;
/** A font of the project; its name is its family's. Its bytes are kept as those of pictures are. */
export const fontFileSchema = z.strictObject({
  name,
  order,
  weight,
  hash: z.string().regex(/^[0-9a-f]{64}$/),
});

/**
 * A picture of the project, or a page, which draws itself. Its bytes are kept beside the document, under their hash. A page is
 * kept as one HTML file with all its assets inside.
 */
export const pictureFileSchema = z.strictObject({
  name,
  order,
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  type: z.enum(['image/png', 'image/jpeg', 'image/webp', 'image/svg+xml', 'text/html']),
  /** Of a page: the window it is laid out in. */
  widthPx: positive.max(16384),
  heightPx: positive.max(16384),
  /** Of a page: what it names that was not brought with it, as it names it. */
  missing: z.array(z.string().min(1).max(300)).max(100).optional(),
});

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
  /** What acts on a panel, for a hand's ray: its smaller side as an angle. */
  leastTargetDeg: positive.max(90).optional(),
  /** In a headset: how near and how far it may be, and by how much the eyes' angle to it may differ from that to what is looked at. */
  nearestM: positive.max(1000).optional(),
  farthestM: positive.max(100_000).optional(),
  mostVergenceDeg: positive.max(90).optional(),
});

/** The shape alone; that references hold is `checkReferences`' to say. */
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
    /** In a headset the glass is a panel before the head: how far, how wide, and with which time constant it comes after (0: rigid). */
    headset: z.strictObject({ distanceM: positive.max(1000), wideDeg: positive.max(150), followS: atLeastZero.max(10) }).optional(),
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
  /** The ray with which panels are used; without it, the mouse's, of 10 m. */
  ray: raySchema.optional(),
  /**
   * How what floats stands on the screen. `apart`: nothing of it overlaps. `touchS`: but what is shown may touch others for so long
   * before it makes room. `patient`: while time stands, as few as can be are hidden, whatever must move for it. `snap`: at rest, boxes lie on
   * whole pixels.
   */
  labels: z
    .strictObject({
      apart: z.boolean(),
      touchS: positive.max(10).optional(),
      patient: z.literal(true).optional(),
      snap: z.literal(true).optional(),
    })
    .optional(),
  /** How the world counts that the project leaves for; without it, as here. */
  convention: conventionSchema.optional(),
  /** What is measured when it is checked; without it, everything. */
  checks: checksSchema.optional(),
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
export type PageElement = z.infer<typeof pageSchema>;
export type Toggle = z.infer<typeof toggleSchema>;
export type Slider = z.infer<typeof sliderSchema>;
export type ScreenPaint = z.infer<typeof screenPaintSchema>;
export type Instance = z.infer<typeof instanceSchema>;
export type Key = z.infer<typeof keySchema>;
export type { Claim, Device, Keys, Look, Press, Range, Sightline, Zone } from './gates.ts';
export type FontFile = z.infer<typeof fontFileSchema>;
export type PictureFile = z.infer<typeof pictureFileSchema>;
export type Motion = z.infer<typeof motionSchema>;
export type Many = z.infer<typeof manySchema>;
export type Detail = z.infer<typeof detailSchema>;
export type Only = z.infer<typeof onlySchema>;
export type Movement = z.infer<typeof movementSchema>;
export type GaugeForm = z.infer<typeof gaugeFormSchema>;
export type Element = z.infer<typeof elementSchema>;
export type Mount = z.infer<typeof mountSchema>;
export type Show = z.infer<typeof showSchema>;
export type Pointer = z.infer<typeof pointerSchema>;
export type RaySettings = z.infer<typeof raySchema>;
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
