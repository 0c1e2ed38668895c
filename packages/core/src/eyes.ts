/** A frame as one eye of a headset sees it: what reads a frame of one view reads this alike. Decisions are the head's. */
import { At, type Frame } from './frame.ts';
import type { SolveContext } from './solve-context.ts';
import { MapAt, PanelAt } from './spaces/panel.ts';
import type { EyeView } from './spaces/sight.ts';

const known = new WeakMap<Frame, SolveContext[]>();

/** The frame of each eye, left and right; of a screen, the frame itself. They show what the frame shows at any time. */
export function eyesOf(ctx: SolveContext): readonly SolveContext[] {
  const { a, c, f, m } = ctx;
  if (a.eyes.length === 0) return [ctx];
  let eyes = known.get(f);
  if (!eyes) {
    const panels = (f.panels.length / PanelAt.Stride) * MapAt.Stride;
    eyes = a.eyes.map(({ projection, eye, safe }: EyeView, k) => {
      const view = k + 1;
      const own: Partial<Frame> = {
        viewCount: 1,
        places: f.places.subarray(view * f.count * At.Stride, (view + 1) * f.count * At.Stride),
        maps: f.maps.subarray(view * panels, (view + 1) * panels),
        eye: f.eyes.subarray(view * 3, view * 3 + 3),
      };
      // All else is the frame's own, as it stands when it is read.
      return { c, m, a: { ...a, projection, eye, safe, eyes: [] }, f: Object.assign(Object.create(f) as Frame, own) };
    });
    known.set(f, eyes);
  }
  return eyes;
}
