/** The strip: time along the route, and for each element a band of when it is shown. It is also the list of elements. */

import type { Stretch } from '@foreshore/checks';
import { routeDurationS } from '@foreshore/core';
import { UnstyledButton } from '@mantine/core';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { useShownBands } from '../../questions/bands.ts';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { useSideEffects } from '../../state/side-effects.ts';
import { Band, bandTitle, Others, saidAt } from './band.tsx';
import { Controls } from './controls.tsx';
import { HEIGHT_PX, NAME_PX, ROW_PX } from './heights.ts';
import { Ruler } from './ruler.tsx';
import { Mark } from './side-effects.tsx';
import { FOLDS, type Fold, stripRows } from './strip-rows.ts';
import './strip.css';

const FOLD_WORDS: Record<Fold, string> = {
  far: 'never near on this route',
  phase: 'in other phases',
  always: 'shown all the time',
};

/** Where on the route time is; faint while the camera is free. */
function Playhead({ durationS }: { durationS: number }) {
  const timeS = useBench((s) => s.timeS);
  const free = useBench((s) => s.pose !== null);
  const at = Math.max(0, Math.min(1, timeS / durationS));
  return <div className="playhead" style={{ left: `calc(${NAME_PX}px + (100% - ${NAME_PX}px) * ${at})`, opacity: free ? 0.4 : 1 }} />;
}

const toggled = <T,>(set: ReadonlySet<T>, one: T): ReadonlySet<T> => {
  const next = new Set(set);
  if (!next.delete(one)) next.add(one);
  return next;
};

/** Its room, until it is there. */
export function StripRoom() {
  const strip = useBench((s) => s.strip);
  return <div className="strip" style={{ '--strip': `${HEIGHT_PX[strip]}px` } as React.CSSProperties} />;
}

export function Strip() {
  const document = useShown();
  const { route, selection, strip } = useBenchPart('route', 'selection', 'strip');
  const { bands, share, failed } = useShownBands();
  const box = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useState<ReadonlySet<Fold>>(new Set());
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [hovered, setHovered] = useState<{ x: number; y: number; timeS: number; says: string } | null>(null);
  const effects = useSideEffects((s) => s.effects);
  const marked = useMemo(() => new Set(effects.map(({ element }) => element)), [effects]);
  const way = document?.routes[route];
  const durationS = way ? Math.max(routeDurationS(way), 0.1) : 60;

  const { rows, folded } = useMemo(() => {
    if (!document) return { rows: [], folded: { far: 0, phase: 0, always: 0 } };
    // All at once: nothing is folded.
    const all = strip === 'all' ? { open: new Set(FOLDS), unfolded: new Set(Object.keys(document.elements)) } : { open, unfolded };
    const list = stripRows(document, { bands, selection, marked, ...all });
    return strip === 'one' ? { ...list, rows: list.rows.filter((row) => row.id === selection) } : list;
  }, [document?.elements, bands, strip, selection, open, unfolded, marked]);
  const tall = (id: string | undefined) => (strip === 'all' && id === selection ? 24 : ROW_PX[strip]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: (index) => tall(rows[index]?.id),
    getItemKey: (index) => rows[index]?.id ?? index,
    overscan: 6,
  });
  useEffect(() => virtual.measure(), [strip, selection, rows, virtual]);
  const chosen = rows.findIndex((row) => row.id === selection);
  // The selected row comes into sight.
  useEffect(() => {
    if (chosen >= 0) virtual.scrollToIndex(chosen, { align: 'auto' });
  }, [chosen, virtual]);

  if (!document) return null;
  /** Over a band: what it says of that time. */
  const hover = (event: PointerEvent, band: readonly Stretch[]) => {
    const [row, all] = [event.currentTarget.getBoundingClientRect(), event.currentTarget.closest('.strip')?.getBoundingClientRect()];
    const at = (event.clientX - row.left - NAME_PX) / (row.width - NAME_PX);
    if (!all || at < 0 || at > 1) return setHovered(null);
    setHovered({
      x: Math.min(event.clientX - all.left + 12, all.width - 260),
      y: row.top - all.top - 24,
      timeS: at * durationS,
      says: saidAt(band, at * durationS),
    });
  };
  const select = (index: number) => {
    const row = rows[Math.max(0, Math.min(rows.length - 1, index))];
    if (!row) return;
    useBench.setState({ selection: row.id });
    requestAnimationFrame(() => box.current?.querySelector<HTMLElement>(`[data-element="${CSS.escape(row.id)}"]`)?.focus());
  };
  const onKey = (event: KeyboardEvent, index: number) => {
    const row = rows[index];
    const to = { ArrowDown: index + 1, ArrowUp: index - 1, Home: 0, End: rows.length - 1, PageDown: index + 8, PageUp: index - 8 }[
      event.key
    ];
    if (to !== undefined) {
      event.preventDefault();
      select(to);
    } else if (event.key === 'Enter') {
      event.preventDefault();
      useBench.setState({ selection: row?.id ?? null });
    } else if (row?.members && (event.key === 'ArrowRight') !== row.unfolded && (event.key === 'ArrowRight' || event.key === 'ArrowLeft')) {
      event.preventDefault();
      setUnfolded(toggled(unfolded, row.id));
    }
  };
  const focusable = Math.max(0, chosen);
  const folds = strip === 'rows' ? FOLDS.filter((fold) => folded[fold] > 0) : [];
  return (
    <section
      className="strip"
      style={{ '--strip': `${HEIGHT_PX[strip]}px`, position: 'relative' } as React.CSSProperties}
      aria-label="Strip"
    >
      <div className="strip-top">
        <Controls document={document} durationS={durationS} />
        {way ? (
          <Ruler durationS={durationS} />
        ) : (
          <span className="strip-empty" style={{ padding: '5px 12px' }}>
            No route yet. Record one while you walk, and bands show when each label is in the frame.
          </span>
        )}
      </div>
      <div className="rows" ref={box} data-bands={bands.size > 0 ? 'ready' : 'none'}>
        {rows.length === 0 && (
          <p className="strip-empty">
            {strip === 'one'
              ? 'Nothing is selected.'
              : folds.length
                ? 'Nothing is amiss on this route.'
                : 'There is no element yet. Choose Place and click a surface.'}
          </p>
        )}
        <div
          {...(rows.length ? { role: 'tree', 'aria-label': 'Elements' } : {})}
          style={{ height: virtual.getTotalSize(), position: 'relative' }}
        >
          {virtual.getVirtualItems().map(({ index, start, size }) => {
            const row = rows[index];
            if (!row) return null;
            const band = row.band;
            return (
              <div
                key={row.id}
                className="row"
                role="treeitem"
                aria-level={row.depth + 1}
                {...(row.members !== null && { 'aria-expanded': row.unfolded })}
                data-element={row.id}
                aria-selected={row.id === selection}
                tabIndex={index === focusable ? 0 : -1}
                style={{ top: start, height: size }}
                title={band ? bandTitle(row.name, band, durationS) : row.name}
                onPointerMove={(event) => band && hover(event, band)}
                onPointerLeave={() => setHovered(null)}
                onClick={() => useBench.setState({ selection: row.id })}
                onKeyDown={(event) => onKey(event, index)}
              >
                <span className="row-name" style={size < 12 ? { fontSize: 0 } : { paddingLeft: 6 + row.depth * 14 }}>
                  {size >= 12 && (
                    <Twisty
                      members={strip === 'rows' ? row.members : null}
                      unfolded={row.unfolded}
                      name={row.name}
                      onToggle={() => setUnfolded(toggled(unfolded, row.id))}
                    />
                  )}
                  <span className="row-words">{row.name}</span>
                  {size >= 12 && marked.has(row.id) && <Mark effect={effects.find(({ element }) => element === row.id)} />}
                  {size >= 12 && <Others id={row.id} />}
                  {band && size >= 12 && (
                    <span className="row-share" title={row.worst < row.share - 0.005 ? 'Of its members, the least' : undefined}>
                      {Math.round((row.unfolded ? row.share : row.worst) * 100)} %
                    </span>
                  )}
                </span>
                {way && <Band band={band} durationS={durationS} />}
              </div>
            );
          })}
        </div>
        {folds.length > 0 && (
          <div className="folds" role="group" aria-label="Folded away">
            {folds.map((fold) => (
              <UnstyledButton
                key={fold}
                data-fold={fold}
                aria-expanded={open.has(fold)}
                onClick={() => setOpen(toggled(open, fold))}
                title={open.has(fold) ? 'Fold them away' : 'List them too'}
              >
                {open.has(fold) ? <IconChevronDown size={14} aria-hidden="true" /> : <IconChevronRight size={14} aria-hidden="true" />}
                {folded[fold]} {FOLD_WORDS[fold]}
              </UnstyledButton>
            ))}
          </div>
        )}
        {failed && (
          <p className="bands-note" role="alert">
            The bands could not be worked out: {failed}
          </p>
        )}
        {share !== null && <p className="bands-note">Working out the bands, {Math.round(share * 100)} %</p>}
      </div>
      {hovered && (
        <div className="band-said num" style={{ left: hovered.x, top: hovered.y }}>
          {hovered.timeS.toFixed(1)} s: {hovered.says}
        </div>
      )}
      {way && <Playhead durationS={durationS} />}
    </section>
  );
}

/** Unfolds the members of a group; an empty place of the same width before all others. */
function Twisty(props: { members: number | null; unfolded: boolean; name: string; onToggle: () => void }) {
  if (props.members === null) return <span className="twisty" />;
  const words = `${props.unfolded ? 'Fold' : 'Unfold'} the ${props.members} members of ${props.name}`;
  return (
    <UnstyledButton
      className="twisty"
      tabIndex={-1}
      aria-label={words}
      title={words}
      onClick={(event) => {
        event.stopPropagation();
        props.onToggle();
      }}
    >
      {props.unfolded ? <IconChevronDown size={14} aria-hidden="true" /> : <IconChevronRight size={14} aria-hidden="true" />}
    </UnstyledButton>
  );
}
