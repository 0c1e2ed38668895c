/** The picture: what the chosen viewer's player gets, with handles for the hand. */
import { type Element, inOrder } from '@foreshore/document';
import { IconPlayerRecordFilled, IconPlayerStopFilled } from '@tabler/icons-react';
import {
  type KeyboardEvent,
  type PointerEvent as ReactPointerEvent,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type WheelEvent,
} from 'react';
import {
  addRoute,
  editKind,
  type GlassKind,
  placeInstance,
  placeLabel,
  placeOnGlass,
  placePrompt,
  withAnchor,
  withElement,
} from '../../edits/edits.ts';
import { type Handle, resizedBy } from '../../edits/resize.ts';
import { type Guide, nearestPin, type Rect, snap } from '../../edits/snap.ts';
import { anchorIdOf, zoneResized } from '../../edits/zone.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useReadableArea } from '../../questions/use-area.ts';
import { say } from '../../shell/notices.tsx';
import { type Hover, LOOK, select, useBench, useBenchPart } from '../../state/bench.ts';
import { useLive } from '../../state/live.ts';
import { change, draft, dropDraft, shownDocument, useProject } from '../../state/project.ts';
import { languageName } from '../../words/languages.ts';
import { movable } from '../content/several.tsx';
import { showEnd } from '../rail/extremes-panel.tsx';
import { AreaMarks } from './area-marks.tsx';
import { Areas } from './areas.tsx';
import { Ghosts } from './ghosts.tsx';
import { Handles } from './handles.tsx';
import { Palette } from './palette.tsx';
import { Typing } from './typing.tsx';

const DRAG_START_PX = 4;
const LOOK_DEG_PER_PX = 0.16;
const MARGIN_PX = 8;
/** Pixels of the page within which a drag snaps to a line, and to a pin. */
const SNAP_PX = 6;
const PIN_PX = 16;

type Drag =
  | { kind: 'look'; x: number; y: number; moved: boolean; hit: string | null }
  | { kind: 'offset'; id: string; x: number; y: number; from: [number, number]; box: Rect | null; moved: boolean }
  | { kind: 'resize'; id: string; x: number; y: number; handle: Handle; from: Element; size: [number, number]; moved: boolean }
  | { kind: 'anchor'; id: string; moved: boolean }
  | { kind: 'zone'; id: string; moved: boolean };

const places = (v: readonly number[], digits: number): string => v.map((n) => n.toFixed(digits)).join(', ');

const DRAG_NAMES = { zone: 'Resize a zone', anchor: 'Move an anchor', offset: 'Move an element', resize: 'Resize' } as const;

/** Keys that steer while the picture has the focus. */
const STEER: Record<string, ['right' | 'up' | 'forward', number]> = {
  KeyW: ['forward', 1],
  KeyS: ['forward', -1],
  KeyA: ['right', -1],
  KeyD: ['right', 1],
  KeyE: ['up', 1],
  KeyQ: ['up', -1],
};

export function Picture() {
  const engine = useEngine();
  const document = useProject(shownDocument);
  const { viewer, mode, outside, ghosts, extreme, hover, typing, recording, flying, info, selection, language } = useBenchPart(
    'viewer',
    'mode',
    'outside',
    'ghosts',
    'extreme',
    'hover',
    'typing',
    'recording',
    'flying',
    'info',
    'selection',
    'language',
  );
  useLive();
  useReadableArea();
  const area = useRef<HTMLDivElement>(null);
  const picture = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState<[number, number]>([0, 0]);
  const [palette, setPalette] = useState<{ at: [number, number]; hover: Hover | null; group: string | null } | null>(null);
  const [guides, setGuides] = useState<Guide[]>([]);
  const [pending, setPending] = useState<(Hover & { prompt: boolean }) | null>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const held = useRef(new Set<string>());
  const one = document?.viewers[viewer];

  // The picture fills its area in the viewer's own shape.
  useLayoutEffect(() => {
    const box = area.current;
    if (!box || !one) return;
    const fit = () => {
      const [w, h] = [box.clientWidth - 2 * MARGIN_PX, box.clientHeight - MARGIN_PX - 4];
      const aspect = outside ? w / h : one.widthPx / one.heightPx;
      const width = Math.max(16, Math.floor(Math.min(w, h * aspect)));
      setSize([width, Math.max(16, Math.round(width / aspect))]);
    };
    fit();
    const observer = new ResizeObserver(fit);
    observer.observe(box);
    return () => observer.disconnect();
  }, [one?.widthPx, one?.heightPx, outside]);

  useLayoutEffect(() => {
    const target = canvas.current;
    if (!target || size[0] === 0) return;
    const density = Math.min(window.devicePixelRatio || 1, 2);
    target.width = Math.round(size[0] * density);
    target.height = Math.round(size[1] * density);
    engine.setMain(target);
  }, [engine, size]);
  useEffect(() => () => engine.setMain(null), [engine]);

  if (!document || !one) return null;
  const scale = one.widthPx / size[0];
  const typed = typing ? document.elements[typing] : undefined;
  const at = (event: { clientX: number; clientY: number }): [number, number] => {
    const box = picture.current?.getBoundingClientRect();
    return box ? [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height] : [0, 0];
  };

  const onDown = (event: ReactPointerEvent) => {
    if (event.button !== 0 || palette || typing) return;
    picture.current?.focus();
    if (mode === 'place') return;
    const [u, v] = at(event);
    if (mode === 'try' && !outside) {
      const { has, acts } = engine.trying.pointerAt(u, v);
      event.currentTarget.setPointerCapture(event.pointerId);
      useBench.setState({ pointed: acts, pressed: acts, cursor: [u, v], device: event.pointerType === 'touch' ? 'touch' : 'keyboard' });
      if (acts) engine.trying.touch(acts, true);
      else if (has === null && engine.trying.pointerButton(event.button, true)) return;
      if (acts && engine.trying.isSlider(acts)) engine.trying.slide(acts, [u, v]);
      // What an element holds never reaches the world.
      if (has === null) setDrag({ kind: 'look', x: event.clientX, y: event.clientY, moved: false, hit: null });
      return;
    }
    const found = engine.elementAt(u, v);
    const element = selection ? document.elements[selection] : undefined;
    event.currentTarget.setPointerCapture(event.pointerId);
    const handle = (event.target as globalThis.Element).closest<HTMLElement>('[data-handle]')?.dataset.handle;
    const [x, y] = [event.clientX, event.clientY];
    const ghost = (event.target as globalThis.Element).closest<HTMLElement>('[data-ghost-of]')?.dataset.ghostOf;
    if (ghost) {
      select(ghost, event.shiftKey);
      return;
    }
    if (handle === 'zone' && selection) setDrag({ kind: 'zone', id: selection, moved: false });
    else if (handle === 'anchor' && selection) setDrag({ kind: 'anchor', id: selection, moved: false });
    else if (handle?.startsWith('size') && selection && element) {
      const box = engine.places.boxOf(selection);
      const unit = engine.places.unitOf(selection);
      const size: [number, number] = box ? [(box.right - box.left) / unit, (box.bottom - box.top) / unit] : [0, 0];
      setDrag({
        kind: 'resize',
        id: selection,
        x,
        y,
        handle: handle.split(' ').slice(1).map(Number) as unknown as Handle,
        from: element,
        size,
        moved: false,
      });
    } else if (selection && element && found === selection && !outside && !event.shiftKey && movable(document, element)) {
      const rect = info?.rect;
      const box =
        rect && element.mount.kind !== 'floating'
          ? { left: rect[0], top: rect[1], right: rect[0] + rect[2], bottom: rect[1] + rect[3] }
          : null;
      setDrag({ kind: 'offset', id: selection, x, y, from: element.place.offsetPx, box, moved: false });
    } else setDrag({ kind: 'look', x, y, moved: false, hit: found });
  };

  const onMove = (event: ReactPointerEvent) => {
    const [u, v] = at(event);
    if (mode === 'place' && !palette && !pending) {
      useBench.setState({ hover: engine.pick(u, v) });
      return;
    }
    if (mode === 'try' && !drag) {
      const { pointed, pressed } = useBench.getState();
      if (document.cursor) useBench.setState({ cursor: [u, v] });
      if (pressed !== null && engine.trying.isSlider(pressed)) {
        engine.trying.slide(pressed, [u, v]);
        return;
      }
      const { acts } = engine.trying.pointerAt(u, v);
      const now = pressed === null || pressed === acts ? acts : null;
      if (now !== pointed) useBench.setState({ pointed: now });
      return;
    }
    if (!drag) return;
    if (drag.kind === 'zone') {
      const zone = engine.places.zoneHandle(drag.id);
      const anchorId = anchorIdOf(document.elements[drag.id]);
      const anchor = document.anchors[anchorId];
      if (!zone || !anchor?.zone) return;
      const reachM = Math.max(0.05, Math.abs(u * one.widthPx - zone.centre[0]) * zone.metresPerPx);
      const resized = zoneResized(anchor.zone, reachM);
      draft((d) => withAnchor(d, anchorId, { ...anchor, zone: resized }));
      setDrag({ ...drag, moved: true });
      return;
    }
    if (drag.kind === 'anchor') {
      const found = engine.pick(u, v);
      const element = document.elements[drag.id];
      const anchorId = element?.mount.kind === 'floating' ? element.mount.anchor : '';
      const anchor = document.anchors[anchorId];
      const moved = found && anchor ? engine.places.movedAnchor(anchor, found) : null;
      if (moved) draft((d) => withAnchor(d, anchorId, moved));
      useBench.setState({ hover: found });
      setDrag({ ...drag, moved: true });
      return;
    }
    const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
    if (!drag.moved && Math.hypot(dx, dy) < DRAG_START_PX) return;
    if (drag.kind === 'look') {
      engine.turn(dx * LOOK_DEG_PER_PX, dy * LOOK_DEG_PER_PX);
      setDrag({ ...drag, x: event.clientX, y: event.clientY, moved: true });
      return;
    }
    const fit = engine.places.unitOf(drag.id);
    if (drag.kind === 'resize') {
      const by: [number, number] = [(dx * scale) / fit, (dy * scale) / fit];
      draft((d) => withElement(d, drag.id, () => resizedBy(drag.from, drag.size, drag.handle, by, movable(d, drag.from))));
      setDrag({ ...drag, moved: true });
      return;
    }
    const move = drag.box ? rest(drag.id, drag.box, dx * scale, dy * scale) : { dx: dx * scale, dy: dy * scale, guides: [], pin: null };
    setGuides(move.guides);
    draft((d) =>
      withElement(d, drag.id, (e) => {
        if (move.pin && e.mount.kind !== 'floating')
          return { ...e, mount: { ...e.mount, pin: move.pin }, place: { ...e.place, ownPoint: move.pin, offsetPx: [0, 0] } };
        const offsetPx: [number, number] = [Math.round(drag.from[0] + move.dx / fit), Math.round(drag.from[1] + move.dy / fit)];
        return { ...e, place: { ...e.place, offsetPx } };
      }),
    );
    setDrag({ ...drag, moved: true });
  };

  /** Where a box that is dragged by so much comes to rest: on a pin of its parent, on lines of what is beside it, or just there. */
  const rest = (
    id: string,
    box: Rect,
    dx: number,
    dy: number,
  ): { dx: number; dy: number; guides: Guide[]; pin: [number, number] | null } => {
    const parent = engine.places.parentBox(id);
    const moved = { left: box.left + dx, top: box.top + dy, right: box.right + dx, bottom: box.bottom + dy };
    if (!parent) return { dx, dy, guides: [], pin: null };
    for (const v of [0, 0.5, 1])
      for (const u of [0, 0.5, 1]) {
        const off = Math.hypot(
          moved.left + u * (moved.right - moved.left) - (parent.left + u * (parent.right - parent.left)),
          moved.top + v * (moved.bottom - moved.top) - (parent.top + v * (parent.bottom - parent.top)),
        );
        if (off < PIN_PX * scale) return { dx, dy, guides: [], pin: [u, v] };
      }
    const beside = engine.places.boxesBeside(id);
    const snapped = snap(moved, [parent, ...beside], SNAP_PX * scale);
    return { dx: dx + snapped.dx, dy: dy + snapped.dy, guides: snapped.guides, pin: null };
  };

  const onUp = (event: ReactPointerEvent) => {
    const { pointed, pressed } = useBench.getState();
    if (pressed !== null) {
      useBench.setState({ pressed: null });
      if (!engine.trying.touch(pressed, false) && pointed === pressed) engine.trying.use(pressed, at(event));
      return;
    }
    if (mode === 'try') engine.trying.pointerButton(event.button, false);
    if (!drag) return;
    setDrag(null);
    setGuides([]);
    if (drag.kind === 'look') {
      if (!drag.moved && mode !== 'try') select(drag.hit, event.shiftKey);
      return;
    }
    const { draft: drafted } = useProject.getState();
    useBench.setState({ hover: null });
    if (drag.moved && drafted) change(DRAG_NAMES[drag.kind], () => drafted);
    else dropDraft();
  };

  const openPalette = (u: number, v: number, under: Hover | null) => {
    const group = engine.elementAt(
      u,
      v,
      (element) => element.kind === 'group' && !(element.mount.kind === 'glass' && element.mount.stretch.some(Boolean)),
    );
    setPalette({ at: [u, v], hover: under, group });
  };
  const onClick = (event: { clientX: number; clientY: number }) => {
    if (mode === 'place' && !palette && !pending) openPalette(...at(event), hover);
  };

  const type = (prompt: boolean) => {
    setPending(palette?.hover ? { ...palette.hover, prompt } : null);
    setPalette(null);
  };
  const placed = (id: string | null) => {
    setPalette(null);
    if (id) useBench.setState({ mode: 'look', hover: null });
    picture.current?.focus();
  };
  /** Onto the glass where the pointer is, from the nearest pin of the safe area. */
  const placeGlass = (kind: GlassKind) => {
    if (!palette || !one) return;
    const [u, v] = palette.at;
    const pin = nearestPin(u, v);
    const { left, top, right, bottom } = one.safeArea;
    const fit = engine.fitOf(viewer);
    const offset = (share: number, from: number, to: number, at: number, length: number) =>
      Math.round(((share - (from + (1 - to - from) * at)) * length) / fit);
    placed(
      placeOnGlass(kind, { pin, offsetPx: [offset(u, left, right, pin[0], one.widthPx), offset(v, top, bottom, pin[1], one.heightPx)] }),
    );
  };

  /** In the world where the pointer is on a surface, or on the glass, or in the group under it. */
  const placeTemplate = (template: string) => {
    if (!palette) return;
    const {
      hover: spot,
      group,
      at: [u, v],
    } = palette;
    const pin = nearestPin(u, v);
    placed(placeInstance(template, group ? { group } : spot ? { spot: engine.places.spot(spot) } : { pin, offsetPx: [0, 0] }));
  };

  const onDouble = (event: { clientX: number; clientY: number }) => {
    const [u, v] = at(event);
    if (mode !== 'look') return;
    const found = engine.elementAt(u, v);
    if (found) {
      if (found === selection && document.elements[found]?.kind === 'label') useBench.setState({ typing: found });
      return;
    }
    const ground = engine.pick(u, v);
    if (ground && !outside) engine.standAt(ground.position);
  };

  const onWheel = (event: WheelEvent) => {
    if (mode === 'try' && !outside && engine.trying.scrollAt(...at(event), event.deltaY * scale)) return;
    engine.step(event.deltaY < 0 ? 1 : -1);
  };

  const steer = () => {
    engine.intent = { right: 0, up: 0, forward: 0, fast: held.current.has('ShiftLeft') || held.current.has('ShiftRight') };
    for (const code of held.current) {
      const way = STEER[code];
      if (way) engine.intent[way[0]] += way[1];
    }
    engine.invalidate();
  };
  const release = () => {
    held.current.clear();
    steer();
  };

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || typing || palette || pending) return;
    if (mode === 'try' && !event.repeat && engine.trying.key(event.code, true)) {
      // The game has this key; it is none of the bench's shortcuts.
      event.preventDefault();
      event.stopPropagation();
      return;
    }
    if (STEER[event.code] || event.code.startsWith('Shift')) {
      held.current.add(event.code);
      steer();
      if (!event.code.startsWith('Shift')) event.preventDefault();
      return;
    }
    const arrows: Record<string, [number, number]> = { ArrowLeft: [2, 0], ArrowRight: [-2, 0], ArrowUp: [0, 2], ArrowDown: [0, -2] };
    const arrow = arrows[event.key];
    if (arrow && !event.altKey) {
      event.preventDefault();
      const { pointed } = useBench.getState();
      // The keys of the one that has the focus: right and up are more.
      if (mode === 'try' && pointed && engine.trying.slideBy(pointed, Math.sign(arrow[1] - arrow[0]))) return;
      if (mode === 'place') {
        const [u, v] = hover ? [hover.x, hover.y] : [0.5, 0.5];
        const by = event.shiftKey ? 0.05 : 0.01;
        useBench.setState({ hover: engine.pick(u - Math.sign(arrow[0]) * by, v - Math.sign(arrow[1]) * by) ?? hover });
      } else engine.turn(arrow[0], arrow[1]);
      return;
    }
    if (mode === 'try' && event.key === 'Tab') {
      const all = engine.trying.acting();
      if (all.length === 0) return;
      const { pointed } = useBench.getState();
      const next = all[all.indexOf(pointed ?? '') + (event.shiftKey ? -1 : 1)];
      useBench.setState({ pointed: next ?? null });
      if (next) engine.trying.reveal(next);
      // Past the last, the focus goes on as it does everywhere.
      if (next) event.preventDefault();
      return;
    }
    if (mode === 'try' && (event.key === 'Enter' || event.key === ' ')) {
      const { pointed } = useBench.getState();
      if (pointed) engine.trying.use(pointed);
      event.preventDefault();
      if (pointed) event.stopPropagation();
      return;
    }
    if (event.key === 'Enter' && mode === 'place') {
      event.preventDefault();
      const found = hover ?? engine.pick(0.5, 0.5);
      openPalette(found?.x ?? 0.5, found?.y ?? 0.5, found);
    }
  };
  const onKeyUp = (event: KeyboardEvent) => {
    if (mode === 'try') engine.trying.key(event.code, false);
    held.current.delete(event.code);
    steer();
  };

  const record = () => {
    if (!recording) {
      engine.startRecording();
      picture.current?.focus();
      return;
    }
    const id = addRoute(engine.stopRecording());
    if (!id) {
      say('Nothing was recorded: walk while recording.');
      return;
    }
    useBench.setState({ route: id, pose: null, timeS: 0 });
    say(`The walk was kept as ${useProject.getState().document?.routes[id]?.name}.`);
  };

  return (
    <section className="picture-column" aria-label="Picture">
      <div className="picture-area" ref={area}>
        <div
          ref={picture}
          className="picture"
          style={{ width: size[0], height: size[1] }}
          data-mode={mode}
          data-cursor={mode === 'try' && document.cursor !== undefined}
          data-dragging={drag?.kind === 'look' && drag.moved}
          tabIndex={0}
          role="application"
          aria-label={`${outside ? 'From outside' : `As the player sees it: ${one.name}`}. Walk with W A S D, look with the arrow keys.`}
          onPointerDown={onDown}
          onPointerMove={onMove}
          onPointerUp={onUp}
          onPointerCancel={() => {
            setDrag(null);
            dropDraft();
          }}
          onPointerLeave={() => {
            if (mode === 'place' && !palette) useBench.setState({ hover: null });
            if (mode === 'try') useBench.setState({ cursor: null });
          }}
          onClick={onClick}
          onDoubleClick={onDouble}
          onWheel={onWheel}
          onKeyDown={onKeyDown}
          onKeyUp={onKeyUp}
          onBlur={release}
        >
          <canvas ref={canvas} />
          {!outside && mode === 'try' && <Areas scale={scale} size={size} />}
          {!outside && mode !== 'try' && <AreaMarks scale={scale} size={size} />}
          {!outside && mode !== 'try' && <Ghosts scale={scale} size={size} />}
          {!outside && mode !== 'try' && (
            <Handles scale={scale} size={size} guides={guides} pins={drag?.kind === 'offset' && drag.moved && drag.box !== null} />
          )}
          {hover && (mode === 'place' || drag?.kind === 'anchor') && (
            <>
              <Marker hover={palette?.hover ?? hover} size={size} />
              {!palette && !pending && (
                <div className="readout num" style={readoutPlace(hover, size)}>
                  {places(hover.position, 2)} m
                  <br />
                  normal {places(hover.normal, 2)}
                  <br />
                  {hover.node}
                  {hover.moves ? ' (moves)' : ''}, {hover.distanceM.toFixed(1)} m away
                </div>
              )}
            </>
          )}
          {palette && (
            <Palette
              at={[palette.at[0] * size[0], palette.at[1] * size[1]]}
              size={size}
              surface={palette.hover ? palette.hover.node : null}
              group={palette.group ? { id: palette.group, name: document.elements[palette.group]?.name ?? '' } : null}
              onClose={() => placed(null)}
              onLabel={() => type(false)}
              onPrompt={() => type(true)}
              onGlass={placeGlass}
              templates={inOrder(document.elements).flatMap(([id, e]) => (e.kind === 'group' && e.template ? [{ id, name: e.name }] : []))}
              onInstance={placeTemplate}
              onInside={(kind) => placed(palette.group ? placeOnGlass(kind, { group: palette.group }) : null)}
            />
          )}
          {pending && (
            <Typing
              x={pending.x * size[0]}
              y={pending.y * size[1]}
              start=""
              onDone={(text) => {
                const spot = pending;
                setPending(null);
                if (text?.trim()) {
                  const id = (spot.prompt ? placePrompt : placeLabel)(engine.places.spot(spot), text.trim());
                  if (id) useBench.setState({ mode: 'look', hover: null });
                }
                picture.current?.focus();
              }}
            />
          )}
          {typing && info?.rect && (
            <Typing
              x={info.rect[0] / scale}
              y={info.rect[1] / scale}
              start={typed?.kind === 'label' ? typed.text : ''}
              onDone={(text) => {
                if (text !== null) editKind('label', 'Edit a text', typing, (e) => ({ ...e, text }));
                useBench.setState({ typing: null });
                picture.current?.focus();
              }}
            />
          )}
        </div>
      </div>
      <div className="picture-bar">
        <span className="switch" role="group" aria-label="What the pointer does">
          <button
            type="button"
            aria-pressed={mode === 'look'}
            onClick={() => useBench.setState({ ...LOOK })}
            title="Look about and select (L)"
          >
            Look
          </button>
          <button
            type="button"
            aria-pressed={mode === 'place'}
            onClick={() => useBench.setState({ mode: 'place', outside: false, playing: false })}
            title="Place something on a surface or on the glass (P)"
          >
            Place
          </button>
          <button
            type="button"
            aria-pressed={mode === 'try'}
            onClick={() => {
              useBench.setState({ mode: 'try', outside: false, hover: null });
              picture.current?.focus();
            }}
            title="Try it: the pointer and the keys go to the game's elements (T)"
          >
            Try
          </button>
        </span>
        <select
          className="small-select"
          aria-label="Viewer"
          value={viewer}
          onChange={(event) => useBench.setState({ viewer: event.currentTarget.value })}
        >
          {inOrder(document.viewers).map(([id, v]) => (
            <option key={id} value={id}>
              {v.name}
            </option>
          ))}
        </select>
        {inOrder(document.phases).length > 1 && (
          <select
            className="small-select"
            aria-label="Phase"
            title="The state of the game"
            value={engine.phase() ?? ''}
            onChange={(event) => useLive.setState({ phase: event.currentTarget.value })}
          >
            {inOrder(document.phases).map(([id, p]) => (
              <option key={id} value={id}>
                {p.name}
              </option>
            ))}
          </select>
        )}
        {(document.languages?.length ?? 0) > 0 && (
          <select
            className="small-select"
            aria-label="Language"
            data-narrow="true"
            title={`Texts are shown in ${languageName(language ?? document.language)}`}
            value={language ?? document.language}
            onChange={(event) =>
              useBench.setState({ language: event.currentTarget.value === document.language ? null : event.currentTarget.value })
            }
          >
            {[document.language, ...(document.languages ?? [])].map((tag) => (
              <option key={tag} value={tag}>
                {tag}
              </option>
            ))}
          </select>
        )}
        <span className="spring" />
        <button
          type="button"
          className="text-button"
          data-action="extremes"
          aria-pressed={extreme !== null}
          title="Every feed at its ends, at every viewer: what then goes wrong on the glass"
          onClick={() => {
            useBench.setState({ ...LOOK, outside: false });
            showEnd(extreme ? null : 'greatest');
          }}
        >
          Extremes
        </button>
        <button
          type="button"
          className="text-button"
          aria-pressed={ghosts}
          title="Outlines of what is hidden, where it would be (G)"
          onClick={() => useBench.setState({ ghosts: !ghosts })}
        >
          Ghosts
        </button>
        <button
          type="button"
          className="text-button"
          data-flying={flying}
          aria-pressed={false}
          onClick={() => useBench.setState({ flying: !flying })}
          title="Walk on the ground or fly freely (F)"
        >
          {flying ? 'Flying' : 'Walking'}
        </button>
        <button
          type="button"
          className="text-button"
          aria-pressed={recording}
          onClick={record}
          title="Record where you walk as a route (R)"
          data-action="record"
        >
          {recording ? <IconPlayerStopFilled size={14} aria-hidden="true" /> : <IconPlayerRecordFilled size={14} aria-hidden="true" />}
          {recording ? 'Stop' : 'Record'}
        </button>
        <span className="switch" role="group" aria-label="Where from">
          <button type="button" aria-pressed={!outside} onClick={() => useBench.setState({ outside: false })} title="As player (O)">
            As player
          </button>
          <button
            type="button"
            aria-pressed={outside}
            onClick={() => {
              engine.resetOutside();
              useBench.setState({ outside: true, mode: 'look' });
            }}
            title="From outside (O)"
          >
            From outside
          </button>
        </span>
      </div>
    </section>
  );
}

const readoutPlace = (hover: Hover, [w, h]: [number, number]) => ({
  ...(hover.x < 0.7 ? { left: hover.x * w + 16 } : { right: (1 - hover.x) * w + 16 }),
  ...(hover.y < 0.8 ? { top: hover.y * h + 16 } : { bottom: (1 - hover.y) * h + 16 }),
});

/** A cross-hair on the surface with its normal as a short mast. */
function Marker({ hover, size: [w, h] }: { hover: Hover; size: [number, number] }) {
  const [x, y] = [hover.x * w, hover.y * h];
  const normal = useEngine().normalOnScreen(hover, w, h);
  return (
    <svg className="handles" viewBox={`0 0 ${w} ${h}`} aria-hidden="true">
      {['#FBF8F0', '#1B6E83'].map((colour, k) => (
        <g key={colour} stroke={colour} strokeWidth={k ? 2 : 5} fill="none" strokeLinecap="round">
          <circle cx={x} cy={y} r={7} />
          {normal && <path d={`M${x} ${y}L${normal[0]} ${normal[1]}`} />}
        </g>
      ))}
    </svg>
  );
}
