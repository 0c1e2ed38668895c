/** View: is the anchor in front of the viewer and inside the frame? What has come in stays until it is `leavePx` farther out. */
import { Row } from '../arrange.ts';
import { formatMetres, formatPixels } from '../format.ts';
import { At, placeOf } from '../frame.ts';
import { explainLook } from './look.ts';
import { Verdict } from './names.ts';
import type { Outcome, Step, Work } from './step.ts';

/** NaN, which stands for "not in front", fails every comparison. */
const within = (x: number, y: number, width: number, height: number, margin: number): boolean =>
  x >= -margin && x < width + margin && y >= -margin && y < height + margin;

function run({ c, a, f, m, head }: Work, from: number, to: number): void {
  const { failed, places, isTick } = f;
  const { viewIn, sizeIn, gates } = m;
  const { gateOfRow, elements } = c;
  const { rows, projection } = a;
  const { widthPx, heightPx } = projection;
  for (let i = from; i < to; i++) {
    if (failed[i] !== Verdict.Shown) continue;
    const at = (head + i) * At.Stride;
    const margin = rows[i * Row.Stride + (viewIn[i] ? Row.StayPx : Row.EnterPx)] as number;
    const gate = gateOfRow[i] as number;
    const isSeen = gate < 0 || !elements[i]?.look || gates.lookIn[gate] === 1;
    if (isSeen && within(places[at + At.PointX] as number, places[at + At.PointY] as number, widthPx, heightPx, margin)) {
      if (isTick) viewIn[i] = 1;
    } else {
      failed[i] = Verdict.View;
      if (!isTick) continue;
      viewIn[i] = 0;
      sizeIn[i] = 0;
    }
  }
}

function explain(work: Work, i: number): Outcome {
  const framed: Outcome = i < work.c.floatingCount ? explainFrame(work, i) : { passes: true, says: '' };
  const gate = work.c.gateOfRow[i] as number;
  const look = work.c.elements[i]?.look;
  if (!framed.passes || gate < 0 || !look) return framed;
  const looked = explainLook(work, gate, look);
  return { passes: looked.passes, says: framed.says && looked.passes ? `${framed.says}, ${looked.says}` : looked.says };
}

function explainFrame({ a, f, m }: Work, i: number): Outcome {
  const { point, depthM } = placeOf(f, i, f.viewCount);
  const [x, y] = point;
  const { widthPx, heightPx, nearM } = a.projection;
  if (!(depthM > nearM))
    return {
      passes: false,
      says: depthM < 0 ? `${formatMetres(-depthM)} m behind` : `${formatMetres(depthM)} m ahead, before the near plane`,
    };
  const margin = a.rows[i * Row.Stride + (m.viewIn[i] ? Row.StayPx : Row.EnterPx)] as number;
  const out = Math.max(-x, x - widthPx, -y, y - heightPx);
  return {
    passes: within(x, y, widthPx, heightPx, margin),
    says: out > 0 ? `${formatPixels(out)} px outside the frame` : `${formatMetres(depthM)} m ahead`,
  };
}

export const view: Step = { name: 'view', applies: ({ c }, i) => i < c.floatingCount || c.elements[i]?.look !== undefined, run, explain };
