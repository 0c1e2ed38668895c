/** What points, and how far the ray reaches with which panels are used. */
import type { Document, RaySettings } from '@foreshore/document/types';

/** Where the project does not say, metres. */
const REACH_M = 10;
export const reachOf = ({ ray }: Pick<Document, 'ray'>): number => ray?.reachM ?? REACH_M;

export type RaySource = 'mouse' | NonNullable<RaySettings['sources']>[number];
export type Side = 'left' | 'right';
export const isHand = (source: RaySource): source is Side => source === 'left' || source === 'right';

/** What acts on a panel is at least so large for a hand's ray, degrees. */
export const LEAST_TARGET_DEG = 1.5;
export const limitOfTarget = ({ readability }: Pick<Document, 'readability'>): number => readability?.leastTargetDeg ?? LEAST_TARGET_DEG;
