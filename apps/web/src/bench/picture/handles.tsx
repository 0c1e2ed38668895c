/** Handles of the selection in the picture: its anchor or pin, its box, its size, and its ghost where it is hidden. */

import { isAnchored, isPinned } from '@foreshore/document';
import { type Handle, handlesOf } from '../../edits/resize.ts';
import type { Guide, Rect } from '../../edits/snap.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';
import { shownDocument, useProject } from '../../state/project.ts';
import { ChoiceMarks } from './choice-marks.tsx';
import { EdgeMarks } from './edge-marks.tsx';
import { GateMarks } from './gate-marks.tsx';
import { OpeningMarks } from './opening-marks.tsx';

const PAPER = '#FBF8F0';
const CHANNEL = '#1B6E83';
const RED = '#BF3F2B';

interface Props {
  /** Pixels of the viewer for one of the page. */
  scale: number;
  size: [number, number];
  /** Lines that a drag snapped to. */
  guides: readonly Guide[];
  /** Show the pins of the parent: something is being dragged that could be put on one. */
  pins: boolean;
}

export function Handles({ scale, size: [w, h], guides, pins }: Props) {
  const engine = useEngine();
  const { info, selection, also } = useBenchPart('info', 'selection', 'also');
  const document = useProject(shownDocument);
  const element = selection ? document?.elements[selection] : undefined;
  const seen = selection && info?.rect ? engine.places.seen(selection) : null;
  if (!info?.rect || !seen || !element || !selection || !document) return null;
  // A panel may be in the picture while its anchor is behind.
  const at = info.point ?? seen.point(...element.place.ownPoint);
  const floating = isAnchored(element.mount);
  const anchor = isAnchored(element.mount) ? document.anchors[element.mount.anchor] : undefined;
  const fixed = anchor?.kind === 'midpoint' || anchor?.kind === 'nodes' || anchor?.kind === 'event';
  const [x, y] = [at[0] / scale, at[1] / scale];
  const onPanel = engine.places.designSizeOf(selection) !== null;
  const turning = onPanel ? engine.places.turnRing(selection) : null;
  const ring = turning?.points.every(([px]) => !Number.isNaN(px)) ? turning : null;
  const outline = onPanel ? seen.outline.map((v) => v / scale) : null;
  const [left, top, width, height] = info.rect.map((v) => v / scale) as [number, number, number, number];
  const dash = info.selectionShown ? undefined : '6 5';
  const parent = !onPanel && (pins || !floating) ? engine.places.parentBox(selection) : null;
  const [ownX, ownY] = [left + element.place.ownPoint[0] * width, top + element.place.ownPoint[1] * height];
  const both = (draw: (colour: string, wide: boolean) => React.ReactNode) =>
    [PAPER, info.selectionShown ? CHANNEL : RED].map((colour, k) => draw(colour, k === 0));
  return (
    <svg className="handles" viewBox={`0 0 ${w} ${h}`}>
      <title>Handles of {element.name}</title>
      {pins && parent && (
        <g data-pins="shown">
          {both((colour, wide) => (
            <rect
              key={colour}
              x={parent.left / scale}
              y={parent.top / scale}
              width={(parent.right - parent.left) / scale}
              height={(parent.bottom - parent.top) / scale}
              fill="none"
              stroke={colour}
              strokeWidth={wide ? 3 : 1}
              strokeDasharray={wide ? undefined : '3 4'}
            />
          ))}
          {[0, 0.5, 1].flatMap((v) =>
            [0, 0.5, 1].map((u) => (
              <rect
                key={`${u} ${v}`}
                x={(parent.left + u * (parent.right - parent.left)) / scale - 5}
                y={(parent.top + v * (parent.bottom - parent.top)) / scale - 5}
                width={10}
                height={10}
                fill={isPinned(element.mount) && element.mount.pin[0] === u && element.mount.pin[1] === v ? CHANNEL : PAPER}
                stroke={CHANNEL}
                strokeWidth={2}
              />
            )),
          )}
        </g>
      )}
      {also.map((id) => {
        const box = engine.places.boxOf(id);
        return (
          box && (
            <rect
              key={id}
              data-also={id}
              x={box.left / scale - 3}
              y={box.top / scale - 3}
              width={(box.right - box.left) / scale + 6}
              height={(box.bottom - box.top) / scale + 6}
              rx={3}
              fill="none"
              stroke={CHANNEL}
              strokeWidth={1.75}
              strokeDasharray="2 3"
            />
          )
        );
      })}
      {pins && parent && (
        <Distances
          box={{ left, top, right: left + width, bottom: top + height }}
          parent={parent}
          scale={scale}
          unit={engine.places.unitOf(selection)}
        />
      )}
      {guides.map(({ axis, at }) => (
        <path
          key={`${axis} ${at}`}
          data-guide={axis}
          d={axis === 'x' ? `M${at / scale} 0V${h}` : `M0 ${at / scale}H${w}`}
          stroke={RED}
          strokeWidth={1}
        />
      ))}
      <GateMarks id={selection} scale={scale} size={[w, h]} />
      <EdgeMarks id={selection} scale={scale} />
      <ChoiceMarks id={selection} scale={scale} />
      {both((colour, wide) => (
        <g key={colour} fill="none" stroke={colour} strokeWidth={wide ? 4 : 1.75} strokeDasharray={dash} data-ghost={!info.selectionShown}>
          {outline ? (
            <path data-outline="panel" d={polygon(outline)} />
          ) : (
            <rect x={left - 3} y={top - 3} width={width + 6} height={height + 6} rx={3} />
          )}
        </g>
      ))}
      {ring && (
        <g>
          {both((colour, wide) => (
            <polyline
              key={colour}
              points={ring.points.map(([px, py]) => `${px / scale},${py / scale}`).join(' ')}
              fill="none"
              stroke={colour}
              strokeWidth={wide ? 3 : 1}
              strokeDasharray={wide ? undefined : '4 3'}
            />
          ))}
          <g data-handle="turn" style={{ pointerEvents: 'all', cursor: 'ew-resize' }}>
            <circle cx={ring.knob[0] / scale} cy={ring.knob[1] / scale} r={13} fill="transparent" />
            <circle cx={ring.knob[0] / scale} cy={ring.knob[1] / scale} r={6} fill={PAPER} stroke={CHANNEL} strokeWidth={2.5} />
          </g>
        </g>
      )}
      {floating ? (
        <g data-handle="anchor" style={{ pointerEvents: fixed ? 'none' : 'all', cursor: fixed ? 'default' : 'move' }}>
          <circle cx={x} cy={y} r={11} fill="transparent" />
          <circle cx={x} cy={y} r={6} fill={fixed ? 'none' : CHANNEL} stroke={PAPER} strokeWidth={2.5} />
          {fixed && <circle cx={x} cy={y} r={6} fill="none" stroke={CHANNEL} strokeWidth={1.5} />}
        </g>
      ) : onPanel ? null : (
        // From the pin of the parent to the own point: what the offset says.
        <g>
          {both((colour, wide) => (
            <path key={colour} d={`M${x} ${y}L${ownX} ${ownY}`} stroke={colour} strokeWidth={wide ? 4 : 1.5} />
          ))}
          <rect x={x - 5} y={y - 5} width={10} height={10} fill={PAPER} stroke={CHANNEL} strokeWidth={2} />
          <circle cx={ownX} cy={ownY} r={4} fill={CHANNEL} stroke={PAPER} strokeWidth={1.5} />
        </g>
      )}
      {roomy(handlesOf(element), width, height).map((handle) => (
        <SizeHandle
          key={handle.join(' ')}
          handle={handle}
          box={[left - 3, top - 3, width + 6, height + 6]}
          at={onPanel ? (seen.point((handle[0] + 1) / 2, (handle[1] + 1) / 2).map((v) => v / scale) as [number, number]) : null}
        />
      ))}
      <OpeningMarks id={selection} scale={scale} size={[w, h]} />
    </svg>
  );
}

const BAR_PX = 9;

/** Those that find room at a box of this size on the page: a thin one has none at its corners, a tiny one a single corner. */
function roomy(handles: readonly Handle[], w: number, h: number): readonly Handle[] {
  const [thinX, thinY] = [w < 3 * BAR_PX, h < 3 * BAR_PX];
  if (thinX && thinY) return handles.filter(([x, y]) => x === 1 && y === 1);
  return handles.filter(([x, y]) => (thinX ? x === 0 : thinY ? y === 0 : true));
}

const polygon = (points: readonly number[]): string => `${points.map((v, k) => (k % 2 ? ` ${v}` : `${k ? 'L' : 'M'}${v}`)).join('')}Z`;

/** A corner as an angle, a side as a bar in its middle; on a panel, a mark where it is seen. */
function SizeHandle({
  handle: [hx, hy],
  box: [x, y, w, h],
  at,
}: {
  handle: Handle;
  box: [number, number, number, number];
  at: [number, number] | null;
}) {
  const [cx, cy] = at ?? [x + ((hx + 1) / 2) * w, y + ((hy + 1) / 2) * h];
  if (Number.isNaN(cx)) return null;
  if (at)
    return (
      <g data-handle={`size ${hx} ${hy}`} style={{ pointerEvents: 'all', cursor: 'move' }}>
        <rect x={cx - 9} y={cy - 9} width={18} height={18} fill="transparent" />
        <rect x={cx - 4} y={cy - 4} width={8} height={8} fill={PAPER} stroke={CHANNEL} strokeWidth={2} />
      </g>
    );
  const path =
    hx === 0
      ? `M${cx - BAR_PX / 2} ${cy}h${BAR_PX}`
      : hy === 0
        ? `M${cx} ${cy - BAR_PX / 2}v${BAR_PX}`
        : `M${cx} ${cy - hy * BAR_PX}V${cy}H${cx - hx * BAR_PX}`;
  const cursor = hx === 0 ? 'ns-resize' : hy === 0 ? 'ew-resize' : hx === hy ? 'nwse-resize' : 'nesw-resize';
  return (
    <g data-handle={`size ${hx} ${hy}`} style={{ pointerEvents: 'all', cursor }}>
      <rect x={cx - 7 + hx * 3} y={cy - 7 + hy * 3} width={14} height={14} fill="transparent" />
      <path d={path} fill="none" stroke={PAPER} strokeWidth={6} />
      <path d={path} fill="none" stroke={CHANNEL} strokeWidth={3} />
    </g>
  );
}

/** How far a dragged box is from the nearer edges of its parent, in design pixels. */
function Distances({ box, parent, scale, unit }: { box: Rect; parent: Rect; scale: number; unit: number }) {
  const [pl, pt, pr, pb] = [parent.left, parent.top, parent.right, parent.bottom].map((v) => v / scale) as [number, number, number, number];
  const [cx, cy] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const left = box.left - pl <= pr - box.right;
  const top = box.top - pt <= pb - box.bottom;
  const spans = [
    { key: 'x', x1: left ? pl : box.right, y1: cy, x2: left ? box.left : pr, y2: cy },
    { key: 'y', x1: cx, y1: top ? pt : box.bottom, x2: cx, y2: top ? box.top : pb },
  ];
  return spans.map(({ key, x1, y1, x2, y2 }) => (
    <g key={key} data-distance={key}>
      <path d={`M${x1} ${y1}L${x2} ${y2}`} stroke={RED} strokeWidth={1} strokeDasharray="3 2" />
      <text
        x={(x1 + x2) / 2 + (key === 'y' ? 6 : 0)}
        y={(y1 + y2) / 2 + (key === 'x' ? -5 : 4)}
        textAnchor={key === 'x' ? 'middle' : 'start'}
        fontSize={12}
        fill={RED}
        stroke={PAPER}
        strokeWidth={3}
        paintOrder="stroke"
      >
        {Math.round(((x2 - x1 + y2 - y1) * scale) / unit)} px
      </text>
    </g>
  ));
}
