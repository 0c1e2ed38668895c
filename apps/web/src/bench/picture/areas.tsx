/** While trying, and where asked for: what takes the pointer where. */
import { sourceOf } from '@foreshore/core';
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';
import { shownDocument, useProject } from '../../state/project.ts';

const STYLES = {
  acts: { stroke: '#1B6E83', dash: undefined, fill: 'rgba(27,110,131,0.22)' },
  blocks: { stroke: '#BF3F2B', dash: '6 4', fill: 'none' },
  passes: { stroke: '#7C8490', dash: '2 4', fill: 'none' },
} as const;

export function Areas({ scale, size: [w, h] }: { scale: number; size: [number, number] }) {
  const engine = useEngine();
  const { areas, pointed, info } = useBenchPart('areas', 'pointed', 'info');
  const document = useProject(shownDocument);
  if (!document || !info) return null;
  const name = pointed ? document.elements[sourceOf(pointed)]?.name : null;
  return (
    <>
      <svg className="handles" viewBox={`0 0 ${w} ${h}`} aria-hidden="true" style={{ pointerEvents: 'none' }}>
        {areas &&
          engine.trying.areas().map(({ id, takes, rect }) => {
            const [x, y, width, height] = rect.map((v) => v / scale) as [number, number, number, number];
            const { stroke, dash, fill } = STYLES[takes];
            return (
              <g key={id} data-area={takes}>
                <rect x={x} y={y} width={width} height={height} fill={fill} stroke="#FBF8F0" strokeWidth={3.5} />
                <rect x={x} y={y} width={width} height={height} fill="none" stroke={stroke} strokeWidth={1.5} strokeDasharray={dash} />
              </g>
            );
          })}
      </svg>
      <output className="sr-only" aria-live="polite">
        {name ? `${name}. Enter uses it.` : ''}
      </output>
    </>
  );
}
