/** Looked at: within a cone about the viewer's forward axis, or met by it within reach. A part of View. */
import type { Look } from '@foreshore/document/types';
import type { SolveContext } from '../solve-context.ts';
import { alongToZone } from '../zones.ts';

/** Degrees between the viewer's forward axis and the way to an anchor. */
export function angleDegTo({ c, f }: Pick<SolveContext, 'c' | 'f'>, anchor: number): number {
  const x = (c.anchorWorld[anchor * 3] as number) - (f.eye[0] as number);
  const y = (c.anchorWorld[anchor * 3 + 1] as number) - (f.eye[1] as number);
  const z = (c.anchorWorld[anchor * 3 + 2] as number) - (f.eye[2] as number);
  const length = Math.sqrt(x * x + y * y + z * z);
  if (length < 1e-9) return 0;
  const along = (x * (f.forward[0] as number) + y * (f.forward[1] as number) + z * (f.forward[2] as number)) / length;
  return (Math.acos(Math.max(-1, Math.min(1, along))) * 180) / Math.PI;
}

/** What the aim ray finds: metres to the zone, infinite where it does not meet it within reach; and the node that is in the way, or −1. */
export function aimed({ c, f }: Pick<SolveContext, 'c' | 'f'>, gate: number, reachM: number): { distanceM: number; blocker: number } {
  const at = (v: Float64Array, k: number) => v[k] as number;
  const { eye, forward } = f;
  const distanceM = alongToZone(
    c,
    c.gateAnchor[gate] as number,
    at(eye, 0),
    at(eye, 1),
    at(eye, 2),
    at(forward, 0),
    at(forward, 1),
    at(forward, 2),
    Number.POSITIVE_INFINITY,
  );
  if (!(distanceM <= reachM)) return { distanceM, blocker: -1 };
  const to = (k: number) => at(eye, k) + at(forward, k) * distanceM;
  const blocker = c.level?.sightline(at(eye, 0), at(eye, 1), at(eye, 2), to(0), to(1), to(2), c.ownNodes[gate] ?? null) ?? -1;
  return { distanceM, blocker };
}

export function isLookedAt(ctx: Pick<SolveContext, 'c' | 'f'>, gate: number, look: Look, held: boolean): boolean {
  if (look.by === 'cone') return angleDegTo(ctx, ctx.c.gateAnchor[gate] as number) <= (held ? look.leaveDeg : look.halfDeg);
  const { distanceM, blocker } = aimed(ctx, gate, look.reachM);
  return distanceM <= look.reachM && blocker < 0;
}
