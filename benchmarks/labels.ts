/** Labels that keep apart, on a flight past them: what that costs a frame, against the same frame with labels that overlap; how calm it is. */
import {
  arrange,
  compile,
  type Inputs,
  lookingPose,
  makeSolver,
  type Pose,
  placeOf,
  type Solver,
  solve,
  TICK_S,
  Verdict,
} from '@foreshore/core';
import { type Document, makeDocument, makeLabel } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { bytesPerFrame, dice, median, type Row } from './measure.ts';

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

export function labelRows(counts: readonly number[] = [300, 3000], seconds = 30): Row[] {
  const text = shippedShaper();
  return counts.map((n) => {
    const solvers = [true, false].map((apart) => {
      const document = scene(n, apart);
      return makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
    }) as [Solver, Solver];
    const flight = new Flight();
    const times: [number[], number[]] = [[], []];
    let [changes, most, shown, frames] = [0, 0, 0, 0];
    const last = new Int8Array(n).fill(-1);
    for (let tick = 0; tick <= seconds / TICK_S; tick++) {
      flight.timeS = tick * TICK_S;
      flight.head = poseAt(flight.timeS);
      solvers.forEach((solver, k) => {
        const before = performance.now();
        solve(solver, flight);
        times[k as 0 | 1].push(performance.now() - before);
      });
      const [kept] = solvers;
      if (tick % 10 === 0) most = Math.max(most, overlap(kept));
      frames++;
      for (let i = 0; i < n; i++) {
        const at = kept.f.failed[i] === Verdict.Shown ? (kept.m.apartAt[i] as number) : -1;
        if (at >= 0) shown++;
        if (at >= 0 && last[i] !== -1 && last[i] !== at) changes++;
        last[i] = at;
      }
    }
    const [kept] = solvers;
    const standing = new Flight();
    const bytes = bytesPerFrame(200, () => {
      standing.timeS += TICK_S;
      solve(kept, standing);
    });
    return {
      name: 'labels that keep apart, each frame of a flight, against labels that overlap',
      n,
      medianMs: median(times[0]),
      ratio: median(times[0]) / median(times[1]),
      mostMs: Math.max(...times[0].slice(30)),
      shownAtOnce: shown / frames,
      changesPerLabelAndS: shown === 0 ? 0 : changes / (shown / frames) / seconds,
      mostOverlapPx: most,
      bytesPerFrame: bytes,
    };
  });
}
