/** Time that runs on while playing, in views that draw no picture of their own. */
import { useEffect } from 'react';
import { useBench } from '../state/bench.ts';

export function useTicking(): void {
  const playing = useBench((s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    let request = 0;
    let last = performance.now();
    const tick = (now: number) => {
      const stepS = Math.min(0.1, (now - last) / 1000);
      last = now;
      useBench.setState(({ timeS }) => ({ timeS: timeS + stepS }));
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing]);
}
