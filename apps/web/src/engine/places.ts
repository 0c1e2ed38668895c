/** Where things are: boxes in the present frame, anchors on surfaces, places from which to look at them. */
import { type PanelPlaceFault, panelPlaceFaults } from '@foreshore/checks';
import {
  approachTo,
  arcminM,
  type Compiled,
  EdgeAt,
  type EdgeForm,
  explain,
  Verdict as Failed,
  HEADSET_HUD,
  HUD_PANEL,
  hudWidthM,
  localScale,
  makeHit,
  mapAt,
  PanelAt,
  type PlacesSeen,
  type Pose,
  panelPoint,
  pixelsPerMetre,
  placeOf,
  placesSeen,
  poseTowards,
  projector,
  rangeRing,
  routeShows,
  type Solver,
  screenBox,
  screenOutline,
  screenPoint,
  screenRay,
  sightLines,
  transformPoint,
  type Vec3,
  worldPoint,
  zoneLines,
} from '@foreshore/core';
import { type Anchor, type Document, type Element, isOnHud, isPinned, orderAfter } from '@foreshore/document';
import { type Face, invertAffine, type LevelModel } from '@foreshore/level';
import type { Pinned, Spot } from '../edits/edits.ts';
import { nearestPin } from '../edits/snap.ts';
import { type Hover, useBench } from '../state/bench.ts';
import { type Carried, carriedAs } from './carry.ts';
import { nodesOf, rowFor } from './rows.ts';

/** The inner box of a group's row, in the viewer's pixels; null where the row is no group. */
function roomIn(solver: Solver, row: number): { left: number; top: number; right: number; bottom: number } | null {
  const group = solver.c.elements[row];
  if (group?.kind !== 'group') return null;
  const [x, y, w, h] = screenBox(solver, row);
  const unit = w / Math.max(1e-9, solver.a.boxes[row * 4 + 2] as number);
  const [l, t, r, b] = group.layout.padPx.map((v) => v * unit) as [number, number, number, number];
  return { left: x + l, top: y + t, right: x + w - r, bottom: y + h - b };
}

/** What places need of the engine. */
export interface PlacesHost {
  readonly document: Document;
  readonly model: LevelModel;
  readonly compiled: Compiled;
  frameOf(viewer: string): Solver | null;
  pose(): Pose;
  anchorPlace(element: string): Vec3 | null;
  placeLevel(timeS: number): void;
}

/** Where things lie in the chosen viewer's picture and in the world, and what is placed where the pointer is. */
export class Places {
  private readonly engine: PlacesHost;

  constructor(engine: PlacesHost) {
    this.engine = engine;
  }

  /** Boxes in the chosen viewer's pixels that an element's pin is a fraction of, and that its drag snaps to. */
  parentBox(id: string): { left: number; top: number; right: number; bottom: number } | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    const element = solver?.c.elements[row];
    if (!solver || !element || !isPinned(element.mount)) return null;
    const { widthPx, heightPx } = solver.a.projection;
    if (isOnHud(element.mount))
      return element.mount.within === 'safe' ? solver.a.safe : { left: 0, top: 0, right: widthPx, bottom: heightPx };
    return roomIn(solver, solver.c.parent[row] as number);
  }

  /**
   * The place that an element has now, as one on the HUD's safe area or in a free group: at the nearest of the nine pins.
   * Null where it has no box in the frame, or where the group places its members itself.
   */
  placeWithin(id: string, group: string | null): Pinned | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const box = this.boxOf(id);
    if (!solver || !box) return null;
    // In a headset the HUD is a group on a panel.
    const into = group === null ? solver.c.ids.indexOf(HUD_PANEL) : rowFor(solver, group);
    const target = solver.c.elements[into];
    if (group !== null && (target?.kind !== 'group' || target.layout.direction !== 'free')) return null;
    const room = into < 0 ? solver.a.safe : roomIn(solver, into);
    const own = rowFor(solver, id);
    const fromPanel = (solver.c.panelOf[own] as number) >= 0;
    const intoPanel = into >= 0 && (solver.c.panelOf[into] as number) >= 0;
    const unit = intoPanel
      ? this.unitOf(group ?? HUD_PANEL)
      : (solver.a.fits[group === null ? (fromPanel ? into : own) : into] ?? solver.a.fit);
    if (!room || !(unit > 0)) return null;
    // Off a panel, onto one, or from over an anchor, a design pixel is another: what has a size of its own keeps the one it is seen at.
    const floats = !fromPanel && (solver.c.root[own] as number) < solver.c.anchoredCount;
    const ownUnit = floats && solver.c.elements[own]?.kind === 'group' ? placeOf(solver.f, own).emPx : this.unitOf(id);
    const scale = fromPanel !== intoPanel || floats ? ownUnit / unit : 1;
    const axis = (least: number, greatest: number, from: number, to: number): [number, number] => {
      const middle = (least + greatest) / 2;
      const pin = Math.max(0, Math.min(1, Math.round(((middle - from) / Math.max(1, to - from)) * 2) / 2));
      return [pin, Math.round((least + pin * (greatest - least) - from - pin * (to - from)) / unit)];
    };
    const [x, y] = [axis(box.left, box.right, room.left, room.right), axis(box.top, box.bottom, room.top, room.bottom)];
    return { pin: [x[0], y[0]], offsetPx: [x[1], y[1]], scale };
  }

  /** An element carried in the world otherwise, as it is seen now; null where it has no box in the picture. */
  carriedAs(kind: 'floating' | 'standing' | 'trailing', id: string): Carried | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || row < 0) return null;
    return carriedAs(kind, this.engine.document, id, { solver, row, pose: this.engine.pose(), level: this.engine.model });
  }

  /** The box of an element in the chosen viewer's pixels; null where it has none in the frame. */
  boxOf(id: string): { left: number; top: number; right: number; bottom: number } | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || row < 0) return null;
    const [left, top, width, height] = screenBox(solver, row);
    return Number.isNaN(left) ? null : { left, top, right: left + width, bottom: top + height };
  }

  /** The frame at whose edge an element stands while its anchor is out of view, in the chosen viewer's pixels; null where it has none. */
  edgeFrame(
    id: string,
  ): { left: number; top: number; right: number; bottom: number; form: EdgeForm; radiusPx: number; middle: [number, number] } | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    const k = solver ? (solver.a.edgeOf[row] ?? -1) : -1;
    if (!solver || k < 0) return null;
    const { edges, projection } = solver.a;
    const at = (column: EdgeAt): number => edges[k * EdgeAt.Stride + column] as number;
    return {
      left: at(EdgeAt.Left),
      top: at(EdgeAt.Top),
      right: at(EdgeAt.Right),
      bottom: at(EdgeAt.Bottom),
      form: at(EdgeAt.Form),
      radiusPx: at(EdgeAt.RadiusPx),
      middle: [projection.centreX, projection.centreY],
    };
  }

  /** The places that a label which keeps apart has about its anchor, and what has each; null for all else. Viewer's pixels. */
  choicesOf(id: string): PlacesSeen | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    return solver && row >= 0 ? placesSeen(solver, row) : null;
  }

  /** The inset with which a side of that frame (left, top, right, bottom) goes through a point of the picture, design pixels. */
  edgeInset(id: string, side: number, u: number, v: number): number | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    const frame = this.edgeFrame(id);
    const edge = solver?.c.elements[row]?.place.edge;
    if (!solver || !frame || !edge) return null;
    const { widthPx, heightPx } = solver.a.projection;
    const fit = solver.a.fits[row] as number;
    // From where the side is now: in a headset the frame begins where both eyes see.
    const now = [frame.left, frame.top, frame.right, frame.bottom][side] as number;
    const by = ((side % 2 === 0 ? u * widthPx : v * heightPx) - now) / fit;
    return Math.round(Math.max(0, Math.min(4000, (edge.insetPx[side] as number) + (side < 2 ? by : -by))));
  }

  /** From the nearest pin of the HUD's safe area to a point of the picture, design pixels. */
  hudSpot(u: number, v: number): { pin: [number, number]; offsetPx: [number, number] } {
    const pin = nearestPin(u, v);
    const { document } = this.engine;
    const a = this.engine.frameOf(useBench.getState().viewer)?.a;
    if (!a) return { pin, offsetPx: [0, 0] };
    const { widthPx, heightPx, focalX, focalY, centreX, centreY } = a.projection;
    const [x, y] = [u * widthPx, v * heightPx];
    const offset = (at: number, from: number, to: number, share: number, unit: number) =>
      Math.round((at - from - (to - from) * share) / unit);
    if (a.eyes.length === 0) {
      const { left, top, right, bottom } = a.safe;
      return { pin, offsetPx: [offset(x, left, right, pin[0], a.fit), offset(y, top, bottom, pin[1], a.fit)] };
    }
    // Before the head the HUD is as wide as its angle: a tangent is so many of its design pixels.
    const { glass } = document;
    const hud = glass.headset ?? HEADSET_HUD;
    const perTangent = (glass.widthPx * hud.distanceM) / hudWidthM(hud);
    const half = [glass.widthPx / 2, glass.heightPx / 2] as const;
    return {
      pin,
      offsetPx: [
        offset(((x - centreX) / focalX) * perTangent, -half[0], half[0], pin[0], 1),
        offset(((y - centreY) / focalY) * perTangent, -half[1], half[1], pin[1], 1),
      ],
    };
  }

  /** What is wrong with where a panel stands, for the level and the routes as they are. */
  panelPlaceFaults(id: string): PanelPlaceFault[] {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    return solver ? panelPlaceFaults(solver.a, id) : [];
  }

  /** The nearest pin of a free group to a point of the picture, and the offset from it, design pixels; nothing where the group places its members itself. */
  offsetIn(group: string, u: number, v: number): { pin?: [number, number]; offsetPx?: [number, number] } {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, group) : -1;
    const element = solver?.c.elements[row];
    if (!solver || element?.kind !== 'group' || element.layout.direction !== 'free') return {};
    const { widthPx, heightPx } = solver.a.projection;
    const [x, y, w, h] = placeOf(solver.f, row).rect;
    const panel = solver.c.panelOf[row] as number;
    // On a panel all of this is in the panel's own pixels.
    const unit = panel < 0 ? (solver.a.fits[row] as number) : 1;
    const [px, py] =
      panel < 0
        ? [u * widthPx, v * heightPx]
        : panelPoint(solver.f.maps, mapAt(solver.f, panel), u * widthPx, v * heightPx, solver.a.projection.nearM);
    if (Number.isNaN(px)) return {};
    const [l, t, r, b] = element.layout.padPx.map((pad) => pad * unit) as [number, number, number, number];
    const inner = { left: x + l, top: y + t, width: Math.max(1, w - l - r), height: Math.max(1, h - t - b) };
    const share = (at: number, from: number, length: number) => Math.max(0, Math.min(1, Math.round(((at - from) / length) * 2) / 2));
    const pin: [number, number] = [share(px, inner.left, inner.width), share(py, inner.top, inner.height)];
    const offsetPx: [number, number] = [
      Math.round((px - inner.left - pin[0] * inner.width) / unit),
      Math.round((py - inner.top - pin[1] * inner.height) / unit),
    ];
    return { pin, offsetPx };
  }

  /** Of an element on a panel: from the viewer's pixels to the panel's design pixels, as the panel stands now; null where it lies on none. */
  ontoPanel(id: string): ((x: number, y: number) => [number, number]) | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    const panel = solver?.c.panelOf[row] ?? -1;
    if (!solver || panel < 0) return null;
    // The panel may move while it is dragged: this is where it was.
    const map = solver.f.maps.slice(mapAt(solver.f, panel));
    const side = this.sideOf(id);
    return (x, y) => {
      const [px, py] = panelPoint(map, 0, x, y, solver.a.projection.nearM);
      return [side * px, py];
    };
  }

  /** -1 for a panel that is laid the other way round, seen from behind: its place counts to the right of its front. Else 1. */
  sideOf(id: string): 1 | -1 {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (solver?.c.elements[row]?.mount.kind !== 'standing') return 1;
    return (solver.f.panels[(solver.c.panelOf[row] as number) * PanelAt.Stride + PanelAt.Side] as number) < 0 ? -1 : 1;
  }

  /** How large an element on a panel is, in the panel's design pixels; null where it lies on none. */
  designSizeOf(id: string): [number, number] | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || (solver.c.panelOf[row] ?? -1) < 0) return null;
    const [, , w, h] = placeOf(solver.f, row).rect;
    return [w, h];
  }

  /** The outline of an element in the chosen viewer's picture, and a point of its box there, by shares of it; null where it is not in front. */
  seen(id: string): { outline: number[]; point: (u: number, v: number) => [number, number] } | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || row < 0) return null;
    const outline = screenOutline(solver, row);
    if (outline.length === 0) return null;
    const [x, y, w, h] = placeOf(solver.f, row).rect;
    const panel = solver.c.panelOf[row] as number;
    const point = (u: number, v: number): [number, number] =>
      panel < 0
        ? [x + u * w, y + v * h]
        : screenPoint(solver.f.maps, mapAt(solver.f, panel), x + u * w, y + v * h, solver.a.projection.nearM);
    return { outline, point };
  }

  /**
   * The ring by which a standing panel is turned by hand: as it is seen, where its front is on it, and by how much a pixel of the
   * viewer lies to the left of that, degrees. Null where the element is no such panel, or the ring is not in front.
   */
  turnRing(id: string): { points: [number, number][]; knob: [number, number]; degAt: (x: number, y: number) => number | null } | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (solver?.c.elements[row]?.mount.kind !== 'standing') return null;
    const at = (solver.c.panelOf[row] as number) * PanelAt.Stride;
    const of = (first: PanelAt): Vec3 => [...solver.f.panels.subarray(at + first, at + first + 3)] as Vec3;
    const [right, down, front] = [of(PanelAt.Right), of(PanelAt.Down), of(PanelAt.Front)];
    const [w, h, k] = [PanelAt.WidthPx, PanelAt.HeightPx, PanelAt.PxPerM].map((c) => solver.f.panels[at + c] as number) as Vec3;
    // About its foot, where it hides nothing.
    const centre = worldPoint(solver.f.panels, at, w / 2, h);
    const radius = (0.6 * w) / k;
    const pose = this.engine.pose();
    const { projection } = solver.a;
    const project = projector(projection, pose);
    const seen = (angle: number): [number, number] => {
      const p = centre.map(
        (v, i) => v + radius * (Math.cos(angle) * (front[i] as number) + Math.sin(angle) * (right[i] as number)),
      ) as Vec3;
      const { x, y } = project(...p);
      return [x, y];
    };
    const points = Array.from({ length: 49 }, (_, i) => seen((i / 48) * 2 * Math.PI));
    const knob = seen(0);
    if (Number.isNaN(knob[0])) return null;
    const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    const degAt = (x: number, y: number): number | null => {
      // The ray through the pixel, on the plane of the ring.
      const { origin, direction } = screenRay(projection, pose, x, y);
      const slope = dot(direction, down);
      const away = centre.map((v, i) => v - (origin[i] as number)) as Vec3;
      const t = dot(away, down) / slope;
      if (!(t > 0) || !Number.isFinite(t)) return null;
      const off = origin.map((v, i) => v + t * (direction[i] as number) - (centre[i] as number)) as Vec3;
      return (Math.atan2(dot(off, right), dot(off, front)) * 180) / Math.PI;
    };
    return { points, knob, degAt };
  }

  /** What is needed to make something of a size to the eye at a place: how far away it is, how long an arcmin is there, and how wide the picture. */
  scaleAt(place: Vec3): { distanceM: number; arcminM: number; pictureM: number } {
    const { position } = this.engine.pose();
    const distanceM = Math.max(0.1, Math.hypot(...place.map((v, k) => v - (position[k] as number))));
    const a = this.engine.frameOf(useBench.getState().viewer)?.a;
    if (!a) return { distanceM, arcminM: distanceM / 3438, pictureM: distanceM };
    return { distanceM, arcminM: arcminM(a, distanceM), pictureM: a.projection.widthPx / pixelsPerMetre(a.projection, distanceM) };
  }

  /** The flat rectangle of the level under the pointer; null where there is none. */
  faceAt(hover: Hover): Face | null {
    const { model } = this.engine;
    const node = model.nodeIndex(hover.node);
    return node < 0 ? null : model.faceAt(node, hover.position, hover.normal);
  }

  /** The viewer's pixels for one design pixel of an element's offset; on a panel, in the middle of the element. */
  unitOf(id: string): number {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    const panel = solver?.c.panelOf[row] ?? -1;
    if (solver && panel >= 0) {
      const [x, y, w, h] = placeOf(solver.f, row).rect;
      const { best } = localScale(solver.f.maps, mapAt(solver.f, panel), x + w / 2, y + h / 2);
      return best > 0 ? best : 1;
    }
    return (row >= 0 ? solver?.a.fits[row] : undefined) ?? 1;
  }

  /** Boxes of what stands beside an element in the same parent, in the chosen viewer's pixels. */
  boxesBeside(id: string): { left: number; top: number; right: number; bottom: number }[] {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    if (!solver || row < 0) return [];
    const { c, f } = solver;
    return c.ids.flatMap((_, other) => {
      if (other === row || other < c.anchoredCount || c.parent[other] !== c.parent[row] || f.failed[other] !== Failed.Shown) return [];
      const [left, top, width, height] = screenBox(solver, other);
      return [{ left, top, right: left + width, bottom: top + height }];
    });
  }

  /** A new anchor where the pointer is, tied to the node under it, or to the world. */
  anchorFrom(hover: Hover, name: string, order: string, tie: 'node' | 'world' = 'node'): Anchor {
    if (tie === 'world' || this.engine.model.nodeIndex(hover.node) < 0)
      return { kind: 'surface', name, order, node: null, position: hover.position, normal: hover.normal };
    const { position, normal } = this.intoNode(hover.node, hover.position, hover.normal);
    return { kind: 'surface', name, order, node: hover.node, position, normal };
  }

  /** What is placed where the pointer is stands on a new anchor; and where no route passes it, one is made that does. */
  spot(hover: Hover, tie: 'node' | 'world' = 'node'): Spot {
    return {
      anchorFrom: (name, order) => this.anchorFrom(hover, name, order, tie),
      approach: (document, name) => {
        const { route, viewer } = useBench.getState();
        const way = document.routes[route];
        const projection = this.engine.frameOf(viewer)?.a.projection;
        if (way && projection && routeShows(way, hover.position, projection, this.engine.model)) return null;
        const poses = approachTo(hover.position, this.engine.pose(), document.body, this.engine.model);
        return { name: `Towards ${name}`.slice(0, 200), order: orderAfter(document.routes), poses, feeds: [], phases: [] };
      },
    };
  }

  /** The anchor moved to a place on a surface; null where its kind cannot be moved by hand. */
  movedAnchor(anchor: Anchor, hover: Hover): Anchor | null {
    if (anchor.kind === 'midpoint' || anchor.kind === 'nodes' || anchor.kind === 'event') return null;
    if (anchor.kind === 'surface')
      return {
        ...this.anchorFrom(hover, anchor.name, anchor.order, anchor.node === null ? 'world' : 'node'),
        ...(anchor.zone && { zone: anchor.zone }),
      };
    if (this.engine.model.nodeIndex(anchor.node) < 0) return null;
    return { ...anchor, offset: this.intoNode(anchor.node, hover.position, hover.normal).position };
  }

  /**
   * The anchor as one of another kind, at the same place and with the same zone. A node is the one it is on, or the one whose
   * surface is nearest below it.
   */
  anchorAs(kind: 'surface' | 'node' | 'nodes', anchor: Anchor, place: Vec3): Anchor {
    const { name, order, zone, steady } = anchor;
    const kept = { name, order, ...(zone && zone.kind !== 'mesh' && { zone }), ...(steady && { steady }) };
    const tied = this.nodeOf(anchor) ?? this.nodeNear(place);
    const normal: Vec3 = anchor.kind === 'surface' ? anchor.normal : [0, 1, 0];
    if (kind === 'surface') {
      if (tied === null) return { kind, ...kept, node: null, position: place, normal };
      // A normal that was given in the node's space stays as it is.
      const own = anchor.kind === 'surface' && anchor.node === tied;
      const inNode = this.intoNode(tied, place, normal);
      return { kind, ...kept, ...(zone && { zone }), node: tied, position: inNode.position, normal: own ? normal : inNode.normal };
    }
    const node = tied ?? this.engine.model.nodeIds[0] ?? 'Ground';
    const offset = this.intoNode(node, place, normal).position;
    if (kind === 'node') return { kind, ...kept, ...(zone && { zone }), node, offset };
    return { kind, ...kept, ...(zone && { zone }), pattern: node.replace(/\d+/g, '*'), property: null, offset };
  }

  private nodeOf(anchor: Anchor): string | null {
    const node = anchor.kind === 'surface' || anchor.kind === 'node' ? anchor.node : null;
    return node !== null && this.engine.model.nodeIndex(node) >= 0 ? node : null;
  }

  /** The node whose surface lies just under, or just above, a place. */
  private nodeNear(place: Vec3): string | null {
    const hit = makeHit();
    for (const way of [-1, 1])
      if (this.engine.model.castRay([place[0], place[1] - way * 0.02, place[2]], [0, way, 0], 0.5, hit))
        return this.engine.model.nodeIds[hit.node] ?? null;
    return null;
  }

  private intoNode(node: string, position: Vec3, normal: Vec3): { position: Vec3; normal: Vec3 } {
    const at = this.engine.model.nodeIndex(node) * 16;
    const m = this.engine.model.worldMatrices;
    const inverse = new Float64Array(16);
    if (!invertAffine(inverse, m, at)) return { position, normal };
    // A normal goes back by the transpose of the node's matrix.
    const n = [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, r) => sum + (m[at + k * 4 + r] as number) * (normal[r] as number), 0)) as Vec3;
    const length = Math.hypot(...n) || 1;
    return { position: transformPoint(inverse, 0, ...position), normal: n.map((v) => v / length) as Vec3 };
  }

  /** A place from which an element's anchor can be seen well: in front of it, where one can stand. */
  viewOf(id: string): Pose | null {
    const row = this.engine.compiled.sources.indexOf(id);
    if (row < 0 || row >= this.engine.compiled.anchoredCount || this.engine.compiled.lost[row]) return null;
    this.engine.placeLevel(useBench.getState().timeS);
    const at = (this.engine.compiled.elementAnchor[row] as number) * 3;
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const w = (solver?.c ?? this.engine.compiled).anchorWorld;
    const target: Vec3 = [w[at] as number, w[at + 1] as number, w[at + 2] as number];
    const eye = this.engine.document.body.eyeHeightM;
    let best: { pose: Pose; score: number } | null = null;
    const hit = makeHit();
    for (const reach of [5, 8, 3, 12])
      for (let k = 0; k < 16; k++) {
        const angle = (k / 16) * 2 * Math.PI;
        const [x, z] = [target[0] + Math.cos(angle) * reach, target[2] + Math.sin(angle) * reach];
        if (!this.engine.model.castRay([x, target[1] + 3, z], [0, -1, 0], 40, hit)) continue;
        const from: Vec3 = [x, hit.position[1] + eye, z];
        const open = this.engine.model.sightline(...from, ...target) < 0;
        const score = (open ? 0 : 100) + Math.abs(reach - 5) + Math.abs(from[1] - target[1]);
        if (!best || score < best.score) best = { pose: poseTowards(from, target), score };
      }
    return best?.pose ?? poseTowards([target[0] + 4, target[1] + 1.5, target[2] + 4], target);
  }

  /** The level's colour at a point of the picture, given as shares, as it is reckoned where nothing is drawn: red, green, blue, 0..255. */
  colourAt(u: number, v: number): Vec3 {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return [0, 0, 0];
    const { projection } = solver.a;
    const ray = screenRay(projection, this.engine.pose(), u * projection.widthPx, v * projection.heightPx);
    return this.engine.model.colourAt(ray.origin, ray.direction, [0, 0, 0]);
  }

  /** Of lines on the ground, those that are seen from where the viewer stands: in pixels of the chosen viewer. */
  seenLines(lines: readonly (readonly [Vec3, Vec3])[]): [[number, number], [number, number]][] {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return [];
    const pose = this.engine.pose();
    const project = projector(solver.a.projection, pose);
    const { widthPx, heightPx } = solver.a.projection;
    return lines.flatMap(([a, b]): [[number, number], [number, number]][] => {
      const [p, q] = [project(...a), project(...b)];
      if (!p.inFront || !q.inFront || Math.max(p.x, q.x) < 0 || Math.min(p.x, q.x) > widthPx || Math.min(p.y, q.y) > heightPx) return [];
      const middle = a.map((v, k) => (v + (b[k] as number)) / 2) as Vec3;
      if (this.engine.model.sightline(...pose.position, middle[0], middle[1] + 0.05, middle[2]) >= 0) return [];
      return [
        [
          [p.x, p.y],
          [q.x, q.y],
        ],
      ];
    });
  }

  /** Before one element's anchor, looking at another's: so far from the first, on the line between them. */
  towards(target: string, before: string, distanceM: number): Pose | null {
    const [to, from] = [this.engine.anchorPlace(target), this.engine.anchorPlace(before)];
    if (!to || !from) return null;
    const way: Vec3 = [from[0] - to[0], 0, from[2] - to[2]];
    const length = Math.hypot(...way) || 1;
    return poseTowards([from[0] + (way[0] / length) * distanceM, from[1] + 0.45, from[2] + (way[2] / length) * distanceM], to);
  }

  /** Where elements that are hidden would lie in the present frame, in the chosen viewer's pixels; those on its outside have no place. */
  ghosts(): { id: string; box: { left: number; top: number; right: number; bottom: number } }[] {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return [];
    const { c, f, a } = solver;
    return Array.from({ length: c.anchoredCount }, (_, row) => row).flatMap((row) => {
      const verdict = f.failed[row] as Failed;
      const { point } = placeOf(f, row);
      const isHidden = verdict !== Failed.Shown && verdict !== Failed.Attach && verdict !== Failed.View && verdict !== Failed.Place;
      const inFrame = point[0] >= 0 && point[0] < a.projection.widthPx && point[1] >= 0 && point[1] < a.projection.heightPx;
      if (!isHidden || !inFrame) return [];
      // Asking puts the box into the frame.
      explain(solver, row);
      const [left, top, width, height] = screenBox(solver, row);
      if (Number.isNaN(left)) return [];
      return [{ id: c.sources[row] as string, box: { left, top, right: left + width, bottom: top + height } }];
    });
  }

  /** The handle of an element's zone: where it is, in the chosen viewer's pixels, and how many metres a pixel is there; null where it has none in front. */
  zoneHandle(id: string): { centre: [number, number]; at: [number, number]; metresPerPx: number } | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    const gate = solver && row >= 0 ? (solver.c.gateOfRow[row] as number) : -1;
    if (!solver || gate < 0) return null;
    const { c, a } = solver;
    const anchor = c.gateAnchor[gate] as number;
    const reach = c.zones.size[anchor * 3] as number;
    if (anchor < 0 || c.anchorFault[anchor] || !(reach > 0)) return null;
    const { x, y, depthM, inFront } = projector(a.projection, this.engine.pose())(
      c.anchorWorld[anchor * 3] as number,
      c.anchorWorld[anchor * 3 + 1] as number,
      c.anchorWorld[anchor * 3 + 2] as number,
    );
    if (!inFront) return null;
    const metresPerPx = 1 / pixelsPerMetre(a.projection, depthM);
    return { centre: [x, y], at: [x + reach / metresPerPx, y], metresPerPx };
  }

  /** The nodes that an element stands at, in the order of the level; none where it is one place only. */
  nodesOf(id: string): string[] {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    return solver ? nodesOf(solver, id) : [];
  }

  /** What the gates of an element are about, as lines and points in the chosen viewer's pixels; null where it has none. */
  gateMarks(id: string): GateMarks | null {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver ? rowFor(solver, id) : -1;
    const gate = solver && row >= 0 ? (solver.c.gateOfRow[row] as number) : -1;
    if (!solver || gate < 0 || useBench.getState().outside) return null;
    const { c, f } = solver;
    const anchor = c.gateAnchor[gate] as number;
    if (anchor < 0 || c.anchorFault[anchor]) return null;
    const pose = this.engine.pose();
    const project = projector(solver.a.projection, pose);
    const drawn = (lines: readonly Vec3[][]): [number, number][][] => lines.flatMap((points) => piecesInFront(points, project));
    const { range } = c.elements[row] as Element;
    const foot = (f.eye[1] as number) - this.engine.document.body.eyeHeightM;
    const [free, stops]: [GateMarks['free'], GateMarks['stops']] = [[], []];
    const hit = makeHit();
    for (const { from, to, blocker } of sightLines(solver, row)) {
      const end = project(...to);
      if (!end.inFront) continue;
      if (blocker === null) free.push([end.x, end.y]);
      else {
        const way = to.map((v, k) => v - (from[k] as number)) as Vec3;
        const length = Math.hypot(...way) || 1;
        const met = this.engine.model.castRay(from, way.map((v) => v / length) as Vec3, length, hit);
        stops.push({ at: [end.x, end.y], blocker, distanceM: met ? hit.distanceM : length });
      }
    }
    const often = (name: string) => stops.filter(({ blocker }) => blocker === name).length;
    // The one that blocks the most first, of its lines the one in the middle.
    stops.sort((p, q) => often(q.blocker) - often(p.blocker));
    return {
      zone: drawn(zoneLines(c, anchor)),
      range: range ? drawn([rangeRing(c, anchor, range.enterM, foot), rangeRing(c, anchor, range.leaveM, foot)]) : [],
      free,
      stops,
    };
  }
}

export interface GateMarks {
  zone: [number, number][][];
  range: [number, number][][];
  /** Where free sight lines end, and where those that are blocked would. */
  free: [number, number][];
  stops: { at: [number, number]; blocker: string; distanceM: number }[];
}

/** The parts of a line of the world that lie in front of the viewer, in pixels. */
function piecesInFront(points: readonly Vec3[], project: ReturnType<typeof projector>): [number, number][][] {
  const out: [number, number][][] = [];
  let piece: [number, number][] = [];
  for (const point of points) {
    const { x, y, inFront } = project(...point);
    if (inFront) piece.push([x, y]);
    if (!inFront || point === points.at(-1)) {
      if (piece.length > 1) out.push(piece);
      piece = [];
    }
  }
  return out;
}
