/** From outside: the level with the viewer's view as a wedge, the anchors, and the selection's sight line. */
import {
  makeHit,
  PanelAt,
  type Pose,
  type Projection,
  placeOf,
  projectionOf,
  projector,
  type Solver,
  sightLines,
  unprojectPoint,
  type Vec3,
  Verdict,
  worldPoint,
  zoneLines,
} from '@foreshore/core';

const WEDGE_M = 9;
const INK = '#15233B';
const PAPER = '#FBF8F0';
const RED = '#BF3F2B';
const CHANNEL = '#1B6E83';
const AMBER = '#A66D0C';

export const outsideProjection = (width: number, height: number): Projection =>
  projectionOf({ kind: 'perspective', fovDeg: 50, fovAxis: 'vertical', hold: 'whole', designAspect: 16 / 9, nearM: 0.1 }, width, height);

export function drawOutside(
  context: CanvasRenderingContext2D,
  projection: Projection,
  from: Pose,
  solver: Solver,
  viewerPose: Pose,
  selection: string | null,
): void {
  const project = projector(projection, from);
  const line = (a: Vec3, b: Vec3, colour: string, width: number, dash: number[] = []) => {
    const [p, q] = [project(...a), project(...b)];
    if (!p.inFront || !q.inFront) return;
    for (const [c, w] of [
      [PAPER, width + 2.5],
      [colour, width],
    ] as const) {
      context.strokeStyle = c;
      context.lineWidth = w;
      context.setLineDash(dash);
      context.beginPath();
      context.moveTo(p.x, p.y);
      context.lineTo(q.x, q.y);
      context.stroke();
    }
    context.setLineDash([]);
  };
  const { widthPx, heightPx } = solver.a.projection;
  const corner = (x: number, y: number) => unprojectPoint(solver.a.projection, viewerPose, x, y, WEDGE_M);
  const corners = [corner(0, 0), corner(widthPx, 0), corner(widthPx, heightPx), corner(0, heightPx)];
  const eye = viewerPose.position;
  const onScreen = corners.map((c) => project(...c));
  if (onScreen.every((p) => p.inFront)) {
    context.fillStyle = 'rgba(27,110,131,0.16)';
    context.beginPath();
    for (const p of onScreen) context.lineTo(p.x, p.y);
    context.fill();
  }
  corners.forEach((c, i) => {
    line(eye, c, CHANNEL, 1.5);
    line(c, corners[(i + 1) % 4] as Vec3, CHANNEL, 1.5);
  });
  const head = project(...eye);
  if (head.inFront) dot(context, head.x, head.y, 6, INK);
  // Panels as they stand, whether the viewer sees them or not.
  solver.c.panels.forEach((row, panel) => {
    if (solver.c.lost[row]) return;
    const at = panel * PanelAt.Stride;
    const [w, h] = [solver.f.panels[at + PanelAt.WidthPx] as number, solver.f.panels[at + PanelAt.HeightPx] as number];
    const quad = [
      worldPoint(solver.f.panels, at, 0, 0),
      worldPoint(solver.f.panels, at, w, 0),
      worldPoint(solver.f.panels, at, w, h),
      worldPoint(solver.f.panels, at, 0, h),
    ];
    const isShown = solver.f.failed[row] === Verdict.Shown;
    quad.forEach((p, k) => {
      line(p, quad[(k + 1) % 4] as Vec3, isShown ? CHANNEL : RED, 1.5, isShown ? [] : [5, 4]);
    });
  });
  solver.c.ids.forEach((id, i) => {
    if (i >= solver.c.anchoredCount || solver.c.lost[i]) return;
    const at = (solver.c.elementAnchor[i] as number) * 3;
    const place = [0, 1, 2].map((k) => solver.c.anchorWorld[at + k] as number) as Vec3;
    const p = project(...place);
    const shown = solver.f.failed[i] === Verdict.Shown;
    if (solver.c.sources[i] === selection) {
      const gate = solver.c.gateOfRow[i] as number;
      for (const points of gate < 0 ? [] : zoneLines(solver.c, solver.c.gateAnchor[gate] as number))
        for (let k = 1; k < points.length; k++) line(points[k - 1] as Vec3, points[k] as Vec3, AMBER, 1);
      const lines = sightLines(solver, i);
      if (lines.length === 0) line(eye, place, shown ? CHANNEL : RED, 2, shown ? [] : [7, 5]);
      for (const { to, blocker } of lines) {
        const stop = blocker === null ? to : stopOf(solver, eye, to);
        line(eye, stop, blocker === null ? CHANNEL : RED, 1);
        const end = project(...stop);
        if (blocker !== null && end.inFront) ring(context, end.x, end.y, 3, RED);
      }
    }
    if (!p.inFront) return;
    // Shown is a full mark, hidden an open one.
    if (shown) dot(context, p.x, p.y, solver.c.sources[i] === selection ? 6 : 4, CHANNEL);
    else ring(context, p.x, p.y, solver.c.sources[i] === selection ? 6 : 3.5, RED);
    if (solver.c.sources[i] === selection)
      caption(context, p.x + 10, p.y + 4, solver.c.elements[i]?.name ?? id, placeOf(solver.f, i).depthM);
  });
}

/** Where a line of sight that is blocked stops. */
function stopOf({ c }: Solver, from: Vec3, to: Vec3): Vec3 {
  const way = to.map((v, k) => v - (from[k] as number)) as Vec3;
  const length = Math.hypot(...way) || 1;
  const hit = makeHit();
  return c.level?.castRay(from, way.map((v) => v / length) as Vec3, length, hit) ? hit.position : to;
}

function dot(context: CanvasRenderingContext2D, x: number, y: number, radius: number, colour: string): void {
  context.fillStyle = PAPER;
  context.beginPath();
  context.arc(x, y, radius + 1.5, 0, 7);
  context.fill();
  context.fillStyle = colour;
  context.beginPath();
  context.arc(x, y, radius, 0, 7);
  context.fill();
}

function ring(context: CanvasRenderingContext2D, x: number, y: number, radius: number, colour: string): void {
  for (const [c, w] of [
    [PAPER, 4.5],
    [colour, 2],
  ] as const) {
    context.strokeStyle = c;
    context.lineWidth = w;
    context.beginPath();
    context.arc(x, y, radius, 0, 7);
    context.stroke();
  }
}

function caption(context: CanvasRenderingContext2D, x: number, y: number, name: string, depthM: number): void {
  const text = depthM > 0 ? `${name}, ${depthM.toFixed(1)} m` : name;
  context.font = "14px 'Atkinson Hyperlegible Next', sans-serif";
  context.lineWidth = 4;
  context.lineJoin = 'round';
  context.strokeStyle = PAPER;
  context.strokeText(text, x, y);
  context.fillStyle = INK;
  context.fillText(text, x, y);
}
