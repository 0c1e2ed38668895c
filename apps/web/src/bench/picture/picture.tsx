/** The picture: what the chosen viewer's player gets, with handles for the hand. */

import { seesSeveral, sightOf, wholeSize } from '@foreshore/core';
import { type PointerEvent as ReactPointerEvent, useEffect, useLayoutEffect, useRef, useState, type WheelEvent } from 'react';
import { editKind, placeMeasure } from '../../edits/edits.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useReadableArea } from '../../questions/use-area.ts';
import { type Hover, useBench, useBenchPart } from '../../state/bench.ts';
import { shownDocument, useProject } from '../../state/project.ts';
import { AimReadout } from './aim-readout.tsx';
import { AreaMarks } from './area-marks.tsx';
import { Areas } from './areas.tsx';
import { useDrag } from './drag.ts';
import { Ghosts } from './ghosts.tsx';
import { Handles } from './handles.tsx';
import { usePictureKeys } from './keys.ts';
import { PictureBar } from './picture-bar.tsx';
import { type Awaited, type Chosen, chosenAt, Marker, Placing, Readout } from './placing.tsx';
import { Typing } from './typing.tsx';
import './picture.css';

const MARGIN_PX = 8;

/** Gives a canvas another size. What it shows stays, stretched, until a picture of that size is there. */
function resized(canvas: HTMLCanvasElement, width: number, height: number): void {
  if (canvas.width === width && canvas.height === height) return;
  const before = new OffscreenCanvas(canvas.width, canvas.height);
  before.getContext('2d')?.drawImage(canvas, 0, 0);
  canvas.width = width;
  canvas.height = height;
  canvas.getContext('2d', { alpha: false })?.drawImage(before, 0, 0, width, height);
}

export function Picture() {
  const engine = useEngine();
  const document = useProject(shownDocument);
  const { viewer, mode, outside, whole, hover, typing, selection, pointWith } = useBenchPart(
    'viewer',
    'mode',
    'outside',
    'whole',
    'hover',
    'typing',
    'selection',
    'pointWith',
  );
  // What is said of every picture concerns only who types in it.
  const rect = useBench((s) => (s.typing ? s.info?.rect : undefined));
  useReadableArea();
  const area = useRef<HTMLDivElement>(null);
  const picture = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState<[number, number]>([0, 0]);
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [awaited, setAwaited] = useState<Awaited | null>(null);
  /** The first end of a measure line whose other end is awaited. */
  const [measured, setMeasured] = useState<Hover | null>(null);
  const one = document?.viewers[viewer];
  const several = Boolean(one && whole && seesSeveral(one));
  const seen = one && (several ? wholeSize(one) : sightOf(one).projection);
  const [widthPx, heightPx] = [seen?.widthPx ?? 1, seen?.heightPx ?? 1];
  /** Nothing lies over what is only looked at. */
  const plain = outside || several;

  // The picture fills its area in the viewer's own shape.
  useLayoutEffect(() => {
    const box = area.current;
    if (!box) return;
    const fit = () => {
      const [w, h] = [box.clientWidth - 2 * MARGIN_PX, box.clientHeight - MARGIN_PX - 4];
      const aspect = outside ? w / h : widthPx / heightPx;
      const width = Math.max(16, Math.floor(Math.min(w, h * aspect)));
      const height = Math.max(16, Math.round(width / aspect));
      setSize((before) => (before[0] === width && before[1] === height ? before : [width, height]));
    };
    fit();
    const observer = new ResizeObserver(fit);
    observer.observe(box);
    return () => observer.disconnect();
  }, [widthPx, heightPx, outside]);

  useLayoutEffect(() => {
    const target = canvas.current;
    if (!target || size[0] === 0) return;
    const density = Math.min(window.devicePixelRatio || 1, 2);
    resized(target, Math.round(size[0] * density), Math.round(size[1] * density));
    engine.setMain(target);
  }, [engine, size]);
  useEffect(() => () => engine.setMain(null), [engine]);

  const scale = widthPx / size[0];
  const at = (event: { clientX: number; clientY: number }): [number, number] => {
    const box = picture.current?.getBoundingClientRect();
    return box ? [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height] : [0, 0];
  };
  const open = (u: number, v: number, under: Hover | null) => {
    if (measured && under) measureTo(measured, under);
    else if (!measured) setChosen(chosenAt(engine, u, v, under));
  };
  const measureTo = (first: Hover, second: Hover) => {
    const { tie } = useBench.getState();
    setMeasured(null);
    onPlaced(placeMeasure(engine.places.spot(first, tie), engine.places.spot(second, tie)));
  };
  // Whoever leaves off placing leaves off measuring.
  useEffect(() => {
    if (mode !== 'place') setMeasured(null);
  }, [mode]);
  const dragging = useDrag({
    engine,
    document: document ?? engine.document,
    scale,
    widthPx,
    heightPx,
    at,
  });
  const keys = usePictureKeys(engine, Boolean(typing || chosen || awaited), open);
  if (!document || !one) return null;
  const { drag, guides } = dragging;
  const typed = typing ? document.elements[typing] : undefined;
  const focus = () => picture.current?.focus();

  /** The game's elements have the pointer first, then the prompts that have its buttons for keys, then the view. */
  const tryDown = (event: ReactPointerEvent) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    tryMove(event);
    useBench.setState({ device: event.pointerType === 'touch' ? 'touch' : 'keyboard' });
    const taken = engine.trying.down(pointWith, event.button);
    // What an element holds never reaches the world.
    if (taken === 'world' && !engine.trying.takesInput()) dragging.turn(event);
  };
  const tryMove = (event: ReactPointerEvent) => {
    const [u, v] = at(event);
    // A hand is led by the mouse, and the game's own picture of a pointer follows it.
    if (document.cursor || pointWith !== 'mouse') useBench.setState({ cursor: [u, v] });
    if (pointWith === 'mouse') engine.trying.pointAt(u, v);
    else {
      const solver = engine.frameOf(viewer);
      if (solver) engine.trying.aim(solver);
    }
  };

  const onDown = (event: ReactPointerEvent) => {
    if (event.button !== 0 || chosen || typing) return;
    focus();
    if (mode === 'place') return;
    if (mode === 'try' && !plain) return tryDown(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    dragging.begin(event, plain);
  };
  const onMove = (event: ReactPointerEvent) => {
    if (mode === 'place' && !chosen && !awaited) useBench.setState({ hover: engine.pick(...at(event)) });
    else if (mode === 'try' && !plain && !drag) tryMove(event);
    else dragging.move(event);
  };
  const onUp = (event: ReactPointerEvent) => {
    if (mode === 'try' && !plain) engine.trying.up(pointWith, event.button);
    dragging.end(event, mode !== 'try');
  };
  const onClick = (event: { clientX: number; clientY: number }) => {
    if (mode === 'place' && !chosen && !awaited) open(...at(event), hover);
  };
  const onDouble = (event: { clientX: number; clientY: number }) => {
    if (mode !== 'look') return;
    const [u, v] = at(event);
    const found = engine.elementAt(u, v);
    if (found) {
      if (found.id === selection && document.elements[found.id]?.kind === 'label') useBench.setState({ typing: found.id });
      return;
    }
    const ground = engine.pick(u, v);
    if (ground && !outside) engine.camera.standAt(ground.position);
  };
  const onWheel = (event: WheelEvent) => {
    const trying = mode === 'try' && !plain;
    // An element under the pointer has the wheel, whether it scrolls or not; and so has a phase that takes the input.
    const scrolls = () =>
      pointWith === 'mouse'
        ? engine.trying.scrollAt(...at(event), event.deltaY * scale)
        : engine.trying.scrollBy(pointWith, event.deltaY * scale);
    if (trying && (scrolls() || engine.trying.takesInput())) return;
    engine.camera.step(event.deltaY < 0 ? 1 : -1);
  };
  const onPlaced = (id: string | null) => {
    setChosen(null);
    setAwaited(null);
    if (id) useBench.setState({ mode: 'look', hover: null });
    focus();
  };

  return (
    <section className="picture-column" aria-label="Picture">
      <div className="picture-area" ref={area}>
        <GraphicsLost />
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
            if (mode === 'try') engine.trying.drop();
            dragging.cancel();
          }}
          onPointerLeave={() => {
            if (mode === 'place' && !chosen) useBench.setState({ hover: null });
            if (mode === 'try') useBench.setState({ cursor: null });
          }}
          onClick={onClick}
          onDoubleClick={onDouble}
          onWheel={onWheel}
          onKeyDown={keys.onKeyDown}
          onKeyUp={keys.onKeyUp}
          onBlur={keys.release}
        >
          <canvas ref={canvas} />
          {!plain && mode === 'try' && <Areas scale={scale} size={size} />}
          {!plain && mode !== 'try' && <AreaMarks scale={scale} size={size} />}
          {!plain && mode !== 'try' && <Ghosts scale={scale} size={size} />}
          {!plain && mode !== 'try' && <AimReadout size={size} />}
          {!plain && mode !== 'try' && (
            <Handles scale={scale} size={size} guides={guides} pins={drag?.kind === 'offset' && drag.moved && drag.box !== null} />
          )}
          {hover && (mode === 'place' || drag?.kind === 'anchor') && (
            <>
              <Marker hover={chosen?.hover ?? hover} size={size} />
              {!chosen && !awaited && <Readout hover={hover} size={size} />}
            </>
          )}
          {measured && (
            <>
              <Marker hover={measured} size={size} />
              <p className="measure-hint" role="status">
                Click the other end
              </p>
            </>
          )}
          <Placing
            document={document}
            size={size}
            chosen={chosen}
            awaited={awaited}
            onAwait={(next) => {
              setChosen(null);
              setAwaited(next);
            }}
            onMeasure={(from) => {
              setChosen(null);
              setMeasured(from);
              focus();
            }}
            onDone={onPlaced}
          />
          {typing && rect && !several && (
            <Typing
              x={Math.max(0, Math.min(size[0] - 200, rect[0] / scale))}
              y={Math.max(0, Math.min(size[1] - 60, rect[1] / scale))}
              start={typed?.kind === 'label' ? typed.text : ''}
              onDone={(text) => {
                if (text !== null) editKind('label', 'Edit a text', typing, (e) => ({ ...e, text }));
                useBench.setState({ typing: null });
                focus();
              }}
            />
          )}
        </div>
      </div>
      <PictureBar document={document} onFocus={focus} />
    </section>
  );
}

/** Said over the picture as long as it shows nothing. */
function GraphicsLost() {
  const lost = useBench((s) => s.graphics === 'lost');
  if (!lost) return null;
  return (
    <p className="graphics-lost" role="alert" data-graphics="lost">
      The graphics were lost, as happens when a driver starts anew. The picture comes back by itself; if it does not, reload the page.
    </p>
  );
}
