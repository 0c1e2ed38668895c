/** One element's band: when it is shown along the route, and what it says of a time. */
import { flickers, type Stretch, shownShare } from '@foreshore/checks';
import { STEPS, Verdict } from '@foreshore/core';
import { SHORT, STEP_TITLES, sayUnrest } from '@foreshore/words';
import { memo } from 'react';
import { useBench } from '../../state/bench.ts';
import { shownDocument, useProject } from '../../state/project.ts';

export const bandTitle = (name: string, band: readonly Stretch[], durationS: number): string => {
  const share = Math.round(shownShare(band) * 100);
  const hidden = new Set(band.filter((b) => b.verdict !== Verdict.Shown).map((b) => STEP_TITLES[STEPS[b.verdict] ?? 'attach']));
  const restless = sayUnrest(band);
  return `${name}: shown ${share} % of ${durationS.toFixed(0)} s${hidden.size ? `; hidden by ${[...hidden].join(', ')}` : ''}${restless && `; ${restless}`}`;
};

/** What a band says of a time. */
export function saidAt(band: readonly Stretch[], timeS: number): string {
  const flicker = flickers(band).find(({ fromS, toS }) => timeS >= fromS - 0.3 && timeS <= toS + 0.3);
  const b = band.findLast(({ fromS }) => fromS <= timeS) ?? band[0];
  if (!b) return '';
  const said =
    b.verdict === Verdict.Shown
      ? b.short
        ? `shown, ${SHORT[b.short]}`
        : 'shown, readable'
      : `hidden by ${STEP_TITLES[STEPS[b.verdict] ?? 'attach']}`;
  return flicker ? `${said}; flickers by ${STEP_TITLES[STEPS[flicker.step] ?? 'attach']}` : said;
}

/** A tick for every other viewer: high where it shows the element now, low where it does not. */
export function Others({ id }: { id: string }) {
  const others = useBench((s) => s.info?.others);
  const viewers = useProject((s) => shownDocument(s)?.viewers);
  if (!others?.length) return null;
  const name = (viewer: string) => viewers?.[viewer]?.name ?? viewer;
  // As wide for many as for four: names have the room.
  const step = Math.max(3, Math.min(5, 20 / others.length));
  return (
    <svg className="row-others" width={others.length * step} height={12} role="img">
      <title>{others.map(({ viewer, shown }) => `${name(viewer)}: ${shown.has(id) ? 'shown' : 'hidden'}`).join(', ')}</title>
      {others.map(({ viewer, shown }, k) => (
        <path key={viewer} d={`M${k * step + step / 2} 12V${shown.has(id) ? 2 : 9}`} data-shown={shown.has(id)} />
      ))}
    </svg>
  );
}

/** Readable is a full band, shown but not readable a dashed band of half the height, hidden a thin line; a flicker has a mark above. */
export const Band = memo(function Band({ band, durationS }: { band: readonly Stretch[] | undefined; durationS: number }) {
  return (
    <svg viewBox={`0 0 ${durationS} 22`} preserveAspectRatio="none" aria-hidden="true">
      <path className="band-hidden" d={`M0 11H${durationS}`} vectorEffect="non-scaling-stroke" />
      {band?.map(
        (b) =>
          b.verdict === Verdict.Shown &&
          (b.short ? (
            <path
              key={b.fromS}
              className="band-short"
              d={`M${b.fromS} 11H${Math.max(b.toS, b.fromS + durationS / 800)}`}
              vectorEffect="non-scaling-stroke"
            />
          ) : (
            <rect key={b.fromS} className="band-shown" x={b.fromS} y={5} width={Math.max(b.toS - b.fromS, durationS / 800)} height={12} />
          )),
      )}
      {band &&
        flickers(band).map(({ fromS, toS }) => (
          <path key={`flicker ${fromS}`} className="band-flicker" d={`M${(fromS + toS) / 2} 0V5`} vectorEffect="non-scaling-stroke" />
        ))}
    </svg>
  );
});
