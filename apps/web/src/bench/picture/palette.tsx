/** The palette at the pointer: what to place there. */
import { Switch } from '@mantine/core';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { type GlassKind, KINDS } from '../../edits/edits.ts';
import { useBench } from '../../state/bench.ts';

const DRAWN: Record<GlassKind | 'label' | 'prompt', React.ReactNode> = {
  prompt: <path d="M2 4h9v12H2zM5 7v6M5 7h3M5 10h2.5M5 13h3M14 8h10M14 12h7" />,
  label: <path d="M1 1h24v11H1zM5 6.5h16M13 12v7" />,
  text: <path d="M4 4h18M13 4v13M9 17h8" />,
  bar: (
    <>
      <rect x="1" y="6" width="24" height="8" />
      <rect x="1" y="6" width="14" height="8" fill="currentColor" />
    </>
  ),
  ring: <path d="M13 2a8 8 0 1 1-8 8" strokeWidth="4" />,
  pips: (
    <>
      <circle cx="5" cy="10" r="3" fill="currentColor" />
      <circle cx="13" cy="10" r="3" fill="currentColor" />
      <circle cx="21" cy="10" r="3" />
    </>
  ),
  row: <path d="M1 4h24v12H1zM4 7h5v6H4zM11 7h4v6h-4zM17 7h5v6h-5z" />,
  column: <path d="M5 1h16v18H5zM8 4h10v3H8zM8 9h10v3H8zM8 14h10v2H8z" />,
  free: <path d="M1 2h24v16H1zM4 5h7v4H4zM15 11h7v4h-7z" />,
  picture: <path d="M2 3h22v14H2zM2 14l7-6 6 5 3-3 6 5M18 7h1" />,
  button: <path d="M2 5h22v10H2zM8 10h10" />,
  toggle: (
    <>
      <rect x="3" y="5" width="20" height="10" rx="5" />
      <circle cx="18" cy="10" r="3" fill="currentColor" />
    </>
  ),
  slider: (
    <>
      <path d="M2 10h22" />
      <circle cx="15" cy="10" r="4" fill="currentColor" />
    </>
  ),
  scroll: <path d="M2 2h22v16H2zM5 6h12M5 10h12M5 14h12M21 4v6" />,
  notice: <path d="M2 2h22v16H2zM6 6h14M5 11h6v4H5zM15 11h6v4h-6z" />,
  paint: (
    <>
      <rect x="2" y="3" width="22" height="14" />
      <circle cx="13" cy="10" r="4" strokeDasharray="2 2" />
    </>
  ),
  veil: (
    <>
      <rect x="1" y="2" width="24" height="16" fill="currentColor" fillOpacity="0.35" />
    </>
  ),
};

interface Props {
  /** Where on the page, from the picture's top left. */
  at: [number, number];
  /** The surface under the pointer, or null where there is none. */
  surface: string | null;
  /** A group under the pointer. */
  group: { id: string; name: string; stretched: boolean } | null;
  onLabel: () => void;
  onPrompt: () => void;
  onGlass: (kind: GlassKind) => void;
  onInside: (kind: GlassKind) => void;
  /** Templates that can be used here, by id. */
  templates: { id: string; name: string }[];
  onInstance: (template: string) => void;
  onClose: () => void;
}

export function Palette({ at: [x, y], surface, group, onLabel, onPrompt, onGlass, onInside, onClose, templates, onInstance }: Props) {
  const { tie } = useBench();
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => box.current?.querySelector('button')?.focus(), []);
  const [place, setPlace] = useState<[number, number]>([x + 12, y + 12]);
  // Whole inside of the window, whatever it holds.
  useLayoutEffect(() => {
    const own = box.current;
    const parent = own?.offsetParent?.getBoundingClientRect();
    if (!own || !parent) return;
    const keep = (at: number, length: number, from: number, to: number) => Math.max(from, Math.min(at, to - length));
    setPlace([
      keep(x + 12, own.offsetWidth, 8 - parent.left, window.innerWidth - parent.left - 8),
      keep(y + 12, own.offsetHeight, 8 - parent.top, window.innerHeight - parent.top - 8),
    ]);
  }, [x, y]);
  // What lies under the whole picture leaves room for what goes beside it.
  const isVeil = group?.stretched === true;
  const kinds = Object.entries(KINDS) as [GlassKind, string][];
  const button = (kind: GlassKind | 'label' | 'prompt', name: string, run: () => void) => (
    <button key={`${name} ${kind}`} type="button" className="kind" onClick={run}>
      <svg width="26" height="20" aria-hidden="true" fill="none" stroke="currentColor" strokeWidth="1.5">
        {DRAWN[kind]}
      </svg>
      {name}
    </button>
  );
  return (
    <div
      ref={box}
      className="palette"
      role="dialog"
      aria-label="What to place"
      style={{ left: place[0], top: place[1] }}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') onClose();
      }}
    >
      {surface !== null && (
        <>
          <p>In the world, on {surface || 'the ground'}</p>
          <div className="kinds">
            {button('label', 'Label', onLabel)}
            {button('prompt', 'Prompt', onPrompt)}
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
              .filter(([kind]) => kind !== 'veil' && kind !== 'paint')
              .map(([kind, name]) => button(kind, `${name} inside`, () => onInside(kind)))}
          </div>
        </>
      )}
      {templates.length > 0 && (
        <>
          <p>From a template</p>
          <div className="kinds">
            {templates.map(({ id, name }) => (
              <button key={id} type="button" className="kind" onClick={() => onInstance(id)}>
                {name}
              </button>
            ))}
          </div>
        </>
      )}
      {(!group || isVeil) && (
        <>
          <p>On the HUD, here</p>
          <div className="kinds">{kinds.map(([kind, name]) => button(kind, name, () => onGlass(kind)))}</div>
        </>
      )}
    </div>
  );
}
