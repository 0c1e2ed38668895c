/** Solving panels with what lies on them, against the bare homography loop over the corners of the same boxes. */
import { arrange, compile, type Inputs, makeSolver, type Pose, placeOf, solve, Verdict } from '@foreshore/core';
import { type Document, insideOf, makeDocument, makeGroup, makeText } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { bytesPerFrame, collectionsDuring, type Row, timeInTurn } from './measure.ts';

const HEAD: Pose = { position: [0, 1.65, 0], rotation: [0, 0, 0, 1] };

/** A class, so that counting its time on allocates nothing that would be taken for the solver's. */
class Clocked implements Inputs {
  timeS = 0.5;
  readonly head = HEAD;
  readonly depthOrder = true;
}

/** Panels on a wall of them before the viewer, turned this way and that, each with so many texts. */
function wallOf(panels: number, members: number): Document {
  const document = makeDocument('Low Water');
  for (let p = 0; p < panels; p++) {
    const [column, row] = [p % 25, Math.floor(p / 25)];
    const id = `p${p}`;
    document.anchors[id] = {
      kind: 'surface',
      name: id,
      order: 'a0',
      node: null,
      position: [(column - 12) * 0.8, 0.4 + row * 0.16, -9 - (p % 7)],
      normal: [0, 0, 1],
    };
    document.elements[id] = makeGroup(
      {
        mount: {
          kind: 'standing',
          anchor: id,
          sizeM: [0.7, 0.5],
          pxPerM: 800,
          readM: 2,
          sides: 'both',
          facing: p % 3 === 0 ? 'full' : p % 3 === 1 ? 'upright' : 'fixed',
          turnDeg: (p * 13) % 60,
          tiltDeg: (p * 7) % 20,
          liftM: 0,
        },
        place: { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null },
      },
      id,
      'column',
      'a0',
    );
    for (let k = 0; k < members; k++) document.elements[`${id}-${k}`] = makeText(insideOf(id), `Stake ${k}`, `a${p}`);
  }
  return document;
}

/** x, y and the divisor of each point, and two divisions: what a homography takes at the least. */
function bareLoop(points: Float64Array, maps: Float64Array, out: Float64Array, each: number): void {
  const n = points.length / 2;
  for (let i = 0; i < n; i++) {
    const m = Math.floor(i / each) * 9;
    const x = points[i * 2] as number;
    const y = points[i * 2 + 1] as number;
    const w = (maps[m + 6] as number) * x + (maps[m + 7] as number) * y + (maps[m + 8] as number);
    out[i * 2] = ((maps[m] as number) * x + (maps[m + 1] as number) * y + (maps[m + 2] as number)) / w;
    out[i * 2 + 1] = ((maps[m + 3] as number) * x + (maps[m + 4] as number) * y + (maps[m + 5] as number)) / w;
  }
}

export async function panelRows(panels = 500, members = 20): Promise<Row[]> {
  const document = wallOf(panels, members);
  const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, shippedShaper()));
  const clock = new Clocked();
  const frame = () => {
    clock.timeS += 1 / 60;
    solve(solver, clock);
  };
  frame();
  const rows = solver.c.count - panels;
  const points = new Float64Array(rows * 8);
  for (let i = 0; i < rows; i++) {
    const [x, y, w, h] = placeOf(solver.f, panels + i).rect;
    points.set([x, y, x + w, y, x + w, y + h, x, y + h], i * 8);
  }
  const maps = Float64Array.from({ length: panels * 9 }, (_, k) => (k % 9 === 8 ? 9 : Math.sin(k + 1)));
  const out = new Float64Array(points.length);
  const [bareMs = 0, ms = 0] = timeInTurn(200, [() => bareLoop(points, maps, out, members * 4), frame]);
  const shown = solver.f.failed.reduce((sum, verdict) => sum + (verdict === Verdict.Shown ? 1 : 0), 0);
  const bytes = bytesPerFrame(1000, frame);
  const collections = await collectionsDuring(1000, frame);
  return [{ name: 'panels', n: solver.c.count, medianMs: ms, ratio: ms / bareMs, shown, bytesPerFrame: bytes, collections }];
}
