/**
 * Where a press would go in the frame that was solved last: one that is meant for an element and is taken by another, one that nothing
 * visible keeps from the world, one between the controls of a menu that goes to the world behind it. On a screen a pixel is pressed; in a
 * headset hands press along rays of their own, which other things lie before than those that the eye has before it.
 */
import {
  At,
  eyeRay,
  handRay,
  isArriving,
  isHand,
  isOff,
  keysOf,
  metBy,
  opacityOf,
  PanelAt,
  placeOf,
  placeOnPlane,
  pointerOf,
  reachOf,
  rowUnder,
  type Side,
  type Solver,
  screenBox,
  sourcesOf,
  takingRow,
  type Vec3,
  Verdict,
  within,
  worldPoint,
} from '@foreshore/core';
import { KINDS } from '@foreshore/document';

export interface PressFault {
  kind: 'swallowed' | 'leaked';
  row: number;
  /** Share of its box as it is seen, 0 to 1; of what draws nothing, of the screen. */
  value: number;
  bound: number;
  /** The row that takes what is meant for it; none where it takes what is meant for the world. */
  by?: number;
  /** It is pressed by rays in a headset: what is taken is counted from where they begin. */
  byRay?: true;
}

/** More of a control than this is not pressed in vain. */
const MOST_SWALLOWED = 0.25;
/** More of a menu than this does not let through. */
const MOST_LEAKED = 0.05;
/** So many points across a box, and as many down; half as many where more controls than this have something over them. */
const ACROSS = 8;
const MANY = 64;
/** Less is not seen. */
const UNSEEN = 0.02;

/** A prompt is pressed where it is tapped; elsewhere by its key, wherever the pointer is. */
function isPressed({ c, a }: Solver, row: number): boolean {
  const element = c.elements[row];
  if (!element || pointerOf({ c }, row).takes !== 'acts') return false;
  return element.press ? a.device === 'touch' && keysOf(c.document, element.press.action).touch === 'tap' : true;
}

/** The nearest of a row and the groups around it that acts, whether it is off or not; −1 where none does. */
function meantBy({ c }: Solver, row: number): number {
  for (let at = row; at >= 0; at = c.parent[at] as number) if (pointerOf({ c }, at).takes === 'acts') return at;
  return -1;
}

const liesIn = ({ c }: Solver, row: number, group: number): boolean => {
  for (let at = row; at >= 0; at = c.parent[at] as number) if (at === group) return true;
  return false;
};

/** Calls back with points of a row's box as it is seen on the screen. Returns how many there are. */
function overBox(solver: Solver, row: number, each: (x: number, y: number) => void, across = ACROSS): number {
  const { widthPx, heightPx } = solver.a.projection;
  const [x, y, w, h] = screenBox(solver, row);
  const [left, top] = [Math.max(0, x), Math.max(0, y)];
  const [right, bottom] = [Math.min(widthPx, x + w), Math.min(heightPx, y + h)];
  if (!(right > left && bottom > top)) return 0;
  let points = 0;
  for (let j = 0; j < across; j++)
    for (let i = 0; i < across; i++) {
      const [px, py] = [left + ((i + 0.5) / across) * (right - left), top + ((j + 0.5) / across) * (bottom - top)];
      if (!within(solver, row, px, py)) continue;
      points++;
      each(px, py);
    }
  return points;
}

/** The row that has the pointer at a pixel; in a headset, what a ray from the eye meets there. */
const rowAt = (solver: Solver, x: number, y: number): number =>
  solver.a.viewer.kind === 'headset' ? metBy(solver, eyeRay(solver, x, y)).row : rowUnder(solver, x, y);

interface Box {
  row: number;
  box: readonly [left: number, top: number, right: number, bottom: number];
}
function isTurned({ c }: Solver, row: number): boolean {
  for (let at = row; at >= 0; at = c.parent[at] as number) if (c.elements[at]?.turnDeg) return true;
  return false;
}
/** What is shown and does not pass the pointer on, with the room in which it takes it. */
function takers(solver: Solver): Box[] {
  const { c, f, a } = solver;
  const out: Box[] = [];
  for (let row = 0; row < c.count; row++) {
    const element = c.elements[row];
    if (!element || f.failed[row] !== Verdict.Shown || !KINDS[element.kind].hasBox) continue;
    const { takes, padPx } = pointerOf(solver, row);
    if (takes === 'passes') continue;
    const [x, y, w, h] = screenBox(solver, row);
    // What is turned, or lies in what is, may be anywhere: it is looked at closely.
    const pad = isTurned(solver, row) ? Number.POSITIVE_INFINITY : padPx * (a.fits[row] as number);
    if (!Number.isNaN(x)) out.push({ row, box: [x - pad, y - pad, x + w + pad, y + h + pad] });
  }
  return out;
}
/** Whether anything that takes the pointer lies over a part of another's box, but for what it is inside of and what is inside of it. */
const hasOver = (solver: Solver, { row, box }: Box, all: readonly Box[]): boolean =>
  all.some(
    (one) =>
      one.box[0] < box[2] &&
      one.box[2] > box[0] &&
      one.box[1] < box[3] &&
      one.box[3] > box[1] &&
      !liesIn(solver, one.row, row) &&
      !liesIn(solver, row, one.row),
  );

/** Whether a press that a row gets is not what it was meant as. What lies in a control and acts by itself is meant so. */
const isTaken = (solver: Solver, got: number, meant: number): boolean =>
  got >= 0 && meantBy(solver, got) !== meant && !liesIn(solver, got, meant);

/** How much of a control others take, and which the most of it. */
interface Taken {
  share: number;
  by: number;
}
const NOTHING: Taken = { share: 0, by: -1 };
function takenOf(counts: ReadonlyMap<number, number>, points: number): Taken {
  const [most] = [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  return most ? { share: [...counts.values()].reduce((sum, n) => sum + n, 0) / points, by: most[0] } : NOTHING;
}

function takenOnScreen(solver: Solver, row: number, across: number): Taken {
  const counts = new Map<number, number>();
  const points = overBox(
    solver,
    row,
    (x, y) => {
      const got = rowUnder(solver, x, y);
      if (isTaken(solver, got, row)) counts.set(got, (counts.get(got) ?? 0) + 1);
    },
    across,
  );
  return takenOf(counts, points);
}

/** What takes presses in the world, as a ball about it, metres. */
interface Ball {
  row: number;
  at: Vec3;
  radiusM: number;
}
function ballOf(solver: Solver, row: number): Ball | null {
  const { c, f, a } = solver;
  const [x, y, w, h] = placeOf(f, row).rect;
  const panel = c.panelOf[row] as number;
  const { padPx } = pointerOf(solver, row);
  const half = Math.hypot(w / 2 + padPx, h / 2 + padPx);
  if (panel >= 0) {
    const at = panel * PanelAt.Stride;
    // What is turned, or lies in what is, may be anywhere on its panel.
    const radiusM = isTurned(solver, row) ? Number.POSITIVE_INFINITY : half / (f.panels[at + PanelAt.PxPerM] as number);
    return { row, at: worldPoint(f.panels, at, x + w / 2, y + h / 2), radiusM };
  }
  const top = c.root[row] as number;
  if (top >= c.anchoredCount) return null;
  const at = placeOnPlane(solver, row, x + w / 2, y + h / 2);
  const depthM = f.places[top * At.Stride + At.DepthM] as number;
  const radiusM = isTurned(solver, row) ? Number.POSITIVE_INFINITY : (half * depthM) / Math.min(a.projection.focalX, a.projection.focalY);
  return at && { row, at, radiusM };
}

/** How far a point is from the line between two others, metres. */
function awayM(point: Vec3, from: Vec3, to: Vec3): number {
  const [way, off] = [to.map((v, k) => v - (from[k] as number)), point.map((v, k) => v - (from[k] as number))];
  const along = way.reduce((sum, v, k) => sum + v * (off[k] as number), 0);
  const long = way.reduce((sum, v) => sum + v * v, 0);
  const t = long > 0 ? Math.max(0, Math.min(1, along / long)) : 0;
  return Math.hypot(...off.map((v, k) => v - t * (way[k] as number)));
}

/** Where rays begin in a headset: at the hands, and at the eye of what goes through the middle of the view. A project that names no source has both hands. */
function origins(solver: Solver): Vec3[] {
  const named = sourcesOf(solver.c.document);
  const hands: Side[] = named.length === 0 ? ['left', 'right'] : named.filter(isHand);
  return [
    ...hands.map((side) => handRay(solver, side).origin as Vec3),
    ...(named.some((source) => !isHand(source)) ? [[...solver.f.eye] as Vec3] : []),
  ];
}

/** The same for rays from the place at which least is taken: one hand that can press a control is enough. */
function takenFromRays(solver: Solver, row: number, from: readonly Vec3[], balls: readonly Ball[], across: number): Taken {
  const { c } = solver;
  const own = ballOf(solver, row);
  if (!own) return NOTHING;
  const reachM = (c.panelOf[row] as number) >= 0 ? reachOf(c.document) : Number.POSITIVE_INFINITY;
  const others = balls.filter(({ row: other }) => !liesIn(solver, other, row) && !liesIn(solver, row, other));
  let least: Taken | null = null;
  for (const origin of from) {
    const before = others.some(({ at, radiusM }) => awayM(at, origin, own.at) <= radiusM + own.radiusM);
    const counts = new Map<number, number>();
    let points = 0;
    overBox(
      solver,
      row,
      (x, y) => {
        const way = placeOnPlane(solver, row, x, y)?.map((v, k) => v - (origin[k] as number));
        const far = way ? Math.hypot(...way) : 0;
        // Beyond the ray's reach nothing is pressed at all.
        if (!way || far === 0 || far > reachM) return;
        points++;
        if (!before) return;
        const got = metBy(solver, { origin, direction: way.map((v) => v / far) as Vec3 }).row;
        if (isTaken(solver, got, row)) counts.set(got, (counts.get(got) ?? 0) + 1);
      },
      across,
    );
    const taken = takenOf(counts, points);
    if (points > 0 && taken.share < (least?.share ?? Number.POSITIVE_INFINITY)) least = taken;
    if (least?.share === 0) break;
  }
  return least ?? NOTHING;
}

/** Whether anything of it is seen: a plate may be as clear as glass. */
function isSeen(solver: Solver, row: number): boolean {
  const element = solver.c.elements[row];
  if (opacityOf(solver, row) <= UNSEEN) return false;
  if (element?.kind !== 'group' || !element.paint.plate || element.paint.plate.border) return true;
  return alphaOf(element.paint.plate.colour) > UNSEEN;
}
const alphaOf = (colour: string): number => (colour.length > 7 ? Number.parseInt(colour.slice(7, 9), 16) / 255 : 1);

/** What draws nothing and acts on nothing, and takes the pointer all the same. */
function keptFromWorld(solver: Solver, row: number): PressFault | null {
  if (isSeen(solver, row) || meantBy(solver, row) >= 0) return null;
  let taken = 0;
  const points = overBox(solver, row, (x, y) => {
    if (rowAt(solver, x, y) === row) taken++;
  });
  if (taken === 0) return null;
  const { widthPx, heightPx } = solver.a.projection;
  const [x, y, w, h] = screenBox(solver, row);
  // What of it lies on the screen, as its points do.
  const [seenW, seenH] = [Math.min(widthPx, x + w) - Math.max(0, x), Math.min(heightPx, y + h) - Math.max(0, y)];
  return { kind: 'swallowed', row, value: ((seenW * seenH) / (widthPx * heightPx)) * (taken / points), bound: 0 };
}

/** A group that draws a plate under controls, and lets presses beside them through to the world. */
function letThrough(solver: Solver, row: number): PressFault | null {
  let leaked = 0;
  const top = solver.c.root[row] as number;
  const points = overBox(solver, row, (x, y) => {
    // Behind a wall, what it stands before would have it.
    if (takingRow(solver, top, x, y) < 0 && rowAt(solver, x, y) < 0) leaked++;
  });
  const share = leaked / Math.max(1, points);
  return share > MOST_LEAKED ? { kind: 'leaked', row, value: share, bound: MOST_LEAKED } : null;
}

/** Of an element that stands at many places the worst alone. */
export function pressFaults(solver: Solver): PressFault[] {
  const { c, f, a } = solver;
  const headset = a.viewer.kind === 'headset';
  /** Groups that hold something that is pressed. */
  const holds = new Set<number>();
  for (let row = 0; row < c.count; row++)
    if (f.failed[row] === Verdict.Shown && isPressed(solver, row))
      for (let at = c.parent[row] as number; at >= 0; at = c.parent[at] as number) holds.add(at);
  // Off, or on its way in, it is not to be pressed yet.
  const isMeant = (row: number) => isPressed(solver, row) && !isOff(solver, row) && !isArriving(solver, row);
  const all = takers(solver);
  const balls = headset ? all.flatMap(({ row }) => ballOf(solver, row) ?? []) : [];
  const from = headset ? origins(solver) : [];
  const under = new Set(all.filter((one) => isMeant(one.row) && (headset || hasOver(solver, one, all))).map(({ row }) => row));
  const across = under.size > MANY ? ACROSS / 2 : ACROSS;
  const worst = new Map<string, PressFault>();
  for (let row = 0; row < c.count; row++) {
    const element = c.elements[row];
    if (!element || f.failed[row] !== Verdict.Shown || Number.isNaN(f.places[row * At.Stride + At.RectX])) continue;
    if (!KINDS[element.kind].hasBox) continue;
    const { takes } = pointerOf(solver, row);
    const plated = element.kind === 'group' && element.paint.plate !== null;
    const taken = !under.has(row) ? null : headset ? takenFromRays(solver, row, from, balls, across) : takenOnScreen(solver, row, across);
    const fault: PressFault | null = taken
      ? taken.share > MOST_SWALLOWED
        ? { kind: 'swallowed', row, value: taken.share, bound: MOST_SWALLOWED, by: taken.by, ...(headset && { byRay: true as const }) }
        : null
      : takes === 'blocks'
        ? keptFromWorld(solver, row)
        : takes === 'passes' && plated && holds.has(row) && opacityOf(solver, row) > UNSEEN
          ? letThrough(solver, row)
          : null;
    const key = fault && `${fault.kind} ${c.sources[row]}`;
    if (fault && key && fault.value > (worst.get(key)?.value ?? -1)) worst.set(key, fault);
  }
  return [...worst.values()];
}
