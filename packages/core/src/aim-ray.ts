/** The ray of a crosshair, and how far rays that look for what is aimed at go. */
import type { SolveContext } from './solve-context.ts';
import type { Vec3 } from './spaces/pose.ts';

/** So far it is looked for what is meant, metres; and a reach is no longer. */
export const MOST_M = 1000;
/** So many surfaces before what is meant are looked through. */
export const MOST_PASSED = 16;
/** The ray goes on so far behind a surface, metres. */
export const BEYOND_M = 1e-3;

/** A crosshair nearer to the middle of the view than this aims along its axis, pixels. */
const MIDDLE_PX = 0.5;

/**
 * The ray of a crosshair, written into two lists: through the pixel that its middle lies on. On a panel, as the HUD is in a headset, it goes
 * along the view's axis.
 */
export function aimThrough({ a, c, f }: Pick<SolveContext, 'a' | 'c' | 'f'>, row: number, from: Vec3, way: Vec3): void {
  for (let k = 0; k < 3; k++) {
    from[k] = f.eye[k] as number;
    way[k] = f.forward[k] as number;
  }
  const top = c.root[row] as number;
  if ((c.panelOf[row] as number) >= 0 || top < c.anchoredCount) return;
  const { boxes } = a;
  const { centreX, centreY, focalX, focalY, orthographic } = a.projection;
  const unit = a.fits[top] as number;
  // Members are laid out from their root's top left.
  const left = (boxes[row * 4] as number) + (row === top ? 0 : (boxes[top * 4] as number));
  const upper = (boxes[row * 4 + 1] as number) + (row === top ? 0 : (boxes[top * 4 + 1] as number));
  const x = (left + (boxes[row * 4 + 2] as number) / 2) * unit - centreX;
  const y = centreY - (upper + (boxes[row * 4 + 3] as number) / 2) * unit;
  if (Math.abs(x) < MIDDLE_PX && Math.abs(y) < MIDDLE_PX) return;
  const u = x / focalX;
  const v = y / focalY;
  const long = orthographic ? 1 : Math.hypot(u, v, 1);
  const { rotation } = f;
  for (let k = 0; k < 3; k++) {
    const aside = u * (rotation[k] as number) + v * (rotation[3 + k] as number);
    if (orthographic) from[k as 0] += aside;
    else way[k] = (aside - (rotation[6 + k] as number)) / long;
  }
}
