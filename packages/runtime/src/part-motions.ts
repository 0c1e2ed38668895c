/** Motions of what comes, goes or attracts. */
import { moveMotions, placeLeaving } from '@foreshore/core';
import type { Part } from './parts.ts';

export const motions: Part = { name: 'motions', functions: { moveMotions, placeLeaving } };
