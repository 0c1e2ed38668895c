/**
 * Labels that keep apart, on a flight past them: what that costs a frame, against the same frame with labels that overlap; how calm
 * it is. And the classic study of point labels, for the two ways in which places are found.
 */
import {
  ASIDE_DEPTH,
  arrange,
  choosePatiently,
  compile,
  Grid,
  type Inputs,
  lookingPose,
  makeRoom,
  makeSolver,
  type Places,
  type Pose,
  placeOf,
  probe,
  routeDurationS,
  routePose,
  type Solver,
  solve,
  TICK_S,
  takeFirst,
  Verdict,
} from '@foreshore/core';
import { type Document, makeDocument, makeLabel, type Route } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { demoDocument } from '../demo/src/project.ts';
import { leastDropped } from './label-bound.ts';
import { CORNERS, LAYOUTS, leftWithoutConflict, SHEET_H, SHEET_W, sheet, touchingNothing } from './label-study.ts';
import { bytesPerFrame, dice, median, type Row, timeInTurn } from './measure.ts';

/** Labels about a way of 200 m to the north. */
function scene(n: number, apart: boolean): Document {
  const document = makeDocument('Low Water');
  if (apart) document.labels = { apart: true };
  const random = dice(1973);
  for (let k = 0; k < n; k++) {
    const id = `stake-${k}`;
    document.anchors[id] = {
      kind: 'surface',
      name: id,
      order: 'a0',
      node: null,
      position: [(random() - 0.5) * 160, random() * 6, -random() * 260],
      normal: [0, 1, 0],
    };
    document.elements[id] = makeLabel(id, `Stake ${k}`, 'a0');
  }
  return document;
}
const poseAt = (timeS: number): Pose => lookingPose([4 * Math.sin(timeS / 5), 3, -2 * timeS], 15 * Math.sin(timeS / 4), 0);

class Flight implements Inputs {
  timeS = 0;
  head: Pose = poseAt(0);
  readonly depthOrder = false;
}

/** The most that two shown boxes overlap each way at once, pixels: all pairs, compared. */
function overlap({ c, f }: Solver): number {
  const boxes = [...Array(c.count).keys()].filter((i) => f.failed[i] === Verdict.Shown).map((i) => placeOf(f, i).rect);
  let most = 0;
  boxes.forEach(([x, y, w, h], k) => {
    for (let m = k + 1; m < boxes.length; m++) {
      const [u, v, s, t] = boxes[m] as [number, number, number, number];
      most = Math.max(most, Math.min(Math.min(x + w, u + s) - Math.max(x, u), Math.min(y + h, v + t) - Math.max(y, v)));
    }
  });
  return most;
}

type Box = ReturnType<typeof sheet>[number][number];
/** The places of a study's points, as a frame's labels have them. */
class Corners implements Places {
  readonly at: Int8Array;
  constructor(readonly points: readonly Box[][]) {
    this.at = new Int8Array(points.length).fill(-1);
  }
  count(): number {
    return CORNERS;
  }
  ask(point: number, corner: number): boolean {
    probe.set(this.points[point]?.[corner] as Box);
    return true;
  }
  mayMove(): boolean {
    return true;
  }
}

/** Each takes its first free place, and then what found none has others move aside, so many deep; `at` is −1 where it is dropped. */
function eachFrame(grid: Grid, points: readonly Box[][], depth: number): Int8Array {
  const places = new Corners(points);
  grid.clear(SHEET_W, SHEET_H);
  points.forEach((_, k) => {
    if (!takeFirst(grid, places, k)) places.at[k] = -1;
  });
  if (depth > 0)
    places.at.forEach((at, k) => {
      if (at < 0 && !makeRoom(grid, places, k, depth)) places.at[k] = -1;
    });
  return places.at;
}

const PATIENT_STEPS = 1_000_000;
/** All placed: what the search leaves without a place goes where it lies over the fewest. */
function patient(points: readonly Box[][]): Box[] {
  const boxes = Float64Array.from(points.flat(2));
  const owner = Int32Array.from({ length: points.length * CORNERS }, (_, c) => Math.floor(c / CORNERS));
  const chosen = choosePatiently(boxes, owner, points.length, PATIENT_STEPS);
  const clear = points.flatMap((corners, k) => ((chosen[k] as number) < 0 ? [] : [corners[(chosen[k] as number) % CORNERS] as Box]));
  const over = (a: Box) => clear.filter((b) => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]).length;
  return points.map((corners, k) =>
    (chosen[k] as number) >= 0
      ? (corners[(chosen[k] as number) % CORNERS] as Box)
      : (corners.reduce((best, corner) => (over(corner) < over(best) ? corner : best)) as Box),
  );
}

/** Each sheet's labels placed patiently: the share without a conflict, and the time a sheet takes. */
function patientRow(name: string, n: number, sheets: readonly Box[][][]): Row {
  const times: number[] = [];
  let [left, strict] = [0, 0];
  for (const points of sheets) {
    const before = performance.now();
    const placed = patient(points);
    times.push(performance.now() - before);
    left += leftWithoutConflict(placed);
    strict += touchingNothing(placed);
  }
  const all = n * sheets.length;
  return { name, n, medianMs: median(times), ratio: null, share: left / all, shareTouchingNothing: strict / all };
}

const sheetsOf = (n: number, whole = true): Box[][][] => Array.from({ length: LAYOUTS }, (_, k) => sheet(n, k, whole));
const COUNTS = [100, 250, 500, 750, 1000];

/** The study: shares over 25 sheets, and what a frame's way costs against first fit. */
export function studyRows(): Row[] {
  const grid = new Grid();
  return [
    ...COUNTS.map((n) => patientRow('patient', n, sheetsOf(n))),
    ...COUNTS.map((n): Row => {
      const sheets = sheetsOf(n);
      const all = n * sheets.length;
      const shown = (depth: number) =>
        sheets.reduce((sum, points) => {
          const at = eachFrame(grid, points, depth);
          return sum + touchingNothing(points.map((corners, k) => ((at[k] as number) < 0 ? null : (corners[at[k] as number] as Box))));
        }, 0);
      const [ours, first] = timeInTurn(25, [
        () => sheets.forEach((points) => void eachFrame(grid, points, ASIDE_DEPTH)),
        () => sheets.forEach((points) => void eachFrame(grid, points, 0)),
      ]) as [number, number];
      return {
        name: 'each frame',
        n,
        medianMs: ours / sheets.length,
        ratio: ours / first,
        share: shown(ASIDE_DEPTH) / all,
        shareOfFirstFit: shown(0) / all,
      };
    }),
  ];
}

/**
 * What can be had at all: by exact search, the most that the study's sheets allow, and patient placing on the first 25 sheets that
 * allow what the published tables reach (all of 250; 99.5 % of 500); and patient placing where points lie between whole units.
 */
export function boundRows(): Row[] {
  const rows: Row[] = [];
  for (const [n, mostDropped] of [
    [100, 0],
    [250, 0],
    [500, 2],
  ] as const) {
    const before = performance.now();
    const found = sheetsOf(n).map((points) => leastDropped(points));
    const sum = (of: 'dropped' | 'open') => found.reduce((all, one) => all + one[of], 0);
    rows.push({
      name: 'at most, by exact search',
      n,
      medianMs: (performance.now() - before) / LAYOUTS,
      ratio: null,
      share: 1 - sum('dropped') / (n * LAYOUTS),
      open: sum('open'),
    });
    const allowing: Box[][][] = [];
    let looked = 0;
    for (; allowing.length < LAYOUTS; looked++) {
      const points = sheet(n, looked, true);
      const { dropped, open } = leastDropped(points);
      if (open === 0 && dropped <= mostDropped) allowing.push(points);
    }
    rows.push({ ...patientRow(`patient, on sheets of which at most ${mostDropped} must be dropped`, n, allowing), ofSheets: looked });
  }
  return [...rows, ...COUNTS.map((n) => patientRow('patient, points between whole units', n, sheetsOf(n, false)))];
}

/** A flight of `seconds` past labels: calm, overlap and time, against the same labels where they may overlap. */
function flightRow(name: string, of: (apart: boolean) => Document, n: number, seconds: number, poseAt: (timeS: number) => Pose): Row {
  const text = shippedShaper();
  const solvers = [true, false].map((apart) => {
    const document = of(apart);
    return makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
  }) as [Solver, Solver];
  const [kept] = solvers;
  const { count } = kept.c;
  const flight = new Flight();
  const times: [number[], number[]] = [[], []];
  let [changes, blinks, most, shown, frames] = [0, 0, 0, 0, 0];
  let shortestBlinkS = Number.POSITIVE_INFINITY;
  const last = new Int8Array(count).fill(-1);
  const goneS = new Float64Array(count).fill(Number.NaN);
  for (let tick = 0; tick <= seconds / TICK_S; tick++) {
    flight.timeS = tick * TICK_S;
    flight.head = poseAt(flight.timeS);
    solvers.forEach((solver, k) => {
      const before = performance.now();
      solve(solver, flight);
      times[k as 0 | 1].push(performance.now() - before);
    });
    if (tick % 10 === 0) most = Math.max(most, overlap(kept));
    frames++;
    for (let i = 0; i < count; i++) {
      const at = kept.f.failed[i] === Verdict.Shown ? (kept.m.apartAt[i] as number) : -1;
      if (at >= 0) shown++;
      if (at >= 0 && last[i] !== -1 && last[i] !== at) changes++;
      const gaveWay = at < 0 && (kept.f.apartBy[i] as number) >= 0;
      if (gaveWay && last[i] !== -1) goneS[i] = flight.timeS;
      if (at >= 0 && !Number.isNaN(goneS[i] as number)) {
        blinks++;
        shortestBlinkS = Math.min(shortestBlinkS, flight.timeS - (goneS[i] as number));
      }
      if (!gaveWay) goneS[i] = Number.NaN;
      last[i] = at;
    }
  }
  const standing = new Flight();
  const bytes = bytesPerFrame(200, () => {
    standing.timeS += TICK_S;
    solve(kept, standing);
  });
  const perLabelAndS = (of: number): number => (shown === 0 ? 0 : of / (shown / frames) / seconds);
  return {
    name,
    n,
    medianMs: median(times[0]),
    ratio: median(times[0]) / median(times[1]),
    mostMs: Math.max(...times[0].slice(30)),
    shownAtOnce: shown / frames,
    changesPerLabelAndS: perLabelAndS(changes),
    blinksPerLabelAndS: perLabelAndS(blinks),
    shortestBlinkS,
    mostOverlapPx: most,
    bytesPerFrame: bytes,
  };
}

/** So many labels about the ways that the demo's routes take, and nothing else of the demo. */
function alongRoute(n: number, apart: boolean, route: Route): Document {
  const document = scene(n, apart);
  const random = dice(1981);
  for (const anchor of Object.values(document.anchors)) {
    if (anchor.kind !== 'surface') continue;
    const [x, y, z] = (route.poses[Math.floor(random() * route.poses.length)] as Route['poses'][number]).position;
    anchor.position = [x + (random() - 0.5) * 40, y + (random() - 0.5) * 4, z + (random() - 0.5) * 40];
  }
  return document;
}

export function labelRows(counts: readonly number[] = [300, 3000], seconds = 30): Row[] {
  const name = 'labels that keep apart, each frame of a flight, against labels that overlap';
  return [
    ...counts.map((n) => flightRow(name, (apart) => scene(n, apart), n, seconds, poseAt)),
    ...Object.values(demoDocument().routes).map((route) =>
      flightRow(
        `the same on the demo's route ${route.name}`,
        (apart) => alongRoute(300, apart, route),
        300,
        routeDurationS(route),
        (timeS) => routePose(route, timeS),
      ),
    ),
  ];
}
