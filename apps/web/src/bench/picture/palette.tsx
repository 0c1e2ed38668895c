/** The palette at the pointer: what to place there. */
import { Switch, UnstyledButton } from '@mantine/core';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { type IconLine, PLACEABLE, type PlaceableKind } from '../../edits/placeable.ts';
import { useBench } from '../../state/bench.ts';
import { NO_SURFACES } from '../../words/level.ts';

/** What stands in the world. */
const IN_WORLD: Record<'label' | 'prompt' | 'panel' | 'edge' | 'measure' | 'face', readonly IconLine[]> = {
  panel: [{ path: 'M3 4l18-2v15L3 15zM7 7l10-1M7 10.5l10 0' }],
  face: [{ path: 'M2 2h22v16H2z' }, { path: 'M5 5h16v10H5z', fill: 0.3 }],
  measure: [{ path: 'M3 6v8M23 6v8M3 10h5M18 10h5M11 10h4' }],
  edge: [{ path: 'M1 2h24v16H1zM4 7h9v6H4z' }, { path: 'M16 5l7 5l-7 5z', fill: 1 }],
  prompt: [{ path: 'M2 4h9v12H2zM5 7v6M5 7h3M5 10h2.5M5 13h3M14 8h10M14 12h7' }],
  label: [{ path: 'M1 1h24v11H1zM5 6.5h16M13 12v7' }],
};

const metres = (m: number): string => m.toFixed(m < 1 ? 2 : 1);

const Icon = ({ lines }: { lines: readonly IconLine[] }) => (
  <svg width="26" height="20" aria-hidden="true" fill="none" stroke="currentColor" strokeWidth="1.5">
    {lines.map(({ path, fill, widthPx, dashed }) => (
      <path
        key={path}
        d={path}
        strokeWidth={widthPx}
        strokeDasharray={dashed ? '2 2' : undefined}
        {...(fill !== undefined && { fill: 'currentColor', fillOpacity: fill })}
      />
    ))}
  </svg>
);

interface Props {
  /** Where on the page, from the picture's top left. */
  at: [number, number];
  /** The surface under the pointer, or null where there is none. */
  surface: string | null;
  /** The level has no surface at all. */
  bare: boolean;
  /** A group under the pointer. */
  group: { id: string; name: string; stretched: boolean } | null;
  /** A flat rectangle of the level under the pointer, metres. */
  face: { widthM: number; heightM: number } | null;
  onPanel: (onFace: boolean) => void;
  onLabel: () => void;
  onPrompt: () => void;
  onEdge: () => void;
  onMeasure: () => void;
  onGlass: (kind: PlaceableKind) => void;
  onInside: (kind: PlaceableKind) => void;
  /** Templates that can be used here, by id. */
  templates: { id: string; name: string }[];
  onInstance: (template: string) => void;
  onClose: () => void;
}

export function Palette({
  at: [x, y],
  surface,
  bare,
  group,
  face,
  onPanel,
  onLabel,
  onPrompt,
  onEdge,
  onMeasure,
  onGlass,
  onInside,
  onClose,
  templates,
  onInstance,
}: Props) {
  const { tie } = useBench();
  const box = useRef<HTMLDivElement>(null);
  const here = useRef<HTMLSpanElement>(null);
  const [place, setPlace] = useState<[number, number] | null>(null);
  // Whole inside of the window, whatever it holds: it lies over the page, not in the picture, which would cut it off.
  useLayoutEffect(() => {
    const [own, from] = [box.current, here.current?.getBoundingClientRect()];
    if (!own || !from) return;
    const keep = (at: number, length: number, room: number) => Math.max(8, Math.min(at, room - length - 8));
    setPlace([keep(from.left + 12, own.offsetWidth, window.innerWidth), keep(from.top + 12, own.offsetHeight, window.innerHeight)]);
  }, []);
  useEffect(() => {
    if (place) box.current?.querySelector('button')?.focus();
  }, [place]);
  // What lies under the whole picture leaves room for what goes beside it.
  const isVeil = group?.stretched === true;
  const kinds = Object.keys(PLACEABLE) as PlaceableKind[];
  /** @param whole it takes the whole row: its name is long. */
  const button = (name: string, lines: readonly IconLine[], run: () => void, whole = false) => (
    <UnstyledButton key={name} className="kind" style={whole ? { gridColumn: '1 / -1' } : undefined} onClick={run}>
      <Icon lines={lines} />
      {name}
    </UnstyledButton>
  );
  const palette = (
    <div
      ref={box}
      className="palette"
      role="dialog"
      aria-label="What to place"
      style={place ? { left: place[0], top: place[1] } : { left: 0, top: 0, visibility: 'hidden' }}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') onClose();
      }}
    >
      {surface === null && bare && <p>{NO_SURFACES}</p>}
      {surface !== null && (
        <>
          <p>In the world, on {surface || 'the ground'}</p>
          <div className="kinds">
            {button('Label', IN_WORLD.label, onLabel)}
            {button('Prompt', IN_WORLD.prompt, onPrompt)}
            {button('Panel', IN_WORLD.panel, () => onPanel(false))}
            {button('Edge marker', IN_WORLD.edge, onEdge)}
            {button('Measure line', IN_WORLD.measure, onMeasure)}
            {face &&
              button(`Panel on this face, ${metres(face.widthM)} x ${metres(face.heightM)} m`, IN_WORLD.face, () => onPanel(true), true)}
          </div>
          <Switch
            size="xs"
            label={`Tied to ${surface || 'the node'}: moves with it, and it never covers it`}
            checked={tie === 'node'}
            onChange={(event) => useBench.setState({ tie: event.currentTarget.checked ? 'node' : 'world' })}
          />
        </>
      )}
      {group && (
        <>
          <p>Inside {group.name}</p>
          <div className="kinds">
            {kinds
              .filter((kind) => !PLACEABLE[kind].outermost)
              .map((kind) => button(`${PLACEABLE[kind].name} inside`, PLACEABLE[kind].icon, () => onInside(kind)))}
          </div>
        </>
      )}
      {templates.length > 0 && (
        <>
          <p>From a template</p>
          <div className="kinds">
            {templates.map(({ id, name }) => (
              <UnstyledButton key={id} className="kind" onClick={() => onInstance(id)}>
                {name}
              </UnstyledButton>
            ))}
          </div>
        </>
      )}
      {(!group || isVeil) && (
        <>
          <p>On the HUD, here</p>
          <div className="kinds">{kinds.map((kind) => button(PLACEABLE[kind].name, PLACEABLE[kind].icon, () => onGlass(kind)))}</div>
        </>
      )}
    </div>
  );
  return (
    <>
      <span ref={here} style={{ position: 'absolute', left: x, top: y }} />
      {createPortal(palette, document.body)}
    </>
  );
}
