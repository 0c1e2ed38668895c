/** The arrow of what stands at the edge of the frame: outward from there, the way to its anchor. */
import type { Element } from '@foreshore/document/types';
import type { DrawItem } from './draw-items.ts';
import { ARROW_HALF } from './edges.ts';
import type { ElementPlace } from './frame.ts';
import type { SolveContext } from './solve-context.ts';
import { PATH_CLOSE, PATH_LINE, PATH_MOVE } from './text.ts';

type Arrow = NonNullable<NonNullable<Element['place']['edge']>['arrow']>;

const OPS = Uint8Array.of(PATH_MOVE, PATH_LINE, PATH_LINE, PATH_LINE, PATH_CLOSE);
/** How deep its foot is cut in, for its length. */
const CUT = 0.28;
/** How wide its outline is, for its length. */
const LINE = 0.14;

export function drawEdgeArrow(
  items: DrawItem[],
  { c, f, a }: SolveContext,
  row: number,
  { sizePx, colour, outline }: Arrow,
  { point: [x, y] }: ElementPlace,
  opacity: number,
): void {
  const rad = f.edgeRad[c.edged.indexOf(row)] ?? Number.NaN;
  if (Number.isNaN(rad)) return;
  const size = sizePx * (a.fits[row] as number);
  const [dx, dy] = [Math.cos(rad) * size, Math.sin(rad) * size];
  const coords = Float64Array.of(
    x + dx,
    y + dy,
    x - dy * ARROW_HALF,
    y + dx * ARROW_HALF,
    x + dx * CUT,
    y + dy * CUT,
    x + dy * ARROW_HALF,
    y - dx * ARROW_HALF,
  );
  const shape = { kind: 'shape' as const, element: c.ids[row] as string, ops: OPS, coords, opacity, evenOdd: false };
  if (outline) items.push({ ...shape, colour: outline, strokePx: size * LINE });
  items.push({ ...shape, colour });
}
