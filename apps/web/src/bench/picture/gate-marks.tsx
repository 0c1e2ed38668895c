/** What the gates of the selection are about, drawn in the picture: its zone, the ring of its range, the sight lines to where they stop. */
import type { StepName } from '@foreshore/core';
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';

const PAPER = '#FBF8F0';
const CHANNEL = '#1B6E83';
const RED = '#BF3F2B';
const AMBER = '#A66D0C';

/** Steps whose settings have to do with the zone. */
const ZONE_STEPS: readonly StepName[] = ['attach', 'range', 'view', 'sightline'];

type Point = readonly [number, number];
const path = (points: readonly Point[]): string => points.map(([x, y], k) => `${k ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`).join('');

export function GateMarks({ id, scale, size: [w, h] }: { id: string; scale: number; size: [number, number] }) {
  const engine = useEngine();
  const { openStep, info } = useBenchPart('openStep', 'info');
  const marks = engine.places.gateMarks(id);
  if (!marks) return null;
  const handle = engine.places.zoneHandle(id);
  const onPage = (points: readonly Point[]) => points.map(([x, y]): Point => [x / scale, y / scale]);
  const strokes = (key: string, lines: readonly (readonly Point[])[], colour: string, dash?: string) =>
    lines.map((points, k) => (
      // Lines of one outline have no name but their number.
      <g key={`${key} ${k}`} fill="none" data-mark={key}>
        <path d={path(onPage(points))} stroke={PAPER} strokeWidth={3.5} strokeOpacity={0.7} />
        <path d={path(onPage(points))} stroke={colour} strokeWidth={1.5} strokeDasharray={dash} />
      </g>
    ));
  const stopped = marks.stops.map((stop) => ({ ...stop, at: [stop.at[0] / scale, stop.at[1] / scale] as Point }));
  const worst = stopped[0];
  const all = openStep === 'sightline';
  const refused = info?.links.some(({ step, state }) => step === 'sightline' && state === 'no') ?? false;
  return (
    <g>
      {openStep !== null && ZONE_STEPS.includes(openStep) && strokes('zone', marks.zone, AMBER)}
      {openStep === 'range' && strokes('range', marks.range, CHANNEL, '7 5')}
      {(all ? stopped : refused ? stopped.slice(0, 1) : []).map(({ at: [x, y] }, k) => (
        <g key={`stop ${k}`} data-mark="stop" stroke={RED} strokeWidth={2}>
          <path d={`M${x - 4} ${y - 4}l8 8M${x + 4} ${y - 4}l-8 8`} stroke={PAPER} strokeWidth={4.5} />
          <path d={`M${x - 4} ${y - 4}l8 8M${x + 4} ${y - 4}l-8 8`} />
        </g>
      ))}
      {handle && openStep !== null && ZONE_STEPS.includes(openStep) && (
        <circle
          data-handle="zone"
          cx={handle.at[0] / scale}
          cy={handle.at[1] / scale}
          r={6}
          fill={AMBER}
          stroke={PAPER}
          strokeWidth={2.5}
          style={{ pointerEvents: 'all', cursor: 'ew-resize' }}
        />
      )}
      {(all ? marks.free : []).map((at, k) => (
        <circle
          key={`free ${k}`}
          data-mark="free"
          cx={at[0] / scale}
          cy={at[1] / scale}
          r={3}
          fill={CHANNEL}
          stroke={PAPER}
          strokeWidth={1.5}
        />
      ))}
      {worst && (refused || all) && (
        // From where the player stands, below the frame, to where the sight ends.
        <g data-mark="sight">
          <path d={`M${w / 2} ${h}L${worst.at[0]} ${worst.at[1]}`} stroke={PAPER} strokeWidth={4} />
          <path d={`M${w / 2} ${h}L${worst.at[0]} ${worst.at[1]}`} stroke={RED} strokeWidth={1.75} />
          <text
            x={Math.max(60, Math.min(w - 60, worst.at[0] + 12))}
            y={Math.min(h - 10, worst.at[1] + 22)}
            fontSize={13}
            fill={RED}
            stroke={PAPER}
            strokeWidth={3.5}
            paintOrder="stroke"
          >
            stops at {worst.blocker}, {worst.distanceM.toFixed(1)} m
          </text>
        </g>
      )}
    </g>
  );
}
