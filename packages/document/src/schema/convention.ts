/** How another world counts: what leaves is told in it. */
import * as z from 'zod';

const AXES = ['+x', '-x', '+y', '-y', '+z', '-z'] as const;
const axis = z.enum(AXES);

export const conventionSchema = z
  .strictObject({
    name: z.string().min(1).max(100),
    /** Which of their axes is to the right, up, and ahead. */
    right: axis,
    up: axis,
    forward: axis,
    unitsPerMetre: z.number().positive().max(1e6),
    /** Which angle of view a lens is given by. */
    fov: z.enum(['vertical', 'horizontal', 'diagonal']),
    angles: z.enum(['degrees', 'radians']),
    quaternion: z.enum(['xyzw', 'wxyz']),
    /** Where the pixel 0, 0 is, and which way y goes. */
    screenOrigin: z.enum(['topLeft', 'bottomLeft', 'centre']),
    screenY: z.enum(['down', 'up']),
  })
  .superRefine(({ right, up, forward, screenOrigin, screenY }, ctx) => {
    if (new Set([right, up, forward].map((a) => a[1])).size < 3)
      ctx.addIssue({ code: 'custom', path: ['forward'], message: 'right, up and forward must be three different axes' });
    if (screenOrigin === 'bottomLeft' && screenY === 'down')
      ctx.addIssue({ code: 'custom', path: ['screenY'], message: 'from the bottom left, y goes up' });
    if (screenOrigin === 'topLeft' && screenY === 'up')
      ctx.addIssue({ code: 'custom', path: ['screenY'], message: 'from the top left, y goes down' });
  });
export type Convention = z.infer<typeof conventionSchema>;
export type Axis = (typeof AXES)[number];
