/** How a contour of character height looks, in the picture and on the plan: a dark line on a light one, with its numeral. */
import { CONTOURS } from '@foreshore/checks';

const PAPER = '#FBF8F0';
const INK = '#12445A';
const DASHES = [undefined, '7 4', '2 4'];

/** @param level its place in CONTOURS. @param d the line, as an SVG path. @param spots where its numeral stands. */
export function Contour({ level, d, spots }: { level: number; d: string; spots: readonly (readonly [number, number])[] }) {
  return (
    <g data-contour={CONTOURS[level]}>
      <path d={d} fill="none" stroke={PAPER} strokeOpacity={0.75} strokeWidth={4.5} />
      <path d={d} fill="none" stroke={INK} strokeWidth={1.75} strokeDasharray={DASHES[level]} />
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
          {CONTOURS[level]}
        </text>
      ))}
    </g>
  );
}

/** Where numerals may stand along a line: within the frame, not too near to one another, and clear of those that stand already. */
export function numeralSpots(
  points: readonly (readonly [number, number])[],
  [w, h]: readonly [number, number],
  taken: readonly (readonly [number, number])[],
): [number, number][] {
  const spots: [number, number][] = [];
  const clear = (others: readonly (readonly [number, number])[], x: number, y: number, px: number) =>
    others.every((s) => Math.hypot(s[0] - x, s[1] - y) > px);
  for (const [x, y] of points) {
    if (spots.length >= 6) break;
    const inside = x > 20 && x < w - 20 && y > 20 && y < h - 10;
    if (inside && clear(spots, x, y, 130) && clear(taken, x, y, 28)) spots.push([x, y]);
  }
  return spots;
}
