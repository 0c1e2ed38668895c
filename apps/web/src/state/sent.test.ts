/** Curves of what a game sends: a minute of them, bounded, and anew where its clock goes back. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { noted, SENT_S, type Sent } from './sent.ts';

const frames = (times: readonly number[]): Sent => times.reduce<Sent>((sent, timeS) => noted(sent, { timeS, values: { tide: timeS } }), {});

describe('what a game has sent', () => {
  it('is a curve of each value, the last one always the newest', () => {
    expect(frames([0, 1, 2]).tide).toEqual([0, 1, 2].map((at) => ({ at, value: at })));
    const fast = frames(Array.from({ length: 300 }, (_, k) => k / 30)).tide ?? [];
    expect(fast.at(-1)).toEqual({ at: 299 / 30, value: 299 / 30 });
    // Ten seconds at 30 a second, a tenth of a second apart at least.
    expect(fast.length).toBeLessThanOrEqual(102);
    expect(fast.length).toBeGreaterThan(60);
  });
  it('has a gap where a feed is sent no more, and begins anew where the clock goes back', () => {
    const sent = noted(frames([0, 1]), { timeS: 2, values: { hint: 'Ring' } });
    expect(sent.tide?.at(-1)).toEqual({ at: 2, value: undefined });
    expect(sent.hint).toEqual([{ at: 2, value: 'Ring' }]);
    expect(noted(sent, { timeS: 0.5, values: { tide: 4 } })).toEqual({ tide: [{ at: 0.5, value: 4 }] });
  });
  it('is bounded however it is sent, in the order of time, and of the last minute', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 3, noNaN: true }), { maxLength: 400 }), (steps) => {
        let atS = 0;
        const times = steps.map((step) => (atS += step));
        const curve = frames(times).tide ?? [];
        expect(curve.length).toBeLessThanOrEqual(SENT_S / 0.1 + 3);
        curve.forEach(({ at }, k) => {
          expect(at).toBeGreaterThanOrEqual((times.at(-1) as number) - SENT_S);
          if (k > 0) expect(at).toBeGreaterThanOrEqual((curve[k - 1] as { at: number }).at);
        });
      }),
      { seed: 1 },
    );
  });
});
