/** Anchors that are steadied, and boxes on whole pixels at rest. */
import { snapAtRest, steadyAnchors } from '@foreshore/core';
import type { Part } from './parts.ts';

export const calm: Part = { name: 'calm', functions: { snapAtRest, steadyAnchors } };
