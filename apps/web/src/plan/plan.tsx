/** The plan: the level from above through an orthographic lens, with anchors, zones, ranges, routes, the viewer and the readable area. */

import { CONTOURS } from '@foreshore/checks';
import {
  lensExtents,
  makeHit,
  type Pose,
  type Projection,
  projectionOf,
  projector,
  rangeRing,
  routeDurationS,
  type Vec3,
  Verdict,
  zoneLines,
} from '@foreshore/core';
import { inOrder, type Route } from '@foreshore/document';
import { type KeyboardEvent, type PointerEvent, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { Content } from '../bench/content.tsx';
import { EngineContext, useEngine } from '../bench/context.ts';
import { Choice } from '../bench/editing.tsx';
import { withAnchor } from '../bench/edits.ts';
import { showArea, useArea, useReadableArea } from '../bench/use-area.ts';
import { useOpened } from '../bench/use-opened.ts';
import { Header } from '../shell/header.tsx';
import { NumberField } from '../shell/number-field.tsx';
import { Waiting } from '../shell/waiting.tsx';
import { useAddress, useBench } from '../state/bench.ts';
import { change, draft, dropDraft, shownDocument, useProject } from '../state/project.ts';
import { moved, retimed, speedAt, turned } from './route-edit.ts';

const HIGH_M = 45;
const PAPER = '#FBF8F0';
const INK = '#15233B';
const CHANNEL = '#1B6E83';
const RED = '#BF3F2B';
const AMBER = '#A66D0C';
const DEEP = '#12445A';
/** Route handles are this far apart in time. */
const HANDLE_S = 2;
const LOOK_M = 2.2;

/** What of the level is looked at: its middle, and how many metres fit from there to the upper edge. */
interface Sheet {
  x: number;
  z: number;
  halfHeightM: number;
}

export default function Plan() {
  const { id = '' } = useParams();
  const { kept, engine, failed } = useOpened(id);
  useAddress();
  if (failed)
    return (
      <div className="waiting">
        <p role="alert">The project cannot be opened. {failed}</p>
        <Link to="/">Back to the projects</Link>
      </div>
    );
  if (!kept || !engine) return <Waiting what="Opening the plan" />;
  return (
    <EngineContext value={engine}>
      <main className="plan">
        <Header name={kept.name} view="plan" />
        <Sheets />
        <Side />
      </main>
    </EngineContext>
  );
}

type Drag =
  | { kind: 'pan'; x: number; y: number; from: Sheet; moved: boolean }
  | { kind: 'move'; timeS: number; x: number; z: number; from: Route; moved: boolean }
  | { kind: 'turn'; timeS: number; at: [number, number]; fromDeg: number; from: Route; moved: boolean }
  | { kind: 'anchor'; anchor: string; moved: boolean };

const bearing = (dx: number, dz: number): number => (Math.atan2(-dx, -dz) * 180) / Math.PI;

function Sheets() {
  const engine = useEngine();
  const document = useProject(shownDocument);
  const { route, timeS, selection, viewer, pose, area: areaOn } = useBench();
  const area = useArea((s) => s.shown);
  useReadableArea();
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState<[number, number]>([0, 0]);
  const [sheet, setSheet] = useState<Sheet>(() => firstSheet(engine, route));
  const [drag, setDrag] = useState<Drag | null>(null);

  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const fit = () => setSize([element.clientWidth, element.clientHeight]);
    fit();
    const observer = new ResizeObserver(fit);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const [w, h] = size;
  const projection: Projection | null =
    w && h ? projectionOf({ kind: 'orthographic', halfHeightM: sheet.halfHeightM, nearM: 0.1 }, w, h) : null;
  // North is up: the camera looks straight down with its head to −z.
  const from: Pose = { position: [sheet.x, HIGH_M, sheet.z], rotation: [-Math.SQRT1_2, 0, 0, Math.SQRT1_2] };
  useEffect(() => {
    const context = canvas.current?.getContext('2d', { alpha: false });
    if (context && projection) engine.drawLevel(projection, from, context);
  });

  if (!document) return null;
  const project = projection && projector(projection, from);
  const at = (p: readonly number[]): [number, number] => {
    const found = project?.(p[0] as number, p[1] as number, p[2] as number);
    return found ? [found.x, found.y] : [0, 0];
  };
  const path = (points: readonly (readonly number[])[]) =>
    points
      .map(
        (p, k) =>
          `${k ? 'L' : 'M'}${at(p)
            .map((v) => v.toFixed(1))
            .join(' ')}`,
      )
      .join('');
  const perMetre = h / 2 / sheet.halfHeightM;
  const place = (event: { clientX: number; clientY: number }): [number, number] => {
    const rect = box.current?.getBoundingClientRect();
    return rect
      ? [sheet.x + (event.clientX - rect.left - w / 2) / perMetre, sheet.z + (event.clientY - rect.top - h / 2) / perMetre]
      : [0, 0];
  };
  const hit = makeHit();
  const heightAt = (x: number, z: number, y: number): number =>
    engine.model.castRay([x, y + 0.5, z], [0, -1, 0], 30, hit) ? hit.position[1] : Number.NaN;
  const way = document.routes[route];
  const solver = engine.frameOf(viewer);

  const onDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const target = (event.target as Element).closest<HTMLElement>('[data-drag]')?.dataset;
    const [x, z] = place(event);
    if (target?.drag === 'move' && way) setDrag({ kind: 'move', timeS: Number(target.time), x, z, from: way, moved: false });
    else if (target?.drag === 'turn' && way) {
      const k = way.poses.findIndex((p) => p.timeS >= Number(target.time) - 1e-6);
      const centre = way.poses[k]?.position ?? [0, 0, 0];
      setDrag({
        kind: 'turn',
        timeS: Number(target.time),
        at: [centre[0], centre[2]],
        fromDeg: bearing(x - centre[0], z - centre[2]),
        from: way,
        moved: false,
      });
    } else if (target?.drag === 'anchor' && target.anchor) {
      if (target.element) useBench.setState({ selection: target.element });
      setDrag({ kind: 'anchor', anchor: target.anchor, moved: false });
    } else setDrag({ kind: 'pan', x: event.clientX, y: event.clientY, from: sheet, moved: false });
  };
  const onMove = (event: PointerEvent) => {
    if (!drag) return;
    const [x, z] = place(event);
    const put = (next: Route) => draft((d) => ({ ...d, routes: { ...d.routes, [route]: next } }));
    if (drag.kind === 'pan') {
      const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
      if (!drag.moved && Math.hypot(dx, dy) < 4) return;
      setSheet({ ...drag.from, x: drag.from.x - dx / perMetre, z: drag.from.z - dy / perMetre });
    } else if (drag.kind === 'move') put(moved(drag.from, drag.timeS, x - drag.x, z - drag.z, heightAt));
    else if (drag.kind === 'turn')
      put(turned(drag.from, drag.timeS, ((bearing(x - drag.at[0], z - drag.at[1]) - drag.fromDeg + 540) % 360) - 180));
    else {
      const anchor = document.anchors[drag.anchor];
      if (anchor?.kind !== 'surface' || anchor.node !== null) return;
      const y = heightAt(x, z, anchor.position[1] + 1);
      draft((d) =>
        withAnchor(d, drag.anchor, {
          ...anchor,
          position: [x, Number.isNaN(y) ? anchor.position[1] : y, z],
          normal: Number.isNaN(y) ? anchor.normal : (hit.normal as Vec3),
        }),
      );
    }
    setDrag({ ...drag, moved: true });
  };
  const onUp = () => {
    setDrag(null);
    const { draft: drafted } = useProject.getState();
    if (!drag || drag.kind === 'pan') return;
    if (drag.moved && drafted)
      change(drag.kind === 'move' ? 'Move a route' : drag.kind === 'turn' ? 'Turn a route' : 'Move an anchor', () => drafted);
    else dropDraft();
  };
  const zoom = (by: number) => setSheet((s) => ({ ...s, halfHeightM: Math.max(2, Math.min(400, s.halfHeightM * by)) }));
  const onKey = (event: KeyboardEvent) => {
    const step = sheet.halfHeightM / 8;
    const keys: Record<string, () => void> = {
      ArrowLeft: () => setSheet({ ...sheet, x: sheet.x - step }),
      ArrowRight: () => setSheet({ ...sheet, x: sheet.x + step }),
      ArrowUp: () => setSheet({ ...sheet, z: sheet.z - step }),
      ArrowDown: () => setSheet({ ...sheet, z: sheet.z + step }),
      '+': () => zoom(0.8),
      '=': () => zoom(0.8),
      '-': () => zoom(1.25),
    };
    const run = keys[event.key];
    if (!run) return;
    event.preventDefault();
    run();
  };

  const handles = way ? way.poses.filter((p, k) => k === 0 || k === way.poses.length - 1 || p.timeS % HANDLE_S < 1e-6) : [];
  const eye = engine.pose();
  const forward = (p: Pose, reach: number): Vec3 => {
    const { position, rotation } = p;
    const [qx, qy, qz, qw] = rotation;
    const f: Vec3 = [-2 * (qx * qz + qw * qy), 0, -(1 - 2 * (qx * qx + qy * qy))];
    const length = Math.hypot(...f) || 1;
    return [position[0] + (f[0] / length) * reach, position[1], position[2] + (f[2] / length) * reach];
  };
  return (
    <section className="plan-map" aria-label="Plan">
      <div
        ref={box}
        className="plan-sheet"
        role="application"
        aria-label="The level from above, north up. Move with the arrow keys, plus and minus come nearer and go back."
        tabIndex={0}
        data-plan={project ? 'ready' : 'none'}
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={() => {
          setDrag(null);
          dropDraft();
        }}
        onWheel={(event) => zoom(event.deltaY > 0 ? 1.12 : 0.89)}
        onDoubleClick={(event) => {
          const [x, z] = place(event);
          const y = heightAt(x, z, HIGH_M);
          if (!Number.isNaN(y)) engine.standAt([x, y, z]);
        }}
        onKeyDown={onKey}
      >
        <canvas ref={canvas} width={w || 1} height={h || 1} />
        {project && (
          <svg viewBox={`0 0 ${w} ${h}`}>
            <title>What stands where</title>
            {areaOn !== 'off' &&
              area?.lines.map((lines, k) => (
                <g key={CONTOURS[k]} fill="none" data-contour={CONTOURS[k]}>
                  <path d={lines.map(path).join('')} stroke={PAPER} strokeWidth={4} strokeOpacity={0.8} />
                  <path d={lines.map(path).join('')} stroke={DEEP} strokeWidth={1.75} strokeDasharray={[undefined, '7 4', '2 4'][k]} />
                  {lines[0] && (
                    <text
                      x={at(lines[0][0])[0]}
                      y={at(lines[0][0])[1]}
                      fontSize={13}
                      fontWeight={700}
                      fill={DEEP}
                      stroke={PAPER}
                      strokeWidth={4}
                      paintOrder="stroke"
                    >
                      {CONTOURS[k]}
                    </text>
                  )}
                </g>
              ))}
            {solver &&
              [...solver.c.gated].map((row, k) => {
                const anchor = solver.c.gateAnchor[k] as number;
                const element = solver.c.elements[row];
                if (anchor < 0 || solver.c.anchorFault[anchor] || !element) return null;
                const chosen = solver.c.sources[row] === selection;
                const y = solver.c.anchorWorld[anchor * 3 + 1] as number;
                return (
                  <g key={solver.c.ids[row]} fill="none" data-zone={solver.c.ids[row]}>
                    {zoneLines(solver.c, anchor).map((line, n) => (
                      <path key={`zone ${n}`} d={path(line)} stroke={AMBER} strokeWidth={chosen ? 2 : 1.25} />
                    ))}
                    {element.range && (
                      <path
                        d={path(rangeRing(solver.c, anchor, element.range.enterM, y))}
                        stroke={chosen ? CHANNEL : AMBER}
                        strokeWidth={chosen ? 2 : 1}
                        strokeDasharray="6 4"
                      />
                    )}
                  </g>
                );
              })}
            {inOrder(document.routes).map(([id, r]) => (
              <path
                key={id}
                d={path(r.poses.map((p) => p.position))}
                fill="none"
                stroke={id === route ? INK : AMBER}
                strokeOpacity={id === route ? 1 : 0.5}
                strokeWidth={id === route ? 2.5 : 1.5}
              />
            ))}
            {handles.map((p) => {
              const [x, y] = at(p.position);
              const [lx, ly] = at(forward(p as Pose, LOOK_M));
              return (
                <g key={p.timeS} data-handle-time={p.timeS}>
                  <path d={`M${x} ${y}L${lx} ${ly}`} stroke={INK} strokeWidth={1.5} />
                  <circle
                    cx={lx}
                    cy={ly}
                    r={4}
                    fill={PAPER}
                    stroke={INK}
                    strokeWidth={1.5}
                    data-drag="turn"
                    data-time={p.timeS}
                    style={{ cursor: 'grab' }}
                  />
                  <circle
                    cx={x}
                    cy={y}
                    r={5.5}
                    fill={INK}
                    stroke={PAPER}
                    strokeWidth={1.5}
                    data-drag="move"
                    data-time={p.timeS}
                    style={{ cursor: 'move' }}
                  >
                    <title>
                      {p.timeS.toFixed(1)} s, {way ? speedAt(way, p.timeS).toFixed(1) : 0} m/s
                    </title>
                  </circle>
                </g>
              );
            })}
            <Wedge eye={eye} at={at} forward={forward} />
            {solver?.c.ids.map((rowId, i) => {
              if (i >= solver.c.floatingCount || solver.c.lost[i]) return null;
              const anchor = solver.c.elementAnchor[i] as number;
              const [x, y] = at([...solver.c.anchorWorld.subarray(anchor * 3, anchor * 3 + 3)]);
              const source = solver.c.sources[i] as string;
              const chosen = source === selection;
              const shown = solver.f.failed[i] === Verdict.Shown;
              const anchorId = (solver.c.anchorIds[anchor] as string).split('@')[0] as string;
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
                  {(chosen || perMetre > 14) && (
                    <text x={x + 10} y={y + 4} fontSize={13} fill={INK} stroke={PAPER} strokeWidth={3.5} paintOrder="stroke">
                      {solver.c.elements[i]?.name}
                    </text>
                  )}
                </g>
              );
            })}
          </svg>
        )}
        <ScaleBar perMetre={perMetre} />
      </div>
      {pose && way && (
        <button type="button" className="text-button plan-back" onClick={() => useBench.setState({ pose: null })}>
          Back to the route, at {timeS.toFixed(1)} s
        </button>
      )}
    </section>
  );
}

/** All of the chosen route and the anchors about it. */
function firstSheet(engine: ReturnType<typeof useEngine>, route: string): Sheet {
  const poses = engine.document.routes[route]?.poses.map((p) => p.position) ?? [engine.pose().position];
  const span = (k: 0 | 2): [number, number] => [Math.min(...poses.map((p) => p[k])), Math.max(...poses.map((p) => p[k]))];
  const [[x0, x1], [z0, z1]] = [span(0), span(2)];
  return { x: (x0 + x1) / 2, z: (z0 + z1) / 2, halfHeightM: Math.max(12, (z1 - z0) * 0.62, (x1 - x0) * 0.42) };
}

/** What the viewer sees, as a wedge of its horizontal field of view. */
function Wedge({
  eye,
  at,
  forward,
}: {
  eye: Pose;
  at: (p: readonly number[]) => [number, number];
  forward: (p: Pose, reach: number) => Vec3;
}) {
  const document = useProject(shownDocument);
  const viewer = useBench((s) => s.viewer);
  const one = document?.viewers[viewer];
  if (!one) return null;
  const { left, right } = lensExtents(one.lens, one.widthPx / one.heightPx);
  const reach = 10;
  const tip = forward(eye, reach);
  const [dx, dz] = [tip[0] - eye.position[0], tip[2] - eye.position[2]];
  const side = (t: number): [number, number] => at([tip[0] - dz * t, 0, tip[2] + dx * t]);
  const [o, a, b] = [at(eye.position), side(left), side(right)];
  return (
    <g data-wedge="">
      <path d={`M${o}L${a}L${b}Z`} fill={CHANNEL} fillOpacity={0.2} stroke={CHANNEL} strokeWidth={1.5} />
      <circle cx={o[0]} cy={o[1]} r={6} fill={CHANNEL} stroke={PAPER} strokeWidth={2} />
    </g>
  );
}

function ScaleBar({ perMetre }: { perMetre: number }) {
  const metres = [1, 2, 5, 10, 20, 50, 100].find((m) => m * perMetre >= 70) ?? 200;
  return (
    <div className="plan-scale num" style={{ width: metres * perMetre }}>
      {metres} m
    </div>
  );
}

/** The moment, the route and the readable area; and what the selected element contains. */
function Side() {
  const document = useProject(shownDocument);
  const { route, timeS, area } = useBench();
  const { shown, waiting } = useArea();
  if (!document) return null;
  const routes = inOrder(document.routes);
  const way = document.routes[route];
  const durationS = way ? routeDurationS(way) : 0;
  return (
    <aside className="rail plan-side" aria-label="Route and selection">
      <section className="section" aria-label="Route">
        <h2>Route</h2>
        {routes.length === 0 ? (
          <p className="hint">No route yet. Record one in the bench; here its points are dragged, and where it looks.</p>
        ) : (
          <div className="fields">
            <Choice
              label="Route"
              value={route}
              choices={Object.fromEntries(routes.map(([id, r]) => [id, r.name]))}
              onChange={(id) => useBench.setState({ route: id, timeS: 0, pose: null })}
            />
            {way && (
              <NumberField
                label="Takes"
                unit="s"
                least={0.5}
                greatest={3600}
                value={durationS}
                onChange={(v) =>
                  change('Change how long a route takes', (d) => ({ ...d, routes: { ...d.routes, [route]: retimed(way, v) } }))
                }
              />
            )}
            {way && (
              <label className="wide plan-time">
                <span className="num">
                  {timeS.toFixed(1)} s, {speedAt(way, timeS).toFixed(1)} m/s
                </span>
                <input
                  type="range"
                  aria-label="Time on the route, seconds"
                  min={0}
                  max={durationS}
                  step={0.1}
                  value={Math.min(timeS, durationS)}
                  onChange={(event) => useBench.setState({ timeS: Number(event.currentTarget.value), pose: null, playing: false })}
                />
              </label>
            )}
            <Choice
              label="Readable area of the selection"
              value={area}
              choices={{ off: 'not drawn', viewer: 'for the chosen viewer', all: 'for all viewers at once' }}
              onChange={(next) => showArea(next, useBench.getState().selection)}
            />
            {area !== 'off' && (
              <p className="hint wide">
                {shown
                  ? `Read from ${(shown.share * 100).toFixed(shown.share < 0.1 ? 1 : 0)} % of the ground about it, ${shown.squareM.toFixed(0)} square metres.`
                  : waiting
                    ? 'Working it out.'
                    : 'Select something that floats.'}
              </p>
            )}
          </div>
        )}
      </section>
      <Content />
    </aside>
  );
}
