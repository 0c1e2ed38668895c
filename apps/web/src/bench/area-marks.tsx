/** The readable area in the picture: contours of character height on the ground, with their numerals, as soundings on a chart. */
import { CONTOURS } from '@foreshore/checks';
import { useBench } from '../state/bench.ts';
import { useEngine } from './context.ts';
import { useArea } from './use-area.ts';

const PAPER = '#FBF8F0';
const INK = '#12445A';
const DASHES = [undefined, '7 4', '2 4'];

export function AreaMarks({ scale, size: [w, h] }: { scale: number; size: [number, number] }) {
  const engine = useEngine();
  const { area } = useBench();
  const shown = useArea((s) => s.shown);
  if (area === 'off' || !shown) return null;
  // Of all contours together, so that no two numerals run into each other.
  const taken: [number, number][] = [];
  return (
    <svg className="handles" viewBox={`0 0 ${w} ${h}`} data-area={shown.coarse ? 'coarse' : 'fine'}>
      <title>Where it can be read from</title>
      {shown.lines.map((lines, k) => {
        const seen = engine.places.seenLines(lines);
        const d = seen
          .map(
            ([a, b]) =>
              `M${(a[0] / scale).toFixed(1)} ${(a[1] / scale).toFixed(1)}L${(b[0] / scale).toFixed(1)} ${(b[1] / scale).toFixed(1)}`,
          )
          .join('');
        // A numeral for every so many pieces, not too near to one another.
        const spots: [number, number][] = [];
        for (const [[x, y]] of seen) {
          const at: [number, number] = [x / scale, y / scale];
          if (
            at[0] > 20 &&
            at[0] < w - 20 &&
            at[1] > 20 &&
            at[1] < h - 10 &&
            spots.length < 6 &&
            spots.every((s) => Math.hypot(s[0] - at[0], s[1] - at[1]) > 130) &&
            taken.every((s) => Math.hypot(s[0] - at[0], s[1] - at[1]) > 28)
          )
            spots.push(at);
        }
        taken.push(...spots);
        return (
          <g key={CONTOURS[k]} data-contour={CONTOURS[k]}>
            <path d={d} fill="none" stroke={PAPER} strokeOpacity={0.75} strokeWidth={4.5} />
            <path d={d} fill="none" stroke={INK} strokeWidth={1.75} strokeDasharray={DASHES[k]} />
            {spots.map(([x, y]) => (
              <text
                key={`${x} ${y}`}
                x={x}
                y={y + 4}
                textAnchor="middle"
                fontSize={13}
                fontWeight={700}
                fill={INK}
                stroke={PAPER}
                strokeWidth={4}
                paintOrder="stroke"
              >
                {CONTOURS[k]}
              </text>
            ))}
          </g>
        );
      })}
    </svg>
  );
}
