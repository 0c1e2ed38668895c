/** The frame at whose edge the selection stands while it is out of view, with a handle on each side. */
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';

const PAPER = '#FBF8F0';
const AMBER = '#A66D0C';
const SIDES = ['left', 'top', 'right', 'bottom'] as const;

export function EdgeMarks({ id, scale }: { id: string; scale: number }) {
  const engine = useEngine();
  const { openStep } = useBenchPart('openStep');
  const frame = openStep === 'place' ? engine.places.edgeFrame(id) : null;
  if (!frame) return null;
  const [x, y, right, bottom] = [frame.left, frame.top, frame.right, frame.bottom].map((v) => v / scale) as [
    number,
    number,
    number,
    number,
  ];
  const [w, h] = [right - x, bottom - y];
  const outline = frame.ellipse
    ? { d: `M${x} ${y + h / 2}a${w / 2} ${h / 2} 0 1 0 ${w} 0a${w / 2} ${h / 2} 0 1 0 ${-w} 0z` }
    : { d: `M${x} ${y}h${w}v${h}h${-w}z` };
  const at: [number, number][] = [
    [x, y + h / 2],
    [x + w / 2, y],
    [right, y + h / 2],
    [x + w / 2, bottom],
  ];
  return (
    <g data-mark="edge" fill="none">
      <path {...outline} stroke={PAPER} strokeWidth={3.5} strokeOpacity={0.7} />
      <path {...outline} stroke={AMBER} strokeWidth={1.5} strokeDasharray="7 5" />
      {SIDES.map((side, k) => (
        <circle
          key={side}
          data-handle={`edge ${k}`}
          cx={at[k]?.[0]}
          cy={at[k]?.[1]}
          r={6}
          fill={AMBER}
          stroke={PAPER}
          strokeWidth={2.5}
          style={{ pointerEvents: 'all', cursor: k % 2 ? 'ns-resize' : 'ew-resize' }}
        />
      ))}
    </g>
  );
}
