/** The picture: what the chosen viewer's player gets, with handles for the hand. */
import { inOrder } from '@foreshore/document';
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
import { say } from '../shell/notices.tsx';
import { type Hover, useBench } from '../state/bench.ts';
import { change, draft, dropDraft, shownDocument, useProject } from '../state/project.ts';
import { useEngine } from './context.ts';
import { addRoute, editElement, placeLabel, withAnchor, withElement } from './edits.ts';
import { Handles } from './handles.tsx';

const DRAG_START_PX = 4;
const LOOK_DEG_PER_PX = 0.16;
const MARGIN_PX = 8;

type Drag =
  | { kind: 'look'; x: number; y: number; moved: boolean; hit: string | null }
  | { kind: 'offset'; id: string; x: number; y: number; from: [number, number]; moved: boolean }
  | { kind: 'anchor'; id: string; moved: boolean };

const places = (v: readonly number[], digits: number): string => v.map((n) => n.toFixed(digits)).join(', ');

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
  const { viewer, mode, outside, hover, typing, recording, flying, info, selection } = useBench();
  const area = useRef<HTMLDivElement>(null);
  const picture = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState<[number, number]>([0, 0]);
  const [palette, setPalette] = useState<Hover | null>(null);
  const [pending, setPending] = useState<Hover | null>(null);
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
  const at = (event: { clientX: number; clientY: number }): [number, number] => {
    const box = picture.current?.getBoundingClientRect();
    return box ? [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height] : [0, 0];
  };

  const onDown = (event: ReactPointerEvent) => {
    if (event.button !== 0 || palette || typing) return;
    picture.current?.focus();
    if (mode === 'place') return;
    const [u, v] = at(event);
    const label = engine.labelAt(u, v);
    const element = label ? document.elements[label.id] : undefined;
    event.currentTarget.setPointerCapture(event.pointerId);
    const onHandle = (event.target as Element).closest('[data-handle="anchor"]');
    if (onHandle && selection) setDrag({ kind: 'anchor', id: selection, moved: false });
    else if (label && element && label.id === selection && !outside)
      setDrag({ kind: 'offset', id: label.id, x: event.clientX, y: event.clientY, from: element.place.offsetPx, moved: false });
    else setDrag({ kind: 'look', x: event.clientX, y: event.clientY, moved: false, hit: label?.id ?? null });
  };

  const onMove = (event: ReactPointerEvent) => {
    const [u, v] = at(event);
    if (mode === 'place' && !palette && !pending) {
      useBench.setState({ hover: engine.pick(u, v) });
      return;
    }
    if (!drag) return;
    if (drag.kind === 'anchor') {
      const found = engine.pick(u, v);
      const element = document.elements[drag.id];
      const anchor = element ? document.anchors[element.mount.anchor] : undefined;
      const moved = found && anchor ? engine.movedAnchor(anchor, found) : null;
      if (element && moved) draft((d) => withAnchor(d, element.mount.anchor, moved));
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
    const fit = engine.fitOf(viewer);
    const offsetPx: [number, number] = [Math.round(drag.from[0] + (dx * scale) / fit), Math.round(drag.from[1] + (dy * scale) / fit)];
    draft((d) => withElement(d, drag.id, (e) => ({ ...e, place: { ...e.place, offsetPx } })));
    setDrag({ ...drag, moved: true });
  };

  const onUp = () => {
    if (!drag) return;
    setDrag(null);
    if (drag.kind === 'look') {
      if (!drag.moved) useBench.setState({ selection: drag.hit });
      return;
    }
    const { draft: drafted } = useProject.getState();
    useBench.setState({ hover: null });
    if (drag.moved && drafted) change(drag.kind === 'anchor' ? 'Move an anchor' : 'Move a label', () => drafted);
    else dropDraft();
  };

  const onClick = () => {
    if (mode === 'place' && hover && !palette && !pending) setPalette(hover);
  };

  const onDouble = (event: { clientX: number; clientY: number }) => {
    const [u, v] = at(event);
    const label = engine.labelAt(u, v);
    if (mode !== 'look') return;
    if (label && label.id === selection) {
      useBench.setState({ typing: label.id });
      return;
    }
    const found = engine.pick(u, v);
    if (found && !outside) engine.standAt(found.position);
  };

  const onWheel = (event: WheelEvent) => {
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
      if (mode === 'place') {
        const [u, v] = hover ? [hover.x, hover.y] : [0.5, 0.5];
        const by = event.shiftKey ? 0.05 : 0.01;
        useBench.setState({ hover: engine.pick(u - Math.sign(arrow[0]) * by, v - Math.sign(arrow[1]) * by) ?? hover });
      } else engine.turn(arrow[0], arrow[1]);
      return;
    }
    if (event.key === 'Enter' && mode === 'place') {
      event.preventDefault();
      const found = hover ?? engine.pick(0.5, 0.5);
      if (found) setPalette(found);
    }
  };
  const onKeyUp = (event: KeyboardEvent) => {
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
          onPointerLeave={() => mode === 'place' && !palette && useBench.setState({ hover: null })}
          onClick={onClick}
          onDoubleClick={onDouble}
          onWheel={onWheel}
          onKeyDown={onKeyDown}
          onKeyUp={onKeyUp}
          onBlur={release}
        >
          <canvas ref={canvas} />
          {!outside && <Handles scale={scale} size={size} />}
          {hover && (mode === 'place' || drag?.kind === 'anchor') && (
            <>
              <Marker hover={palette ?? hover} size={size} />
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
              hover={palette}
              size={size}
              onClose={() => {
                setPalette(null);
                picture.current?.focus();
              }}
              onKind={() => {
                setPending(palette);
                setPalette(null);
              }}
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
                  const id = placeLabel((name, order) => engine.anchorFrom(spot, name, order), text.trim());
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
              start={document.elements[typing]?.text ?? ''}
              onDone={(text) => {
                if (text !== null) editElement('Edit a text', typing, (e) => ({ ...e, text }));
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
            onClick={() => useBench.setState({ mode: 'look', hover: null })}
            title="Look about and select (L)"
          >
            Look
          </button>
          <button
            type="button"
            aria-pressed={mode === 'place'}
            onClick={() => useBench.setState({ mode: 'place', outside: false, playing: false })}
            title="Place something on a surface (P)"
          >
            Place
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
        <span className="where num">{info ? `${places(info.pose.position, 1)} m` : ''}</span>
        <span className="spring" />
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
          {recording ? 'Stop recording' : 'Record'}
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

function Palette({
  hover,
  size: [w, h],
  onKind,
  onClose,
}: {
  hover: Hover;
  size: [number, number];
  onKind: () => void;
  onClose: () => void;
}) {
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => first.current?.focus(), []);
  return (
    <div
      className="palette"
      role="dialog"
      aria-label="What to place"
      style={{ left: Math.min(hover.x * w + 12, w - 230), top: Math.min(hover.y * h + 12, h - 90) }}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') onClose();
      }}
    >
      <p>Place on {hover.node || 'the ground'}</p>
      <button type="button" ref={first} className="kind" onClick={onKind}>
        <svg width="26" height="20" aria-hidden="true">
          <rect x="1" y="1" width="24" height="11" rx="2" fill="var(--raised)" stroke="currentColor" />
          <path d="M5 6.5h16M13 12v7" stroke="currentColor" />
        </svg>
        Label
      </button>
    </div>
  );
}

function Typing({ x, y, start, onDone }: { x: number; y: number; start: string; onDone: (text: string | null) => void }) {
  const field = useRef<HTMLTextAreaElement>(null);
  const done = useRef(false);
  const finish = (text: string | null) => {
    if (done.current) return;
    done.current = true;
    onDone(text);
  };
  useEffect(() => {
    field.current?.focus();
    field.current?.select();
  }, []);
  return (
    <div
      className="typing"
      style={{ left: Math.max(0, x), top: Math.max(0, y) }}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={(event) => event.stopPropagation()}
      onDoubleClick={(event) => event.stopPropagation()}
    >
      <textarea
        ref={field}
        rows={2}
        defaultValue={start}
        aria-label="Text of the label. Enter keeps it, Shift and Enter begins a new line, Escape takes it back."
        placeholder="Text, then Enter"
        onBlur={(event) => finish(event.currentTarget.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Escape') finish(null);
          else if (event.key === 'Enter' && !event.shiftKey) {
            event.preventDefault();
            finish(event.currentTarget.value);
          }
        }}
      />
    </div>
  );
}
