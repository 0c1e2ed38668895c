/** While its Place step is open: the places that a label which keeps apart could have, those that are taken, and what has them. */
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';

const PAPER = '#FBF8F0';
const TEAL = '#1B6E83';
const RED = '#B3261E';

export function ChoiceMarks({ id, scale }: { id: string; scale: number }) {
  const engine = useEngine();
  const { openStep, choices } = useBenchPart('openStep', 'choices');
  const seen = openStep === 'place' && choices ? engine.places.choicesOf(id) : null;
  if (!seen) return null;
  const box = ([x, y, w, h]: readonly [number, number, number, number]) => ({
    x: x / scale,
    y: y / scale,
    width: w / scale,
    height: h / scale,
  });
  return (
    <g data-mark="choices" fill="none">
      {seen.obstacles.map(({ row, rect }) => (
        <rect key={row} data-obstacle={row} {...box(rect)} fill={RED} fillOpacity={0.14} stroke={RED} strokeWidth={1.5} />
      ))}
      {seen.candidates.map(({ rect, takenBy, beyond, chosen }) => {
        const is = chosen ? 'chosen' : beyond ? 'beyond' : takenBy === null ? 'free' : 'taken';
        const at = box(rect);
        return (
          <g key={`${at.x} ${at.y}`} data-choice={is}>
            <rect {...at} stroke={PAPER} strokeWidth={chosen ? 4 : 2.5} strokeOpacity={0.6} />
            <rect
              {...at}
              stroke={is === 'chosen' || is === 'free' ? TEAL : RED}
              strokeWidth={chosen ? 2.5 : 1}
              strokeDasharray={chosen ? undefined : is === 'free' ? '4 3' : '1.5 3'}
            />
            {is !== 'chosen' && is !== 'free' && (
              // A stroke through what it cannot have: not by colour alone.
              <path d={`M${at.x} ${at.y + at.height}l${at.width} ${-at.height}`} stroke={RED} strokeWidth={0.75} strokeOpacity={0.7} />
            )}
          </g>
        );
      })}
    </g>
  );
}
