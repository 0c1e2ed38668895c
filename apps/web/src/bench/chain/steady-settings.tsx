/** Settings of an anchor that is steadied because its node jitters, and the lag that this costs (Attach). */
import { lagMs } from '@foreshore/core';
import type { Anchor } from '@foreshore/document';
import { Switch } from '@mantine/core';
import { NumberField } from '../../fields/number-field.tsx';

/** Two metres a second: a brisk walk. */
const WALK_MPS = 2;
const FIRST: NonNullable<Anchor['steady']> = { cutoffHz: 1, perMps: 2 };

export function SteadySettings({ anchor, edit }: { anchor: Anchor; edit: (what: string, next: Anchor) => void }) {
  const { steady } = anchor;
  const set = (part: Partial<typeof FIRST>) =>
    steady && edit('Change how an anchor is steadied', { ...anchor, steady: { ...steady, ...part } });
  return (
    <>
      <Switch
        className="wide"
        size="xs"
        label="Steadied, for a node that jitters"
        checked={steady !== undefined}
        onChange={(event) => {
          const { steady: _, ...rest } = anchor;
          edit('Change whether an anchor is steadied', (event.currentTarget.checked ? { ...rest, steady: FIRST } : rest) as Anchor);
        }}
      />
      {steady && (
        <>
          <NumberField
            label="Cutoff at rest"
            unit="Hz"
            step={0.1}
            value={steady.cutoffHz}
            least={0.05}
            greatest={60}
            onChange={(cutoffHz) => set({ cutoffHz })}
          />
          <NumberField
            label="Cutoff more for each m/s"
            unit="Hz"
            step={0.1}
            value={steady.perMps}
            least={0}
            greatest={1000}
            onChange={(perMps) => set({ perMps })}
          />
          <p className="hint wide">
            Behind its node by {lagMs(steady, 0).toFixed(0)} ms while that hardly moves, by {lagMs(steady, WALK_MPS).toFixed(0)} ms at{' '}
            {WALK_MPS} m/s.
          </p>
        </>
      )}
    </>
  );
}
