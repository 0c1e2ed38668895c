/** Dragging in the picture with the pointer: turning the camera, moving and resizing what is selected, anchors and zones. */
import { type Document, type Element, isMember, isPinned } from '@foreshore/document';
import { type PointerEvent, useState } from 'react';
import { isMovable, withAnchor, withElement } from '../../edits/edits.ts';
import { type Handle, resizedBy } from '../../edits/resize.ts';
import { type Guide, type Rect, snap } from '../../edits/snap.ts';
import { anchorIdOf, zoneResized } from '../../edits/zone.ts';
import type { Engine } from '../../engine/engine.ts';
import { type OpeningRing, openingRing } from '../../engine/opening-ring.ts';
import type { Found } from '../../engine/under-point.ts';
import { select, useBench } from '../../state/bench.ts';
import { change, draft, dropDraft, useProject } from '../../state/project.ts';

const DRAG_START_PX = 4;
const LOOK_DEG_PER_PX = 0.16;
/** Pixels of the page within which a drag snaps to a line, and to a pin. */
const SNAP_PX = 6;
const PIN_PX = 16;

/** From the viewer's pixels to the design pixels of the panel that something lies on. */
type Onto = ((x: number, y: number) => [number, number]) | null;

export type Drag =
  | { kind: 'look'; x: number; y: number; moved: boolean; hit: Found | null }
  | { kind: 'offset'; id: string; x: number; y: number; from: [number, number]; box: Rect | null; onto: Onto; moved: boolean }
  | { kind: 'resize'; id: string; x: number; y: number; handle: Handle; from: Element; size: [number, number]; onto: Onto; moved: boolean }
  | { kind: 'anchor'; id: string; moved: boolean }
  | { kind: 'zone'; id: string; moved: boolean }
  | { kind: 'edge'; id: string; side: number; moved: boolean }
  | { kind: 'opening'; id: string; middle: [number, number]; grip: number; openingAt: OpeningRing['openingAt']; moved: boolean }
  | { kind: 'turn'; id: string; fromDeg: number; degAt: (x: number, y: number) => number | null; moved: boolean };

const DRAG_NAMES = {
  turn: 'Turn a panel',
  zone: 'Resize a zone',
  edge: 'Move an edge',
  opening: 'Change the opening',
  anchor: 'Move an anchor',
  offset: 'Move an element',
  resize: 'Resize',
} as const;

/** Whether an element is another one, or inside of it at any depth. */
function isWithin(document: Document, id: string | null, around: string): boolean {
  for (let at = id; at !== null; ) {
    if (at === around) return true;
    const mount = document.elements[at]?.mount;
    at = isMember(mount) ? mount.group : null;
  }
  return false;
}

/** What of the picture a drag needs: its document, the viewer's pixels for one of the page's, and where an event is, as shares of the picture. */
export interface DragHost {
  engine: Engine;
  document: Document;
  scale: number;
  widthPx: number;
  heightPx: number;
  at(event: { clientX: number; clientY: number }): [number, number];
}

export function useDrag({ engine, document, scale, widthPx, heightPx, at }: DragHost) {
  const [drag, setDrag] = useState<Drag | null>(null);
  const [guides, setGuides] = useState<Guide[]>([]);

  /** Where a box that is dragged by so much comes to rest: on a pin of its parent, on lines of what is beside it, or just there. */
  const rest = (id: string, box: Rect, dx: number, dy: number) => {
    const free = { dx, dy, guides: [] as Guide[], pin: null as [number, number] | null };
    const parent = engine.places.parentBox(id);
    const moved = { left: box.left + dx, top: box.top + dy, right: box.right + dx, bottom: box.bottom + dy };
    if (!parent) return free;
    for (const v of [0, 0.5, 1])
      for (const u of [0, 0.5, 1]) {
        const off = Math.hypot(
          moved.left + u * (moved.right - moved.left) - (parent.left + u * (parent.right - parent.left)),
          moved.top + v * (moved.bottom - moved.top) - (parent.top + v * (parent.bottom - parent.top)),
        );
        if (off < PIN_PX * scale) return { ...free, pin: [u, v] as [number, number] };
      }
    const snapped = snap(moved, [parent, ...engine.places.boxesBeside(id)], SNAP_PX * scale);
    return { ...free, dx: dx + snapped.dx, dy: dy + snapped.dy, guides: snapped.guides };
  };

  const begin = (event: PointerEvent, outside: boolean) => {
    const [u, v] = at(event);
    const [x, y] = [event.clientX, event.clientY];
    const { selection, info } = useBench.getState();
    const found = engine.elementAt(u, v);
    const element = selection ? document.elements[selection] : undefined;
    const target = event.target as globalThis.Element;
    const handle = target.closest<HTMLElement>('[data-handle]')?.dataset.handle;
    const ghost = target.closest<HTMLElement>('[data-ghost-of]')?.dataset.ghostOf;
    if (ghost) return select(ghost, event.shiftKey);
    if (handle === 'zone' && selection) setDrag({ kind: 'zone', id: selection, moved: false });
    else if (handle?.startsWith('edge') && selection)
      setDrag({ kind: 'edge', id: selection, side: Number(handle.split(' ')[1]), moved: false });
    else if (handle === 'opening' && selection) {
      const solver = engine.frameOf(useBench.getState().viewer);
      const ring = solver && openingRing(solver, selection);
      if (!ring) return;
      // The handle may be held at the picture's edge: what is between it and the ring stays.
      const { middle, radiusPx, openingAt } = ring;
      const grip = radiusPx - Math.hypot(u * widthPx - middle[0], v * heightPx - middle[1]);
      setDrag({ kind: 'opening', id: selection, middle, grip, openingAt, moved: false });
    } else if (handle === 'turn' && selection && element?.mount.kind === 'standing') {
      const ring = engine.places.turnRing(selection);
      if (ring) setDrag({ kind: 'turn', id: selection, fromDeg: element.mount.turnDeg, degAt: ring.degAt, moved: false });
    } else if (handle === 'anchor' && selection) setDrag({ kind: 'anchor', id: selection, moved: false });
    else if (handle?.startsWith('size') && selection && element) {
      const box = engine.places.boxOf(selection);
      const unit = engine.places.unitOf(selection);
      const size: [number, number] = box ? [(box.right - box.left) / unit, (box.bottom - box.top) / unit] : [0, 0];
      const onto = engine.places.ontoPanel(selection);
      const [across, down] = handle.split(' ').slice(1).map(Number) as [number, number];
      const way = [engine.places.sideOf(selection) * across, down] as unknown as Handle;
      setDrag({
        kind: 'resize',
        id: selection,
        x,
        y,
        handle: way,
        from: element,
        size: engine.places.designSizeOf(selection) ?? size,
        onto,
        moved: false,
      });
    } else if (
      selection &&
      element &&
      found &&
      isWithin(document, found.id, selection) &&
      !outside &&
      !event.shiftKey &&
      isMovable(document, element)
    ) {
      const rect = info?.rect;
      const onto = engine.places.ontoPanel(selection);
      const box =
        rect && isPinned(element.mount) && !onto
          ? { left: rect[0], top: rect[1], right: rect[0] + rect[2], bottom: rect[1] + rect[3] }
          : null;
      setDrag({ kind: 'offset', id: selection, x, y, from: element.place.offsetPx, box, onto, moved: false });
    } else setDrag({ kind: 'look', x, y, moved: false, hit: found });
  };

  /** How far the pointer has come on a panel, design pixels; null where it points past the panel's plane. */
  const onPanel = (
    onto: (x: number, y: number) => [number, number],
    from: { x: number; y: number },
    event: PointerEvent,
  ): [number, number] | null => {
    const [u, v] = at(event);
    const [nowX, nowY] = [u * widthPx, v * heightPx];
    const [a, b] = [onto(nowX - (event.clientX - from.x) * scale, nowY - (event.clientY - from.y) * scale), onto(nowX, nowY)];
    return Number.isNaN(a[0]) || Number.isNaN(b[0]) ? null : [b[0] - a[0], b[1] - a[1]];
  };

  const dragZone = (id: string, u: number) => {
    const zone = engine.places.zoneHandle(id);
    const anchorId = anchorIdOf(document.elements[id]);
    const anchor = document.anchors[anchorId];
    if (!zone || !anchor?.zone) return;
    const reachM = Math.max(0.05, Math.abs(u * widthPx - zone.centre[0]) * zone.metresPerPx);
    const resized = zoneResized(anchor.zone, reachM);
    draft((d) => withAnchor(d, anchorId, { ...anchor, zone: resized }));
  };
  const dragEdge = (id: string, side: number, u: number, v: number) => {
    const inset = engine.places.edgeInset(id, side, u, v);
    if (inset === null) return;
    draft((d) =>
      withElement(d, id, (e) => {
        const { edge } = e.place;
        if (!edge) return e;
        const insetPx = edge.insetPx.map((px, k) => (k === side ? inset : px)) as typeof edge.insetPx;
        return { ...e, place: { ...e.place, edge: { ...edge, insetPx } } };
      }),
    );
  };
  const dragAnchor = (id: string, u: number, v: number) => {
    const found = engine.pick(u, v);
    const anchorId = anchorIdOf(document.elements[id]);
    const anchor = document.anchors[anchorId];
    const moved = found && anchor ? engine.places.movedAnchor(anchor, found) : null;
    if (moved) draft((d) => withAnchor(d, anchorId, moved));
    useBench.setState({ hover: found });
  };

  const move = (event: PointerEvent) => {
    if (!drag) return;
    const [u, v] = at(event);
    if (drag.kind === 'zone') dragZone(drag.id, u);
    else if (drag.kind === 'edge') dragEdge(drag.id, drag.side, u, v);
    else if (drag.kind === 'opening') {
      const opening = drag.openingAt(Math.hypot(u * widthPx - drag.middle[0], v * heightPx - drag.middle[1]) + drag.grip);
      draft((d) => withElement(d, drag.id, (e) => (e.kind === 'crosshair' ? { ...e, opening } : e)));
    } else if (drag.kind === 'anchor') dragAnchor(drag.id, u, v);
    else if (drag.kind === 'turn') {
      const by = drag.degAt(u * widthPx, v * heightPx);
      const turnDeg = Math.round((((drag.fromDeg + (by ?? 0) + 540) % 360) + 360) % 360) - 180;
      if (by !== null)
        draft((d) => withElement(d, drag.id, (e) => (e.mount.kind === 'standing' ? { ...e, mount: { ...e.mount, turnDeg } } : e)));
    } else {
      const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
      if (!drag.moved && Math.hypot(dx, dy) < DRAG_START_PX) return;
      if (drag.kind === 'look') {
        engine.turn(dx * LOOK_DEG_PER_PX, dy * LOOK_DEG_PER_PX);
        setDrag({ ...drag, x: event.clientX, y: event.clientY, moved: true });
        return;
      }
      const fit = drag.onto ? 1 : engine.places.unitOf(drag.id);
      const by = drag.onto ? onPanel(drag.onto, drag, event) : ([(dx * scale) / fit, (dy * scale) / fit] as [number, number]);
      if (!by) return;
      if (drag.kind === 'resize') {
        draft((d) => withElement(d, drag.id, () => resizedBy(drag.from, drag.size, drag.handle, by, isMovable(d, drag.from))));
      } else {
        const to = drag.box ? rest(drag.id, drag.box, dx * scale, dy * scale) : { dx: by[0] * fit, dy: by[1] * fit, guides: [], pin: null };
        setGuides(to.guides);
        draft((d) =>
          withElement(d, drag.id, (e) => {
            if (to.pin && isPinned(e.mount))
              return { ...e, mount: { ...e.mount, pin: to.pin }, place: { ...e.place, ownPoint: to.pin, offsetPx: [0, 0] } };
            const offsetPx: [number, number] = [Math.round(drag.from[0] + to.dx / fit), Math.round(drag.from[1] + to.dy / fit)];
            return { ...e, place: { ...e.place, offsetPx } };
          }),
        );
      }
    }
    setDrag({ ...drag, moved: true });
  };

  /** @param selects whether a click without a drag selects what is there. */
  const end = (event: PointerEvent, selects: boolean) => {
    if (!drag) return;
    setDrag(null);
    setGuides([]);
    if (drag.kind === 'look') {
      if (!drag.moved && selects) select(drag.hit?.id ?? null, event.shiftKey, drag.hit?.node);
      return;
    }
    const { draft: drafted } = useProject.getState();
    useBench.setState({ hover: null });
    // A click on what is inside of the selection selects that; one on another node of it, that node.
    if (!drag.moved && drag.kind === 'offset') {
      const hit = engine.elementAt(...at(event));
      const isOther = hit && (hit.id !== drag.id || hit.node !== useBench.getState().node);
      if (isOther) select(hit.id, event.shiftKey, hit.node);
    }
    if (drag.moved && drafted) change(DRAG_NAMES[drag.kind], () => drafted);
    else dropDraft();
  };

  const cancel = () => {
    setDrag(null);
    dropDraft();
  };
  /** The view is turned by what comes. */
  const turn = (event: PointerEvent) => setDrag({ kind: 'look', x: event.clientX, y: event.clientY, moved: false, hit: null });
  return { drag, guides, begin, turn, move, end, cancel };
}
