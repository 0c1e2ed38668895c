import type { Feed, FeedValue } from '@foreshore/document';
import { memo } from 'react';
import { Line, LineChart, ReferenceLine, XAxis, YAxis } from 'recharts';
import { useBench } from '../state/bench.ts';

const WIDTH = 340;
export const HEIGHT = 118;
interface HistoryProps {
  history: readonly { at: number; value: FeedValue | undefined }[];
  /** By a game, up to now. */
  isSent: boolean;
  fromS: number;
  toS: number;
  kind: Feed['kind'];
  range: [number, number] | undefined;
}

const AXIS_PX = 44;
const EDGE_PX = 8;

/** Over the chart and not in it, so that the chart is drawn anew only when its values change. */
export function Playhead({ fromS, toS }: { fromS: number; toS: number }) {
  const timeS = useBench((s) => s.timeS);
  const share = Math.max(0, Math.min(1, (timeS - fromS) / (toS - fromS)));
  return <span className="feed-playhead" style={{ left: AXIS_PX + share * (WIDTH - AXIS_PX - EDGE_PX) }} />;
}

/** The values of a minute, as a line; yes is high. A text has no height to draw. */
export const History = memo(
  function History({ history, isSent, fromS, toS, kind, range }: HistoryProps) {
    if (kind === 'text' || kind === 'list' || kind === 'event')
      return <p className="hint feed-chart">{kind === 'event' ? 'An event' : `A ${kind}`} has no line to draw.</p>;
    const data = history.map(({ at, value }) => ({
      at,
      value: typeof value === 'boolean' ? Number(value) : typeof value === 'number' ? value : null,
    }));
    return (
      <div
        className="feed-chart"
        role="img"
        aria-label={`${isSent ? 'What the game sent' : 'Its values'} from ${fromS} s to ${toS} s`}
        data-sent={isSent ? data.length : undefined}
      >
        <LineChart width={WIDTH} height={HEIGHT} data={data} margin={{ top: 6, right: EDGE_PX, bottom: 0, left: 0 }}>
          <XAxis
            dataKey="at"
            type="number"
            domain={[fromS, toS]}
            tickCount={5}
            tickFormatter={(v: number) => `${v} s`}
            tick={{ fontSize: 11, fill: 'var(--faint)' }}
            stroke="var(--rule)"
          />
          <YAxis
            width={AXIS_PX}
            domain={kind === 'flag' ? [0, 1] : (range ?? ['auto', 'auto'])}
            allowDataOverflow={false}
            tickCount={3}
            tick={{ fontSize: 11, fill: 'var(--faint)' }}
            stroke="var(--rule)"
          />
          {range && <ReferenceLine y={range[0]} stroke="var(--hairline)" />}
          <Line
            dataKey="value"
            dot={false}
            stroke="var(--channel)"
            strokeWidth={1.75}
            isAnimationActive={false}
            type={kind === 'flag' ? 'stepAfter' : 'linear'}
          />
        </LineChart>
      </div>
    );
  },
  (before, after) =>
    before.fromS === after.fromS &&
    before.isSent === after.isSent &&
    before.range?.[0] === after.range?.[0] &&
    before.range?.[1] === after.range?.[1] &&
    before.history.length === after.history.length &&
    before.history.every(({ value }, k) => value === after.history[k]?.value),
);
