/** Solving floating labels, against the bare matrix-times-point loop over the same points. */
import { arrange, compile, type Inputs, makeSolver, type Pose, projectionOf, solve, unprojectPoint, Verdict } from '@foreshore/core';
import { type Document, makeDocument, makeLabel } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { bytesPerFrame, collectionsDuring, type Row, timeInTurn } from './measure.ts';

const HEAD: Pose = { position: [3, 1.65, -7], rotation: [0.0499, 0.2483, -0.0128, 0.9673] };

/** A class, so that counting its time on allocates nothing that would be taken for the solver's. */
class Clocked implements Inputs {
  timeS = Number.NaN;
  readonly head = HEAD;
  readonly depthOrder: boolean;
  constructor(depthOrder: boolean) {
    this.depthOrder = depthOrder;
    this.timeS = 0.5;
  }
}

/** Labels spread over the frame and over depths from 3 m to 300 m, all of them inside it. */
function labelsInFrame(n: number): { document: Document; points: Float64Array } {
  const document = makeDocument('Low Water');
  const viewer = document.viewers.desk;
  if (!viewer) throw new Error('The default viewers have a desk monitor.');
  const projection = projectionOf(viewer.lens, viewer.widthPx, viewer.heightPx);
  const points = new Float64Array(n * 3);
  let seed = 7;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  for (let i = 0; i < n; i++) {
    const depthM = 3 * 100 ** random();
    const at = unprojectPoint(projection, HEAD, (0.05 + 0.9 * random()) * 1920, (0.05 + 0.9 * random()) * 1080, depthM);
    points.set(at, i * 3);
    const id = `s${i}`;
    document.anchors[id] = { kind: 'surface', name: id, order: `a${i}`, node: null, position: at, normal: [0, 1, 0] };
    document.elements[id] = { ...makeLabel(id, `Stake ${i % 40}`, `a${i}`) };
  }
  return { document, points };
}

/** Four rows by one point: what any projection does at the least. */
function bareLoop(points: Float64Array, m: Float64Array, out: Float64Array): void {
  const n = points.length / 3;
  for (let i = 0; i < n; i++) {
    const x = points[i * 3] as number;
    const y = points[i * 3 + 1] as number;
    const z = points[i * 3 + 2] as number;
    for (let r = 0; r < 4; r++)
      out[i * 4 + r] = (m[r * 4] as number) * x + (m[r * 4 + 1] as number) * y + (m[r * 4 + 2] as number) * z + (m[r * 4 + 3] as number);
  }
}

export async function solveRows(sizes = [100, 1000, 10_000, 100_000]): Promise<Row[]> {
  const text = shippedShaper();
  const rows: Row[] = [];
  for (const n of sizes) {
    const { document, points } = labelsInFrame(n);
    const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
    const plain = new Clocked(false);
    const ordered = new Clocked(true);
    const matrix = Float64Array.from({ length: 16 }, (_, k) => Math.sin(k + 1));
    const out = new Float64Array(n * 4);
    // Short work is repeated within a run, so that the clock's resolution does not decide.
    const times = Math.max(1, Math.round(20_000 / n));
    const repeat = (one: () => void) => () => {
      for (let k = 0; k < times; k++) one();
    };
    const [bareMs = 0, plainMs = 0, orderedMs = 0] = timeInTurn(n >= 100_000 ? 30 : 100, [
      repeat(() => bareLoop(points, matrix, out)),
      repeat(() => solve(solver, plain)),
      repeat(() => solve(solver, ordered)),
    ]);
    const shown = solve(solver, plain).failed.reduce((sum, verdict) => sum + (verdict === Verdict.Shown ? 1 : 0), 0);
    const frame = () => {
      ordered.timeS += 1 / 60;
      solve(solver, ordered);
    };
    const bytes = bytesPerFrame(n >= 100_000 ? 100 : 1000, frame);
    const collections = await collectionsDuring(1000, frame);
    const row = (name: string, ms: number): Row => ({ name, n, medianMs: ms / times, ratio: ms / bareMs, shown });
    rows.push({ name: 'bare matrix times point', n, medianMs: bareMs / times, ratio: 1 }, row('solve / bare loop', plainMs), {
      ...row('solve with depth order / bare loop', orderedMs),
      bytesPerFrame: bytes,
      collectionsIn1000: collections,
    });
  }
  return rows;
}
