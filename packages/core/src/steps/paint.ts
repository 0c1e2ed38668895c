/** Paint: is there anything to see of it? */
import { opacityOf } from '../draw-list.ts';
import { lookOf } from '../pointer.ts';
import type { Outcome, Step, Work } from './step.ts';

function explain(work: Work, i: number): Outcome {
  const { c, f } = work;
  const opacity = opacityOf(work, i);
  const percent = `${Math.round(opacity * 100)} % opaque`;
  if (c.unpainted[i]) return { passes: false, says: '0 % opaque' };
  const look = lookOf(work, i);
  const why = f.dimmed[i] ? ', dimmed' : look.opacity < 1 ? ', by its look' : '';
  return { passes: true, says: opacity > 0.999 ? 'opaque' : `${percent}${why}` };
}

export const paint: Step = { name: 'paint', applies: ({ c }, i) => c.elements[i]?.kind !== 'screenPaint', run: () => {}, explain };
