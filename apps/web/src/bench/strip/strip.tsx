/** The strip: time along the route, and for each element a band of when it is shown. It is also the list of elements. */

import { flickers, readableShare, type Stretch, shownShare } from '@foreshore/checks';
import { routeDurationS, type Shortfall, STEPS, Verdict } from '@foreshore/core';
import { type Document, inOrder, isMember } from '@foreshore/document';
import { STEP_TITLES } from '@foreshore/words';
import { IconArrowBackUp, IconBaselineDensitySmall, IconMenu2, IconMinus, IconPlayerPause, IconPlayerPlay } from '@tabler/icons-react';
import { type KeyboardEvent, memo, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { useBands } from '../../questions/use-bands.ts';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { shownDocument, useProject } from '../../state/project.ts';

const NAME_PX = 220;
/** Shares of the route from here on are all of it. */
const ALWAYS = 0.9995;
const ROW_PX = { one: 22, rows: 22, all: 6 };
const HEIGHT_NAMES = { one: 'one row', rows: 'rows', all: 'all' };
const HEIGHT_PX = { one: 53, rows: 220, all: 320 };

const bandTitle = (name: string, band: readonly Stretch[], durationS: number): string => {
  const share = Math.round(shownShare(band) * 100);
  const hidden = new Set(band.filter((b) => b.verdict !== Verdict.Shown).map((b) => STEP_TITLES[STEPS[b.verdict] ?? 'attach']));
  return `${name}: shown ${share} % of ${durationS.toFixed(0)} s${hidden.size ? `; hidden by ${[...hidden].join(', ')}` : ''}`;
};

const SHORT: Record<Shortfall['kind'], string> = {
  empty: 'without a text',
  faint: 'too faint to read',
  glyphs: 'with letters that no font has',
  small: 'too small to read',
  contrast: 'too little contrast',
  covered: 'covered by another',
  cut: 'cut off',
  speed: 'too fast to read',
};
/** A tick for every other viewer: high where it shows the element now, low where it does not. */
function Others({ id }: { id: string }) {
  const others = useBench((s) => s.info?.others);
  const viewers = useProject((s) => shownDocument(s)?.viewers);
  if (!others?.length) return null;
  const name = (viewer: string) => viewers?.[viewer]?.name ?? viewer;
  return (
    <svg className="row-others" width={others.length * 5} height={12} role="img">
      <title>{others.map(({ viewer, shown }) => `${name(viewer)}: ${shown.has(id) ? 'shown' : 'hidden'}`).join(', ')}</title>
      {others.map(({ viewer, shown }, k) => (
        <path key={viewer} d={`M${k * 5 + 2} 12V${shown.has(id) ? 2 : 9}`} data-shown={shown.has(id)} />
      ))}
    </svg>
  );
}

/** Whether an element is a template that is only a pattern, or stands in one. */
function isPattern(document: Document, id: string): boolean {
  const element = document.elements[id];
  if (element?.kind === 'group' && element.template?.only) return true;
  return isMember(element?.mount) && isPattern(document, element.mount.group);
}

/** What a band says of a time. */
function saidAt(band: readonly Stretch[], timeS: number): string {
  const flicker = flickers(band).find(({ fromS, toS }) => timeS >= fromS - 0.3 && timeS <= toS + 0.3);
  const b = band.findLast(({ fromS }) => fromS <= timeS) ?? band[0];
  if (!b) return '';
  const said =
    b.verdict === Verdict.Shown
      ? b.short
        ? `shown, ${SHORT[b.short]}`
        : 'shown, readable'
      : `hidden by ${STEP_TITLES[STEPS[b.verdict] ?? 'attach']}`;
  return flicker ? `${said}; flickers by ${STEP_TITLES[STEPS[flicker.step] ?? 'attach']}` : said;
}

/** Readable is a full band, shown but not readable a dashed band of half the height, hidden a thin line; a flicker has a mark above. */
const Band = memo(function Band({ band, durationS }: { band: readonly Stretch[] | undefined; durationS: number }) {
  return (
    <svg viewBox={`0 0 ${durationS} 22`} preserveAspectRatio="none" aria-hidden="true">
      <path className="band-hidden" d={`M0 11H${durationS}`} vectorEffect="non-scaling-stroke" />
      {band?.map(
        (b) =>
          b.verdict === Verdict.Shown &&
          (b.short ? (
            <path
              key={b.fromS}
              className="band-short"
              d={`M${b.fromS} 11H${Math.max(b.toS, b.fromS + durationS / 800)}`}
              vectorEffect="non-scaling-stroke"
            />
          ) : (
            <rect key={b.fromS} className="band-shown" x={b.fromS} y={5} width={Math.max(b.toS - b.fromS, durationS / 800)} height={12} />
          )),
      )}
      {band &&
        flickers(band).map(({ fromS, toS }) => (
          <path key={`flicker ${fromS}`} className="band-flicker" d={`M${(fromS + toS) / 2} 0V5`} vectorEffect="non-scaling-stroke" />
        ))}
    </svg>
  );
});

function Ruler({ durationS }: { durationS: number }) {
  const ruler = useRef<HTMLDivElement>(null);
  const step = durationS > 90 ? 10 : durationS > 30 ? 5 : durationS > 8 ? 1 : 0.5;
  const marks = Array.from({ length: Math.floor(durationS / step) + 1 }, (_, i) => i * step);
  const labelEvery = durationS > 8 && step === 1 ? 5 : 1;
  const scrub = (event: PointerEvent) => {
    if (event.buttons !== 1) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const box = ruler.current?.getBoundingClientRect();
    if (!box) return;
    const share = Math.max(0, Math.min(1, (event.clientX - box.left) / box.width));
    useBench.setState({ timeS: share * durationS, pose: null, playing: false });
  };
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1 / 30, ArrowRight: 1 / 30, PageUp: -1, PageDown: 1 }[event.key];
    const { timeS } = useBench.getState();
    const to =
      by !== undefined ? timeS + by * (event.shiftKey ? 10 : 1) : event.key === 'Home' ? 0 : event.key === 'End' ? durationS : null;
    if (to === null) return;
    event.preventDefault();
    useBench.setState({ timeS: Math.max(0, Math.min(durationS, to)), pose: null, playing: false });
  };
  const timeS = useBench((s) => s.timeS);
  return (
    <div
      ref={ruler}
      className="ruler"
      role="slider"
      tabIndex={0}
      aria-label="Time on the route"
      aria-valuemin={0}
      aria-valuemax={Number(durationS.toFixed(2))}
      aria-valuenow={Number(Math.min(timeS, durationS).toFixed(2))}
      aria-valuetext={`${timeS.toFixed(1)} s of ${durationS.toFixed(0)} s`}
      onPointerDown={scrub}
      onPointerMove={scrub}
      onKeyDown={onKey}
    >
      <svg aria-hidden="true">
        {marks.map((t, i) => (
          <g key={t}>
            {i + 1 < marks.length && (
              <rect
                x={`${(t / durationS) * 100}%`}
                y="22"
                width={`${(step / durationS) * 100}%`}
                height="6"
                fill={i % 2 ? 'var(--raised)' : 'var(--ink)'}
                stroke="var(--ink)"
                strokeWidth="1"
              />
            )}
            {i % labelEvery === 0 && (
              <text
                x={`${(t / durationS) * 100}%`}
                y="15"
                textAnchor={i === 0 ? 'start' : i + 1 === marks.length && t === durationS ? 'end' : 'middle'}
                dx={i === 0 ? 3 : 0}
              >
                {t} s
              </text>
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}

function Controls({ document, durationS }: { document: Document; durationS: number }) {
  const { playing, route, strip } = useBenchPart('playing', 'route', 'strip');
  const free = useBench((s) => s.pose !== null);
  const routes = inOrder(document.routes);
  const next = { one: 'rows', rows: 'all', all: 'one' } as const;
  return (
    <div className="strip-controls">
      <button
        type="button"
        className="icon-button"
        aria-label={playing ? 'Pause' : 'Play'}
        title={playing ? 'Pause (Space)' : 'Play (Space)'}
        onClick={() =>
          useBench.setState(({ timeS, pose }) => ({ playing: !playing, ...(timeS >= durationS && !pose ? { timeS: 0 } : {}) }))
        }
      >
        {playing ? <IconPlayerPause size={16} /> : <IconPlayerPlay size={16} />}
      </button>
      {routes.length > 0 && (
        <select
          className="small-select"
          style={{ flex: 1, minWidth: 0, maxWidth: 'none' }}
          aria-label="Route"
          value={route}
          onChange={(event) => useBench.setState({ route: event.currentTarget.value, timeS: 0, pose: null })}
        >
          {routes.map(([id, r]) => (
            <option key={id} value={id}>
              {r.name}
            </option>
          ))}
        </select>
      )}
      {free && routes.length > 0 && (
        <button
          type="button"
          className="icon-button"
          aria-label="Back to the route"
          title="The camera is free. Back to the route (B)"
          onClick={() => useBench.setState({ pose: null })}
        >
          <IconArrowBackUp size={16} />
        </button>
      )}
      <button
        type="button"
        className="icon-button"
        aria-label={`Height of the strip: ${HEIGHT_NAMES[strip]}`}
        title={`Height of the strip: ${HEIGHT_NAMES[strip]}. Change to ${HEIGHT_NAMES[next[strip]]}`}
        onClick={() => useBench.setState({ strip: next[strip] })}
      >
        {{ one: <IconMinus size={16} />, rows: <IconMenu2 size={16} />, all: <IconBaselineDensitySmall size={16} /> }[strip]}
      </button>
    </div>
  );
}

/** Where on the route time is; faint while the camera is free. */
function Playhead({ durationS }: { durationS: number }) {
  const timeS = useBench((s) => s.timeS);
  const free = useBench((s) => s.pose !== null);
  const at = Math.max(0, Math.min(1, timeS / durationS));
  return <div className="playhead" style={{ left: `calc(${NAME_PX}px + (100% - ${NAME_PX}px) * ${at})`, opacity: free ? 0.4 : 1 }} />;
}

export function Strip() {
  const document = useProject(shownDocument);
  const { route, selection, strip } = useBenchPart('route', 'selection', 'strip');
  const { bands, share, failed } = useBands();
  const list = useRef<HTMLDivElement>(null);
  const [scroll, setScroll] = useState({ top: 0, height: 200 });
  const [unfolded, setUnfolded] = useState(false);
  const [hovered, setHovered] = useState<{ x: number; y: number; timeS: number; says: string } | null>(null);
  const way = document?.routes[route];
  const durationS = way ? Math.max(routeDurationS(way), 0.1) : 60;

  // The worst first: what is shown the least, then by order.
  const every = useMemo(() => {
    if (!document) return [];
    const all = inOrder(document.elements).map(([id, element], at) => ({
      id,
      name: element.name,
      at,
      band: bands.get(id),
      share: readableShare(bands.get(id) ?? []),
    }));
    if (bands.size) all.sort((a, b) => a.share - b.share || a.at - b.at);
    if (strip === 'one') return all.filter((row) => row.id === selection).slice(0, 1);
    // A template that is only a pattern stands nowhere itself, nor does what is inside of it.
    return all.filter((row) => row.band !== undefined || row.id === selection || !isPattern(document, row.id));
  }, [document?.elements, bands, strip, selection]);
  // What is shown all the time is folded away, the selected row aside.
  const fine = strip === 'rows' && bands.size > 0 ? every.filter((row) => row.share >= ALWAYS && row.id !== selection) : [];
  const rows = useMemo(
    () => (unfolded || fine.length === 0 ? every : every.filter((row) => !fine.includes(row))),
    [every, unfolded, fine.length],
  );
  const rowPx = ROW_PX[strip];
  const tall = (id: string) => (strip === 'all' && id === selection ? 24 : rowPx);
  const tops = useMemo(() => {
    let at = 0;
    return rows.map((row) => {
      const top = at;
      at += tall(row.id);
      return top;
    });
  }, [rows, strip, selection]);
  const total = rows.length ? (tops.at(-1) ?? 0) + tall(rows.at(-1)?.id ?? '') : 0;

  useEffect(() => {
    const box = list.current;
    if (!box) return;
    const measure = () => setScroll({ top: box.scrollTop, height: box.clientHeight });
    measure();
    box.addEventListener('scroll', measure, { passive: true });
    const observer = new ResizeObserver(measure);
    observer.observe(box);
    return () => {
      box.removeEventListener('scroll', measure);
      observer.disconnect();
    };
  }, [document === null]);

  // The selected row comes into sight.
  useEffect(() => {
    const index = rows.findIndex((row) => row.id === selection);
    const box = list.current;
    if (index < 0 || !box) return;
    const top = tops[index] ?? 0;
    if (top < box.scrollTop || top + rowPx > box.scrollTop + box.clientHeight) box.scrollTop = Math.max(0, top - box.clientHeight / 2);
  }, [selection, rows]);

  if (!document) return null;
  /** Over a band: what it says of that time. */
  const hover = (event: PointerEvent, band: readonly Stretch[]) => {
    const [row, strip] = [event.currentTarget.getBoundingClientRect(), event.currentTarget.closest('.strip')?.getBoundingClientRect()];
    const share = (event.clientX - row.left - NAME_PX) / (row.width - NAME_PX);
    if (!strip || share < 0 || share > 1) return setHovered(null);
    setHovered({
      x: Math.min(event.clientX - strip.left + 12, strip.width - 260),
      y: row.top - strip.top - 24,
      timeS: share * durationS,
      says: saidAt(band, share * durationS),
    });
  };
  const select = (index: number) => {
    const row = rows[Math.max(0, Math.min(rows.length - 1, index))];
    if (!row) return;
    useBench.setState({ selection: row.id });
    requestAnimationFrame(() => list.current?.querySelector<HTMLElement>(`[data-element="${CSS.escape(row.id)}"]`)?.focus());
  };
  const onKey = (event: KeyboardEvent, index: number) => {
    const to = { ArrowDown: index + 1, ArrowUp: index - 1, Home: 0, End: rows.length - 1, PageDown: index + 8, PageUp: index - 8 }[
      event.key
    ];
    if (to !== undefined) {
      event.preventDefault();
      select(to);
    } else if (event.key === 'Enter') {
      event.preventDefault();
      useBench.setState({ selection: rows[index]?.id ?? null });
    }
  };
  const visible = rows
    .map((row, index) => ({ row, index, top: tops[index] ?? 0 }))
    .filter(({ top, row }) => top + tall(row.id) > scroll.top - 100 && top < scroll.top + scroll.height + 100);
  const focusable = Math.max(
    0,
    rows.findIndex((row) => row.id === selection),
  );
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
      <div className="rows" ref={list} data-bands={bands.size > 0 ? 'ready' : 'none'}>
        {rows.length === 0 && (
          <p className="strip-empty">
            {strip === 'one' ? 'Nothing is selected.' : 'There is no element yet. Choose Place and click a surface.'}
          </p>
        )}
        <div {...(rows.length ? { role: 'listbox', 'aria-label': 'Elements' } : {})} style={{ height: total, position: 'relative' }}>
          {visible.map(({ row, index, top }) => (
            <div
              key={row.id}
              className="row"
              role="option"
              data-element={row.id}
              aria-selected={row.id === selection}
              tabIndex={index === focusable ? 0 : -1}
              style={{ top, height: tall(row.id) }}
              title={row.band ? bandTitle(row.name, row.band, durationS) : row.name}
              onPointerMove={(event) => row.band && hover(event, row.band)}
              onPointerLeave={() => setHovered(null)}
              onClick={() => useBench.setState({ selection: row.id })}
              onKeyDown={(event) => onKey(event, index)}
            >
              <span className="row-name" style={tall(row.id) < 12 ? { fontSize: 0 } : undefined}>
                {row.name}
                {tall(row.id) > 12 && <Others id={row.id} />}
                {row.band && tall(row.id) > 12 && <span className="row-share">{Math.round(row.share * 100)} %</span>}
              </span>
              {way && <Band band={row.band} durationS={durationS} />}
            </div>
          ))}
        </div>
        {fine.length > 0 && (
          <button type="button" className="fold-fine" aria-expanded={unfolded} onClick={() => setUnfolded(!unfolded)}>
            {fine.length} {fine.length === 1 ? 'is' : 'are'} shown all the time: {unfolded ? 'fold them away' : 'list them too'}
          </button>
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
