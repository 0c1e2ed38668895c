/** How far a zone and a range reach, as handles on the plan: each is dragged along its own direction. */
import { fromAxes, type Solver, type Vec3, ZoneKind } from '@foreshore/core';
import type { Document, Element } from '@foreshore/document';
import { withAnchor, withElement } from '../edits/edits.ts';
import { anchorIdOf, zoneResized } from '../edits/zone.ts';
import { rowFor } from '../engine/rows.ts';

export interface ReachHandle {
  what: 'zone x' | 'zone z' | 'enter' | 'leave';
  /** Along the ground, of length 1. */
  way: [x: number, z: number];
  reachM: number;
  /** Where it ends in the world, and where the handle stands: farther out where it would lie under the anchor's dot. */
  edge: Vec3;
  grip: Vec3;
  says: string;
}

const SMALLEST_M = 0.05;
/** The handle is at least so far from the anchor, and from the handle before it, pixels. */
const CLEAR_PX = 22;

const flat = ([x, , z]: readonly number[], otherwise: [number, number]): [number, number] => {
  const length = Math.hypot(x as number, z as number);
  return length > 0.2 ? [(x as number) / length, (z as number) / length] : otherwise;
};

/** The handles of an element's first place; none where it has neither a zone nor a range. */
export function reachHandles(solver: Solver, id: string, perMetre: number): ReachHandle[] {
  const row = rowFor(solver, id);
  const { c } = solver;
  const gate = row < 0 ? -1 : (c.gateOfRow[row] as number);
  const anchor = gate < 0 ? -1 : (c.gateAnchor[gate] as number);
  if (anchor < 0 || c.anchorFault[anchor]) return [];
  const centre = [...c.anchorWorld.subarray(anchor * 3, anchor * 3 + 3)] as Vec3;
  const kind = c.zones.kind[anchor] as number;
  const [p, , r] = [...c.zones.size.subarray(anchor * 3, anchor * 3 + 3)] as Vec3;
  const { range } = c.elements[row] as Element;
  const least = CLEAR_PX / perMetre;
  const handle = (what: ReachHandle['what'], [wx, wz]: [number, number], reachM: number, leastM: number, says: string): ReachHandle => {
    const out = (m: number): Vec3 => [centre[0] + wx * m, centre[1], centre[2] + wz * m];
    return { what, way: [wx, wz], reachM, edge: out(reachM), grip: out(Math.max(reachM, leastM)), says };
  };
  const out: ReachHandle[] = [];
  const isBox = kind === ZoneKind.Box;
  if (isBox || kind === ZoneKind.Sphere || kind === ZoneKind.Capsule) {
    const [ax, az] = isBox
      ? [flat(fromAxes(c, anchor, 1, 0, 0), [1, 0]), flat(fromAxes(c, anchor, 0, 0, 1), [0, 1])]
      : ([
          [1, 0],
          [0, 1],
        ] as [[number, number], [number, number]]);
    out.push(handle('zone x', ax, p, least, isBox ? `the zone is ${(2 * p).toFixed(2)} m wide` : `the zone reaches ${p.toFixed(2)} m`));
    if (isBox) out.push(handle('zone z', az, r, least, `the zone is ${(2 * r).toFixed(2)} m deep`));
  }
  if (range) {
    // As the rings are drawn about it.
    const about = isBox ? Math.max(p, r) : kind === ZoneKind.Sphere || kind === ZoneKind.Capsule ? p : 0;
    out.push(handle('enter', [-1, 0], about + range.enterM, least, `comes in within ${range.enterM} m`));
    out.push(handle('leave', [0, -1], about + range.leaveM, least, `goes out beyond ${range.leaveM} m`));
  }
  return out;
}

const round = (m: number): number => Number(m.toFixed(2));

/** The document with what a handle stands for reaching so much farther, metres, than it did in `from`. */
export function withReach(document: Document, from: Document, id: string, handle: ReachHandle, byM: number): Document {
  const element = from.elements[id];
  if (!element) return document;
  const anchorId = anchorIdOf(element);
  const anchor = from.anchors[anchorId];
  if (handle.what.startsWith('zone')) {
    if (!anchor?.zone) return document;
    const reachM = Math.max(SMALLEST_M, handle.reachM + byM);
    const side = anchor.zone.kind !== 'box' ? null : handle.what === 'zone x' ? 0 : 2;
    return withAnchor(document, anchorId, { ...anchor, zone: zoneResized(anchor.zone, reachM, side) });
  }
  const { range } = element;
  if (!range) return document;
  // Coming nearer than it goes out is kept: the leaving distance is pushed along.
  const enterM = handle.what === 'enter' ? round(Math.max(SMALLEST_M, range.enterM + byM)) : range.enterM;
  const leaveM = handle.what === 'enter' ? round(enterM + range.leaveM - range.enterM) : round(Math.max(range.enterM, range.leaveM + byM));
  return withElement(document, id, (e) => ({ ...e, range: { ...range, enterM, leaveM } }));
}
