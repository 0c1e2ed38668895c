/** How far the selected crosshair opens: a ring where its arms begin then, with a handle. */
import { openingRing } from '../../engine/opening-ring.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';

const PAPER = '#FBF8F0';
const AMBER = '#A66D0C';

export function OpeningMarks({ id, scale, size: [w, h] }: { id: string; scale: number; size: [number, number] }) {
  const engine = useEngine();
  const { openStep, viewer } = useBenchPart('openStep', 'viewer');
  const solver = openStep === null ? engine.frameOf(viewer) : null;
  const ring = solver && openingRing(solver, id);
  if (!ring) return null;
  const [x, y, r] = [ring.middle[0] / scale, ring.middle[1] / scale, ring.radiusPx / scale];
  // On the side where there is room for it; where it lies outside all round, at the picture's edge.
  const [dx, dy] = [
    [1, 0],
    [0, -1],
    [-1, 0],
    [0, 1],
  ].find(([across, down]) => within(x + (across as number) * r, w) && within(y + (down as number) * r, h)) ?? [1, 0];
  const [atX, atY] = [inside(x + (dx as number) * r, w), inside(y + (dy as number) * r, h)];
  return (
    <g data-mark="opening" fill="none">
      <circle cx={x} cy={y} r={r} stroke={PAPER} strokeWidth={3.5} strokeOpacity={0.7} />
      <circle cx={x} cy={y} r={r} stroke={AMBER} strokeWidth={1.5} strokeDasharray="7 5" />
      <circle
        data-handle="opening"
        cx={atX}
        cy={atY}
        r={6}
        fill={AMBER}
        stroke={PAPER}
        strokeWidth={2.5}
        style={{ pointerEvents: 'all', cursor: dx ? 'ew-resize' : 'ns-resize' }}
      />
    </g>
  );
}

/** So far from the edge of the picture a handle is held, pixels of the page. */
const EDGE_PX = 8;
const inside = (v: number, size: number): number => Math.min(size - EDGE_PX, Math.max(EDGE_PX, v));
const within = (v: number, size: number): boolean => inside(v, size) === v;
