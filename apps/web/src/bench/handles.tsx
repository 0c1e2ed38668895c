/** Handles of the selection in the picture: its anchor, its box, and its ghost where it is hidden. */
import { useBench } from '../state/bench.ts';
import { shownDocument, useProject } from '../state/project.ts';

export function Handles({ scale, size: [w, h] }: { scale: number; size: [number, number] }) {
  const { info, selection } = useBench();
  const document = useProject(shownDocument);
  const element = selection ? document?.elements[selection] : undefined;
  if (!info?.point || !info.rect || !element) return null;
  const anchor = document?.anchors[element.mount.anchor];
  const fixed = anchor?.kind === 'midpoint';
  const [x, y] = [info.point[0] / scale, info.point[1] / scale];
  const [left, top, width, height] = info.rect.map((v) => v / scale) as [number, number, number, number];
  const dash = info.selectionShown ? undefined : '6 5';
  return (
    <svg className="handles" viewBox={`0 0 ${w} ${h}`}>
      <title>Handles of {element.name}</title>
      {(['#FBF8F0', info.selectionShown ? '#1B6E83' : '#BF3F2B'] as const).map((colour, k) => (
        <g key={colour} fill="none" stroke={colour} strokeWidth={k ? 1.75 : 4} strokeDasharray={dash} data-ghost={!info.selectionShown}>
          <rect x={left - 3} y={top - 3} width={width + 6} height={height + 6} rx={3} />
        </g>
      ))}
      <g data-handle="anchor" style={{ pointerEvents: fixed ? 'none' : 'all', cursor: fixed ? 'default' : 'move' }}>
        <circle cx={x} cy={y} r={11} fill="transparent" />
        <circle cx={x} cy={y} r={6} fill={fixed ? 'none' : '#1B6E83'} stroke="#FBF8F0" strokeWidth={2.5} />
        {fixed && <circle cx={x} cy={y} r={6} fill="none" stroke="#1B6E83" strokeWidth={1.5} />}
      </g>
    </svg>
  );
}
