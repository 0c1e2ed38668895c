/** What is drawn on the plan over the level: zones and ranges, routes, the viewer, elements, the readable area. */
import type { Ground } from '@foreshore/checks';
import { type Pose, rangeRing, type Solver, sightOf, type Vec3, Verdict, zoneLines } from '@foreshore/core';
import { inOrder, type Route } from '@foreshore/document';
import { useMemo } from 'react';
import { useArea } from '../questions/use-area.ts';
import { useGround, useGroundOf } from '../questions/use-ground.ts';
import { Contour, numeralSpots } from '../shell/contours.tsx';
import { useBench } from '../state/bench.ts';
import { shownDocument, useProject } from '../state/project.ts';
import { AMBER, CHANNEL, INK, PAPER, RED } from './colours.ts';
import { type ReachHandle, reachHandles } from './reach.ts';
import { speedAt } from './route-edit.ts';

/** From the world to the sheet. */
export interface OnSheet {
  /** A place of the world, in pixels of the sheet. */
  at: (p: readonly number[]) => [number, number];
  /** A line of the world as an SVG path. */
  path: (points: readonly (readonly number[])[]) => string;
  perMetre: number;
  size: [number, number];
}

/** Route handles are this far apart in time. */
const HANDLE_S = 2;
const LOOK_M = 2.2;
/** The viewer's wedge reaches so far. */
const WEDGE_M = 10;

/** So far ahead of a pose, on its level. */
function ahead({ position, rotation }: Pose, reach: number): Vec3 {
  const [qx, qy, qz, qw] = rotation;
  const [fx, fz] = [-2 * (qx * qz + qw * qy), -(1 - 2 * (qx * qx + qy * qy))];
  const length = Math.hypot(fx, fz) || 1;
  return [position[0] + (fx / length) * reach, position[1], position[2] + (fz / length) * reach];
}

export function AreaLines({ on }: { on: OnSheet }) {
  const wanted = useBench((s) => s.area);
  const area = useArea((s) => s.shown);
  if (wanted === 'off' || !area) return null;
  const taken: [number, number][] = [];
  return area.lines.map((lines, level) => {
    const spots = numeralSpots(
      lines.map(([start]) => on.at(start)),
      on.size,
      taken,
    );
    taken.push(...spots);
    return <Contour key={level} level={level} d={lines.map(on.path).join('')} spots={spots} />;
  });
}

/** Cells of the ground about what is placed that no route comes near. */
export function GroundMarks({ on }: { on: OnSheet }) {
  const drawn = useGround((s) => s.drawn);
  const { ground } = useGroundOf(drawn);
  const d = useMemo(() => (drawn && ground ? unreachedPath(ground, on) : ''), [drawn, ground, on.perMetre, on.at([0, 0, 0]).join()]);
  if (!d) return null;
  return (
    <g data-ground="unreached">
      <defs>
        <pattern id="unreached" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="9" height="9" fill={PAPER} fillOpacity={0.22} />
          <line x1="0" y1="0" x2="0" y2="9" stroke={INK} strokeOpacity={0.55} strokeWidth="1.5" />
        </pattern>
      </defs>
      <path d={d} fill="url(#unreached)" stroke="none" />
    </g>
  );
}

function unreachedPath({ cells, counts, reached, cellM }: Ground, on: OnSheet): string {
  const side = (cellM * on.perMetre).toFixed(2);
  let d = '';
  for (let k = 0; k < counts.length; k++) {
    if (!counts[k] || reached[k]) continue;
    const [x, z] = [cells[k * 3] as number, cells[k * 3 + 1] as number];
    const [left, top] = on.at([x - cellM / 2, cells[k * 3 + 2] as number, z - cellM / 2]);
    d += `M${left.toFixed(1)} ${top.toFixed(1)}h${side}v${side}h-${side}z`;
  }
  return d;
}

/** Zones of anchors, and how near one must come; of the selection also how far one may go again. */
export function ZoneMarks({ solver, on }: { solver: Solver; on: OnSheet }) {
  const selection = useBench((s) => s.selection);
  const { c } = solver;
  return [...c.gated].map((row, k) => {
    const anchor = c.gateAnchor[k] as number;
    const element = c.elements[row];
    if (anchor < 0 || c.anchorFault[anchor] || !element) return null;
    const chosen = c.sources[row] === selection;
    const y = c.anchorWorld[anchor * 3 + 1] as number;
    const ring = (distanceM: number) => on.path(rangeRing(c, anchor, distanceM, y));
    const ink = chosen ? CHANNEL : AMBER;
    return (
      <g key={c.ids[row]} fill="none" data-zone={c.ids[row]}>
        <path d={zoneLines(c, anchor).map(on.path).join('')} stroke={AMBER} strokeWidth={chosen ? 2 : 1.25} />
        {element.range && (
          <path d={ring(element.range.enterM)} stroke={ink} strokeWidth={chosen ? 2 : 1} strokeDasharray="6 4">
            <title>comes in within {element.range.enterM} m</title>
          </path>
        )}
        {element.range && chosen && (
          <path d={ring(element.range.leaveM)} stroke={ink} strokeWidth={1} strokeDasharray="2 4">
            <title>goes out beyond {element.range.leaveM} m</title>
          </path>
        )}
      </g>
    );
  });
}

/** Handles on the zone and the range of the selection. */
export function ReachHandles({ solver, on }: { solver: Solver; on: OnSheet }) {
  const selection = useBench((s) => s.selection);
  const handles = selection ? reachHandles(solver, selection, on.perMetre) : [];
  return handles.map((handle: ReachHandle) => {
    const [ex, ey] = on.at(handle.edge);
    const [x, y] = on.at(handle.grip);
    return (
      <g key={handle.what}>
        <path d={`M${ex} ${ey}L${x} ${y}`} stroke={INK} strokeWidth={1.5} />
        <rect
          x={x - 5}
          y={y - 5}
          width={10}
          height={10}
          rx={2}
          fill={PAPER}
          stroke={handle.what.startsWith('zone') ? AMBER : CHANNEL}
          strokeWidth={2.5}
          data-drag="reach"
          data-reach={handle.what}
          style={{ cursor: 'move' }}
        >
          <title>{handle.says}</title>
        </rect>
      </g>
    );
  });
}

/** All routes; the chosen one with handles for where it goes and where it looks. */
export function RouteMarks({ on }: { on: OnSheet }) {
  const document = useProject(shownDocument);
  const route = useBench((s) => s.route);
  if (!document) return null;
  const way = document.routes[route];
  const handles = way ? way.poses.filter((p, k) => k === 0 || k === way.poses.length - 1 || p.timeS % HANDLE_S < 1e-6) : [];
  return (
    <>
      {inOrder(document.routes).map(([id, r]) => (
        <path
          key={id}
          d={on.path(r.poses.map((p) => p.position))}
          fill="none"
          stroke={id === route ? INK : AMBER}
          strokeOpacity={id === route ? 1 : 0.5}
          strokeWidth={id === route ? 2.5 : 1.5}
        />
      ))}
      {way && handles.map((pose) => <RouteHandle key={pose.timeS} way={way} pose={pose} on={on} />)}
    </>
  );
}

function RouteHandle({ way, pose, on }: { way: Route; pose: Route['poses'][number]; on: OnSheet }) {
  const [x, y] = on.at(pose.position);
  const [lx, ly] = on.at(ahead(pose, LOOK_M));
  return (
    <g data-handle-time={pose.timeS} stroke={INK} strokeWidth={1.5}>
      <path d={`M${x} ${y}L${lx} ${ly}`} />
      <circle cx={lx} cy={ly} r={4} fill={PAPER} data-drag="turn" data-time={pose.timeS} style={{ cursor: 'grab' }} />
      <circle cx={x} cy={y} r={5.5} fill={INK} stroke={PAPER} data-drag="move" data-time={pose.timeS} style={{ cursor: 'move' }}>
        <title>
          {pose.timeS.toFixed(1)} s, {speedAt(way, pose.timeS).toFixed(1)} m/s
        </title>
      </circle>
    </g>
  );
}

/** What the viewer sees, as a wedge of its horizontal field of view. */
export function Wedge({ eye, on }: { eye: Pose; on: OnSheet }) {
  const document = useProject(shownDocument);
  const viewer = useBench((s) => s.viewer);
  const one = document?.viewers[viewer];
  if (!one) return null;
  // Both eyes of a headset, one's own part of a split screen.
  const { centreX, focalX, widthPx } = sightOf(one).projection;
  const [left, right] = [-centreX / focalX, (widthPx - centreX) / focalX];
  const tip = ahead(eye, WEDGE_M);
  const [dx, dz] = [tip[0] - eye.position[0], tip[2] - eye.position[2]];
  const side = (t: number): [number, number] => on.at([tip[0] - dz * t, 0, tip[2] + dx * t]);
  const [o, a, b] = [on.at(eye.position), side(left), side(right)];
  return (
    <g data-wedge="">
      <path d={`M${o}L${a}L${b}Z`} fill={CHANNEL} fillOpacity={0.2} stroke={CHANNEL} strokeWidth={1.5} />
      <circle cx={o[0]} cy={o[1]} r={6} fill={CHANNEL} stroke={PAPER} strokeWidth={2} />
    </g>
  );
}

/** A dot for each element that floats: filled where it is shown; named where it is selected or there is room. */
export function ElementMarks({ solver, on }: { solver: Solver; on: OnSheet }) {
  const selection = useBench((s) => s.selection);
  const { c, f } = solver;
  return c.ids.slice(0, c.anchoredCount).map((rowId, i) => {
    if (c.lost[i]) return null;
    const anchor = c.elementAnchor[i] as number;
    const [x, y] = on.at([...c.anchorWorld.subarray(anchor * 3, anchor * 3 + 3)]);
    const source = c.sources[i] as string;
    const chosen = source === selection;
    const shown = f.failed[i] === Verdict.Shown;
    const anchorId = (c.anchorIds[anchor] as string).split('@')[0] as string;
    return (
      <g key={rowId} data-anchor={anchorId} data-element={source} data-drag="anchor" style={{ cursor: 'pointer' }}>
        <circle
          cx={x}
          cy={y}
          r={chosen ? 7 : 4.5}
          fill={shown ? CHANNEL : PAPER}
          stroke={shown ? PAPER : RED}
          strokeWidth={chosen ? 3 : 1.75}
        />
        {(chosen || on.perMetre > 14) && (
          <text x={x + 10} y={y + 4} fontSize={13} fill={INK} stroke={PAPER} strokeWidth={3.5} paintOrder="stroke">
            {c.elements[i]?.name}
          </text>
        )}
      </g>
    );
  });
}

export function ScaleBar({ perMetre }: { perMetre: number }) {
  const metres = [1, 2, 5, 10, 20, 50, 100].find((m) => m * perMetre >= 70) ?? 200;
  return (
    <div className="plan-scale num" style={{ width: metres * perMetre }}>
      {metres} m
    </div>
  );
}
