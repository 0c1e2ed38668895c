/** The zone of an anchor: what range, aim and sight lines are measured to. */
import type { Anchor, Zone } from '@foreshore/document';
import { Choice, NumberRows } from '../../fields/rows.tsx';

const START: Record<Zone['kind'], Zone> = {
  sphere: { kind: 'sphere', radiusM: 0.4 },
  box: { kind: 'box', sizeM: [0.8, 0.8, 0.8] },
  capsule: { kind: 'capsule', radiusM: 0.3, heightM: 1.2 },
  mesh: { kind: 'mesh' },
};
const SIDES = ['along x', 'along y', 'along z'] as const;

export function ZoneSettings({ anchor, onChange }: { anchor: Anchor; onChange: (anchor: Anchor) => void }) {
  const { zone } = anchor;
  const onNode = anchor.kind === 'nodes' || ('node' in anchor && anchor.node !== null);
  const put = (next: Zone | null) => {
    const { zone: _, ...rest } = anchor;
    onChange(next ? ({ ...rest, zone: next } as Anchor) : (rest as Anchor));
  };
  return (
    <>
      <Choice
        label="Zone about it"
        value={zone?.kind ?? 'none'}
        choices={{
          none: 'none: a point',
          sphere: 'sphere',
          box: 'box',
          capsule: 'capsule',
          ...(onNode && { mesh: "the node's own surfaces" }),
        }}
        onChange={(kind) => put(kind === 'none' ? null : START[kind as Zone['kind']])}
      />
      {(zone?.kind === 'sphere' || zone?.kind === 'capsule') && (
        <NumberRows
          rows={[
            {
              label: 'Radius',
              unit: 'm',
              step: 0.05,
              least: 0.01,
              value: zone.radiusM,
              onChange: (radiusM) =>
                put(zone.kind === 'sphere' ? { ...zone, radiusM } : { ...zone, radiusM, heightM: Math.max(zone.heightM, 2 * radiusM) }),
            },
            ...(zone.kind === 'capsule'
              ? [
                  {
                    label: 'Height, end to end',
                    unit: 'm',
                    step: 0.05,
                    least: 2 * zone.radiusM,
                    value: zone.heightM,
                    onChange: (heightM: number) => put({ ...zone, heightM }),
                  },
                ]
              : []),
          ]}
        />
      )}
      {zone?.kind === 'box' && (
        <NumberRows
          rows={SIDES.map((label, k) => ({
            label: `Size ${label}`,
            unit: 'm',
            step: 0.05,
            least: 0.01,
            value: zone.sizeM[k] as number,
            onChange: (v) => put({ ...zone, sizeM: zone.sizeM.map((old, i) => (i === k ? v : old)) as [number, number, number] }),
          }))}
        />
      )}
    </>
  );
}
