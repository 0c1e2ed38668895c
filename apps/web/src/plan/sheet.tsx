/** The sheet of the plan: the level through an orthographic lens, what stands on it, and what is dragged there. */

import { makeHit, type Pose, type Projection, projectionOf, projector, type Solver, type Vec3 } from '@foreshore/core';
import type { Document, Route } from '@foreshore/document';
import { ActionIcon, UnstyledButton } from '@mantine/core';
import { IconFocusCentered, IconMinus, IconPlus, IconRoute } from '@tabler/icons-react';
import { type KeyboardEvent, type PointerEvent, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { withAnchor } from '../edits/edits.ts';
import { rowFor } from '../engine/rows.ts';
import { useEngine } from '../questions/engine-context.ts';
import { useReadableArea } from '../questions/use-area.ts';
import { useBench, useBenchPart } from '../state/bench.ts';
import { change, draft, dropDraft, shownDocument, useProject } from '../state/project.ts';
import { AreaLines, ElementMarks, GroundMarks, type OnSheet, ReachHandles, RouteMarks, ScaleBar, Wedge, ZoneMarks } from './marks.tsx';
import { type ReachHandle, reachHandles, withReach } from './reach.ts';
import { moved, turned } from './route-edit.ts';

const HIGH_M = 45;

/** What of the level is looked at: its middle, and how many metres fit from there to the upper edge. */
interface Extent {
  x: number;
  z: number;
  halfHeightM: number;
}

type Drag = { moved: boolean } & (
  | { kind: 'pan'; x: number; y: number; from: Extent }
  | { kind: 'move'; timeS: number; x: number; z: number; from: Route }
  | { kind: 'turn'; timeS: number; at: [number, number]; fromDeg: number; from: Route }
  | { kind: 'anchor'; anchor: string }
  | { kind: 'reach'; id: string; handle: ReachHandle; x: number; z: number; from: Document }
);
const NAMES: Record<Exclude<Drag['kind'], 'pan'>, string> = {
  move: 'Move a route',
  turn: 'Turn a route',
  anchor: 'Move an anchor',
  reach: 'Change how far it reaches',
};

const bearing = (dx: number, dz: number): number => (Math.atan2(-dx, -dz) * 180) / Math.PI;

export function Sheet() {
  const engine = useEngine();
  const document = useProject(shownDocument);
  const { route, timeS, selection, viewer, pose } = useBenchPart('route', 'timeS', 'selection', 'viewer', 'pose', 'info');
  useReadableArea();
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState<[number, number]>([0, 0]);
  const [extent, setExtent] = useState<Extent>(() => firstExtent(engine, route));
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
    w && h ? projectionOf({ kind: 'orthographic', halfHeightM: extent.halfHeightM, nearM: 0.1 }, w, h) : null;
  // North is up: the camera looks straight down with its head to −z.
  const from: Pose = { position: [extent.x, HIGH_M, extent.z], rotation: [-Math.SQRT1_2, 0, 0, Math.SQRT1_2] };
  useEffect(() => {
    const context = canvas.current?.getContext('2d', { alpha: false });
    if (context && projection) engine.drawLevel(projection, from, context);
  });

  if (!document) return null;
  const on = projection ? onSheet(projection, from, h / 2 / extent.halfHeightM, size) : null;
  const perMetre = on?.perMetre ?? 1;
  const place = (event: { clientX: number; clientY: number }): [number, number] => {
    const rect = box.current?.getBoundingClientRect();
    return rect
      ? [extent.x + (event.clientX - rect.left - w / 2) / perMetre, extent.z + (event.clientY - rect.top - h / 2) / perMetre]
      : [0, 0];
  };
  const hit = makeHit();
  const heightAt = (x: number, z: number, y: number): number =>
    engine.model.castRay([x, y + 0.5, z], [0, -1, 0], Math.max(30, y + 100), hit) ? hit.position[1] : Number.NaN;
  const way = document.routes[route];
  const solver = engine.frameOf(viewer);
  const chosen = solver && selection ? placeOnPlan(solver, selection) : null;
  useEffect(() => {
    // What is selected elsewhere is brought onto the sheet.
    if (!chosen || !h) return;
    const [dx, dz] = [Math.abs(chosen.x - extent.x), Math.abs(chosen.z - extent.z)];
    if (dx > (extent.halfHeightM * w) / h || dz > extent.halfHeightM) setExtent({ ...extent, x: chosen.x, z: chosen.z });
  }, [selection, h > 0]);

  /** What begins where the pointer went down. */
  const dragFrom = (event: PointerEvent): Drag => {
    const target = (event.target as Element).closest<HTMLElement>('[data-drag]')?.dataset;
    const [x, z] = place(event);
    if (target?.drag === 'move' && way) return { kind: 'move', timeS: Number(target.time), x, z, from: way, moved: false };
    if (target?.drag === 'turn' && way) {
      const [cx, , cz] = way.poses.find((p) => p.timeS >= Number(target.time) - 1e-6)?.position ?? [0, 0, 0];
      const fromDeg = bearing(x - cx, z - cz);
      return { kind: 'turn', timeS: Number(target.time), at: [cx, cz], fromDeg, from: way, moved: false };
    }
    if (target?.drag === 'reach' && selection && solver) {
      const handle = reachHandles(solver, selection, perMetre).find(({ what }) => what === target.reach);
      if (handle) return { kind: 'reach', id: selection, handle, x, z, from: document, moved: false };
    }
    if (target?.drag === 'anchor' && target.anchor) {
      if (target.element) useBench.setState({ selection: target.element });
      return { kind: 'anchor', anchor: target.anchor, moved: false };
    }
    return { kind: 'pan', x: event.clientX, y: event.clientY, from: extent, moved: false };
  };
  const onDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setDrag(dragFrom(event));
  };
  const onMove = (event: PointerEvent) => {
    if (!drag) return;
    const [x, z] = place(event);
    const put = (next: Route) => draft((d) => ({ ...d, routes: { ...d.routes, [route]: next } }));
    if (drag.kind === 'pan') {
      const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
      if (!drag.moved && Math.hypot(dx, dy) < 4) return;
      setExtent({ ...drag.from, x: drag.from.x - dx / perMetre, z: drag.from.z - dy / perMetre });
    } else if (drag.kind === 'move') put(moved(drag.from, drag.timeS, x - drag.x, z - drag.z, heightAt));
    else if (drag.kind === 'turn')
      put(turned(drag.from, drag.timeS, ((bearing(x - drag.at[0], z - drag.at[1]) - drag.fromDeg + 540) % 360) - 180));
    else if (drag.kind === 'reach') {
      const [wx, wz] = drag.handle.way;
      const byM = (x - drag.x) * wx + (z - drag.z) * wz;
      draft((d) => withReach(d, drag.from, drag.id, drag.handle, byM));
    } else {
      const anchor = document.anchors[drag.anchor];
      if (anchor?.kind !== 'surface' || anchor.node !== null) return;
      const y = heightAt(x, z, anchor.position[1] + 1);
      const ground = Number.isNaN(y) ? {} : { normal: hit.normal as Vec3 };
      draft((d) => withAnchor(d, drag.anchor, { ...anchor, position: [x, Number.isNaN(y) ? anchor.position[1] : y, z], ...ground }));
    }
    setDrag({ ...drag, moved: true });
  };
  const onUp = () => {
    setDrag(null);
    const { draft: drafted } = useProject.getState();
    if (!drag || drag.kind === 'pan') return;
    if (drag.moved && drafted) change(NAMES[drag.kind], () => drafted);
    else dropDraft();
  };
  const zoom = (by: number) => setExtent((s) => ({ ...s, halfHeightM: Math.max(2, Math.min(400, s.halfHeightM * by)) }));
  const onKey = (event: KeyboardEvent) => {
    const step = extent.halfHeightM / 8;
    const keys: Record<string, () => void> = {
      ArrowLeft: () => setExtent({ ...extent, x: extent.x - step }),
      ArrowRight: () => setExtent({ ...extent, x: extent.x + step }),
      ArrowUp: () => setExtent({ ...extent, z: extent.z - step }),
      ArrowDown: () => setExtent({ ...extent, z: extent.z + step }),
      '+': () => zoom(0.8),
      '=': () => zoom(0.8),
      '-': () => zoom(1.25),
    };
    const run = keys[event.key];
    if (!run) return;
    event.preventDefault();
    run();
  };

  return (
    <section className="plan-map" aria-label="Plan">
      <div
        ref={box}
        className="plan-sheet"
        role="application"
        aria-label="The level from above, north up. Move with the arrow keys, plus and minus come nearer and go back."
        tabIndex={0}
        data-plan={on ? 'ready' : 'none'}
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
          if (!Number.isNaN(y)) engine.camera.standAt([x, y, z]);
        }}
        onKeyDown={onKey}
      >
        <canvas ref={canvas} width={w || 1} height={h || 1} />
        {on && (
          <svg viewBox={`0 0 ${w} ${h}`}>
            <title>What stands where</title>
            <GroundMarks on={on} />
            <AreaLines on={on} />
            {solver && <ZoneMarks solver={solver} on={on} />}
            <RouteMarks on={on} />
            <Wedge eye={engine.pose()} on={on} />
            {solver && <ElementMarks solver={solver} on={on} />}
            {solver && <ReachHandles solver={solver} on={on} />}
          </svg>
        )}
        <ScaleBar perMetre={perMetre} />
      </div>
      <div className="plan-zoom" role="group" aria-label="What of the level is shown">
        {(
          [
            ['Nearer', IconPlus, () => zoom(0.7)],
            ['Farther', IconMinus, () => zoom(1.4)],
            ['The whole route', IconRoute, () => setExtent(firstExtent(engine, route))],
            [
              'The selection, with its zone and range',
              IconFocusCentered,
              () => chosen && setExtent({ x: chosen.x, z: chosen.z, halfHeightM: chosen.reachM * 1.25 }),
            ],
          ] as const
        ).map(([name, Icon, run]) => (
          <ActionIcon variant="transparent" key={name} className="icon-button" aria-label={name} title={name} onClick={run}>
            <Icon size={17} />
          </ActionIcon>
        ))}
      </div>
      {pose && way && (
        <UnstyledButton className="text-button plan-back" onClick={() => useBench.setState({ pose: null })}>
          Back to the route, at {timeS.toFixed(1)} s
        </UnstyledButton>
      )}
    </section>
  );
}

/** Where an element stands, and how far around it there is something to see, metres. */
function placeOnPlan(solver: Solver, id: string): { x: number; z: number; reachM: number } | null {
  const { c } = solver;
  const row = rowFor(solver, id);
  const gate = row < 0 ? -1 : (c.gateOfRow[row] as number);
  const anchor = gate >= 0 ? (c.gateAnchor[gate] as number) : row >= 0 && row < c.anchoredCount ? (c.elementAnchor[row] as number) : -1;
  if (anchor < 0 || c.anchorFault[anchor]) return null;
  const handles = reachHandles(solver, id, Number.POSITIVE_INFINITY);
  return {
    x: c.anchorWorld[anchor * 3] as number,
    z: c.anchorWorld[anchor * 3 + 2] as number,
    reachM: Math.max(3, ...handles.map(({ reachM }) => reachM)),
  };
}

function onSheet(projection: Projection, from: Pose, perMetre: number, size: [number, number]): OnSheet {
  const project = projector(projection, from);
  const at = (p: readonly number[]): [number, number] => {
    const { x, y } = project(p[0] as number, p[1] as number, p[2] as number);
    return [x, y];
  };
  const path = (points: readonly (readonly number[])[]) =>
    points
      .map((p, k) => {
        const [x, y] = at(p);
        return `${k ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`;
      })
      .join('');
  return { at, path, perMetre, size };
}

/** All of the chosen route and the anchors about it. */
function firstExtent(engine: ReturnType<typeof useEngine>, route: string): Extent {
  const poses = engine.document.routes[route]?.poses.map((p) => p.position) ?? [engine.pose().position];
  const span = (k: 0 | 2): [number, number] => [Math.min(...poses.map((p) => p[k])), Math.max(...poses.map((p) => p[k]))];
  const [[x0, x1], [z0, z1]] = [span(0), span(2)];
  return { x: (x0 + x1) / 2, z: (z0 + z1) / 2, halfHeightM: Math.max(12, (z1 - z0) * 0.62, (x1 - x0) * 0.42) };
}
