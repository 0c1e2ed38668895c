/** What lies in the middle of the view, without anything being selected: the node, and how far it is. */
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';

const PAPER = '#FBF8F0';
const INK = '#15233B';
const ARM_PX = 9;
const GAP_PX = 4;

export function AimReadout({ size: [w, h] }: { size: [number, number] }) {
  const engine = useEngine();
  // Every frame tells of itself: the camera or the level may have moved.
  const { aim, outside } = useBenchPart('aim', 'outside', 'info');
  if (!aim || outside) return null;
  const seen = engine.aimed();
  if (!seen) return null;
  const [x, y] = [seen.u * w, seen.v * h];
  const arms = `M${x - GAP_PX - ARM_PX} ${y}h${ARM_PX}M${x + GAP_PX} ${y}h${ARM_PX}M${x} ${y - GAP_PX - ARM_PX}v${ARM_PX}M${x} ${y + GAP_PX}v${ARM_PX}`;
  return (
    <>
      <svg className="handles" viewBox={`0 0 ${w} ${h}`} style={{ pointerEvents: 'none' }}>
        <title>The middle of the view</title>
        <path d={arms} stroke={PAPER} strokeWidth={4} />
        <path d={arms} stroke={INK} strokeWidth={1.5} />
      </svg>
      <div className="readout aim-readout" role="status" data-aimed={seen.node ?? ''} style={{ left: x + 16, top: y + 14 }}>
        {seen.node === null ? `nothing within ${seen.distanceM} m` : `${seen.node}, ${seen.distanceM.toFixed(1)} m away`}
      </div>
    </>
  );
}
