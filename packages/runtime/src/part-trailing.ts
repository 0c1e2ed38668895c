/** Panels that trail the viewer, and so the HUD of a headset. */
import { isOnItsWay, trail } from '@foreshore/core';
import type { Part } from './parts.ts';

export const trailing: Part = { name: 'trailing', functions: { trail, isOnItsWay } };
