/** The readable area in the picture: contours of character height on the ground, with their numerals, as soundings on a chart. */

import { useEngine } from '../../questions/engine-context.ts';
import { useArea } from '../../questions/use-area.ts';
import { Contour, numeralSpots } from '../../shell/contours.tsx';
import { useBenchPart } from '../../state/bench.ts';

export function AreaMarks({ scale, size }: { scale: number; size: [number, number] }) {
  const engine = useEngine();
  const { area } = useBenchPart('area');
  const shown = useArea((s) => s.shown);
  if (area === 'off' || !shown) return null;
  // Of all contours together, so that no two numerals run into each other.
  const taken: [number, number][] = [];
  return (
    <svg className="handles" viewBox={`0 0 ${size[0]} ${size[1]}`} data-area={shown.coarse ? 'coarse' : 'fine'}>
      <title>Where it can be read from</title>
      {shown.lines.map((lines, level) => {
        const seen = engine.places.seenLines(lines).map((ends) => ends.map(([x, y]) => [x / scale, y / scale] as [number, number]));
        const d = seen.map((ends) => `M${ends.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}`).join('');
        const spots = numeralSpots(
          seen.flatMap(([first]) => (first ? [first] : [])),
          size,
          taken,
        );
        taken.push(...spots);
        return <Contour key={level} level={level} d={d} spots={spots} />;
      })}
    </svg>
  );
}
