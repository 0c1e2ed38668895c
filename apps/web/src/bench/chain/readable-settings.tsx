/** Readable: the bounds that everything is measured by, each with where it comes from; and the readable area. */

import { LIMITS, type Limits, limitsOf } from '@foreshore/core';
import { isAnchored } from '@foreshore/document';
import { sayUnrest } from '@foreshore/words';
import type { ElementProps } from '../../fields/element-props.ts';
import { Choice, NumberRows } from '../../fields/rows.tsx';
import { useShownBands } from '../../questions/bands.ts';
import { showArea, useArea } from '../../questions/use-area.ts';
import { useBenchPart } from '../../state/bench.ts';
import { change } from '../../state/project.ts';

const BOUNDS: { key: keyof Limits; label: string; unit: string; source: string; scale?: number }[] = [
  { key: 'leastArcmin', label: 'Character height at least', unit: 'arcmin', source: 'ISO 9241-303' },
  { key: 'leastPx', label: 'and at least', unit: 'px', source: "the project's choice" },
  { key: 'contrast', label: 'Contrast at least', unit: ': 1', source: 'WCAG 2.2, 1.4.3' },
  { key: 'contrastLarge', label: 'of large letters', unit: ': 1', source: 'WCAG 2.2, 1.4.3' },
  { key: 'mostCovered', label: 'Covered at most', unit: '%', source: "the project's choice", scale: 100 },
  { key: 'mostDegPerS', label: 'Moves at most', unit: 'deg/s', source: 'reading fails as pursuit quickens' },
  {
    key: 'leastTargetDeg',
    label: "For a hand's ray at least",
    unit: 'deg',
    source: "the project's choice; by the angle, Kopper et al. 2010",
  },
  { key: 'nearestM', label: 'In a headset, at least', unit: 'm away', source: 'Shibata et al. 2011' },
  { key: 'farthestM', label: 'and at most', unit: 'm away', source: 'Shibata et al. 2011' },
  { key: 'mostVergenceDeg', label: 'Vergence differs at most', unit: 'deg', source: 'Shibata et al. 2011' },
];

export function ReadableSettings({ id, document, element }: ElementProps) {
  const limits = limitsOf(document);
  const { area, areaOf } = useBenchPart('area', 'areaOf');
  const { shown, waiting } = useArea();
  const floating = isAnchored(element.mount);
  const band = useShownBands((s) => s.bands.get(id));
  const restless = band && sayUnrest(band);
  return (
    <div className="fields">
      {band && (
        <p className="hint wide" data-unrest={restless ? 'some' : 'none'}>
          {restless ? `On this route it ${restless}.` : 'On this route it neither blinks nor changes its place.'}
        </p>
      )}
      {floating && (
        <>
          <Choice
            label="Readable area on the ground"
            value={areaOf === null || areaOf === id ? area : 'off'}
            choices={{ off: 'not drawn', viewer: 'for the chosen viewer', all: 'for all viewers at once' }}
            onChange={(next) => showArea(next, id)}
          />
          <p className="hint wide" data-area-share={shown && !shown.coarse ? 'ready' : 'none'}>
            {area === 'off'
              ? 'Contours of 30, 22 and 16 arcmin on the ground, from where one stands and looks at it.'
              : shown
                ? `Read from ${(shown.share * 100).toFixed(shown.share < 0.1 ? 1 : 0)} % of the ground about it, ${shown.squareM.toFixed(0)} square metres${waiting ? '; a finer one is being worked out' : ''}.`
                : waiting
                  ? 'Working it out.'
                  : 'It has no place in the world.'}
          </p>
        </>
      )}
      <p className="hint wide">Of the whole project:</p>
      <NumberRows
        rows={BOUNDS.map(({ key, label, unit, source, scale = 1 }) => ({
          label: `${label} (${source})`,
          unit,
          step: scale === 100 || key === 'mostDegPerS' || key === 'leastArcmin' ? 1 : 0.5,
          least: key.startsWith('contrast') ? 1 : 0.01,
          greatest: key.startsWith('contrast') ? 21 : key === 'mostCovered' ? 100 : 1000,
          value: limits[key] * scale,
          onChange: (v) =>
            change('Change what counts as readable', (d) => {
              const { [key]: _, ...others } = d.readability ?? {};
              return { ...d, readability: v / scale === LIMITS[key] ? others : { ...others, [key]: v / scale } };
            }),
        }))}
      />
    </div>
  );
}
