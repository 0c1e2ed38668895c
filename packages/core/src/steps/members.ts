/** What is on the glass, and what is inside of groups: boxes that were laid out beforehand are brought to their place in the frame. */
import type { Element } from '@foreshore/document';
import { At } from '../frame.ts';
import { verdictOfGate } from './gate.ts';
import { Verdict } from './names.ts';
import type { Work } from './step.ts';

/** Runs for the rows that do not float over an anchor of their own, after all that do. A group comes before its members. */
export function placeMembers(work: Work): void {
  const { c, a, f, m, head } = work;
  const { parent, root, floatingCount } = c;
  const { failed, hidden, places, viewCount, count } = f;
  const { boxes, ems, fits } = a;
  const { shift, scrolled } = f;
  const { widthPx, heightPx } = a.projection;
  // What floats by itself is never scrolled; roots of the glass neither.
  for (let i = floatingCount; i < count; i++) {
    const up = parent[i] as number;
    const top = root[i] as number;
    const onGlass = top >= floatingCount;
    const fit = fits[top] as number;
    m.viewIn[i] = 0;
    if (up >= 0) {
      const along = scrollsAlong(c.elements[up]);
      shift[i * 2] = (shift[up * 2] as number) - (along === 0 ? (scrolled[up] as number) : 0);
      shift[i * 2 + 1] = (shift[up * 2 + 1] as number) - (along === 1 ? (scrolled[up] as number) : 0);
    }
    for (let v = 0; v < (viewCount > 1 ? viewCount + 1 : 1); v++) {
      const at = (v * count + i) * At.Stride;
      const from = (v * count + top) * At.Stride;
      const unit = onGlass ? fit : (places[from + At.EmPx] as number);
      const box = i * 4;
      const own = onGlass && up < 0;
      const originX = onGlass ? (own ? 0 : (boxes[top * 4] as number) * fit) : (places[from + At.RectX] as number);
      const originY = onGlass ? (own ? 0 : (boxes[top * 4 + 1] as number) * fit) : (places[from + At.RectY] as number);
      places[at + At.RectX] = originX + ((boxes[box] as number) + (shift[i * 2] as number)) * unit;
      places[at + At.RectY] = originY + ((boxes[box + 1] as number) + (shift[i * 2 + 1] as number)) * unit;
      places[at + At.RectW] = (boxes[box + 2] as number) * unit;
      places[at + At.RectH] = (boxes[box + 3] as number) * unit;
      places[at + At.EmPx] = (ems[i] as number) * unit;
      if (onGlass) {
        places[at + At.PointX] = (a.pins[i * 2] as number) * fit;
        places[at + At.PointY] = (a.pins[i * 2 + 1] as number) * fit;
        places[at + At.DepthM] = 0;
      } else {
        places[at + At.PointX] = places[from + At.PointX] as number;
        places[at + At.PointY] = places[from + At.PointY] as number;
        places[at + At.DepthM] = places[from + At.DepthM] as number;
      }
    }
    if (up >= 0 && failed[up] !== Verdict.Shown) failed[i] = failed[up] as number;
    else if (hidden[i]) failed[i] = Verdict.Phase;
    else if (up < 0 && (c.gateOfRow[i] as number) >= 0 && verdictOfGate(work, c.gateOfRow[i] as number) !== Verdict.Shown)
      failed[i] = verdictOfGate(work, c.gateOfRow[i] as number);
    else if (up < 0 && !onFrame(places, (head + i) * At.Stride, widthPx, heightPx)) failed[i] = Verdict.Place;
    else if (clippedAway(places, (head + i) * At.Stride, c.clipper[i] as number, head)) failed[i] = Verdict.Place;
    else failed[i] = c.unpainted[i] ? Verdict.Paint : Verdict.Shown;
  }
}

/** The axis along which a group scrolls what is inside, or −1. */
const scrollsAlong = (group: Element | undefined): number =>
  group?.kind !== 'group' || !group.layout.scroll ? -1 : group.layout.direction === 'row' ? 0 : 1;

/** Whether nothing of a box lies inside the group around it that clips. */
export function clippedAway(places: Float64Array, at: number, clipper: number, head: number): boolean {
  if (clipper < 0) return false;
  const by = (head + clipper) * At.Stride;
  const apart = (from: number, length: number) =>
    (places[at + from] as number) >= (places[by + from] as number) + (places[by + length] as number) ||
    (places[at + from] as number) + (places[at + length] as number) <= (places[by + from] as number);
  return apart(At.RectX, At.RectW) || apart(At.RectY, At.RectH);
}

const onFrame = (places: Float64Array, at: number, widthPx: number, heightPx: number): boolean =>
  (places[at + At.RectX] as number) < widthPx &&
  (places[at + At.RectY] as number) < heightPx &&
  (places[at + At.RectX] as number) + (places[at + At.RectW] as number) > 0 &&
  (places[at + At.RectY] as number) + (places[at + At.RectH] as number) > 0;
