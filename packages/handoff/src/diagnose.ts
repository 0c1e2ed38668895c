/**
 * What a port made of the proof frames, and where it differs, why: each fault that ports are known for is put into a small port of our
 * own, and the simplest one with which all frames agree is named.
 */
import { type Pose, type Projection, projectionOf, type Quat, rotate, type Vec3 } from '@foreshore/core';
import * as z from 'zod';
import { angleIn, type Convention, fovIn, lengthIn, lengthOut, pointIn, rotationIn, screenOut } from './convention.ts';
import type { Proof, ProofFrame, ProofLens } from './proof.ts';

const number = z.number().nullable();
const resultPoint = z.object({ x: number, y: number, depth: number.optional(), inFront: z.boolean().optional() });
export const resultsSchema = z.object({
  frames: z.array(
    z.object({
      id: z.string(),
      points: z.record(z.string(), resultPoint),
      elements: z
        .record(
          z.string(),
          z.object({ shown: z.boolean(), box: z.tuple([z.number(), z.number(), z.number(), z.number()]).nullable().optional() }),
        )
        .optional(),
    }),
  ),
});
export type Results = z.infer<typeof resultsSchema>;
type ResultPoint = z.infer<typeof resultPoint>;

/** Within so many pixels, and such a share of a depth, two results are the same. */
export const TOLERANCE_PX = 0.1;
const TOLERANCE_SHARE = 1e-4;
/** Boxes depend on texts, which each port shapes by its own means. */
const BOX_TOLERANCE_PX = 0.5;

export const FAULTS = [
  'mirroredBehind',
  'unclampedBehind',
  'halfPixel',
  'originCentre',
  'yFlipped',
  'handedness',
  'zFlipped',
  'fovAxis',
  'fovUnit',
  'quaternionOrder',
  'rowForColumn',
  'unit',
  'depthBuffer',
  'oldFrame',
  'aspect',
] as const;
export type Fault = (typeof FAULTS)[number];

export const FAULT_WORDS: Record<Fault, string> = {
  mirroredBehind: 'What lies behind the camera is divided by its negative depth, and so mirrored through the middle: test the depth first.',
  unclampedBehind:
    'The depth is taken without its sign, or not kept above the near plane, so what lies behind is seen in front: test the depth first.',
  halfPixel: 'All places are off by half a pixel: pixel 0 covers 0 to 1, and its middle is 0.5.',
  originCentre: 'Places are counted from another point of the screen than the convention says: its middle, or its corner.',
  yFlipped: 'y runs the other way on the screen.',
  handedness: 'Left and right are exchanged: the axes are taken for those of the other hand.',
  zFlipped: 'The camera is taken to look the other way along its axis: the sign of the depth is wrong.',
  fovAxis: 'The angle of view is taken for another one: vertical, horizontal and diagonal are mixed up.',
  fovUnit: 'The angle of view is taken in the other unit: degrees and radians are mixed up.',
  quaternionOrder: 'The four numbers of the rotation are taken in the other order: the scalar first, or last.',
  rowForColumn: 'The rotation is turned round: rows are taken for columns.',
  unit: 'Lengths are taken in another unit, by a factor that is the same for all: metres and centimetres, for instance.',
  depthBuffer: 'The depth is that of the depth buffer, not the distance along the way ahead.',
  oldFrame: 'Each frame is seen with the camera of the one before.',
  aspect: 'The screen is taken to be of another shape: the aspect ratio is not that of the frame.',
};

interface Seen {
  x: number;
  y: number;
  depth: number;
  inFront: boolean;
}

function projectionIn(
  c: Convention,
  { screen, camera }: ProofFrame,
  lens: ProofLens,
  bend: { fovAxis?: Convention['fov']; radians?: boolean; aspect?: number },
): Projection {
  const nearM = lengthIn(c, camera.near);
  const { widthPx, heightPx } = screen;
  if (lens.kind === 'offAxis')
    return projectionOf(
      {
        kind: 'offAxis',
        leftDeg: angleIn(c, lens.left),
        rightDeg: angleIn(c, lens.right),
        upDeg: angleIn(c, lens.up),
        downDeg: angleIn(c, lens.down),
        nearM,
      },
      widthPx,
      heightPx,
    );
  const aspect = bend.aspect ?? widthPx / heightPx;
  if (lens.kind === 'orthographic') {
    const p = projectionOf({ kind: 'orthographic', halfHeightM: lengthIn(c, lens.halfHeight), nearM }, widthPx, heightPx);
    return { ...p, focalX: (p.focalY * (widthPx / heightPx)) / aspect };
  }
  const as: Convention = {
    ...c,
    ...(bend.fovAxis && { fov: bend.fovAxis }),
    ...(bend.radians && { angles: c.angles === 'degrees' ? 'radians' : 'degrees' }),
  };
  const t = Math.tan((fovIn(as, lens.fov, aspect) * Math.PI) / 360);
  return {
    widthPx,
    heightPx,
    orthographic: false,
    focalX: widthPx / (2 * t * aspect),
    focalY: heightPx / (2 * t),
    centreX: widthPx / 2,
    centreY: heightPx / 2,
    nearM,
  };
}

interface Bend {
  fovAxis?: Convention['fov'];
  radians?: boolean;
  aspect?: number;
  quaternion?: boolean;
  inverse?: boolean;
  mirrored?: boolean;
  backward?: boolean;
  /** What a frame sees with the camera of another. */
  camera?: ProofFrame['camera'];
  behind?: 'mirrored' | 'unsigned' | 'clamped';
  screen?: (x: number, y: number, frame: ProofFrame) => [number, number];
}

/** One point by a port of our own, with a fault put in. In their pixels and units. */
function bent(c: Convention, frame: ProofFrame, place: Vec3, bend: Bend): Seen {
  const camera = bend.camera ?? frame.camera;
  const p = projectionIn(c, frame, camera.lens, bend);
  const q: Convention = bend.quaternion ? { ...c, quaternion: c.quaternion === 'xyzw' ? 'wxyz' : 'xyzw' } : c;
  const pose: Pose = { position: pointIn(c, camera.position), rotation: rotationIn(q, camera.rotation) };
  const turn: Quat = bend.inverse ? pose.rotation : [-pose.rotation[0], -pose.rotation[1], -pose.rotation[2], pose.rotation[3]];
  const world = pointIn(c, place);
  const [cx, cy, cz] = rotate(turn, [world[0] - pose.position[0], world[1] - pose.position[1], world[2] - pose.position[2]]);
  const depth = bend.backward ? cz : -cz;
  const by = p.orthographic
    ? 1
    : bend.behind === 'unsigned'
      ? Math.abs(depth)
      : bend.behind === 'clamped'
        ? Math.max(depth, p.nearM)
        : depth;
  const x = p.centreX + (p.focalX * (bend.mirrored ? -cx : cx)) / by;
  const y = p.centreY - (p.focalY * cy) / by;
  const [sx, sy] = bend.screen ? bend.screen(x, y, frame) : screenOut(c, [x, y], p.widthPx, p.heightPx);
  return { x: sx, y: sy, depth: lengthOut(c, depth), inFront: bend.behind !== undefined || depth > p.nearM };
}

const near = (a: number | null | undefined, b: number, tolerance: number): boolean => typeof a === 'number' && Math.abs(a - b) <= tolerance;
/** A place far outside of the frame is right within a share of how far it is. */
const pixels = (value: number): number => Math.max(TOLERANCE_PX, Math.abs(value) * 1e-6);

type Depths = 'compared' | 'scaled' | 'left';
/** Whether a result is what was seen; a point behind has none. */
function agrees(theirs: ResultPoint, seen: Seen, depths: Depths, scale: number): boolean {
  const says = theirs.inFront ?? theirs.x !== null;
  if (!seen.inFront) return !says;
  if (!says || !near(theirs.x, seen.x, pixels(seen.x)) || !near(theirs.y, seen.y, pixels(seen.y))) return false;
  if (depths === 'left' || theirs.depth === undefined || theirs.depth === null) return true;
  const depth = seen.depth * (depths === 'scaled' ? scale : 1);
  return Math.abs(theirs.depth - depth) <= TOLERANCE_SHARE * Math.abs(depth) + 1e-9;
}

interface Compared {
  frame: ProofFrame;
  name: string;
  place: Vec3;
  theirs: ResultPoint;
  before: ProofFrame | null;
}

export interface Difference {
  frame: string;
  point: string;
  /** Pixels between theirs and ours; null where one of them has none. */
  byPx: number | null;
}
export interface Verdict {
  /** How many points were compared, and how many of them differ. */
  compared: number;
  different: number;
  /** Elements whose being shown, or box, differs. */
  elementsCompared: number;
  elementsDifferent: { frame: string; element: string; says: string }[];
  /** Frames and points that were asked for and are not among the results. */
  missing: string[];
  fault: Fault | null;
  /** Faults that explain all frames as well, less simple ones. */
  alsoPossible: Fault[];
  /** The first frame that shows it. */
  first: Difference | null;
  frames: string[];
}

/** Middle of the ratios of theirs to ours; null where they are not all the same. */
function sameRatio(ratios: readonly number[]): number | null {
  const usable = ratios.filter((r) => Number.isFinite(r) && r > 0).sort((a, b) => a - b);
  const middle = usable[usable.length >> 1];
  if (middle === undefined || usable.length < 3) return null;
  return usable.every((r) => Math.abs(r - middle) < 1e-3 * middle) ? middle : null;
}

/** Whether depths run as those of a depth buffer: a + b/d, for one a and b of all frames of a near plane, within −1 to 1. */
function isBuffer(points: readonly Compared[], c: Convention): boolean {
  const pairs = points.flatMap(({ frame, name, theirs }) => {
    const depth = frame.points[name]?.depth;
    return typeof depth === 'number' && typeof theirs.depth === 'number' && frame.camera.lens.kind !== 'orthographic'
      ? [[1 / lengthIn(c, depth), theirs.depth, frame.camera.near] as const]
      : [];
  });
  if (pairs.length < 4 || !pairs.every(([, theirs]) => theirs >= -1.001 && theirs <= 1.001)) return false;
  return [...new Set(pairs.map(([, , plane]) => plane))].every((plane) => {
    const of = pairs.filter(([, , one]) => one === plane);
    const [first, last] = [of.reduce((a, b) => (a[0] < b[0] ? a : b)), of.reduce((a, b) => (a[0] > b[0] ? a : b))];
    const slope = (last[1] - first[1]) / (last[0] - first[0]);
    return of.every(([inverse, theirs]) => Math.abs(first[1] + slope * (inverse - first[0]) - theirs) < 1e-3);
  });
}

/** The bends that a fault may mean, the likeliest first; depths are compared unless it says otherwise. */
function bendsOf(
  fault: Fault,
  c: Convention,
  points: readonly Compared[],
): { bend: (of: Compared) => Bend; depths?: Depths; scale?: number }[] {
  const always = (bend: Bend, depths: Depths = 'compared') => [{ bend: () => bend, depths }];
  const out = (x: number, y: number, { screen }: ProofFrame) => screenOut(c, [x, y], screen.widthPx, screen.heightPx);
  switch (fault) {
    case 'mirroredBehind':
      return [...always({ behind: 'mirrored' }), ...always({ behind: 'mirrored' }, 'left')];
    case 'unclampedBehind':
      return [...always({ behind: 'unsigned' }, 'left'), ...always({ behind: 'clamped' }, 'left')];
    case 'halfPixel':
      return [-0.5, 0.5].flatMap((by) => always({ screen: (x, y, frame) => out(x + by, y + by, frame) }));
    case 'originCentre': {
      const others = (['topLeft', 'bottomLeft', 'centre'] as const).filter((origin) => origin !== c.screenOrigin);
      // y keeps running the way it does: only the origin is another.
      return others.flatMap((screenOrigin) =>
        always({
          screen: (x, y, frame) => {
            const { widthPx, heightPx } = frame.screen;
            const [ax] = screenOut({ ...c, screenOrigin }, [x, y], widthPx, heightPx);
            const [, ay] = out(x, y, frame);
            const [ox, oy] = screenOut(c, [widthPx / 2, heightPx / 2], widthPx, heightPx);
            if (c.screenOrigin === 'centre') return [x, c.screenY === 'down' ? y : heightPx - y];
            return screenOrigin === 'centre' ? [ax, ay - oy] : [out(x, y, frame)[0] - ox, ay - oy];
          },
        }),
      );
    }
    case 'yFlipped':
      return always({
        screen: (x, y, frame) => out(x, frame.screen.heightPx - y, frame),
      });
    case 'handedness':
      return always({ mirrored: true });
    case 'zFlipped':
      return [...always({ backward: true }), ...always({ backward: true, mirrored: true })];
    case 'fovAxis':
      return (['vertical', 'horizontal', 'diagonal'] as const).filter((axis) => axis !== c.fov).flatMap((fovAxis) => always({ fovAxis }));
    case 'fovUnit':
      return always({ radians: true });
    case 'quaternionOrder':
      return always({ quaternion: true });
    case 'rowForColumn':
      return always({ inverse: true });
    case 'unit': {
      const ratio = sameRatio(
        points.map(({ frame, name, theirs }) => (theirs.depth ?? Number.NaN) / (frame.points[name]?.depth ?? Number.NaN)),
      );
      return ratio === null ? [] : [{ bend: () => ({}), depths: 'scaled', scale: ratio }];
    }
    case 'depthBuffer':
      return isBuffer(points, c) ? always({}, 'left') : [];
    case 'oldFrame':
      return [{ bend: ({ before }) => (before ? { camera: before.camera } : {}) }];
    case 'aspect': {
      // The angle that is given holds its own side, so the other side tells the shape.
      const axis = c.fov === 'horizontal' ? 'y' : 'x';
      const aspects = points.flatMap(({ frame, name, theirs }) => {
        const ours = frame.points[name];
        const { widthPx, heightPx } = frame.screen;
        const [a, b] = [theirs[axis], ours?.[axis] ?? null];
        if (!ours?.inFront || a === null || b === null || frame.camera.lens.kind !== 'perspective') return [];
        const middle = screenOut(c, [widthPx / 2, heightPx / 2], widthPx, heightPx)[axis === 'x' ? 0 : 1];
        // Those near the middle say little.
        if (Math.abs(b - middle) < 40) return [];
        const ratio = (b - middle) / (a - middle);
        return [(widthPx / heightPx) * (axis === 'x' ? ratio : 1 / ratio)];
      });
      const aspect = c.fov === 'diagonal' ? null : sameRatio(aspects);
      const guesses = aspect === null ? [16 / 9, 16 / 10, 4 / 3, 21 / 9, 1] : [aspect];
      return guesses.flatMap((one) => always({ aspect: one }));
    }
  }
}

/** Compares what a port gave with what was to come out, and names the simplest fault that explains it. */
export function diagnose(proof: Proof, results: Results): Verdict {
  const c = proof.convention;
  const given = new Map(results.frames.map((frame) => [frame.id, frame]));
  const missing: string[] = [];
  const points: Compared[] = [];
  const elementsDifferent: Verdict['elementsDifferent'] = [];
  let elementsCompared = 0;
  proof.frames.forEach((frame, k) => {
    const theirs = given.get(frame.id);
    if (!theirs) {
      missing.push(frame.id);
      return;
    }
    for (const [name, point] of Object.entries(frame.points)) {
      const one = Object.hasOwn(theirs.points, name) ? theirs.points[name] : undefined;
      if (one) points.push({ frame, name, place: point.place, theirs: one, before: proof.frames[k - 1] ?? null });
      else missing.push(`${frame.id} ${name}`);
    }
    for (const [element, ours] of Object.entries(frame.elements)) {
      const one = theirs.elements && Object.hasOwn(theirs.elements, element) ? theirs.elements[element] : undefined;
      if (!one) continue;
      elementsCompared++;
      if (one.shown !== ours.shown)
        elementsDifferent.push({
          frame: frame.id,
          element,
          says: one.shown ? `is shown; ${ours.hiddenBy} hides it` : 'is hidden; it is to be shown',
        });
      else if (ours.box && one.box && ours.box.some((v, i) => !near(one.box?.[i], v, BOX_TOLERANCE_PX)))
        elementsDifferent.push({ frame: frame.id, element, says: `lies at ${one.box.join(', ')}; it is to lie at ${ours.box.join(', ')}` });
    }
  });
  const right = ({ frame, name, theirs }: Compared): boolean => {
    const ours = frame.points[name] as ProofFrame['points'][string];
    return agrees(theirs, { x: ours.x ?? 0, y: ours.y ?? 0, depth: ours.depth ?? 0, inFront: ours.inFront }, 'compared', 1);
  };
  const wrong = points.filter((one) => !right(one));
  const differing = new Set(wrong.map(({ frame }) => frame.id));
  const possible = wrong.length === 0 ? [] : FAULTS.filter((fault) => explains(fault, c, points));
  const [first] = wrong;
  const ours = first?.frame.points[first.name];
  return {
    compared: points.length,
    different: wrong.length,
    elementsCompared,
    elementsDifferent,
    missing,
    fault: possible[0] ?? null,
    alsoPossible: possible.slice(1),
    first: first
      ? {
          frame: first.frame.id,
          point: first.name,
          byPx:
            typeof ours?.x === 'number' && typeof ours.y === 'number' && first.theirs.x !== null && first.theirs.y !== null
              ? Math.hypot(first.theirs.x - ours.x, first.theirs.y - ours.y)
              : null,
        }
      : null,
    frames: [...differing],
  };
}

function explains(fault: Fault, c: Convention, points: readonly Compared[]): boolean {
  return bendsOf(fault, c, points).some(({ bend, depths = 'compared', scale = 1 }) =>
    points.every((one) => agrees(one.theirs, bent(c, one.frame, one.place, bend(one)), depths, scale)),
  );
}

/** Cells of a line of CSV (RFC 4180). */
function cells(line: string): string[] {
  const out: string[] = [];
  let cell = '';
  let quoted = false;
  for (let k = 0; k < line.length; k++) {
    const c = line[k] as string;
    if (quoted) {
      if (c !== '"') cell += c;
      else if (line[k + 1] === '"') {
        cell += '"';
        k++;
      } else quoted = false;
    } else if (c === '"') quoted = true;
    else if (c === ',') {
      out.push(cell);
      cell = '';
    } else cell += c;
  }
  return [...out, cell];
}

/** Why results cannot be read, with their line. */
export class ResultsError extends Error {}

/** Results as CSV: a header with `frame`, `point`, `x`, `y` and, if wanted, `depth` and `inFront`, in any order. @throws ResultsError */
export function readResultsCsv(text: string): Results {
  const [head = '', ...lines] = text.split(/\r\n|\r|\n/);
  const names = cells(head.replace(/^\uFEFF/, '')).map((name) => name.trim());
  const at = (name: string) => names.indexOf(name);
  for (const name of ['frame', 'point', 'x', 'y'])
    if (at(name) < 0) throw new ResultsError(`The first line of the results names no column "${name}".`);
  const frames = new Map<string, Results['frames'][number]['points']>();
  lines.forEach((line, k) => {
    if (line.trim() === '') return;
    const row = cells(line);
    const number = (name: string): number | null => {
      const cell = (row[at(name)] ?? '').trim();
      if (cell === '') return null;
      const value = Number(cell);
      if (Number.isNaN(value)) throw new ResultsError(`Line ${k + 2} of the results: "${cell}" in ${name} is no number.`);
      return value;
    };
    const [frame = '', point = ''] = [row[at('frame')], row[at('point')]];
    let points = frames.get(frame);
    if (!points) frames.set(frame, (points = Object.create(null) as typeof points & object));
    const inFront = (row[at('inFront')] ?? '').trim().toLowerCase();
    points[point] = {
      x: number('x'),
      y: number('y'),
      ...(at('depth') >= 0 && { depth: number('depth') }),
      ...(inFront !== '' && { inFront: inFront === 'true' || inFront === '1' }),
    };
  });
  return { frames: [...frames].map(([id, points]) => ({ id, points })) };
}
