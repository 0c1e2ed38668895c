/**
 * The document: everything a project says about its interface, as plain JSON.
 *
 * Conventions. World positions are metres, right-handed, +Y up. Rotations are unit quaternions
 * `[x, y, z, w]`. A camera looks along its own −Z. Field names carry their unit. Collections are
 * objects keyed by id; `order` sorts them (fractional keys, compared by code unit).
 */
import { z } from 'zod';

export const DOCUMENT_FORMAT = 'foreshore';
export const DOCUMENT_VERSION = 1;

/** An id is a key of a collection. It starts with a letter or digit, so it can never be a key that JavaScript objects carry themselves. */
export const idSchema = z
  .string()
  .regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/, 'an id has 1 to 64 letters, digits, hyphens or underscores and starts with a letter or digit')
  .refine((id) => id !== 'constructor', 'this id is reserved');
const name = z.string().min(1).max(200);
const order = z.string().min(1).max(200);
const positive = z.number().positive();
const atLeastZero = z.number().nonnegative();
const fraction = z.number().min(0).max(1);
const vec2 = z.tuple([z.number(), z.number()]);
const vec3 = z.tuple([z.number(), z.number(), z.number()]);
const unitQuat = z
  .tuple([z.number(), z.number(), z.number(), z.number()])
  .refine((q) => Math.abs(Math.hypot(...q) - 1) < 1e-3, 'a rotation is a quaternion [x, y, z, w] of length 1');
const colour = z.string().regex(/^#[0-9A-Fa-f]{6}([0-9A-Fa-f]{2})?$/, 'a colour is written #RRGGBB or #RRGGBBAA');

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

export const anchorSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('surface'),
    name,
    order,
    /** The node the surface belongs to if it can move; null: position and normal are in the world. */
    node: z.string().min(1).nullable(),
    position: vec3,
    normal: vec3.refine((n) => Math.abs(Math.hypot(...n) - 1) < 1e-3, 'a normal has length 1'),
  }),
  z.strictObject({ kind: z.literal('node'), name, order, node: z.string().min(1), /** In the node's own space. */ offset: vec3 }),
  z.strictObject({ kind: z.literal('midpoint'), name, order, first: idSchema, second: idSchema }),
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

export const labelSchema = z.strictObject({
  kind: z.literal('label'),
  name,
  order,
  text: z.string().max(4000),
  mount: z.strictObject({ kind: z.literal('floating'), anchor: idSchema }),
  view: z.strictObject({
    /** How far outside the frame the anchor may lie, design pixels. */
    outsidePx: z.number(),
    /** How much farther it must go before the element leaves, design pixels. */
    leavePx: atLeastZero,
  }),
  size: sizeSchema,
  place: z.strictObject({
    /** The point of the element, 0..1 from its top left, that is put on the pin. */
    ownPoint: z.tuple([fraction, fraction]),
    /** From the projected anchor to the own point, design pixels, y down. */
    offsetPx: vec2,
    /** `inside` moves the element until all of it lies in the viewer's safe area. */
    stay: z.enum(['free', 'inside']),
    leader: z.strictObject({ widthPx: positive, colour }).nullable(),
  }),
  paint: z.strictObject({
    colour,
    weight: z.union([z.literal(400), z.literal(700)]),
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
export const elementSchema = z.discriminatedUnion('kind', [labelSchema]);

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
const feedValue = z.union([z.number(), z.string().max(4000), z.boolean()]);
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

export const feedSchema = z
  .strictObject({ name, order, kind: z.enum(['number', 'text', 'flag']), unit: z.string().max(40), initial: feedValue })
  .refine((f) => typeof f.initial === { number: 'number', text: 'string', flag: 'boolean' }[f.kind], {
    path: ['initial'],
    message: 'the initial value is not of the kind of the feed',
  });
export const phaseSchema = z.strictObject({ name, order });

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
});

const shape = z.strictObject({
  format: z.literal(DOCUMENT_FORMAT),
  version: z.literal(DOCUMENT_VERSION),
  name,
  language: z.string().min(2).max(35),
  level: levelSchema.nullable(),
  /** The screen the glass is designed for, and how it scales to another. */
  glass: z.strictObject({ widthPx: positive, heightPx: positive, fit: z.enum(['height', 'width', 'smaller']) }),
  /** The body that walks. */
  body: z.strictObject({ eyeHeightM: positive, radiusM: positive, stepM: atLeastZero, speedMps: positive }),
  anchors: z.record(idSchema, anchorSchema),
  elements: z.record(idSchema, elementSchema),
  viewers: z.record(idSchema, viewerSchema),
  routes: z.record(idSchema, routeSchema),
  feeds: z.record(idSchema, feedSchema),
  phases: z.record(idSchema, phaseSchema),
});

/** Shape and references both. */
export const documentSchema = shape.superRefine((doc, ctx) => {
  const missing = (path: (string | number)[], collection: string, id: string) =>
    ctx.addIssue({ code: 'custom', path, message: `refers to "${id}", which is not among the ${collection}`, params: { reference: true } });
  const has = (collection: object, id: string) => Object.hasOwn(collection, id);
  for (const [id, anchor] of Object.entries(doc.anchors)) {
    if (anchor.kind !== 'midpoint') continue;
    for (const end of ['first', 'second'] as const)
      if (!has(doc.anchors, anchor[end])) missing(['anchors', id, end], 'anchors', anchor[end]);
    if (leadsBack(doc.anchors, id))
      ctx.addIssue({ code: 'custom', path: ['anchors', id], message: 'this midpoint depends on itself', params: { reference: true } });
  }
  for (const [id, element] of Object.entries(doc.elements))
    if (!has(doc.anchors, element.mount.anchor)) missing(['elements', id, 'mount', 'anchor'], 'anchors', element.mount.anchor);
  for (const [id, route] of Object.entries(doc.routes)) {
    route.feeds.forEach((f, i) => {
      if (!has(doc.feeds, f.feed)) missing(['routes', id, 'feeds', i, 'feed'], 'feeds', f.feed);
    });
    route.phases.forEach((p, i) => {
      if (!has(doc.phases, p.phase)) missing(['routes', id, 'phases', i, 'phase'], 'phases', p.phase);
    });
  }
});

function leadsBack(anchors: Record<string, Anchor>, start: string): boolean {
  const seen = new Set<string>();
  const open = [start];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const anchor = Object.hasOwn(anchors, id) ? anchors[id] : undefined;
    if (anchor?.kind !== 'midpoint') continue;
    for (const next of [anchor.first, anchor.second]) {
      if (next === start) return true;
      if (!seen.has(next)) {
        seen.add(next);
        open.push(next);
      }
    }
  }
  return false;
}

export type Document = z.infer<typeof shape>;
export type Lens = z.infer<typeof lensSchema>;
export type Anchor = z.infer<typeof anchorSchema>;
export type Label = z.infer<typeof labelSchema>;
export type Element = z.infer<typeof elementSchema>;
export type SizeRule = z.infer<typeof sizeSchema>;
export type Viewer = z.infer<typeof viewerSchema>;
export type Route = z.infer<typeof routeSchema>;
export type RoutePose = z.infer<typeof poseSchema>;
export type Feed = z.infer<typeof feedSchema>;
export type Phase = z.infer<typeof phaseSchema>;
export type LevelRef = z.infer<typeof levelSchema>;
/** The collections that are keyed by id. */
export const COLLECTIONS = ['anchors', 'elements', 'viewers', 'routes', 'feeds', 'phases'] as const;
export type CollectionName = (typeof COLLECTIONS)[number];

/** The shape as JSON Schema (draft 2020-12); what refers to what is checked beyond it. */
export const documentJsonSchema = (): string => `${JSON.stringify(z.toJSONSchema(documentSchema, { unrepresentable: 'any' }), null, 2)}\n`;
