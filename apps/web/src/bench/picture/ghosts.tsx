/** Outlines of what is hidden, where it would be: to be seen, and selected. */

import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';

const PAPER = '#FBF8F0';
const RED = '#BF3F2B';

export function Ghosts({ scale, size: [w, h] }: { scale: number; size: [number, number] }) {
  const engine = useEngine();
  const { ghosts, selection, mode } = useBenchPart('ghosts', 'selection', 'mode');
  if (!ghosts) return null;
  return (
    <svg className="handles" viewBox={`0 0 ${w} ${h}`}>
      <title>What is hidden here</title>
      {engine.places.ghosts().map(({ id, box }, k) => {
        if (id === selection) return null;
        const [x, y] = [box.left / scale, box.top / scale];
        const [width, height] = [(box.right - box.left) / scale, (box.bottom - box.top) / scale];
        return (
          // An element may stand at many places.
          <g key={`${id} ${k}`} data-ghost-of={id} style={{ pointerEvents: mode === 'look' ? 'all' : 'none', cursor: 'pointer' }}>
            <rect x={x} y={y} width={width} height={height} rx={3} fill="transparent" stroke={PAPER} strokeWidth={3} />
            <rect x={x} y={y} width={width} height={height} rx={3} fill="none" stroke={RED} strokeWidth={1.25} strokeDasharray="4 4" />
          </g>
        );
      })}
    </svg>
  );
}
