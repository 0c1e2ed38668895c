/** The frame at whose edge the selection stands while it is out of view, with a handle on each side. */
import { EdgeForm } from '@foreshore/core';
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';

const PAPER = '#FBF8F0';
const AMBER = '#A66D0C';
const SIDES = ['left', 'top', 'right', 'bottom'] as const;

/** The outline of a frame as a path. */
function outlineOf(form: EdgeForm, [x, y, w, h]: [number, number, number, number], radius: number, [cx, cy]: [number, number]): string {
  const ellipse = (left: number, middle: number, a: number, b: number) =>
    `M${left} ${middle}a${a} ${b} 0 1 0 ${2 * a} 0a${a} ${b} 0 1 0 ${-2 * a} 0z`;
  if (form === EdgeForm.Ellipse) return ellipse(x, y + h / 2, w / 2, h / 2);
  if (form === EdgeForm.Ring) return ellipse(cx - radius, cy, radius, radius);
  const r = form === EdgeForm.Rounded ? Math.min(radius, w / 2, h / 2) : 0;
  const corner = (dx: number, dy: number) => (r > 0 ? `a${r} ${r} 0 0 1 ${dx * r} ${dy * r}` : '');
  return `M${x + r} ${y}h${w - 2 * r}${corner(1, 1)}v${h - 2 * r}${corner(-1, 1)}h${2 * r - w}${corner(-1, -1)}v${2 * r - h}${corner(1, -1)}z`;
}

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
  const outline = { d: outlineOf(frame.form, [x, y, w, h], frame.radiusPx / scale, [frame.middle[0] / scale, frame.middle[1] / scale]) };
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
      {/* A ring is moved by no inset. */}
      {(frame.form === EdgeForm.Ring ? [] : SIDES).map((side, k) => (
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
