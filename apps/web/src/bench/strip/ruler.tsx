/** The ruler of the route's time: scrubbed with the pointer or the keys. */
import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import { useBench } from '../../state/bench.ts';

export function Ruler({ durationS }: { durationS: number }) {
  const ruler = useRef<HTMLDivElement>(null);
  const step = durationS > 90 ? 10 : durationS > 30 ? 5 : durationS > 8 ? 1 : 0.5;
  const marks = Array.from({ length: Math.floor(durationS / step) + 1 }, (_, i) => i * step);
  const labelEvery = durationS > 8 && step === 1 ? 5 : 1;
  const scrub = (event: PointerEvent) => {
    if (event.buttons !== 1) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const box = ruler.current?.getBoundingClientRect();
    if (!box) return;
    const share = Math.max(0, Math.min(1, (event.clientX - box.left) / box.width));
    useBench.setState({ timeS: share * durationS, pose: null, playing: false });
  };
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1 / 30, ArrowRight: 1 / 30, PageUp: -1, PageDown: 1 }[event.key];
    const { timeS } = useBench.getState();
    const to =
      by !== undefined ? timeS + by * (event.shiftKey ? 10 : 1) : event.key === 'Home' ? 0 : event.key === 'End' ? durationS : null;
    if (to === null) return;
    event.preventDefault();
    useBench.setState({ timeS: Math.max(0, Math.min(durationS, to)), pose: null, playing: false });
  };
  const timeS = useBench((s) => s.timeS);
  return (
    <div
      ref={ruler}
      className="ruler"
      role="slider"
      tabIndex={0}
      aria-label="Time on the route"
      aria-valuemin={0}
      aria-valuemax={Number(durationS.toFixed(2))}
      aria-valuenow={Number(Math.min(timeS, durationS).toFixed(2))}
      aria-valuetext={`${timeS.toFixed(1)} s of ${durationS.toFixed(0)} s`}
      onPointerDown={scrub}
      onPointerMove={scrub}
      onKeyDown={onKey}
    >
      <svg aria-hidden="true">
        {marks.map((t, i) => (
          <g key={t}>
            {i + 1 < marks.length && (
              <rect
                x={`${(t / durationS) * 100}%`}
                y="22"
                width={`${(step / durationS) * 100}%`}
                height="6"
                fill={i % 2 ? 'var(--raised)' : 'var(--ink)'}
                stroke="var(--ink)"
                strokeWidth="1"
              />
            )}
            {i % labelEvery === 0 && (
              <text
                x={`${(t / durationS) * 100}%`}
                y="15"
                textAnchor={i === 0 ? 'start' : i + 1 === marks.length && t === durationS ? 'end' : 'middle'}
                dx={i === 0 ? 3 : 0}
              >
                {t} s
              </text>
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}
